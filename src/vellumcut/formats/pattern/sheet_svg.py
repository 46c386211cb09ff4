"""The unrolled cast with its ink as SVG, in mm, at full size: every ring laid straight about the middle line."""

from xml.sax.saxutils import escape, quoteattr

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.picture import picture_tube
from vellumcut.core.design.sheet import STROKE_KINDS, InkSheet, StrokeKind, drawn_strokes, stroke_line
from vellumcut.core.ink.regions import InkReading
from vellumcut.formats.names import plain

Array = NDArray[np.float64]

EDGE = 15.0
LOOK: dict[StrokeKind, tuple[str, float]] = {
    "outline": ("#2E2C2A", 0.9),
    "seam": ("#2F7F79", 0.9),
    "dart": ("#A8432F", 0.7),
    "fold": ("#6B4A6E", 0.7),
    "score": ("#6B4A6E", 0.35),
    "trim edge": ("#C98A1B", 0.6),
    "layer cut": ("#2F7F79", 0.6),
    "paint line": ("#C98A1B", 0.4),
    "centre line": ("#6F6A61", 0.35),
    "mark": ("#6F6A61", 0.5),
}


def write_sheet(tube: TubeSurface, sheet: InkSheet, reading: InkReading, title: str) -> str:
    """The sheet as SVG text. x grows to the wearer's left (the viewer's right), y down, both in mm."""
    picture = picture_tube(tube)
    half = float(picture.girths.max()) / 2 + EDGE
    top, bottom = float(picture.levels[-1]) + EDGE, float(picture.levels[0]) - EDGE
    low, high = picture.along[0], picture.along[-1]

    def place(uv: Array) -> Array:
        mm = tube.mm(uv[:, 1])
        return np.stack([uv[:, 0] * np.interp(mm, picture.levels, picture.girths) + half, top - mm], axis=1)

    edge = np.concatenate([
        np.stack([np.full(len(picture.along), -0.5), picture.along], axis=1),
        np.stack([np.full(len(picture.along), 0.5), picture.along[::-1]], axis=1),
    ])  # fmt: skip
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{2 * half:.2f}mm" height="{top - bottom:.2f}mm" '
        f'viewBox="0 0 {2 * half:.2f} {top - bottom:.2f}">',
        f"<title>{escape(plain(title))}</title>",
        f'<path id="cast" d="{_path(place(edge), True)}" fill="#FBF8F1" stroke="#D9B779" stroke-width="0.6"/>',
        '<g id="stations" stroke="#D9B779" stroke-width="0.4" fill="none" font-family="sans-serif" font-size="7">',
    ]
    for k, name in enumerate(tube.names):
        across = place(np.array([[-0.5, float(k)], [0.5, float(k)]]))
        out.append(f'<path d="{_path(across)}"/>')
        out.append(
            f'<text x="{across[0, 0] + 2:.2f}" y="{across[0, 1] - 1.5:.2f}" stroke="none" '
            f'fill="#6F6A61">{escape(name)}</text>'
        )
    out.append("</g>")
    for kind in STROKE_KINDS:
        colour, width = LOOK[kind]
        out.append(f'<g id={quoteattr(kind.replace(" ", "-"))} stroke="{colour}" stroke-width="{width}" fill="none">')
        for stroke, mirrored in drawn_strokes(sheet):
            if stroke.kind == kind:
                line = stroke_line(stroke)
                line[:, 1] = np.clip(line[:, 1], low, high)
                mark = "mirrored-" if mirrored else ""
                out.append(
                    f"<path id={quoteattr(plain(mark + stroke.key))} "
                    f'd="{_path(place(line), stroke.closed)}"><title>{escape(plain(stroke.name))}</title></path>'
                )
        out.append("</g>")
    out.append('<g id="numbers" font-family="serif" font-size="14" text-anchor="middle" fill="#2E2C2A">')
    for region in reading.regions:
        x, y = place(np.array([region.inside]))[0]
        out.append(f'<text x="{x:.2f}" y="{y + 5:.2f}">{region.number}</text>')
    return "\n".join([*out, "</g>", "</svg>"])


def _path(points: Array, closed: bool = False) -> str:
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points) + ("Z" if closed else "")
