"""A full torso from an old block, a tapered gauntlet, a plastic ornament."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

DARK = stack(
    "dark metal",
    {"kind": "rubbery primer", "faces": "both"},
    {"kind": "metallic", "name": "dark steel"},
    "acrylic wash",
    "satin clear",
    weathering=["wash in grooves"],
)
FRONT = piece(
    "breastplate",
    "Front",
    choices={"front": "cups"},
    making={
        "finishes": [DARK],
        "details": [
            detail("rivets", "rivets", "half-ball rivets", count=24, size=12),
            detail("braid", "trim", "braid", edge="hem"),
            detail("emblem", "emblem", "carved emblem", apart=True),
            detail("grain", "texture", "leather grain", panels=(1,)),
        ],
    },
    foam_work={},
)

JOB = Job(
    "12",
    "Full torso from an old block, tapered gauntlet, plastic ornament",
    wearer(112, "Hale Orrin"),
    (
        FRONT,
        piece("backplate", "Back", making={"finishes": [DARK]}),
        piece("bracer", "Gauntlets", foam=5, upper={"flare": 20}, making={"finishes": [DARK]}),
    ),
    (
        kind("front and cups of an earlier build re-graded with new sides", s.says("re-grad|from another build")),
        kind("close nesting on two sheets, cut into sections first", s.file("nest|sheet plan")),
        kind("edge honed every few parts", s.step("cut", "fresh edge every few metres|blade edges")),
        kind("over-cut groove filled with hot glue and held", s.any_step("over-cut|filled with hot glue")),
        kind("scored filigree opened by heat", s.step("open-score", "heat")),
        kind("leather grain by foil", s.step("texture", "foil"), s.order("texture", "coat-primer", "Front")),
        kind("half-ball rivets by their number", s.step("lay-on", "half-ball rivets"), s.any_step("24")),
        kind(
            "thermoplastic braid and carved emblem",
            s.step("trim", "braid"),
            s.step("apart-join", "carved emblem"),
            s.any_step("thermoplastic"),
        ),
        kind("dark metal, shadows in grooves", s.step("coat-metal", "dark steel"), s.step("weather", "groove")),
        kind("cups set in at their marks, then fitted again", s.step("cup", "top, bottom"), s.order("cup:", "sub-fit")),
        kind("front hangs on the back", s.strap("shoulder strap", 40, 400, "Front"), s.part("buckle", 4, "Front")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
