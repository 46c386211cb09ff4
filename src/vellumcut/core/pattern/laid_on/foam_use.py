"""Foam of a piece by kind and thickness, panels and what is laid on them together: its sheets and its weight read
this."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from vellumcut.core.design.foam import FoamKind
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.laid_on.sums import PartSum


@dataclass(frozen=True)
class FoamUse:
    """area: as it is cut from the sheet, mm2. volume: that stays in the piece, mm3; a trim is brought to its
    profile."""

    area: float
    volume: float


def foam_used(
    panels: Sequence[DrawnPanel], parts: Sequence[DrawnPanel], laid: Iterable[PartSum]
) -> dict[tuple[FoamKind, float], FoamUse]:
    """By sheet, over all copies."""
    rows: dict[tuple[FoamKind, float], list[tuple[float, float]]] = {}
    for p in panels:
        area = p.flat.area * p.copies
        rows.setdefault((p.layer.kind, p.layer.thickness), []).append((area, area * p.layer.thickness))
    for part in parts:
        rows.setdefault((part.layer.kind, part.layer.thickness), []).append((part.flat.area * part.copies, 0.0))
    for own in laid:
        # What its maker has weighed counts by that word.
        if own.sheet is not None and own.volume and not own.detail.weight:
            rows.setdefault(own.sheet, []).append((0.0, own.volume))
    return {key: FoamUse(sum(a for a, _ in own), sum(v for _, v in own)) for key, own in rows.items()}
