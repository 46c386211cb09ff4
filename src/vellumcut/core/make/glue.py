"""Glue: how long contact cement takes to be ready, and how long it stays so."""

from dataclasses import dataclass
from typing import Literal

from vellumcut.core.body.readings import Decision
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Note, Value

Coat = Literal["thin", "normal", "heavy"]

_TOUCH_DRY = {"thin": 6.0, "normal": 10.0, "heavy": 16.0}
"""Minutes till dry to the touch at 20 degrees (est.): craft span is 5-20 by product, coat and room."""
_STAYS_OPEN = 25.0
"""Minutes after touch-dry in which two coated faces still bond at once at 20 degrees (est.)."""
_ROOM = 20.0
_HALVES_PER = 15.0
"""Solvent leaves about twice as fast for this rise in degrees (est.)."""
WARN_BEFORE = 5 * 60.0
"""Seconds before the window closes at which the maker is warned."""


class CementRoom(Decision):
    """coat: as brushed. degrees: of the room, Celsius. product: touch-dry minutes from the tin, if it says."""

    coat: Coat = "normal"
    degrees: float = 20.0
    product: float | None = None


@dataclass(frozen=True)
class CementWindow:
    """ready: seconds until dry to the touch. closes: seconds until it no longer bonds. note: how it was made."""

    ready: float
    closes: float
    note: Note


def cement_window(room: CementRoom) -> CementWindow:
    """The time to press contact-cemented faces together. Raises CraftError for a room nobody glues in."""
    if not 5 <= room.degrees <= 40:
        raise CraftError(f"Contact cement is used between 5 and 40 degrees, not {room.degrees:g}", "degrees")
    if room.product is not None and not 1 <= room.product <= 60:
        raise CraftError(f"{room.product:g} minutes till touch-dry is outside 1 to 60", "product")
    base = _TOUCH_DRY[room.coat] if room.product is None else room.product
    pace = 2 ** ((_ROOM - room.degrees) / _HALVES_PER)
    ready, open_for = base * pace, _STAYS_OPEN * pace
    note = Note(
        title="When to press",
        result=Value("dry to the touch after", ready, "minutes"),
        formula="{0} for a " + room.coat + " coat x {1} for a room of {2}",
        values=(Value("base", base, "minutes"), Value("pace", pace, "ratio"), Value("room", room.degrees, "degrees")),
        reason="Pressed wet, the solvent is trapped and the joint creeps; pressed too late, the faces no longer "
        "bite. (est.)",
        change="A thinner coat or a warmer room. A scrap test with your cement beats this figure.",
        about="cement",
    )
    return CementWindow(ready * 60, (ready + open_for) * 60, note)
