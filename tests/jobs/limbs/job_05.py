"""A sleeve of scales and rings."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

WAX = stack(
    "aged bronze",
    {"kind": "rubbery primer", "faces": "both"},
    {"kind": "metallic", "name": "bronze"},
    "satin clear",
    "wax metal",
    weathering=["wax points"],
)

MAIL = detail(
    "mail",
    "links",
    "ring sheets",
    shape={"form": "links", "lines": ["lower edge"], "wide": 14, "high": 14, "strip": 20, "pack": 5, "cap": 70},
)
SCALES = detail(
    "scales",
    "scales",
    "scales",
    apart=True,
    shape={"form": "scales", "lines": ["lower edge"], "wide": 30, "high": 34, "rows": 2, "pack": 50},
)

JOB = Job(
    "05",
    "Scale and ring sleeve",
    wearer(105, "Joss Arden"),
    (piece("rerebrace", "Sleeve", foam=2, rig={"way": "V"}, making={"finishes": [WAX], "details": [MAIL, SCALES]}),),
    (
        kind("links counted from girths", s.says(r"\d+ (links|rings)")),
        kind("columns added towards the biceps", s.says("columns? added|added columns?")),
        kind("packs with spare", s.says("packs?.*spare")),
        kind("closed while trying on", s.step("dry-fit", "closed")),
        kind("cap curve to the shoulder", s.says("cap curve")),
        kind("edges between strips of 2 mm", s.says("strips? of 2 mm")),
        kind("armpit overlapped in a V", s.says("overlap.* V|V.*overlap")),
        kind(
            "two elastics in a V under strips, one across to the other sleeve",
            s.strap("elastic over the shoulder", 100, 500),
            s.strap("elastic across", 150, 600),
            s.says("elastics in a V"),
        ),
        kind(
            "scales sprayed apart from rings",
            s.step("apart-paint", "scales by itself"),
            s.order("apart-paint", "apart-join"),
        ),
        kind(
            "wax metal on high points, last", s.any_step("high points"), s.order("coat-clear", "weather|coat-weather")
        ),
        kind("on alone, off with help", s.dressing("Sleeve")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
