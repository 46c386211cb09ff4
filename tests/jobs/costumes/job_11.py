"""A utility belt."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, star, wearer

BROWN = stack(
    "brown leather",
    {"kind": "flexible primer", "faces": "both"},
    {"kind": "acrylic", "faces": "both"},
    {"kind": "acrylic wash", "coats": 2},
    "flexible clear",
)
BELT = piece(
    "belt",
    "Utility belt",
    foam=4,
    sizes={"width": 70},
    making={
        "finishes": [BROWN],
        "details": [
            detail("pocket", "layer", "pocket with gusset"),
            detail("flap", "layer", "pocket flap"),
            detail("holder", "holder", "prop holder"),
            detail("buckle", "buckle", "plate buckle"),
            detail("motif", "stencil", "painted motif", count=4, motif=star(5, 45)),
        ],
    },
    rig={"way": "buckle"},
)

JOB = Job(
    "11",
    "Utility belt",
    wearer(111, "Cass Wren"),
    (BELT,),
    (
        kind("band to the waist, with its overlap", s.panels(1, "Utility belt", 4)),
        kind("breath goes into what adjusts", s.strap("closure", 20, 400)),
        kind("pocket with gusset before the base", s.step("lay-on", "pocket with gusset"), s.says("gusset panel")),
        kind("flap after", s.order("lay-on:pocket", "lay-on:flap")),
        kind("holder for a prop, after the prop", s.order("prop:", "holder:")),
        kind("strap through slits", s.step("apart-join", "slits")),
        kind("sewn snaps in pairs", s.part("snaps", 2)),
        kind("sanded edges", s.step("smooth", "rim round")),
        kind("brown wash twice", s.step("coat-weather", "wash"), s.order("coat-colour", "coat-weather")),
        kind(
            "painted motif by stencil",
            s.file("masks|stencil"),
            s.any_step("stencil"),
            s.order("coat-colour", "stencil:"),
        ),
        kind("a belt bends: nothing brittle on it", s.silent("is brittle, and this zone bends")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
