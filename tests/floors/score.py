"""What was traced of a scene, as it leaves as a panel, held against what lay there: piece by piece, and what was said
of each."""

from dataclasses import dataclass, field

import numpy as np
import shapely

from tests.floors.laid import Cut, Dart
from tests.floors.taken import Taken
from vellumcut.core.trace.piece import TracedPiece
from vellumcut.core.trace.said import TWO_PIECES
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.trace import Trace

NARROW = 1.0
"""mm of a slit's width below which it counts as its tip."""
WITHIN = 0.5, 1.5
"""mm RMS and worst that a piece may be off outside the tips of its slits."""
TIP = 2.0
"""mm that a tip may be off."""
LEAST_ANGLE = 1.5


@dataclass
class Scored:
    """rms, worst: mm of each piece that was found, outside tips; told: what it said of itself; tips: mm off and degrees
    of each slit, and whether something was said of it. missing, invented: counts; said: of the whole picture or a
    piece. silent: what was wrong without a word."""

    rms: list[float] = field(default_factory=list)
    worst: list[float] = field(default_factory=list)
    tips: list[tuple[float, float, bool]] = field(default_factory=list)
    missing: int = 0
    invented: int = 0
    said: bool = False
    silent: list[str] = field(default_factory=list)

    @property
    def right(self) -> bool:
        fits = all(r < WITHIN[0] and w < WITHIN[1] for r, w in zip(self.rms, self.worst, strict=True))
        return not self.missing and not self.invented and bool(self.rms) and fits


def score(scene: Taken, trace: Trace) -> Scored:
    out = Scored()
    out.said = any(f.weight == "stop" for f in trace.findings) or any(p.findings for p in trace.pieces)
    truth = [shapely.Polygon(scene.place(trace, c.area.exterior.coords)) for c in scene.cuts]
    found = [shapely.Polygon(p.outline).buffer(0) for p in trace.pieces]
    taken: set[int] = set()
    for cut, area in zip(scene.cuts, truth, strict=True):
        shared = [area.intersection(f).area / area.union(f).area for f in found]
        best = int(np.argmax(shared)) if shared else -1
        if best < 0 or shared[best] < 0.5 or best in taken:
            out.missing += 1
            run_together = best >= 0 and area.intersection(found[best]).area > 0.5 * area.area
            if not trace.findings and not (run_together and TWO_PIECES in trace.pieces[best].findings):
                out.silent.append("missing")
            continue
        taken.add(best)
        _score_piece(out, scene, trace, cut, area, trace.pieces[best])
    for k, piece in enumerate(trace.pieces):
        if k not in taken:
            out.invented += 1
            if not piece.findings:
                out.silent.append("invented")
    return out


def darts_of(scene: Taken, trace: Trace, cut: Cut) -> list[Dart]:
    """Slits of a piece as they lie in a trace."""

    def placed(dart: Dart) -> Dart:
        tip, ahead = scene.place(trace, np.array([dart.tip, dart.tip + dart.way]))
        return Dart(tip, ahead - tip, dart.angle, dart.deep)

    return [placed(d) for d in cut.darts]


def _score_piece(out: Scored, scene: Taken, trace: Trace, cut: Cut, area: shapely.Polygon, piece: TracedPiece) -> None:
    darts = darts_of(scene, trace, cut)
    leaves = np.array(shape_of(piece, 1).outline) * (1, -1)
    rms, worst = apart(leaves, area, darts)
    out.rms.append(rms)
    out.worst.append(worst)
    whole, farthest = apart(leaves, area, [])
    if (whole > 2 * piece.sure.rms or farthest > 2 * piece.sure.worst) and not piece.findings:
        out.silent.append(
            f"off by {whole:.2f} and {farthest:.1f}, told {piece.sure.rms:.2f} and {piece.sure.worst:.1f}"
        )
    for d in darts:
        off = min((float(np.hypot(*(x.tip - d.tip))) for x in piece.slits), default=d.deep)
        out.tips.append((min(off, d.deep), d.angle, bool(piece.findings)))


def apart(outline: np.ndarray, area: shapely.Polygon, darts: list[Dart]) -> tuple[float, float]:
    """RMS and worst distance between two outlines, both ways, mm, outside the tips of the slits."""
    ring, mine = area.exterior, shapely.LinearRing(outline)
    barred = (
        shapely.union_all(
            [
                shapely.LineString(
                    [d.tip + 4 * d.way, d.tip - d.way * (NARROW / 2 / np.tan(np.radians(d.angle / 2)))]
                ).buffer(2.0)
                for d in darts
            ]
        )
        if darts
        else shapely.Polygon()
    )
    every = []
    for a, b in ((mine, ring), (ring, mine)):
        points = shapely.points(shapely.get_coordinates(shapely.segmentize(a, 0.5)))
        points = points[~shapely.contains(barred, points)] if darts else points
        every.append(shapely.distance(points, b))
    far = np.concatenate(every)
    return float(np.sqrt((far**2).mean())), float(far.max())
