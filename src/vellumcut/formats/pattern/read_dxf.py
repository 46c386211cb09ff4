"""Drawings in DXF."""

import io

import numpy as np
from ezdxf import disassemble, path, recover
from ezdxf.lldxf.const import DXFError

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.drawn_lines import FINE, MOST_LINES, Drawing, DrawnLine, DrawnWords

MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: 25.4e-6, 9: 0.0254, 14: 100.0}
"""Units a file may name ($INSUNITS), in mm."""
WRITTEN = ("TEXT", "MTEXT", "ATTRIB")


def read_dxf(content: bytes) -> Drawing:
    """Raises CraftError for what is no DXF."""
    try:
        document, _ = recover.read(io.BytesIO(content))
    except (DXFError, OSError, ValueError, KeyError, IndexError, AttributeError, UnicodeError):
        raise CraftError("The file is not a DXF drawing, or is broken", "file") from None
    unit = MM.get(int(document.header.get("$INSUNITS", 0)))
    scale = unit or 1.0
    lines: list[DrawnLine] = []
    words = []
    for k, entity in enumerate(disassemble.recursive_decompose(document.modelspace())):
        layer = str(entity.dxf.get("layer", ""))
        if entity.dxftype() in WRITTEN:
            text = (
                getattr(entity, "plain_text", str)() if entity.dxftype() == "MTEXT" else str(entity.dxf.get("text", ""))
            )
            turned = entity.dxftype() != "MTEXT" and entity.dxf.get("halign", 0)
            at = entity.dxf.get("align_point") if turned else entity.dxf.get("insert")
            height = float(entity.dxf.get("char_height" if entity.dxftype() == "MTEXT" else "height", 0.0))
            if text.strip() and at is not None:
                words.append(DrawnWords((float(at[0]) * scale, float(at[1]) * scale), text.strip(), height * scale))
            continue
        try:
            made = path.make_path(entity)
        except (TypeError, ValueError, DXFError):
            continue
        for stroke in made.sub_paths() if made.has_sub_paths else (made,):
            points = np.array([(p.x, p.y) for p in stroke.flattening(FINE / scale, segments=8)]) * scale
            if len(points) > 1 and np.isfinite(points).all():
                lines.append(DrawnLine(points, layer, "", k))
        if len(lines) > MOST_LINES:
            raise CraftError(f"The drawing has over {MOST_LINES:,} lines: save the pattern's alone", "file")
    return Drawing(tuple(lines), tuple(words), 1.0 if unit else None)
