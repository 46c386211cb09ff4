"""A breastplate from half a pattern, with a gem."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, wearer

BREAST = piece(
    "breastplate",
    "Breastplate",
    rig={"way": "crossed", "webbing": 25},
    choices={"front": "cups"},
    making={
        "schools": {"liner": "full", "rigging": "before paint, masked"},
        "details": [
            detail("gem", "gem", "green gem", size=45),
            detail(
                "inset",
                "trim",
                "inset trim",
                flush=True,
                shape={"form": "border", "lines": ["neckline"], "inset": 8, "width": 14, "foam": 2},
            ),
        ],
    },
)

JOB = Job(
    "16",
    "Breastplate from half a pattern, gem",
    wearer(116, "Nye Abbot"),
    (BREAST, piece("gorget", "Collar")),
    (
        kind("copied to poster board and kept", s.step("keep-pattern")),
        kind("cups set in mark by mark", s.step("cup", "top, bottom")),
        kind("collar valley", s.step("bevel", "", "Collar")),
        kind("four webbing ends in opened beds", s.step("beds", "", "Breastplate"), s.part("webbing", 2)),
        kind(
            "straps masked before primer", s.order("beds|close", "coat-primer", "Breastplate"), s.step("tabs", "Mask")
        ),
        kind(
            "a liner over them, with its cost",
            s.step("dam", "lining|Line the whole", "Breastplate"),
            s.minutes("dam", 10, 300, "Breastplate"),
        ),
        kind("pull test told when the straps are there", s.says("pull test before paint")),
        kind("inset trim as its own part", s.step("thin", "inset trim"), s.panels(1, thick=2)),
        kind(
            "gem's seat traced and masked, set after clear",
            s.order("mask-seat", "coat-primer"),
            s.order("coat-clear", "apart-join:gem"),
            s.no_step("Paint green gem"),
        ),
        kind("gem cast early", s.any_step("cast.*early|early.*cast")),
        kind("waits for the other pieces", s.costume("in the order of dressing|Assemble")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
