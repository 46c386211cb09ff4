"""A modular torso with hung shoulders."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

AGED = stack(
    "aged white",
    {"kind": "rubbery primer", "faces": "both"},
    {"kind": "acrylic", "colour": "#D8D4C8", "faces": "both"},
    "decal",
    "acrylic wash",
    "satin clear",
    weathering=["chips", "dark edges"],
)
FRONT = piece(
    "breastplate",
    "Front",
    foam=8,
    choices={"front": "cups"},
    making={
        "finishes": [AGED],
        "details": [
            detail("rivets", "rivets", "rivets", count=20, size=10, apart=True),
            detail("decals", "decal", "unit decals", count=5),
            detail("pad", "pad", "rim pad"),
        ],
    },
)

JOB = Job(
    "20",
    "Modular torso",
    wearer(120, "Isra Vane"),
    (
        FRONT,
        piece("backplate", "Back", foam=8, making={"finishes": [AGED]}),
        piece("pauldron", "Shoulders", making={"finishes": [AGED]}),
    ),
    (
        kind(
            "inside dam before paint and straps",
            s.step("dam", "stretch-cloth"),
            s.order("coat-primer", "dam", "Front"),
            s.order("dam", "coat-colour", "Front"),
        ),
        kind("rivet masks", s.file("masks")),
        kind("rivets painted apart and put on after clear", s.order("coat-clear", "apart-join:rivets", "Front")),
        kind("decals aged on their backing", s.order("age-decal", "decal:", "Front")),
        kind(
            "shoulders hung, two in front and two behind",
            s.strap("chest", 10, 400, "Shoulders"),
            s.strap("back", 10, 500, "Shoulders"),
            s.part("webbing to the chest", 2, "Shoulders"),
        ),
        kind("plates on three webbings inside", s.part("plates", 3, "Shoulders")),
        kind("bed drummed inside a line of tape", s.step("beds", "line of tape")),
        kind("2-3 coats on webbing and 2 on foam", s.step("close", "3 coats .* cloth.*2 on", "Front")),
        kind("the same said on the rig sheet", s.says("3 coats of contact cement on the cloth")),
        kind("sealer over straps", s.any_step("sealer over.*strap|straps included")),
        kind("side buckles sewn", s.part("side-release", 4, "Front"), s.says("two rows across each turn-over")),
        kind("pad where raw foam shows", s.any_step(r"\bpad\b")),
        kind("hung plates just touch", s.any_step("just touch")),
        kind("beds are counted, of other pieces' straps too", s.minutes("beds", 15, 80, "Back")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
