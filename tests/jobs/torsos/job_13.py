"""A breastplate from a wrapped form, on a stiff shell, in two metals."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

SILVER = stack(
    "silver",
    {"kind": "rubbery primer", "faces": "both", "coats": 3},
    {"kind": "metallic", "name": "silver"},
    {"kind": "metallic", "name": "gold on the dark", "taped": True},
    "acrylic wash",
    "satin clear",
    weathering=["wash in grooves"],
)
BREAST = piece(
    "breastplate",
    "Breastplate",
    foam=5,
    choices={"front": "cross-fold"},
    foam_work={"folds": [{"key": "fold", "way": "opened score"}]},
    making={
        "finishes": [SILVER],
        "schools": {"liner": "bodice"},
        "details": [
            detail(
                "trim",
                "spanning trim",
                "triangular trim out of 8 mm",
                shape={
                    "form": "border",
                    "lines": ["hem", "side edge"],
                    "width": 20,
                    "foam": 8,
                    "profile": "triangular",
                },
            )
        ],
    },
)

JOB = Job(
    "13",
    "Breastplate from a wrapped form, stiff shell, two metals",
    wearer(113, "Vesna Lark"),
    (BREAST,),
    (
        kind("scored, heated, then cut out", s.order("open-score", "cut$")),
        kind("cups over a thermoplastic shell", s.any_step("thermoplastic")),
        kind("held on the wearer before it is painted", s.order("test-fit", "coat-")),
        kind("triangular trim with its true section", s.step("span-trim", "triangular"), s.panels(1, thick=8)),
        kind("trim over the joint after it", s.order("(dust-glue|seam|cup|dart)", "span-trim")),
        kind("three heavy coats in and out", s.step("coat-primer", "both faces")),
        kind("silver, masked, gold on the dark", s.step("coat-metal", "silver"), s.step("coat-metal", "tape|hand")),
        kind("wash a section at a time", s.step("weather", "One small section")),
        kind("glued to a corset last", s.order("coat-", "bodice"), s.step("bodice")),
        kind("crossed straps hold it where there is no back", s.strap("shoulder", 200, 1200)),
        kind("hours that a maker knows", s.hours("Breastplate", 15, 40)),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
