"""Panels that meet: which edges belong to one seam, marks that pair, and both sides made equally long."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.marks import Mark, mark_edge, mark_seam
from vellumcut.core.flatten.panel import FlatPanel, Seam, draw_panel, leg_names, part_names
from vellumcut.core.flatten.solve import Hold, hold_lengths
from vellumcut.core.flatten.solving import SolvedPanel
from vellumcut.core.ink.lines import opens
from vellumcut.core.ink.templates import CLOSING

Array = NDArray[np.float64]

MISMATCH, MISMATCH_SHARE = 1.5, 0.005
"""Sides of a seam that differ by more than this, mm, or this share of the seam, pucker."""
TRUE_WITHIN = 0.3
"""Sides that differ by less need no truing, mm."""
TRUING_ROUNDS = 8
STEPS = 200
HOLE_SHARE = 0.45
"""The rim of a hole gives way more easily than a panel that is sewn in all round: it goes this far to meet it."""
MOST_ASKED = 0.8
"""Truing that asks more of one panel than this, points of strain, is shared out anew with those that it meets."""
LEAN, SHARINGS = 0.6, 3
"""How strongly the wanted lengths lean towards the panel that is asked more, by point; and how often at most."""


@dataclass(frozen=True)
class Side:
    """One side of a seam: edges of one panel end to end, where a dart opens between two of them.

    panel: number of the panel in the list. hole: it lies round a hole. Runs the way the arc does if ``forward``.
    """

    panel: int
    edges: tuple[FlatEdge, ...]
    hole: bool = False

    @property
    def forward(self) -> bool:
        """Whether it runs the way the arc does."""
        return self.edges[0].forward

    @property
    def body_length(self) -> float:
        """On the body, mm."""
        return sum(e.body_length for e in self.edges)

    @property
    def length(self) -> float:
        """On the flat panel, mm."""
        return sum(e.length for e in self.edges)

    def marks(self, places: list[float], ticks: list[int]) -> list[Mark]:
        """Marks at distances along the arc on the body, mm."""
        out: list[Mark] = []
        start = 0.0
        for edge in self.edges:
            own = [(p if self.forward else self.body_length - p) - start for p in places]
            here = [(p, t) for p, t in zip(own, ticks, strict=True) if 0 <= p <= edge.body_length]
            out += mark_edge(edge, [p for p, _ in here], [t for _, t in here])
            start += edge.body_length
        return out

    def reached(self, at: Array) -> Array:
        """Length on the flat panel up to shares (k,) of the arc, mm, measured along it."""
        share, flat, start = [], [], 0.0
        far = 0.0
        for edge in self.edges:
            own = edge.cumulative()
            share.append((start + edge.at) / self.body_length)
            flat.append(far + own)
            start, far = start + edge.body_length, far + float(own[-1])
        t, reached = np.concatenate(share), np.concatenate(flat)
        if self.forward:
            return np.asarray(np.interp(at, t, reached))
        return np.asarray(far - np.interp(1 - at, t, reached))


def seam_sides(panels: list[FlatPanel]) -> dict[str, list[Side]]:
    """Sides of every seam, dart and opening, by what they share."""
    out: dict[str, list[Side]] = {}
    for k, panel in enumerate(panels):
        last: str | None = None
        parted = False
        for n, edge in enumerate((*panel.edges, *panel.holes)):
            if edge.kind == "dart":
                out.setdefault(edge.arc, []).append(Side(k, (edge,)))
                parted = True
                continue
            if edge.arc and (edge.kind == "seam" or edge.arc == CLOSING):
                sides = out.setdefault(edge.arc, [])
                if edge.arc == last and parted:
                    sides[-1] = Side(k, (*sides[-1].edges, edge))
                else:
                    sides.append(Side(k, (edge,), n >= len(panel.edges)))
            last, parted = edge.arc, False
    return out


def join_panels(solved: list[SolvedPanel], true: bool = True) -> list[FlatPanel]:
    """Draw panels with equal marks on all sides of each seam, each seam's lengths kept with its first panel.

    true: make all sides of a seam, and both legs of a dart, equally long. A seam with one side here meets its own
    mirror image, which is cut by turning the pattern over. Raises CraftError.
    """
    free = [draw_panel(s) for s in solved]
    panels = _trued(solved, free) if true else free
    before = seam_sides(free)
    marks: list[list[Mark]] = [[] for _ in panels]
    seams: list[list[Seam]] = [[] for _ in panels]
    for arc, sides in seam_sides(panels).items():
        length = float(np.mean([s.body_length for s in sides]))
        places, ticks = mark_seam(length)
        for side in sides:
            marks[side.panel] += side.marks([p * side.body_length / length for p in places], ticks)
        a, b = _extremes(sides)
        untrued = _extremes(before[arc])
        left_open = opens(arc) or (arc == CLOSING and sides[0].edges[0].kind != "seam")
        kind = "opening" if left_open else sides[0].edges[0].kind
        name = "closing" if arc == CLOSING else sides[0].edges[0].name.split(", ")[0]
        seams[sides[0].panel].append(
            Seam(
                name,
                length,
                a.length,
                b.length,
                arc,
                kind,
                (untrued[0].length, untrued[1].length),
                len(places),
                len(sides) == 1,
            )
        )
    for k, panel in enumerate(panels):
        for edge in panel.edges:
            if edge.name in ("lower edge", "upper edge"):
                marks[k] += mark_edge(edge, [edge.body_length / 2], [1])
    return [
        replace(p, marks=tuple(m), seams=tuple(s), free_p95=f.summary.p95)
        for p, f, m, s in zip(panels, free, marks, seams, strict=True)
    ]


def _extremes(sides: list[Side]) -> tuple[Side, Side]:
    """The two sides that differ most, or the one twice; in the order of the panels."""
    low, high = min(sides, key=lambda s: s.length), max(sides, key=lambda s: s.length)
    return (low, high) if sides.index(low) <= sides.index(high) else (high, low)


def _trued(solved: list[SolvedPanel], free: list[FlatPanel]) -> list[FlatPanel]:
    """Panels laid flat again with both sides of every seam equally long, so that none of them is asked much more."""
    lean = [1.0] * len(free)
    best, least = free, (True, np.inf)
    for _ in range(SHARINGS):
        panels, met = _met(solved, free, lean)
        asked = [p.summary.p95 - f.summary.p95 for p, f in zip(panels, free, strict=True)]
        if (not met, max(asked)) < least:
            best, least = panels, (not met, max(asked))
        if max(asked) < MOST_ASKED or len(free) < 2:
            break
        lean = [w * float(np.exp(LEAN * (a - np.mean(asked)))) for w, a in zip(lean, asked, strict=True)]
    return best


def _met(solved: list[SolvedPanel], free: list[FlatPanel], lean: list[float]) -> tuple[list[FlatPanel], bool]:
    """Panels laid flat again with the sides of every seam held to what they are long on the average; and whether
    they came to be.

    lean: how much each panel's own lengths count. Rounds take up what smoothing the drawn edges adds. A panel that
    cannot take it without folding stays as it fell.
    """
    at = np.linspace(0, 1, STEPS + 1)
    wanted: dict[str, Array] = {}
    for arc, sides in seam_sides(free).items():
        if arc != CLOSING or sides[0].edges[0].kind == "seam":
            weight = [lean[s.panel] * (HOLE_SHARE if s.hole else 1.0) for s in sides]
            wanted[arc] = np.average([s.reached(at) for s in sides], axis=0, weights=weight)
    state, panels = list(solved), list(free)
    pull: dict[tuple[int, str], float] = {}
    for _ in range(TRUING_ROUNDS):
        off = {arc: sides for arc, sides in seam_sides(panels).items() if arc in wanted and _differ(sides, wanted[arc])}
        if not off:
            return panels, True
        for arc, sides in off.items():
            for side in sides:
                # What a hold falls short by, the next round asks for on top.
                name = (side.panel, side.edges[0].name)
                pull[name] = pull.get(name, 1.0) * wanted[arc][-1] / side.length
        for k in {s.panel for sides in off.values() for s in sides}:
            try:
                held = _held(state[k], panels[k], k, wanted, pull)
                state[k], panels[k] = held, draw_panel(held)
            except CraftError:
                continue
    return panels, False


def _differ(sides: list[Side], wanted: Array) -> bool:
    return any(abs(s.length - wanted[-1]) > TRUE_WITHIN / 2 for s in sides)


def _held(
    solved: SolvedPanel,
    panel: FlatPanel,
    number: int,
    wanted: dict[str, Array],
    pull: dict[tuple[int, str], float],
) -> SolvedPanel:
    at = np.linspace(0, 1, STEPS + 1)
    loops = _loops(solved)
    pairs: list[Array] = []
    lengths: list[Array] = []
    for arc, sides in seam_sides([panel]).items():
        if arc not in wanted:
            continue
        for side in sides:
            start, more = 0.0, pull.get((number, side.edges[0].name), 1.0)
            for edge in side.edges:
                share = (start + edge.at) / side.body_length
                start += edge.body_length
                reach = np.abs(np.diff(np.interp(share if side.forward else 1 - share, at, wanted[arc])))
                chord = np.linalg.norm(np.diff(edge.knots, axis=0), axis=1)
                loop = loops[edge.name]
                pairs.append(np.stack([loop[:-1], loop[1:]], axis=1))
                lengths.append(more * reach * chord / np.diff(edge.cumulative()))
    if not pairs:
        return solved
    hold = Hold(np.vstack(pairs).astype(np.int32), np.concatenate(lengths))
    return replace(solved, flat=hold_lengths(solved.flat, solved.mesh.rest, hold))


def _loops(solved: SolvedPanel) -> dict[str, NDArray[np.int32]]:
    """Vertices of every edge of a panel, by the edge's name."""
    out = dict(zip(part_names(solved.ink), solved.mesh.loops, strict=True))
    for (first, second), slit in zip(leg_names(solved.ink), solved.mesh.slits, strict=True):
        out[first], out[second] = slit.left, slit.right[::-1]
    return out
