"""The body segments, apart from the trunk, that armour covers, their stations and what is ordinary there.

Ranges are generous spans of adult bodies (est.); outside them a reading is questioned, not refused.
Order runs from hand to shoulder and from foot to hip, as makers number their panels.
"""

from dataclasses import dataclass
from typing import Literal

SegmentName = Literal["forearm", "upper arm", "shoulder", "foot", "lower leg", "knee", "thigh", "neck"]
BodyPart = Literal[SegmentName, "torso"]
ScanSegment = Literal["forearm", "upper arm", "lower leg", "thigh", "torso"]
"""What a tube can be fitted to in a scan."""
Side = Literal["left", "right"]
UnitName = Literal["mm", "cm", "m", "in"]
AxisName = Literal["x", "-x", "y", "-y", "z", "-z"]


@dataclass(frozen=True)
class Station:
    """A named place along a limb. girth: ordinary least and most, mm. at: usual distance from the first, mm."""

    name: str
    how: str
    girth: tuple[float, float]
    at: float
    ratio: float


@dataclass(frozen=True)
class Gate:
    """The widest thing a closed tube must pass on its way, measured apart from the stations."""

    name: str
    how: str
    girth: tuple[float, float]


@dataclass(frozen=True)
class Segment:
    name: SegmentName
    word: str
    stations: tuple[Station, Station, Station]
    gate: Gate | None
    gate_from: tuple[SegmentName, ...]
    """Segments whose own readings a closed tube passes over before it sits here."""
    end_word: tuple[str, str]
    """What lies beyond each end."""

    def station(self, name: str) -> Station:
        """The station of that name. Raises StopIteration."""
        return next(s for s in self.stations if s.name == name)

    def index(self, name: str) -> int:
        """Its number from the low end. Raises ValueError."""
        return [s.name for s in self.stations].index(name)


_HAND = Gate("hand", "round the knuckles, thumb tucked into the palm", (170, 300))
_HEEL = Gate("heel", "from the heel over the instep, foot pointed", (260, 430))

SEGMENTS: dict[SegmentName, Segment] = {
    s.name: s
    for s in (
        Segment(
            "forearm",
            "Forearm",
            (
                Station("wrist", "round the narrowest place, just above the wrist bone", (120, 240), 0, 0.74),
                Station("belly", "round the fullest place of the forearm, fist closed", (180, 420), 165, 0.92),
                Station("elbow", "round the arm at the crease, arm a little bent", (180, 420), 235, 0.94),
            ),
            _HAND,
            (),
            ("hand", "elbow"),
        ),
        Segment(
            "upper arm",
            "Upper arm",
            (
                Station("above elbow", "two fingers above the elbow crease", (180, 420), 0, 0.95),
                Station("biceps", "round the fullest place, muscle tensed", (200, 560), 110, 1.05),
                Station("armpit", "as high as the tape will go under the arm", (220, 620), 190, 1.08),
            ),
            None,
            ("forearm",),
            ("elbow", "shoulder"),
        ),
        Segment(
            "lower leg",
            "Lower leg",
            (
                Station("ankle", "round the narrowest place above the ankle bones", (170, 330), 0, 1.15),
                Station("calf", "round the fullest place, weight on both feet", (270, 560), 210, 1.06),
                Station("knee", "just below the kneecap", (270, 560), 330, 1.02),
            ),
            _HEEL,
            (),
            ("foot", "knee"),
        ),
        Segment(
            "thigh",
            "Thigh",
            (
                Station("above knee", "a hand's width above the kneecap", (320, 700), 0, 1.04),
                Station("mid thigh", "half way from kneecap to crotch", (380, 850), 130, 1.08),
                Station("top", "as high as the tape will go, level all round", (420, 980), 270, 1.1),
            ),
            None,
            ("lower leg",),
            ("knee", "hip"),
        ),
        Segment(
            "shoulder",
            "Shoulder",
            (
                Station("arm", "round the upper arm, a hand's width below the shoulder point", (220, 580), 0, 1.02),
                Station("cap", "round the arm and over the shoulder's roundest place", (260, 640), 75, 1.06),
                Station("top", "a ring round the shoulder point itself, as a cap sits", (150, 420), 135, 1.08),
            ),
            None,
            ("forearm", "upper arm"),
            ("arm", "neck"),
        ),
        Segment(
            "foot",
            "Foot",
            (
                Station("toes", "round the shoe just behind the toe tips", (170, 300), 0, 0.62),
                Station("ball", "round the shoe at the widest place of the sole", (210, 340), 75, 0.66),
                Station("instep", "round the shoe at the highest place of the instep", (230, 360), 155, 0.95),
            ),
            None,
            (),
            ("toes", "ankle"),
        ),
        Segment(
            "knee",
            "Knee",
            (
                Station("below kneecap", "round the leg a hand's width below the kneecap", (270, 560), 0, 1.04),
                Station("kneecap", "round the middle of the kneecap, leg straight", (300, 600), 85, 1.06),
                Station("above kneecap", "round the leg a hand's width above the kneecap", (320, 700), 170, 1.05),
            ),
            _HEEL,
            ("lower leg",),
            ("shin", "thigh"),
        ),
        Segment(
            "neck",
            "Neck",
            (
                Station("neck base", "round the neck where a necklace lies", (320, 560), 0, 1.05),
                Station("mid neck", "round the middle of the neck", (290, 500), 45, 1.04),
                Station("under chin", "round the neck just below the jaw", (290, 520), 85, 1.08),
            ),
            None,
            (),
            ("shoulders", "head"),
        ),
    )
}
