"""Where a panel is a saddle: splits along a line, and slashes with an insert, tried and compared."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import ops
from shapely.geometry import LineString, MultiLineString, Point, Polygon

from vellumcut.core.flatten.ranking import Ranked
from vellumcut.core.flatten.trial import Trial

Array = NDArray[np.float64]

DIRECTIONS = 4
"""Lines tried through each place, in equal turns."""
LEAST_PART = 1500.0
"""A part smaller than this is a scrap, mm2."""
LEAST_INSERT = 14.0
MOST_INSERT = 90.0
INSERT_ROUND = 1.15
"""An insert is this much wider than the slit's sides overlap: they would still press on each other."""


@dataclass(frozen=True, eq=False)
class Split:
    """A cut that makes panels of one. kind: split along a line, or slash with an insert. lines: (k, 2) of (around,
    along) each, to be inked as seams. p95: of the part that asks most, on the rough mesh, per cent. width: of the
    insert at its mouth, mm.
    """

    kind: Literal["split", "insert"]
    lines: tuple[Array, ...]
    p95: float
    width: float = 0.0


KEPT, EACH_KIND = 3, 2
WORTH_SPLITTING = 0.85
"""A split or an insert costs a seam: it must take off more than a dart."""


def propose_cuts(trial: Trial, overlapping: Iterable[Ranked]) -> tuple[Split, ...]:
    """The likely splits and inserts, those that ask least first. overlapping: slits that no dart can be."""
    found = [*propose_splits(trial), *propose_inserts(trial, overlapping)]
    kinds: list[Split] = []
    for split in sorted((s for s in found if s.p95 < trial.undarted.p95), key=lambda s: s.p95):
        if sum(k.kind == split.kind for k in kinds) < EACH_KIND:
            kinds.append(split)
    return tuple(kinds[:KEPT])


def propose_splits(trial: Trial) -> list[Split]:
    """Straight splits through the places where the surface is most a saddle or the foam is asked most."""
    out = []
    for place in _places(trial):
        for k in range(DIRECTIONS):
            angle = np.pi * k / DIRECTIONS
            way = np.array([np.cos(angle), np.sin(angle)])
            line = LineString([place - 4000 * way, place + 4000 * way]).intersection(trial.ring)
            chord = _through(line, place)
            parts = _parts(trial.ring, chord) if chord is not None else []
            if len(parts) != 2:
                continue
            p95 = trial.try_parts(parts)
            if p95 is not None and chord is not None:
                first, *_, last = shapely.get_coordinates(chord)
                points = np.linspace(first, last, 4)
                out.append(Split("split", (trial.plane.uv(points),), p95))
    return out


def _places(trial: Trial) -> list[Array]:
    places, curved = trial.curvature()
    saddle = np.maximum(-curved, 0.0)
    out = [np.array(trial.ring.representative_point().coords[0])]
    if saddle.sum() > 0.02:
        out.insert(0, (places * saddle[:, None]).sum(axis=0) / saddle.sum())
    solved = trial.undarted.solved
    worst = int(np.argmax(solved.strain.max(axis=1)))
    out.append(trial.plane.flat(solved.mesh.uv[solved.mesh.rest.faces[worst]]).mean(axis=0))
    kept: list[Array] = []
    for p in out:
        if trial.ring.contains(Point(p)) and all(np.linalg.norm(p - q) > 25 for q in kept):
            kept.append(p)
    return kept


def _through(found: shapely.Geometry, place: Array) -> LineString | None:
    lines = [g for g in getattr(found, "geoms", [found]) if isinstance(g, LineString) and g.length > 20]
    return min(lines, key=lambda g: g.distance(Point(place)), default=None)


def _parts(ring: Polygon, cut: LineString | MultiLineString) -> list[Polygon]:
    p = shapely.get_coordinates(cut)
    longer = LineString(np.vstack([p[0] + (p[0] - p[1]) * 1e-3, *p[1:-1], p[-1] + (p[-1] - p[-2]) * 1e-3]))
    pieces = [g for g in ops.split(ring, longer).geoms if isinstance(g, Polygon)]
    return pieces if all(g.area > LEAST_PART for g in pieces) else []


def propose_inserts(trial: Trial, overlapping: Iterable[Ranked]) -> list[Split]:
    """Slits whose sides lie over each other, slashed open on the body and filled with a wedge of that width."""
    best = sorted(overlapping, key=lambda t: t.energy)[:4]
    out = []
    for tried in best:
        dart = tried.darts[0]
        width = INSERT_ROUND * 2 * dart.length * float(np.tan(abs(tried.angles[0]) / 2))
        if width < LEAST_INSERT or trial.mirror:
            continue
        width = min(width, MOST_INSERT)
        wedge = _wedge(trial.ring, dart.mouth, dart.tip, width)
        insert, rest = trial.ring.intersection(wedge), trial.ring.difference(wedge)
        if not (isinstance(insert, Polygon) and isinstance(rest, Polygon)) or insert.area < LEAST_PART / 3:
            continue
        p95 = trial.try_parts([rest, insert])
        if p95 is not None:
            sides = [_clipped(trial.ring, side, dart.tip) for side in _sides(dart.mouth, dart.tip, width)]
            out.append(Split("insert", tuple(trial.plane.uv(s) for s in sides), p95, width))
    return out


def _sides(mouth: Array, tip: Array, width: float) -> tuple[Array, Array]:
    """Both sides of a wedge from past the edge to its tip, (2, 2) mm each."""
    way = (tip - mouth) / np.linalg.norm(tip - mouth)
    across = width / 2 * np.array([-way[1], way[0]])
    return tuple(np.stack([tip + 1.3 * (mouth + s * across - tip), tip]) for s in (1, -1))  # type: ignore[return-value]


def _wedge(ring: Polygon, mouth: Array, tip: Array, width: float) -> Polygon:
    (a, _), (b, _) = _sides(mouth, tip, width)
    return Polygon([a, tip, b])


def _clipped(ring: Polygon, side: Array, tip: Array) -> Array:
    inside = LineString(side).intersection(ring)
    chord = _through(inside, tip)
    return side if chord is None else shapely.get_coordinates(chord)
