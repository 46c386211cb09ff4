"""Where parts lie as it is kept: without their outlines, which follow from the pieces."""

from typing import Annotated

from pydantic import Field, StrictBool

from vellumcut.core.body.readings import Decision
from vellumcut.core.units import Number

Key = Annotated[str, Field(min_length=1, max_length=200)]
At = Annotated[Number, Field(ge=-20_000, le=20_000)]
Outline = Annotated[tuple[tuple[At, At], ...], Field(min_length=3, max_length=20_000)]


class KeptPlace(Decision):
    """A part on a sheet: turned about its own origin by degrees, then moved, mm."""

    key: Key
    sheet: Key
    turn: Annotated[Number, Field(ge=0, lt=360)]
    x: At
    y: At
    locked: StrictBool = False


class KeptCutPart(KeptPlace):
    """A part that is cut, as it lay: its pattern may have changed since."""

    code: Key
    outline: Outline


class KeptCut(Decision):
    """A sheet that was cut. rest: width and height of what was left, mm."""

    sheet: Key
    outline: Outline
    parts: Annotated[tuple[KeptCutPart, ...], Field(max_length=2000)]
    rest: tuple[At, At] | None = None
    owned: StrictBool = True
    offcut: StrictBool = False


def renumbered(key: str, piece: int) -> str:
    """A part's key where its piece has another number."""
    return f"{piece}/{key.partition('/')[2]}"


def piece_of(key: str) -> int:
    """The number of the piece a part belongs to. Raises ValueError."""
    return int(key.partition("/")[0])
