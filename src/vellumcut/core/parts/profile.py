"""What a strip looks like across: how it is brought to its profile, and how much of its sheet stays in it."""

from math import atan2, degrees, hypot, pi

from vellumcut.core.design.parts import Border, Profile

STAYS: dict[Profile, float] = {"flat": 1.0, "rounded": 0.93, "half-round": pi / 4, "triangular": 0.5}
"""Share of the strip's full cross section. Rounded: both upper corners to half the thickness of a strip three times as
wide as it is thick (est.); half-round: half an ellipse; triangular: cut corner to corner."""


def slit_angle(border: Border) -> float:
    """How far the knife leans from the face to cut a triangular trim corner to corner, degrees."""
    return degrees(atan2(border.foam, border.width))


def profile_words(border: Border, curved: bool = False, straight: bool = True) -> str:
    """How it is brought to its profile; empty where it stays as it is cut or was bought so. curved, straight: whether
    some of its strips are cut so."""
    if border.bought:
        return ""
    if border.profile == "rounded":
        return "Round both upper edges with a rotary tool or a sanding block, before it is glued."
    if border.profile == "half-round":
        return (
            f"Mark its middle line, take both edges off down to the base, {border.foam:g} mm deep, and round what is "
            "left, before it is glued."
        )
    if border.profile == "triangular":
        slope = hypot(border.width, border.foam)
        faces = f"base {border.width:g} mm, upright face {border.foam:g} mm, slope {slope:.1f} mm"
        slit = (
            f"Slit each straight strip lengthwise from corner to corner, the knife leaned to "
            f"{slit_angle(border):.0f} degrees off the face: two triangles from one, {faces}."
        )
        bevel = f"Take each curved strip off from corner to corner by itself: {faces}; the other half is waste."
        return " ".join(words for words, there in ((slit, straight), (bevel, curved)) if there)
    return ""


def strips_from_sheet(border: Border, copies: int, straight: bool) -> tuple[int, int]:
    """How many full strips are cut for so many, and how many halves are left over. A straight triangular one is half of
    a strip; a curved one is not, since its two halves bend unlike."""
    if border.profile != "triangular" or not straight:
        return copies, 0
    return -(-copies // 2), copies % 2
