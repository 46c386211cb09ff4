"""Reads one pattern file and ends: run as a process of its own, so a broken or huge file cannot harm the server.

A maker waits for it to begin: only what this kind of file wants is loaded.
"""

import json
import sys
from collections.abc import Callable
from importlib import import_module
from pathlib import Path

import numpy as np
import shapely

from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.drawn_lines import Drawing, closed_lines, so_wide
from vellumcut.formats.pattern.drawn_panels import panels_of
from vellumcut.formats.pattern.pattern_files import BOUNDS, NO_UNIT, FileKind
from vellumcut.formats.workers import BAD_INPUT


def _reader(kind: FileKind) -> Callable[..., Drawing]:
    found: Callable[..., Drawing] = getattr(import_module(f"vellumcut.formats.pattern.read_{kind}"), f"read_{kind}")
    return found


def main(source: Path, folder: Path, told: str) -> int:
    BOUNDS.hold()
    wanted = json.loads(told)
    try:
        content = source.read_bytes()
        if wanted["pages"]:
            (folder / "pages.json").write_text(json.dumps(_pages(content)))
            return 0
        laid = [(float(x), float(y)) for x, y in wanted["places"]]
        read = _reader(wanted["kind"])
        drawing = read(content, laid) if laid and wanted["kind"] == "pdf" else read(content)
        if drawing.unit is None and not (wanted["unit"] or wanted["wide"]):
            raise CraftError(NO_SIZE if wanted["motif"] else NO_UNIT)
        if wanted["motif"]:
            from vellumcut.core.parts.motif import motif_of  # noqa: PLC0415

            rings = motif_of(closed_lines(drawing, wanted["unit"] or 1.0), wanted["wide"])
            (folder / "motif.json").write_text(json.dumps([r.model_dump(mode="json") for r in rings]))
            return 0
        if wanted["wide"]:
            drawing = so_wide(drawing, wanted["wide"])
        made = panels_of(drawing, wanted["unit"] or 1.0, dict(wanted["layers"]))
    except CraftError as error:
        print(error.message, file=sys.stderr)
        return BAD_INPUT
    except (MemoryError, RecursionError, shapely.errors.GEOSException):
        print("The pattern file is too deep or too large; save the pattern alone", file=sys.stderr)
        return BAD_INPUT
    shapes = [s.model_dump(mode="json") for s in made.shapes]
    (folder / "pattern.json").write_text(json.dumps({"unit": drawing.unit, "shapes": shapes, "left": made.left}))
    return 0


NO_SIZE = "The file does not say how large it is: write how wide it shall be, then choose it again"
MOST_SHOWN = 4000
"""Points of a page that are shown to lay it by."""


def _pages(content: bytes) -> dict[str, object]:
    """Pages of a PDF to be laid together. ask: whether nothing in them says how."""
    from vellumcut.formats.pattern.lay_pages import drawn, guessed  # noqa: PLC0415
    from vellumcut.formats.pattern.read_pdf import is_ours, read_pages  # noqa: PLC0415

    pages = read_pages(content)
    places = None if is_ours(pages) else guessed(pages)
    rows = []
    for page in pages:
        lines = [np.asarray(shapely.get_coordinates(shapely.LineString(p).simplify(0.3))) for p, _, _ in drawn(page)]
        size = sum(len(x) for x in lines)
        kept = sorted(lines, key=len)[: MOST_SHOWN // 2] if size > MOST_SHOWN else lines
        rows.append({"size": page.size, "lines": [x.round(2).tolist() for x in kept]})
    bare = sum(1 for r in rows if r["lines"]) < 2
    return {"pages": rows, "ask": not (bare or is_ours(pages) or places)}


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3]))
