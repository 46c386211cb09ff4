"""A breastplate with cups, laced."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

GOLD = stack(
    "warm gold",
    {"kind": "flexible primer", "faces": "both"},
    {"kind": "acrylic", "name": "warm brown"},
    {"kind": "metallic", "name": "gold", "taped": True},
    {"kind": "oil wash with drier"},
    {"kind": "flexible clear"},
)
BREAST = piece(
    "breastplate",
    "Breastplate",
    choices={"front": "cups", "closure": "back"},
    closure="lacing",
    rig={"way": "crossed"},
    making={
        "finishes": [GOLD],
        "schools": {"damage": "burnt"},
        "details": [
            detail(
                "strip",
                "trim",
                "bought bevel strip",
                shape={"form": "border", "lines": ["hem", "side edge"], "width": 12, "foam": 6, "bought": 1000},
            )
        ],
    },
)

JOB = Job(
    "14",
    "Breastplate with cups, laced",
    wearer(114, "Odile Marsh"),
    (BREAST, piece("backplate", "Back", choices={"closure": "back"}, closure="lacing", sizes={"opening": 50})),
    (
        kind("domed cups in bevelled openings", s.step("cup"), s.step("bevel", "", "Breastplate")),
        kind("bought strip with mitres, by length", s.step("trim", "bought bevel strip"), s.says("Mitres: ")),
        kind("damage burnt outdoors, before primer", s.step("burn", "Outdoors"), s.order("burn", "coat-primer")),
        kind("masks or by hand, whichever is quicker", s.step("coat-metal", "by hand|Tape")),
        kind("gold over warm, oil wash", s.step("coat-colour", "warm brown"), s.step("coat-weather", "oil")),
        kind("eyelets and lace at the back", s.part("eyelets", 8, "Back"), s.part("^lace", 1, "Back")),
        kind("lace and eyelets have a step that says so", s.any_step("eyelets"), s.no_step("bare foam", "Back")),
        kind("crossed straps fixed inside", s.strap("over the shoulder", 100, 1200, "Breastplate")),
        kind("crossed straps beside the lace", s.part("webbing", 2), s.part("eyelets", 8)),
        kind("the opening is not said to pucker", s.silent("closing seam differ and will pucker")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
