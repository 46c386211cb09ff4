"""A boot and greave with a rivet pivot at the ankle."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

LINE = stack(
    "black and red",
    {"kind": "rubbery primer", "faces": "both"},
    "gloss black",
    {"kind": "paint pen", "name": "red line"},
    "gloss clear",
)
GREAVE = piece(
    "ridged greave",
    "Greave",
    foam=6,
    choices={"ridge": "seam"},
    making={
        "schools": {"seams": "covered"},
        "finishes": [LINE],
        "details": [
            detail("shin", "layer", "shin layer", covers=True),
            detail("knee", "layer", "knee layer"),
            detail("pivot", "pivot", "ankle pivots", count=4, size=12),
            detail("cord", "cord", "backup cord", count=2),
        ],
    },
)

JOB = Job(
    "06",
    "Boot and greave",
    wearer(106, "Tov Hallam"),
    (
        GREAVE,
        piece("sabaton cap", "Boot cap", foam=4),
        piece("ridged greave", "Shin guard", choices={"ridge": "fold"}, rig={"way": "buckles"}),
    ),
    (
        kind("girths by foam strip", s.says("foam strip")),
        kind("mirrored about the middle, one left and one right", s.step("trace", "one left, one right|One left")),
        kind("warmed to the leg before its seam", s.order("form:", "seam:", "Greave")),
        kind("grooves shut with hot glue", s.step("shut", "glue")),
        kind(
            "back seam cemented and covered by a strip",
            s.step("cover", "", "Greave"),
            s.no_step("ground seams", "Greave"),
        ),
        kind(
            "an opening elsewhere, bedded before details hide it",
            s.step("closure-bed"),
            s.order("closure-bed", "lay-on:shin", "Greave"),
        ),
        kind("overlapping layers each traced whole", s.step("lay-on", "Trace its outline")),
        kind("strip over the seam before the layer beside it", s.order("cover", "lay-on:", "Greave")),
        kind(
            "rivet pivot at the ankle both sides",
            s.step("pivot", "washer on each side"),
            s.order("coat-", "pivot", "Greave"),
        ),
        kind("cord as backup", s.any_step(r"\bcord\b")),
        kind(
            "red line by paint pen under gloss",
            s.step("coat-colour", "red line"),
            s.order("coat-colour", "coat-clear", "Greave"),
        ),
        kind("how the foot gets in is said", s.dressing("Boot cap|Greave"), s.says("heel")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
