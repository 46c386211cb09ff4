"""Mask sheets as cut files: SVG and DXF on one sheet, PDF at full size on pages."""

import io
from xml.sax.saxutils import escape, quoteattr

import numpy as np
import shapely
from numpy.typing import NDArray
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vellumcut.core.errors import CraftError
from vellumcut.core.finish.masks import Mask, laid_out
from vellumcut.core.pattern.pages import MARGIN, OVERLAP, PAPERS, TEST_SQUARE, PaperName, plan_pages
from vellumcut.formats.names import plain
from vellumcut.formats.pattern.pdf import FAINT, GRAPHITE, THIN_LINE, draw_lines, write_words

Array = NDArray[np.float64]
BORDER = 10.0


def must_have(masks: list[Mask]) -> None:
    """Raises CraftError when there is nothing to cut."""
    if not masks:
        raise CraftError(
            "This piece has no masks: no finish ends at a line that is taped, and no rivets or gems have a size.",
            "finish",
        )


def write_mask_svg(masks: list[Mask], title: str) -> str:
    """Every copy of every mask on one sheet, 1 unit = 1 mm. Raises CraftError when there is none."""
    must_have(masks)
    rows = laid_out(masks)
    width, height = np.max([r.max(axis=0) for _, rings in rows for r in rings], axis=0) + 2 * BORDER
    paths = "\n".join(
        f"<path id={quoteattr(f'mask {n}')} d={quoteattr(' '.join(_path(r, height) for r in rings))}>"
        f"<title>{escape(plain(name))}</title></path>"
        for n, (name, rings) in enumerate(rows, 1)
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" fill="none" stroke="#2E2C2A" stroke-width="0.25">\n'
        f'<title>{escape(plain(title))}</title>\n<g id="cut">\n{paths}\n</g>\n</svg>\n'
    )


def _path(ring: Array, height: float) -> str:
    return "M" + " L".join(f"{x + BORDER:.4f},{height - BORDER - y:.4f}" for x, y in ring) + " Z"


def write_mask_dxf(masks: list[Mask]) -> bytes:
    """The same as closed polylines on the layer "cut", y up, 1 unit = 1 mm."""
    must_have(masks)
    from ezdxf import units  # noqa: PLC0415 - slow to load, and only wanted here
    from ezdxf.filemanagement import new  # noqa: PLC0415 - slow to load, and only wanted here

    document = new("R2010")
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    document.layers.add("cut")
    space = document.modelspace()
    for _, rings in laid_out(masks):
        for ring in rings:
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "cut"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")


def write_mask_pdf(masks: list[Mask], title: str, paper: PaperName = "A4", scale: float = 1.0) -> bytes:
    """Each kind of mask once at full size, on as many pages as it needs; scale: print correction from the test
    square."""
    must_have(masks)
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1)
    canvas.setTitle(f"{plain(title)}, masks")
    write_words(canvas, MARGIN, height - MARGIN - 8, f"{title}: masks", 18, bold=True)
    write_words(
        canvas,
        MARGIN,
        height - MARGIN - 15,
        "Print at actual size on film or paper; measure the square before you cut.",
        10,
    )
    side = TEST_SQUARE["mm"] * scale
    canvas.rect(MARGIN * mm, (height - MARGIN - 22 - side) * mm, side * mm, side * mm)
    write_words(canvas, MARGIN + 4, height - MARGIN - 30, "Test square: 100 mm", 11, bold=True)
    y = height - MARGIN - 32 - side
    for mask in masks:
        y -= 6
        turned = f", {mask.turned} of them face down" if mask.turned else ""
        write_words(canvas, MARGIN, y, f"{mask.count} x {mask.name}{turned}", 10)
    canvas.showPage()
    for mask in masks:
        _mask_pages(canvas, mask, paper, scale)
    canvas.save()
    return out.getvalue()


def _mask_pages(canvas: Canvas, mask: Mask, paper: PaperName, scale: float) -> None:
    plan = plan_pages(mask.rings[0], paper, scale)
    for tile in plan.tiles:
        window = shapely.box(tile.x, tile.y, tile.x + plan.tile[0], tile.y + plan.tile[1])
        canvas.setPageSize((plan.paper[0] * mm, plan.paper[1] * mm))
        canvas.setStrokeColorRGB(*GRAPHITE)
        canvas.setLineWidth(THIN_LINE)
        draw_lines(canvas, [np.vstack([r, r[:1]]) for r in mask.rings], window, plan, tile)
        canvas.setStrokeColorRGB(*FAINT)
        if plan.columns > 1 or plan.rows > 1:
            canvas.rect(MARGIN * mm, MARGIN * mm, plan.tile[0] * scale * mm, plan.tile[1] * scale * mm)
        words = f"{mask.count} x {mask.name}   page {tile.name}; pages share {OVERLAP:g} mm"
        write_words(canvas, MARGIN, MARGIN - 7, words, 8)
        canvas.showPage()
