"""Lines of a panel that something can be laid along: its edges and what is inked inside it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.ink.lines import InkLine, PanelInk, line_word, stroke_of
from vellumcut.core.ink.stage import InkedPiece

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Run:
    """Lines that follow each other on a panel. uv: (n, 2), the panel on its left where it bounds it; of a closed one
    the last point is the first. within: drawn inside the panel, not its bound."""

    name: str
    uv: Array
    closed: bool
    within: bool


def runs_of(panel: PanelInk, names: Sequence[str]) -> list[Run]:
    """Where lines of these names run on a panel; those that follow each other are one."""
    wanted = set(names)
    out: list[Run] = []
    for ring in ink_rings(panel):
        out += _on_ring(ring, wanted)
    for line in panel.inside:
        if line_word(line.name) in wanted:
            closed = bool(np.allclose(line.uv[0], line.uv[-1]))
            out.append(Run(line_word(line.name), line.uv, closed, True))
    return out


def seams_of(piece: InkedPiece, names: Sequence[str]) -> list[tuple[int, Run]]:
    """Where seams of these names run over a piece, each once: from which panel it is read, and the seam, ready to have
    something laid over both its sides. Of a seam that a panel shares with one that has a twin, that of the twin."""
    wanted = set(names)
    found: dict[frozenset[str], tuple[int, Run]] = {}
    for at in sorted(range(len(piece.panels)), key=lambda k: not piece.twins[k]):
        for ring in ink_rings(piece.panels[at]):
            hit = [line.kind == "seam" and line_word(line.name) in wanted for line in ring]
            for chain in _chains(ring, hit):
                run = Run(line_word(chain[0].name), _joined(chain), len(chain) == len(ring), True)
                found.setdefault(frozenset(stroke_of(line.arc) for line in chain), (at, run))
    return list(found.values())


@dataclass(frozen=True)
class LineThere:
    """A line of a piece that something can be laid along. kind: edge, seam or inked inside. length: of all of it on the
    middle layer of one drawn side, mm."""

    name: str
    kind: Literal["edge", "seam", "inked"]
    length: float


def lines_there(piece: InkedPiece) -> tuple[LineThere, ...]:
    """Edges first, then seams, then what is inked inside; each name once, as long as all its parts."""
    rows: dict[tuple[str, str], float] = {}
    for panel in piece.panels:
        for line in (*panel.outline, *panel.holes, *panel.inside):
            kind = {"outline": "edge", "seam": "seam"}.get(line.kind, "inked")
            points = piece.surface.points(line.uv)
            key = (kind, line_word(line.name))
            rows[key] = rows.get(key, 0.0) + float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
    order = ("edge", "seam", "inked")
    found = sorted(((k, n, mm) for (k, n), mm in rows.items() if n), key=lambda r: order.index(r[0]))
    return tuple(LineThere(name, kind, mm) for kind, name, mm in found)  # type: ignore[arg-type]


def ink_rings(panel: PanelInk) -> list[tuple[InkLine, ...]]:
    """The lines of its outline, then of each hole."""
    out = [list(panel.outline)]
    for line in panel.holes:
        if len(out) == 1 or np.allclose(out[-1][-1].uv[-1], out[-1][0].uv[0]):
            out.append([])
        out[-1].append(line)
    return [tuple(ring) for ring in out]


def _on_ring(ring: Sequence[InkLine], wanted: set[str]) -> list[Run]:
    """Its stretches of wanted lines, each as long as it goes."""
    hit = [line_word(line.name) in wanted for line in ring]
    return [Run(line_word(c[0].name), _joined(c), len(c) == len(ring), False) for c in _chains(ring, hit)]


def _chains(ring: Sequence[InkLine], hit: Sequence[bool]) -> list[list[InkLine]]:
    """Lines of a ring that are hit and follow each other; all of them where none is not."""
    if all(hit):
        return [list(ring)]
    out = []
    for start in (k for k in range(len(ring)) if hit[k] and not hit[k - 1]):
        chain = [ring[start]]
        while hit[(start + len(chain)) % len(ring)]:
            chain.append(ring[(start + len(chain)) % len(ring)])
        out.append(chain)
    return out


def _joined(chain: Sequence[InkLine]) -> Array:
    return np.vstack([chain[0].uv[:1], *(line.uv[1:] for line in chain)])
