"""A torso on a body form, by hot glue, three weeks late."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, wearer

MAKE = {
    "details": [
        detail("rods", "sliding plate", "outer plates", count=2),
        detail("p", "holder", "dummy pouches", count=4),
    ],
    "schools": {"glue": "hot glue"},
}

JOB = Job(
    "08",
    "Torso on a body form, hot glue, three weeks late",
    wearer(108, "Edda Rook"),
    (
        piece(
            "breastplate", "Front", choices={"front": "cups"}, making=MAKE, layers=[{"thickness": 2}, {"thickness": 6}]
        ),
        piece("backplate", "Back", making={"schools": {"glue": "hot glue"}}),
        piece("gorget", "Collar", rig={"way": "hook-and-loop"}),
    ),
    (
        kind("no cement anywhere", s.no_step("contact cement", "Front")),
        kind(
            "gaps filled with clay, dried, sanded",
            s.step("clay", "foam clay", "Front"),
            s.order("clay", "smooth", "Front"),
        ),
        kind("clay or a strip in a seam, never both", s.no_step("Cover seams", "Front")),
        kind("two thicknesses over a thin base", s.panels(2, "Front", 2), s.panels(2, "Front", 6)),
        kind("outer plates slide on rods", s.step("apart-join", "slide"), s.says(r"\brods?\b")),
        kind("a sewn base that lets the shoulders move", s.says("sewn base")),
        kind("dummy pouches", s.step("holder", "dummy pouches")),
        kind("collar by hook-and-loop", s.part("hook-and-loop", 1, "Collar")),
        kind("old corset as lining, laced", s.says("corset")),
        kind("warning on cloth", s.says("padded stand-in|cloth")),
        kind("what falls out so that it reads on the day", s.says("falls? out")),
        kind("straps from front to back", s.strap("shoulder strap", 40, 400, "Front"), s.put_on("Front", "Collar")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
    schools={"glue": "hot glue"},
)
