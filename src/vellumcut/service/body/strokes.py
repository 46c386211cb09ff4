"""A maker rubs over the picture: this is piece, this is floor."""

from collections.abc import Sequence

import numpy as np
import shapely
from PIL import Image

from vellumcut.core.trace.edges.tips import Slit
from vellumcut.core.trace.hand.look import drawn
from vellumcut.core.trace.hand.rub import FLIP, Before, rub
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.trace import NO_PIECE
from vellumcut.core.trace.view.judge import Finding
from vellumcut.core.trace.view.rectify import FromAbove
from vellumcut.formats.body.found import Found, KeptPiece
from vellumcut.formats.body.trace_json import piece_data
from vellumcut.service.body.traces import above_file, dumped, get_trace, shapes_of
from vellumcut.service.rows import fetch
from vellumcut.store.database import Store
from vellumcut.store.models import TracedPhotograph


def rub_over(
    store: Store, trace: int, points: Sequence[tuple[float, float]], wide: float, piece: bool
) -> TracedPhotograph:
    """Outlines after a stroke. points: mm, y up; wide: mm. Raises CraftError where it says nothing new, NotFound."""
    row = get_trace(store, trace)
    found = Found.model_validate(row.found)
    ground = _ground(store, row, found)
    before = {p.number: _before(p) for p in found.pieces}
    stroke = Stroke(np.array(points, float) * FLIP, wide, piece)
    after = rub(ground, shapes_of(row), stroke, before, found.of_view_mm)
    pieces = [p for p in row.found["pieces"] if p["number"] not in {*after.gone, *after.seen}]
    pieces += [piece_data(p, n) for n, p in after.seen.items()]
    said = [f for f in row.found["findings"] if not (after.shapes and f["what"] == NO_PIECE.what)]
    with store.write("Rub in a piece" if piece else "Rub in floor") as session:
        kept = fetch(session, TracedPhotograph, trace)
        kept.found = {**row.found, "pieces": sorted(pieces, key=lambda p: int(p["number"])), "findings": said}
        kept.shapes = dumped(after.shapes)
    return kept


def _before(piece: KeptPiece) -> Before:
    slits = (Slit(np.array(s.tip), s.deep_mm, s.angle_deg, s.off_mm) for s in piece.slits)
    said = (Finding(f.weight, f.what, f.do, f.lasts) for f in piece.findings)
    return Before(piece.error_mm.of_view, tuple(slits), tuple(said))


def _ground(store: Store, row: TracedPhotograph, found: Found) -> Ground:
    """The ground as the maker sees it. Raises NotFound."""
    with Image.open(above_file(store, row.id)) as image:
        picture = np.asarray(image.convert("RGB"))
    corner, per = np.array(found.above.corner), found.above.mm_per_pixel
    everything = FromAbove(picture, np.ones(picture.shape[:2], bool), corner, per)
    shown = shapely.union_all([shapely.Polygon(ring) for ring in found.above.shown])
    seen = drawn(everything, shown) > 0 if found.above.shown else everything.seen
    poses = np.array([[*c.at, c.turn] for c in found.cards])
    return Ground(FromAbove(picture, seen, corner, per), poses, row.side, bare=bool(row.floor))
