"""Patterns as SVG in millimetres with a named group for each kind of line."""

from collections.abc import Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.design.sheet import INSIDE
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.labels import Beside, label_place
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.names import plain
from vellumcut.formats.pattern.dashes import DASHES

Array = NDArray[np.float64]

BETWEEN = 20.0
BORDER = 10.0
LINES = (*INSIDE, "cut rim", "kerf")
"""Kinds of line inside a panel: those that are inked, and those that working them adds."""
SHEET_EDGE = "sheet edge"
"""Where a sheet ends: never cut."""
LAYERS = ("cut", "seam marks", *LINES, "centre line", "label")
"""Names of the groups, in drawing order: what the knife follows, then what the pen follows."""


def write_svg(pattern: PiecePattern) -> str:
    """All that is cut of a piece side by side, 1 unit = 1 mm, y down as SVG wants it."""
    return svg_of(pattern.name, pattern.to_cut, *side_by_side(pattern))


def svg_of(
    name: str, panels: Sequence[DrawnPanel], moves: Array, size: tuple[float, float], edge: Array | None = None
) -> str:
    """Panels, each moved by so much, (n, 2) mm, y up, on a ground of width and height mm. edge: of the sheet they lie
    on, (k, 2) mm; on a layer of its own."""
    width, height = size
    groups: dict[str, list[str]] = {name: [] for name in LAYERS}
    for panel, move in zip(panels, moves, strict=True):
        _draw_panel(groups, panel, np.array([move[0], height - move[1]]))
    if edge is not None:
        groups[SHEET_EDGE] = [f"<path d={quoteattr(_line_path(edge, np.array([0.0, height])))}/>"]
    body = "\n".join(
        f'<g id="{name.replace(" ", "-")}" class={quoteattr(name)}>\n' + "\n".join(drawn) + "\n</g>"
        for name, drawn in groups.items()
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" fill="none" stroke="#2E2C2A" stroke-width="0.35">\n'
        f"<title>{_text(name)}</title>\n{body}\n</svg>\n"
    )


def side_by_side(pattern: PiecePattern) -> tuple[Array, tuple[float, float]]:
    """How far each panel is moved to stand beside the one before, tops level, (n, 2) mm, y up; width and height."""
    low, high = (np.array([f(p.flat.outline, axis=0) for p in pattern.to_cut]) for f in (np.min, np.max))
    size = high - low
    left = BORDER + np.concatenate([[0.0], np.cumsum(size[:-1, 0] + BETWEEN)])
    bottom = BORDER + size[:, 1].max() - size[:, 1]
    whole = (float(left[-1] + size[-1, 0] + BORDER), float(size[:, 1].max() + 2 * BORDER))
    return np.stack([left, bottom], axis=1) - low, whole


def _draw_panel(groups: dict[str, list[str]], panel: DrawnPanel, move: Array) -> None:
    flat, name = panel.flat, panel.label.code
    groups["cut"].append(f"<path id={quoteattr(f'{name} outline')} d={quoteattr(_outline_path(panel, move))}/>")
    ticks = " ".join(_line_path(line, move) for mark in flat.marks for line in mark.lines)
    groups["seam marks"].append(f"<path id={quoteattr(f'{name} marks')} d={quoteattr(ticks)}/>")
    centre = (
        f'<path id={quoteattr(f"{name} centre")} stroke-dasharray="6 2" d={quoteattr(_line_path(flat.centre, move))}/>'
    )
    groups["centre line"].append(centre)
    for line in flat.lines:
        words, path = quoteattr(f"{name} {plain(line.name)}"), quoteattr(_line_path(line.points, move))
        groups[line.kind].append(f'<path class={words} stroke-dasharray="{DASHES[line.kind]}" d={path}/>')
    groups["label"] += [_beside(b, move) for b in panel.beside]
    groups["label"] += _label(panel, move)


def _beside(beside: Beside, move: Array) -> str:
    x, y = beside.at[0] + move[0], move[1] - beside.at[1]
    style = 'font-size="3" text-anchor="middle" dominant-baseline="middle" fill="#2E2C2A" stroke="none"'
    return (
        f'<text transform="translate({x:.2f} {y:.2f}) rotate({-beside.turn:.1f})" {style}>{_text(beside.words)}</text>'
    )


def _outline_path(panel: DrawnPanel, move: Array) -> str:
    """The outline, then each hole, as closed curves; open along a fold of the paper."""
    parts: list[str] = []
    for ring in panel.flat.cut_rings:
        pieces = np.concatenate([e.beziers() for e in ring])
        parts.append(f"M{_xy(pieces[0, 0], move)}")
        parts += [f"C{_xy(b, move)} {_xy(c, move)} {_xy(d, move)}" for _, b, c, d in pieces]
        if np.allclose(pieces[0, 0], pieces[-1, -1]):
            parts.append("Z")
    return " ".join(parts)


def _line_path(points: Array, move: Array) -> str:
    return "M" + " L".join(_xy(p, move) for p in points)


def _xy(point: Array, move: Array) -> str:
    return f"{point[0] + move[0]:.4f},{move[1] - point[1]:.4f}"


def _label(panel: DrawnPanel, move: Array) -> list[str]:
    place = label_place(panel.flat, panel.label)
    x, y, s = place.at[0] + move[0], move[1] - place.at[1], place.scale
    arrow = f"m{-3 * s:.2f},{6 * s:.2f} l{3 * s:.2f},{-6 * s:.2f} l{3 * s:.2f},{6 * s:.2f}"
    out = [f'<path d="M{x - 14 * s:.2f},{y + 30 * s:.2f} V{y - 10 * s:.2f} {arrow}"/>']
    out.append(
        f'<text x="{x:.2f}" y="{y:.2f}" font-size="{10 * s:.4g}" font-weight="bold" fill="#2E2C2A" '
        f'stroke="none">{_text(panel.label.code)}</text>'
    )
    for k, words in enumerate(panel.label.lines, 1):
        out.append(
            f'<text x="{x:.2f}" y="{y + (5 * k + 1) * s:.2f}" font-size="{3.6 * s:.4g}" fill="#2E2C2A" '
            f'stroke="none">{_text(words)}</text>'
        )
    return out


def _text(words: str) -> str:
    return escape(plain(words))
