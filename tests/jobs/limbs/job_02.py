"""A full segmented arm in mirror metal."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, star, wearer

MIRROR = stack(
    "mirror",
    {"kind": "hard sealer", "coats": 5},
    "filler primer",
    {"kind": "gloss black", "coats": 3},
    "mirror chrome",
    "transparent colour",
)
BASE = {
    "foam": 2,
    "making": {
        "finishes": [MIRROR],
        "details": [
            detail(
                "plates",
                "segments",
                "numbered plates",
                shape={"form": "segments", "lines": ["lower edge"], "count": 7, "overlap": 6, "foam": 2},
            ),
            detail("star", "stencil", "star in transparent colour", motif=star(7, 60)),
        ],
    },
}

JOB = Job(
    "02",
    "A full segmented arm, mirror metal",
    wearer(102, "Iver Tamm"),
    (
        piece("bracer", "Forearm", side="left", back="closed", ease=14, **BASE),
        piece("rerebrace", "Upper arm", side="left", rig={"way": "back to itself"}, gap=30, **BASE),
    ),
    (
        kind("upper and lower tube measured and patterned", s.panels(1, "Forearm", 2), s.panels(1, "Upper arm", 2)),
        kind("2 mm base closed first", s.order("seam:", "tape-segments", "Forearm")),
        kind(
            "segments laid out with rolled tape, traced, then glued from the fixed end",
            s.step("tape-segments", "rolled tape"),
            s.step("segments", "fixed end"),
            s.order("tape-segments", "segments"),
        ),
        kind("segments numbered and drawn on the base, each cut as a part", s.panels(14)),
        kind(
            "hard sealer in five coats, wet sanded between",
            s.step("coat-smooth", "wet, 3 times"),
            s.minutes("coat-smooth", 60, 600, "Forearm"),
        ),
        kind(
            "filler primer, gloss black, chrome",
            s.order("coat-smooth", "coat-colour", "Forearm"),
            s.order("coat-colour:rest.gloss", "coat-metal", "Forearm"),
            s.step("coat-colour", "mirror"),
        ),
        kind("no clear over chrome", s.no_step("clear coat", "Forearm"), s.silent("wash over.*chrome")),
        kind(
            "transparent colour over part of the chrome by stencil",
            s.any_step("transparent"),
            s.order("cut-stencil", "stencil:"),
            s.order("coat-metal", "stencil:"),
            s.file("masks"),
        ),
        kind("elastic across the back under the far arm", s.strap("under the far arm", 600, 1500, "Upper arm")),
        kind("the elastic returns to its own piece", s.says("back to the sleeve")),
        kind("stretch sleeve under the elbow gap", s.any_step("stretch sleeve")),
        kind("finger plates", s.any_step("finger")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
