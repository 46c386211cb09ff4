"""A part that is larger than every sheet, split in its piece's design so that it can be cut."""

import itertools
from dataclasses import replace

from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.nest.cut_parts import CopyOfPart, copies_of
from vellumcut.core.nest.fill import fits
from vellumcut.core.nest.kept import piece_of
from vellumcut.core.nest.shapes import Form, NestPart
from vellumcut.core.nest.split import Split, splits_of
from vellumcut.core.units import format_length
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.pattern.ink import view_ink
from vellumcut.service.pattern.patterns import cutting_pattern
from vellumcut.service.shop.layouts import Laid, layout_of, rules_of
from vellumcut.store.database import Store

MOST_TRIED = 6
"""Lines of which the whole pattern is made before the next is tried."""


def split_part(store: Store, build: int, material: str, key: str) -> str:
    """Split a part along the best line that the piece's pattern bears: a seam in its design, with marks and steps like
    any. What was done, in words. Raises NotFound, CraftError where no line does."""
    found = layout_of(store, build).material(material)
    copy = next((c for c in found.material.copies if c.key == key), None)
    if copy is None:
        raise NotFound(f"No part {key} is cut from {material}")
    work = builds.work_on(store, piece_of(key))
    if work.design.flat is not None or work.design.solid is not None:
        raise CraftError(
            f"{copy.code} was not drawn on the body, so no seam can be inked on it: use a larger sheet, or glue two"
            " edge to edge",
            "part",
        )
    if key.split("/")[1] not in {p.label.code for p in cutting_pattern(work).panels}:
        raise CraftError(f"{copy.code} is laid on a piece and not inked: cut it from two lengths", "part")
    design, split, large = _split(work, copy, found)
    builds.change_piece(store, work.piece_id, None, design)
    still = f"{large} of the piece's parts in this foam {'is' if large == 1 else 'are'} still too large: split again"
    room = still if large else "all parts of the piece in this foam find room on a sheet"
    return f"{copy.code} is split by a seam of {format_length(round(split.length))}; {room}"


def _split(work: Work, copy: CopyOfPart, found: Laid) -> tuple[PieceDesign, Split, int]:
    """The design with its seam, and how many outlines of its whole pattern are still too large."""
    rules = rules_of(found.tool)
    sheets = {s.size: s for s in found.material.sheets}.values()

    def finds_room(form: Form) -> bool:
        return any(fits(NestPart("one", form), s, rules) for s in sheets)

    sheet = view_ink(work).sheet
    known = {s.key for s in (*sheet.strokes, *work.design.cuts)}
    key = next(k for n in itertools.count(1) if (k := f"split-{n}") not in known)
    whole = len(cutting_pattern(work).panels)
    lines = splits_of(copy.panel.flat, lambda shape: finds_room(Form(shape, copy.form.turns)), sheet.symmetric)
    for split in lines[:MOST_TRIED]:
        design = work.design.model_copy(update={"cuts": (*work.design.cuts, split.stroke(key))})
        try:
            made = cutting_pattern(replace(work, design=design))
        except CraftError:
            continue
        if len(made.panels) > whole:
            kind, thick = found.material.kind, found.material.thickness
            same = [c for c in copies_of(made, "made", work.shelf) if (c.kind, c.thickness) == (kind, thick)]
            return design, split, len({id(c.form) for c in same if not finds_room(c.form)})
    raise CraftError(f"No straight seam parts {copy.code}: draw one on Ink, where it may bend", "part")
