"""What is laid on the pieces of a build, and its cut list."""

import json
from dataclasses import asdict, replace
from pathlib import Path

from vellumcut.cli.words import clear_words, piece_names, put
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.keeping.build_json import read_build_file
from vellumcut.formats.names import safe_names
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.formats.shop.cut_list_card import write_cut_list_card
from vellumcut.formats.shop.cut_list_csv import write_cut_list
from vellumcut.service.pattern.patterns import cutting_pattern, work_from_file
from vellumcut.service.shop.cut_lists import cut_list


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
