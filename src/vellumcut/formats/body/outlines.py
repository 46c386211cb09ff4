"""Traced outlines as SVG and DXF at full size, in millimetres, before they are anybody's panels."""

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from vellumcut.core.design.flat import FlatShape, Place

BORDER = 10.0
INK = "#2E2C2A"


def write_outlines_svg(shapes: Sequence[FlatShape], title: str) -> str:
    """A group for each shape: its outline, holes and lines. 1 unit = 1 mm."""
    low, high = _box(shapes)
    width, height = high - low + 2 * BORDER

    def path(points: Sequence[Place], closed: bool) -> str:
        moved = [f"{x - low[0] + BORDER:.3f},{high[1] - y + BORDER:.3f}" for x, y in points]
        return f"M {' L '.join(moved)}{' Z' if closed else ''}"

    rows = []
    for s in shapes:
        cut = " ".join(path(ring, True) for ring in (s.outline, *s.holes))
        lines = [f"<path class={quoteattr(x.kind)} d={quoteattr(path(x.points, False))}/>" for x in s.lines]
        x, y = np.mean(s.outline, axis=0)
        words = (
            f'<text x="{x - low[0] + BORDER:.1f}" y="{high[1] - y + BORDER:.1f}" font-size="9" fill="{INK}" '
            'stroke="none">'
        )
        rows.append(f'<g id="piece-{s.number}"><path class="cut" d={quoteattr(cut)}/>{"".join(lines)}')
        rows.append(f"{words}{escape(_called(s))}</text></g>")
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" fill="none" stroke="{INK}" stroke-width="0.35">\n'
        f"<title>{escape(title)}</title>\n" + "\n".join(rows) + "\n</svg>\n"
    )


def write_outlines_dxf(shapes: Sequence[FlatShape]) -> bytes:
    """Closed polylines on the layer "cut", lines on layers named by their kind, names on "label"; y up, mm."""
    from ezdxf import units  # noqa: PLC0415 - slow to load, and only wanted here
    from ezdxf.filemanagement import new  # noqa: PLC0415 - slow to load, and only wanted here

    document = new("R2010")
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    for name in dict.fromkeys(["cut", "label", *(x.kind for s in shapes for x in s.lines)]):
        document.layers.add(name)
    space = document.modelspace()
    for s in shapes:
        for ring in (s.outline, *s.holes):
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "cut"})
        for line in s.lines:
            space.add_lwpolyline(line.points, dxfattribs={"layer": line.kind})
        x, y = np.mean(s.outline, axis=0)
        space.add_text(_called(s), height=7.0, dxfattribs={"layer": "label"}).set_placement((float(x), float(y)))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")


def _called(shape: FlatShape) -> str:
    return f"{shape.number} {shape.name}".strip()


def _box(shapes: Sequence[FlatShape]) -> tuple[np.ndarray, np.ndarray]:
    points = np.concatenate([np.array(s.outline) for s in shapes]) if shapes else np.zeros((1, 2))
    return points.min(axis=0), points.max(axis=0)
