"""The trunk's measures: what is read with a tape, what is ordinary, and what proportion fills in."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from vellumcut.core.body.readings import MOST_GIRTH, Decision, Question, StationReading
from vellumcut.core.errors import CraftError
from vellumcut.core.units import Length

TORSO_STATIONS = ("hip", "waist", "underbust", "bust", "armpit", "shoulder", "neck")
HIP, WAIST, UNDERBUST, BUST, ARMPIT, SHOULDER, NECK = range(7)

TorsoGirth = Literal["hip", "waist", "underbust", "bust", "armhole", "neck"]
TorsoLength = Literal[
    "shoulder width", "shoulder drop", "bust point drop", "bust points apart", "back length", "front length",
    "waist to hip", "waist to armpit",
]  # fmt: skip
Posture = Literal["straight", "usual", "round"]


@dataclass(frozen=True)
class TorsoMeasure:
    """One measure of the trunk. ordinary: least and most, mm; usual: on the body that proportions start from, mm."""

    name: str
    how: str
    ordinary: tuple[float, float]
    usual: float


TORSO_GIRTHS: dict[TorsoGirth, TorsoMeasure] = {
    "neck": TorsoMeasure("neck", "round the neck where a collar sits, through the pit of the throat", (290, 520), 375),
    "bust": TorsoMeasure("bust", "round the fullest place of the bust or chest, tape level", (700, 1600), 920),
    "underbust": TorsoMeasure("underbust", "round the ribs just below the bust, tape level", (620, 1500), 800),
    "waist": TorsoMeasure("waist", "round the narrowest place, or level with the navel", (540, 1600), 760),
    "hip": TorsoMeasure("hip", "round the fullest place of the seat", (700, 1700), 970),
    "armhole": TorsoMeasure("armhole", "from the shoulder point under the arm and back, arm hanging", (320, 680), 430),
}
TORSO_LENGTHS: dict[TorsoLength, TorsoMeasure] = {
    "back length": TorsoMeasure("back length", "from the bone at the nape down the spine to the waist", (330, 540),
        410),
    "front length": TorsoMeasure("front length", "from the pit of the throat down the middle to the waist", (260, 480),
        345),
    "shoulder width": TorsoMeasure("shoulder width", "straight across from shoulder point to shoulder point",
        (300, 540), 385),
    "shoulder drop": TorsoMeasure("shoulder drop", "how far the shoulder point lies below the side of the neck",
        (15, 110), 48),
    "bust point drop": TorsoMeasure("bust point drop", "from the side of the neck down to the bust point or nipple",
        (180, 420), 265),
    "bust points apart": TorsoMeasure("bust points apart", "straight across from point to point", (120, 320), 185),
    "waist to hip": TorsoMeasure("waist to hip", "down the side from the waist to the fullest seat", (120, 300), 205),
    "waist to armpit": TorsoMeasure("waist to armpit", "up the side from the waist to the armpit", (140, 320), 215),
}  # fmt: skip

FLAT_CHEST = 1.06
"""Bust over underbust on a chest without fullness (est.): ribs and back muscles widen that much by themselves."""


OVER_THE_BUST, DOWN_THE_BUST = 0.16, 0.18
"""How much longer the front is, and the way down to the bust point, for each mm of bust beyond a flat chest (est.)."""


class TorsoReading(Decision):
    """The trunk. girths: by name, as read with tape or foam strip; lengths in mm. What is missing is guessed."""

    girths: dict[TorsoGirth, StationReading] = Field(default_factory=dict)
    lengths: dict[TorsoLength, Annotated[Length, Field(gt=0, le=MOST_GIRTH)]] = Field(default_factory=dict)
    posture: Posture = "usual"

    def scale(self) -> float:
        """How wide this trunk is beside the usual one; needs one girth at least."""
        return _middle([r.body_girth / TORSO_GIRTHS[n].usual for n, r in self.girths.items()])


@dataclass(frozen=True)
class TorsoSizes:
    """Every measure of a trunk, mm, and which of them nobody measured."""

    girths: dict[str, float]
    lengths: dict[str, float]
    posture: Posture
    guessed: tuple[str, ...]


def complete_torso(reading: TorsoReading) -> TorsoSizes:
    """Fill the missing by proportion: girths follow the girths given, lengths the lengths given.

    Raises CraftError when no girth is given at all.
    """
    check_torso(reading)
    given = {n: r.body_girth for n, r in reading.girths.items()}
    if not given:
        raise CraftError("Measure one girth of the trunk at least, the bust or chest best", "torso.bust")
    wide = reading.scale()
    # Bodies grow round faster than they grow tall: with no length given, tallness follows girth only a little.
    tall = _middle([v / TORSO_LENGTHS[n].usual for n, v in reading.lengths.items()]) or 1 + 0.25 * (wide - 1)
    girths = {n: given.get(n, m.usual * wide) for n, m in TORSO_GIRTHS.items()}
    if "underbust" not in given and "bust" in given:
        girths["underbust"] = girths["bust"] / FLAT_CHEST
    if "bust" not in given and "underbust" in given:
        girths["bust"] = girths["underbust"] * FLAT_CHEST
    lengths: dict[str, float] = {n: reading.lengths.get(n, m.usual * tall) for n, m in TORSO_LENGTHS.items()}
    if "shoulder width" not in reading.lengths:
        lengths["shoulder width"] = TORSO_LENGTHS["shoulder width"].usual * (0.6 * tall + 0.4 * wide)
    if "bust points apart" not in reading.lengths:
        lengths["bust points apart"] = TORSO_LENGTHS["bust points apart"].usual * wide
    full = max(0.0, girths["bust"] - FLAT_CHEST * girths["underbust"])
    if "front length" not in reading.lengths:
        lengths["front length"] += OVER_THE_BUST * full
    if "bust point drop" not in reading.lengths:
        lengths["bust point drop"] += DOWN_THE_BUST * full
    if "armhole" not in given:
        girths["armhole"] = TORSO_GIRTHS["armhole"].usual * (0.5 * tall + 0.5 * wide)
    missing = [n for n in TORSO_GIRTHS if n not in given] + [n for n in TORSO_LENGTHS if n not in reading.lengths]
    return TorsoSizes({str(n): g for n, g in girths.items()}, lengths, reading.posture, tuple(map(str, missing)))


def _middle(shares: list[float]) -> float:
    return sorted(shares)[len(shares) // 2] if shares else 0.0


def check_torso(reading: TorsoReading) -> None:
    """Refuse what no trunk can be. Raises CraftError naming the field."""
    for name, girth in reading.girths.items():
        if girth.body_girth <= 0:
            raise CraftError(f"{name}: a girth of {girth.body_girth:.0f} mm is on no body", f"torso.{name}")
    bust, under = (reading.girths.get(n) for n in ("bust", "underbust"))
    if bust and under and under.body_girth > bust.body_girth * 1.25:
        raise CraftError(
            f"The underbust ({under.body_girth:.0f} mm) is far larger than the bust ({bust.body_girth:.0f} mm)",
            "torso.underbust",
        )
    drop, length = reading.lengths.get("bust point drop"), reading.lengths.get("front length")
    if drop and length and drop > length + 120:
        raise CraftError(
            "The bust point would lie below the waist: check its drop and the front length", "torso.bust point drop"
        )


def question_torso(reading: TorsoReading) -> list[Question]:
    """Everything unlikely, in words."""
    rows = [(n, r.body_girth, TORSO_GIRTHS[n]) for n, r in reading.girths.items()]
    rows += [(n, v, TORSO_LENGTHS[n]) for n, v in reading.lengths.items()]  # type: ignore[misc]
    out = []
    for name, value, measure in rows:
        least, most = measure.ordinary
        if not least <= value <= most:
            size = "small" if value < least else "large"
            words = f"{name.capitalize()} {value:.0f} mm is very {size}: adults are about {least:.0f} to {most:.0f} mm."
            out.append(
                Question(
                    key=f"torso.{name}={value:g}",
                    field=f"torso.{name}",
                    message=words + " Read the tape again, and the unit.",
                )
            )
    return out
