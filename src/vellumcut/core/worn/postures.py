"""What a wearer does in a costume: which joints each posture turns."""

POSTURES: dict[str, tuple[tuple[str, str, float], ...]] = {
    "stand": (),
    "reach forward": (("both shoulder", "raise", 90),),
    "overhead": (("both shoulder", "raise", 150),),
    "hands to the hips": (("both shoulder", "spread", 40), ("both elbow", "bend", 85)),
    "lean back": (("waist", "lean back", 20),),
    "twist": (("waist", "twist", 35),),
    "sit": (("both hip", "bend", 90), ("both knee", "bend", 90)),
    "kneel": (
        ("right knee", "bend", 95),
        ("left hip", "bend", 90),
        ("left knee", "bend", 90),
        ("right ankle", "point", 30),
    ),
    "stairs": (("left hip", "bend", 65), ("left knee", "bend", 70)),
    "drink": (("right shoulder", "raise", 50), ("right elbow", "bend", 135), ("neck", "look up", 15)),
    "reach the back": (("right shoulder", "reach back", 35), ("right elbow", "bend", 100)),
}
"""What a wearer does in a costume, as turned joints (est.); "both" stands for left and right."""


def turns_of(posture: str) -> list[tuple[str, str, float]]:
    """Every joint that a posture turns: joint, motion, degrees."""
    out = []
    for key, motion, degrees in POSTURES[posture]:
        sides = ("left", "right") if key.startswith("both ") else ("",)
        out += [((f"{s} {key[5:]}" if s else key), motion, float(degrees)) for s in sides]
    return out
