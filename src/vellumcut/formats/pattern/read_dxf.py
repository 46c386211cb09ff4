"""Drawings in DXF."""

import io
from collections import Counter
from collections.abc import Iterator

import numpy as np
from ezdxf import path, recover
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.insert import Insert
from ezdxf.entities.spline import Spline
from ezdxf.lldxf.const import DXFError
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.drawn_lines import FINE, Drawing, DrawnLine, DrawnWords, Lines

MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: 25.4e-6, 9: 0.0254, 14: 100.0}
"""Units a file may name ($INSUNITS), in mm."""
WRITTEN = ("TEXT", "MTEXT", "ATTRIB")
NO_LINES = ("HATCH", "MPOLYGON", "SOLID", "TRACE", "IMAGE", "WIPEOUT", "POINT")
"""They fill or show; what bounds them is drawn as well."""
FARTHEST = 100_000.0
"""mm from the drawing's zero; numbers too if the file does not say what they are. What lies farther off is no part of
a pattern."""
DEEPEST, MOST_ENTITIES = 12, 60_000
_FAILS = (DXFError, OSError, ValueError, KeyError, IndexError, AttributeError, TypeError, ArithmeticError, UnicodeError)


def read_dxf(content: bytes) -> Drawing:
    """Raises CraftError for what is no DXF, or unfolds to too much. An entity that cannot be read is left out, and
    listed."""
    try:
        document, _ = recover.read(io.BytesIO(content))
    except _FAILS:
        raise CraftError("The file is not a DXF drawing, or is broken", "file") from None
    unit = MM.get(int(document.header.get("$INSUNITS", 0)))
    lines = Lines()
    words: list[DrawnWords] = []
    left: Counter[str] = Counter()
    for k, (entity, layer) in enumerate(_entities(document)):
        try:
            if entity.dxftype() in WRITTEN:
                words += _words(entity, unit or 1.0)
                continue
            if _is_off(document, layer):
                left["hidden line"] += 1
                continue
            rows = _strokes(entity, unit or 1.0)
        except _FAILS:
            rows = None
        if rows is None:
            left[f"{entity.dxftype()} entity"] += 1
        else:
            for points in rows:
                lines.add(DrawnLine(points, layer, "", k, _is_dashed(document, entity, layer)))
    notes = tuple(f"{n} {what if n == 1 else what.replace('entity', 'entitie') + 's'}" for what, n in left.items())
    return Drawing(tuple(lines.rows), tuple(words), 1.0 if unit else None, notes)


def _entities(document: Document) -> Iterator[tuple[DXFEntity, str]]:
    """Every entity that is drawn, those of blocks where they are put, and its layer: what a block draws on layer 0 is
    on the layer that the block is put on."""
    count = 0
    stack = [(e, "", 0) for e in reversed(list(document.modelspace()))]
    while stack:
        entity, above, depth = stack.pop()
        count += 1
        if count > MOST_ENTITIES or depth > DEEPEST:
            raise CraftError(f"The DXF file unfolds to over {MOST_ENTITIES:,} lines; save the pattern alone", "file")
        own = str(entity.dxf.get("layer", "0"))
        layer = above if above and own == "0" else own
        if isinstance(entity, Insert):
            try:
                parts = list(entity.virtual_entities()) + list(entity.attribs)
            except _FAILS:
                parts = []
            stack += [(e, layer, depth + 1) for e in reversed(parts)]
        else:
            yield entity, layer


def _strokes(entity: DXFEntity, scale: float) -> list[NDArray[np.float64]] | None:
    """A line's strokes, mm; None for what is none, or lies off the world."""
    if entity.dxftype() in NO_LINES:
        return None
    if isinstance(entity, Spline):
        return _spline(entity, scale)
    made = path.make_path(entity)
    corners = np.array([(p.x, p.y) for p in made.control_vertices()])
    if not len(corners):
        return []
    if not _in_the_world(corners * scale):
        return None
    strokes = made.sub_paths() if made.has_sub_paths else (made,)
    rows = [np.array([(p.x, p.y) for p in s.flattening(FINE / scale, segments=8)]) * scale for s in strokes]
    return [r for r in rows if len(r) > 1 and np.isfinite(r).all()]


def _spline(entity: Spline, scale: float) -> list[NDArray[np.float64]] | None:
    """Point by point between its knots: made of cubics, one of another degree would be another curve."""
    made = entity.construction_tool()
    if not _in_the_world(np.array([(p.x, p.y) for p in made.control_points]) * scale):
        return None
    return [np.array([(p.x, p.y) for p in made.flattening(FINE / scale, segments=4)]) * scale]


def _in_the_world(points: NDArray[np.float64]) -> bool:
    return bool(np.isfinite(points).all() and np.abs(points).max(initial=0.0) < FARTHEST)


def _words(entity: DXFEntity, scale: float) -> list[DrawnWords]:
    many = entity.dxftype() == "MTEXT"
    text = getattr(entity, "plain_text", str)() if many else str(entity.dxf.get("text", ""))
    turned = not many and entity.dxf.get("halign", 0)
    at = entity.dxf.get("align_point") if turned else entity.dxf.get("insert")
    height = float(entity.dxf.get("char_height" if many else "height", 0.0))
    if not text.strip() or at is None:
        return []
    return [DrawnWords((float(at[0]) * scale, float(at[1]) * scale), " ".join(text.split()), height * scale)]


def _is_off(document: Document, layer: str) -> bool:
    if layer not in document.layers:
        return False
    found = document.layers.get(layer)
    return bool(found.is_off() or found.is_frozen())


def _is_dashed(document: Document, entity: DXFEntity, layer: str) -> bool:
    """By its own line type, or its layer's."""
    own = str(entity.dxf.get("linetype", "BYLAYER")).upper()
    if own == "BYLAYER" and layer in document.layers:
        own = str(document.layers.get(layer).dxf.get("linetype", "CONTINUOUS")).upper()
    return any(word in own for word in ("DASH", "HIDDEN", "DOT"))
