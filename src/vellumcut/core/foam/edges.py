"""How every edge of every panel is cut: bevelled where it meets another, square or shaped where it is free."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.foam import EdgeWork, Face, FoamWork
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.joining import seam_sides
from vellumcut.core.flatten.panel import FOLD, FlatPanel
from vellumcut.core.foam.bevels import SQUARE_BELOW
from vellumcut.core.foam.joints import Joint
from vellumcut.core.foam.stacks import PlacedLayer
from vellumcut.core.ink.lines import opens
from vellumcut.core.units import format_length

Array = NDArray[np.float64]


@dataclass(frozen=True)
class EdgeCut:
    """One edge of one sheet. at: (n,) mm along the edge on the body, ends included. fold: (n,) degrees, above zero a
    ridge. lean: (n,) degrees off square. move: (n,) how far the full-size face is traced outside the middle's outline,
    mm. taken_off: the face that ends up shorter. joint: what it is glued in; empty for a free edge, which ``work``
    shapes.
    """

    at: Array
    fold: Array
    lean: Array
    move: Array
    taken_off: Face
    joint: str = ""
    work: EdgeWork | None = None

    @property
    def square(self) -> bool:
        """Whether it is cut upright all along."""
        return not np.any(self.lean) and (self.work is None or self.work.shape in ("square", "rounded"))

    @property
    def words(self) -> str:
        """Short enough to stand beside the edge on paper; empty for a plain one."""
        if self.joint:
            if self.square:
                return ""
            low, high = float(self.lean.min()), float(self.lean.max())
            if self.fold.min() <= -SQUARE_BELOW and self.fold.max() >= SQUARE_BELOW:
                one, two = (f"{self.lean[k]:.0f}° off the {'inner' if self.fold[k] > 0 else 'outer'}" for k in (0, -1))
                return f"{one} to {two} face"
            span = f"{self.lean.mean():.0f}°" if high - low < 3 else f"{self.lean[0]:.0f}° to {self.lean[-1]:.0f}°"
            return f"{span} off the {self.taken_off} face"
        if self.work is None:
            return ""
        return free_words(self.work)


def free_words(work: EdgeWork) -> str:
    """What is done to a free edge."""
    if work.shape == "angled":
        return f"cut at {work.angle:.0f}°, off the {work.face} face"
    if work.shape == "thinned":
        left, width = format_length(work.left), format_length(work.width)
        return f"thinned to {left} over {width}, off the {work.face} face"
    return work.shape


WHY_FREE = {
    "square": "Quick, and right where another part hides it.",
    "rounded": "Paint holds on a curve and chips off a corner, and a round edge is kinder to skin.",
    "angled": "One angled pass saves the sanding, the edge looks thin, and plates slide over each other.",
    "thinned": "A trim laid on the thinned rim lies flush with the rest.",
}


def free_edges(flats: Sequence[FlatPanel]) -> list[str]:
    """Names of the edges that are glued to nothing, each once, in their order."""
    names = [e.name.split(", part ")[0] for f in flats for e in (*f.edges, *f.holes) if _is_free(e)]
    return list(dict.fromkeys(names))


def _is_free(edge: FlatEdge) -> bool:
    """Glued to nothing: the rim, and both sides of a line that opens."""
    return edge.kind not in ("seam", "dart", FOLD) or (edge.kind == "seam" and opens(edge.arc))


def edge_cuts(
    flats: Sequence[FlatPanel], layers: Sequence[PlacedLayer], joints: Sequence[Joint], work: FoamWork
) -> list[dict[str, EdgeCut]]:
    """Per panel, its edges by name. flats: one layer of every panel. layers: which sheet each of them is."""
    out: list[dict[str, EdgeCut]] = [{} for _ in flats]
    sides = seam_sides(list(flats))
    for joint in joints:
        for n, side in enumerate(sides.get(joint.arc, [])):
            share, body = 0.0, side.body_length
            for edge in side.edges:
                at = np.unique(np.concatenate([[0.0, edge.body_length], edge.at]))
                along = (share + at) / body
                along = along if side.forward == joint.forward else 1 - along
                share += edge.body_length
                out[side.panel][edge.name] = _jointed(at, along, joint, min(n, 1), layers[side.panel])
    shapes = {x.name: x for x in work.edges}
    for k, flat in enumerate(flats):
        for edge in (*flat.edges, *flat.holes):
            if _is_free(edge):
                out[k][edge.name] = _free(edge, shapes.get(edge.name.split(", part ")[0]))
    return out


def _jointed(at: Array, along: Array, joint: Joint, n: int, layer: PlacedLayer) -> EdgeCut:
    """along: (n,) share of the joint's length."""
    fold = np.interp(along * joint.length, joint.fold.at, joint.fold.degrees)
    cuts = [joint.bevel_at(float(d), float(a) * joint.length)[n] for d, a in zip(fold, along, strict=True)]
    lean = np.array([c.off_square for c in cuts])
    low, high = layer.through
    move = np.array([c.move(low, layer.middle, high) for c in cuts])
    face = cuts[int(np.argmax(lean))].taken_off if np.any(lean) else joint.bevel[n].taken_off
    return EdgeCut(at, fold, lean, move, face, joint.name)


def _free(edge: FlatEdge, work: EdgeWork | None) -> EdgeCut:
    ends = np.array([0.0, edge.body_length])
    lean = np.full(2, work.angle if work and work.shape == "angled" else 0.0)
    face: Face = work.face if work else "inner"
    return EdgeCut(ends, np.zeros(2), lean, np.zeros(2), face, "", work)


def unknown_edges(work: FoamWork, free: Sequence[str], joints: Sequence[Joint]) -> Iterator[str]:
    """Sentences for rows that name what this piece has not, so that none is passed over in silence."""
    names = {j.name for j in joints}
    for seam in work.seams:
        if seam.name not in names:
            yield f'There is no seam or dart "{seam.name}" here; its angle of {seam.fold:g}° waits until there is one.'
    for edge in work.edges:
        if edge.name not in free:
            yield f'There is no free edge "{edge.name}" here; its shape waits until there is one.'
