"""Steps, sheets, finishes and masks of a build file."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from vellumcut.cli.words import clear_words, piece_names, put
from vellumcut.core.errors import CraftError
from vellumcut.core.finish.masks import Mask
from vellumcut.core.make.hours import hours_of
from vellumcut.core.make.plan import PlannedPiece, costume_links, costume_steps
from vellumcut.core.make.step import Step
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.pages import PaperName
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import BuildFile, read_build_file
from vellumcut.formats.making.bench_sheet import STEP_HEAD, step_rows, write_bench_sheet
from vellumcut.formats.making.finish_card import write_finish_card
from vellumcut.formats.making.masks import write_mask_dxf, write_mask_pdf, write_mask_svg
from vellumcut.formats.names import safe_names
from vellumcut.service.making.finish import masks_of
from vellumcut.service.making.plans import job_of, planned
from vellumcut.service.pattern.patterns import work_from_file


def steps(file: Path, out: Path, piece: str | None, paper: PaperName) -> None:
    with clear_words():
        build = read_build_file(file)
        stems = safe_names(p.title for p in build.pieces)
        made: list[PlannedPiece] = []
        for name in piece_names(build, piece):
            work = work_from_file(build, name, file.parent)
            one = replace(planned(work, Tempo()), id=len(made) + 1)
            made.append(one)
            for words in (*one.plan.trouble, *one.plan.gave_way):
                print(f"{name}: {words}")
            stem = out / stems[name]
            print(put(stem.with_name(f"{stem.name} steps.csv"), write_csv(STEP_HEAD, step_rows(one)).encode()))
            print(put(stem.with_name(f"{stem.name} bench sheet.pdf"), write_bench_sheet([one], (), paper)))
            card = write_finish_card(name, job_of(work, Tempo()).painted, paper)
            print(put(stem.with_name(f"{stem.name} finish.pdf"), card))
            _write_masks(masks_of(work, Tempo()), stem, name, paper)
        text = json.dumps(_order(build, made), indent=1, ensure_ascii=False)
        print(put(out / "order.json", text.encode()))


def _write_masks(masks: list[Mask], stem: Path, name: str, paper: PaperName) -> None:
    """In every format, where there are any."""
    if not masks:
        return
    made = {
        "svg": write_mask_svg(masks, name).encode(),
        "dxf": write_mask_dxf(masks),
        "pdf": write_mask_pdf(masks, name, paper),
    }
    for ending, content in made.items():
        print(put(stem.with_name(f"{stem.name} masks.{ending}"), content))


def _order(build: BuildFile, made: list[PlannedPiece]) -> dict[str, Any]:
    """The order of work of a whole build, as docs/formats.md says."""
    if not made:
        raise CraftError("The build has no pieces yet", "pieces")
    own = costume_steps(made)
    names = {0: ""} | {p.id: p.name for p in made}
    return {
        "format": "vellumcut-order",
        "version": 1,
        "build": build.name,
        "hours": hours_of([*(s for p in made for s in p.ordered), *own]).as_data(),
        "schools": build.schools.model_dump(),
        "pieces": [
            {
                "name": p.name,
                "hours": p.hours.as_data(),
                "longest_minutes": round(p.longest[0], 1),
                "steps": [_told(p, key) for key in p.plan.keys],
                "set_aside": [r.key for r in p.plan.set_aside],
                "trouble": list(p.plan.trouble),
            }
            for p in made
        ],
        "costume": [_of_costume(s) for s in own],
        "between": [
            {
                "first": [names[x.first_piece], x.first],
                "then": [names[x.then_piece], x.then],
                "why": x.reason,
            }
            for x in costume_links(made, own)
        ],
    }


def _of_costume(step: Step) -> dict[str, Any]:
    asked = step.inspection
    return {
        "key": step.key,
        "title": step.title,
        "how": step.how,
        "why": step.reason,
        "minutes": step.hands_on,
        "question": asked.question if asked else "",
        "if_no": asked.mend if asked else "",
    }


def _told(piece: PlannedPiece, key: str) -> dict[str, Any]:
    step = piece.steps[key]
    return {
        "key": key,
        "title": step.title,
        "how": step.how,
        "why": step.reason,
        "after": [x.first for x in piece.needed(key)],
        "minutes": round(step.hands_on, 2),
        "setup_minutes": round(step.setup * step.factor, 2),
        "coats": step.coats,
        "between_minutes": step.between,
        "wait_minutes": round(step.wait, 2),
        "place": step.place,
        "materials": [m.words for m in step.materials],
        "measures": {v.word: round(v.amount, 2) for v in step.measures},
        "question": step.inspection.question if step.inspection else "",
        "if_no": step.inspection.mend if step.inspection else "",
    }
