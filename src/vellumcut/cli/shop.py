"""What is laid on the pieces of a build, and its cut list."""

import json
from dataclasses import asdict, replace
from pathlib import Path

from vellumcut.cli.words import clear_words, piece_names, put
from vellumcut.core.errors import CraftError
from vellumcut.core.knife.setup import CutterSetup
from vellumcut.core.nest.plans import Effort
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.shop.supplies import SupplyBook, supply_lines, told
from vellumcut.formats.keeping.build_json import read_build_file
from vellumcut.formats.names import safe_names
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.formats.shop.cut_list_card import write_cut_list_card
from vellumcut.formats.shop.cut_list_csv import write_cut_list
from vellumcut.formats.shop.sheet_files import sheet_data, write_sheet_dxf, write_sheet_svg
from vellumcut.formats.shop.sheet_plan import ShownSheet, write_sheet_plan
from vellumcut.formats.shop.supplies_csv import write_supplies_csv
from vellumcut.service.pattern.patterns import cutting_pattern, work_from_file
from vellumcut.service.shop.cut_lists import cut_list
from vellumcut.service.shop.cutting import sheet_program
from vellumcut.service.shop.layouts import Laid, drawn_sheet, rules_of, shown_sheet
from vellumcut.service.shop.nests import Tool, laid, parts_of
from vellumcut.service.shop.supplies import uses_of_works


def parts(file: Path, out: Path, piece: str | None) -> None:
    with clear_words():
        build = read_build_file(file)
        stems = safe_names(p.title for p in build.pieces)
        works = [work_from_file(build, name, file.parent) for name in piece_names(build, piece)]
        made = cut_list(works, Tempo())
        for own in made.pieces:
            if own.trouble:
                print(f"{own.name}: {own.trouble}")
        for words in made.lefts:
            print(f"look: {words}.")
        print(put(out / "cut list.csv", write_cut_list(made.rows).encode()))
        print(put(out / "cut list.pdf", write_cut_list_card(build.name, made.rows, made.sheets)))
        told: dict[str, object] = {"build": build.name, "rows": [asdict(r) for r in made.rows], "laid": {}}
        for work, own in zip(works, made.pieces, strict=True):
            if own.trouble:
                continue
            pattern = cutting_pattern(work)
            told["laid"] |= {work.name: _laid(pattern)}  # type: ignore[operator]
            if pattern.parts:
                alone = replace(pattern, panels=pattern.parts, inked={})
                stem = out / stems[work.name]
                print(put(stem.with_name(f"{stem.name} parts.svg"), write_svg(alone).encode()))
                print(put(stem.with_name(f"{stem.name} parts.dxf"), write_dxf(alone)))
        print(put(out / "parts.json", json.dumps(told, indent=1, ensure_ascii=False).encode()))


def nest(file: Path, out: Path, tool: Tool, effort: Effort, seed: int) -> None:
    with clear_words():
        build = read_build_file(file)
        works = [work_from_file(build, p.title, file.parent) for p in build.pieces]
        found = parts_of(works)
        for piece, why in found.missing:
            print(f"{piece}: {why}")
        sheets: list[dict[str, object]] = []
        pictures: list[ShownSheet] = []
        for material in found.materials:
            plan = laid(material, rules_of(tool), effort, seed)
            for sheet in plan.sheets:
                name = f"{material.key} mm {sheet.sheet.key}"
                own = Laid(material, tool, plan, (), 0)
                drawn = drawn_sheet(own, sheet.sheet.key)[1]
                print(put(out / f"{name}.svg", write_sheet_svg(name, sheet.sheet, drawn).encode()))
                print(put(out / f"{name}.dxf", write_sheet_dxf(sheet.sheet, drawn)))
                pictures.append(shown_sheet(material, sheet))
                _knife(own, sheet.sheet.key, out / f"{name}.knife.txt")
            for key in plan.too_large:
                print(f"look: {key} is larger than every sheet: split it, or use a larger sheet.")
            sheets.append(sheet_data(material.key, [(s.sheet, s.placed) for s in plan.sheets]))
        print(put(out / "sheets.pdf", write_sheet_plan(build.name, pictures)))
        print(put(out / "nest.json", json.dumps({"build": build.name, "materials": sheets}, indent=1).encode()))


def _knife(found: Laid, sheet: str, out: Path) -> None:
    """The program of a sheet; why there is none, where the usual cutter cannot take it."""
    try:
        print(put(out, sheet_program(found, sheet, CutterSetup()).code.encode()))
    except CraftError as error:
        print(f"look: no knife code for {found.material.key} mm, {sheet}. {error.message}.")


def supplies(file: Path, out: Path) -> None:
    with clear_words():
        build = read_build_file(file)
        works = [work_from_file(build, p.title, file.parent) for p in build.pieces]
        found = parts_of(works)
        sheets = [laid(m, rules_of("knife"), "quick", 1) for m in found.materials]
        lines = supply_lines(uses_of_works(works, sheets), SupplyBook())
        for line in lines:
            print(f"{line.packs} x {told(line.pack)} {line.unit} {line.name}: {line.formula}")
        rows = [asdict(line) | {"packs": line.packs, "short": line.short, "formula": line.formula} for line in lines]
        print(put(out / "supplies.csv", write_supplies_csv(lines).encode()))
        print(put(out / "supplies.json", json.dumps({"build": build.name, "lines": rows}, indent=1).encode()))


def _laid(pattern: PiecePattern) -> list[dict[str, object]]:
    """What lies on a piece, summed over its copies; mm, mm2."""
    return [
        {
            "key": key,
            "name": own.detail.name,
            "kind": own.detail.kind,
            "length": round(own.length, 2),
            "count": own.count,
            "packs": own.packs,
            "area": round(own.area, 1),
            "words": own.words,
            "problems": list(own.problems),
        }
        for key, own in pattern.laid.items()
    ]
