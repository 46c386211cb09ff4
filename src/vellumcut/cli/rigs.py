"""Rigs, movement and dressing of a build file."""

import json
from pathlib import Path

from vellumcut.cli.words import clear_words, piece_names, put
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.rig.closures.magnets import magnets_of
from vellumcut.core.worn.movement import binds_of
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import read_build_file
from vellumcut.formats.names import safe_names
from vellumcut.formats.rigging.dressing_card import write_dressing_card
from vellumcut.formats.rigging.rig_json import piece_rig_data, rig_data
from vellumcut.formats.rigging.rig_sheet import PART_HEAD, part_rows, write_rig_sheet
from vellumcut.service.pattern.patterns import work_from_file
from vellumcut.service.rigging.rigs import rig_of, rig_page, whole_rig


def rig(file: Path, out: Path, piece: str | None, paper: PaperName, movement: bool) -> None:
    with clear_words():
        build = read_build_file(file)
        if not build.pieces:
            raise CraftError("The build has no pieces yet", "pieces")
        stems = safe_names(p.title for p in build.pieces)
        pages, data = [], []
        for name in piece_names(build, piece):
            work = work_from_file(build, name, file.parent)
            made = rig_of(work)
            pages.append(rig_page(work))
            magnets = magnets_of(made.piece.on(made.piece.sides[0]))
            data.append(
                piece_rig_data(
                    made.costume, made.piece, made.straps, made.rests, made.plans, made.donning, magnets, made.weight
                )
            )
            stem = out / stems[name]
            print(put(stem.with_name(f"{stem.name} rig.csv"), write_csv(PART_HEAD, part_rows(made.plans)).encode()))
        whole = whole_rig(work)
        joints = whole.costume.figure.joints.values() if movement else ()
        binds = [b for j in joints for m in j.motions for b in binds_of(whole.costume, j, m)]
        print(put(out / "rig sheet.pdf", write_rig_sheet(pages, paper)))
        print(put(out / "dressing card.pdf", write_dressing_card(whole.dressing, paper)))
        text = json.dumps(
            rig_data(build.name, data, whole.dressing, binds, whole.costume), indent=1, ensure_ascii=False
        )
        print(put(out / "rig.json", text.encode()))
