"""Checks and patterns."""

import json
from collections.abc import Iterator
from pathlib import Path

import typer

from vellumcut.cli.words import BAD_INPUT, clear_words, formats_in, piece_names, put
from vellumcut.core.body.measures import question_measures
from vellumcut.core.cast.stations import question_scans
from vellumcut.core.errors import CraftError
from vellumcut.core.notes import Finding
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.fold import on_the_fold
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.keeping.build_json import read_build_file
from vellumcut.formats.names import safe_names
from vellumcut.formats.pattern.card import write_card
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.pattern_json import pattern_data
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.service.body.scans import scan_findings, scanned_tubes
from vellumcut.service.keeping.builds import Work
from vellumcut.service.making.finish import view_finish
from vellumcut.service.making.plans import planned
from vellumcut.service.pattern.patterns import cutting_pattern, pattern_of, work_from_file
from vellumcut.service.pattern.regrade import regrade_piece

PATTERN_FORMATS = ("svg", "dxf", "pdf", "card", "json")


def check(file: Path) -> None:
    with clear_words():
        build = read_build_file(file)
        readings = build.wearer.measurements
        asked = [*question_measures(readings), *question_scans(readings, scanned_tubes(file.parent, readings))]
        for question in asked:
            print(f"look: {question.message}")
        for finding in scan_findings(file.parent, readings):
            print(f"{finding.level}: {finding.message} {finding.advice}".rstrip())
        stopped = False
        for piece in build.pieces:
            work = work_from_file(build, piece.title, file.parent)
            try:
                found = (*pattern_of(work).findings, *_of_making(work))
            except CraftError as error:
                stopped = True
                print(f"stop: {piece.title}: {error.message}")
                continue
            for finding in found:
                print(f"{finding.level}: {piece.title}: {finding.message.removesuffix('.')}. {finding.advice}".rstrip())
        if stopped:
            raise typer.Exit(BAD_INPUT)
        print(f"{build.name}: {len(build.pieces)} pieces can be made.")


def _of_making(work: Work) -> Iterator[Finding]:
    """What speaks against its finishes and its order."""
    view = view_finish(work, Tempo())
    yield from view.findings
    for painted, judged in zip(view.painted, view.judged, strict=True):
        for f in judged:
            yield Finding("look" if f.hard else "say", f"{painted.finish.stack.name}: {f.words}", "finish", f.way_out)
    plan = planned(work, Tempo()).plan
    yield from (Finding("look", words, "making") for words in plan.trouble)


def pattern(file: Path, out: Path, piece: str | None, format: str, paper: PaperName, fold: bool) -> None:
    with clear_words():
        wanted = formats_in(format, PATTERN_FORMATS)
        build = read_build_file(file)
        stems = safe_names(p.title for p in build.pieces)
        for name in piece_names(build, piece):
            made = cutting_pattern(work_from_file(build, name, file.parent))
            for path in write_pattern(on_the_fold(made) if fold else made, out / stems[name], wanted, paper):
                print(path)


def regrade(old: Path, new: Path, out: Path, paper: PaperName) -> None:
    with clear_words():
        before, now = read_build_file(old), read_build_file(new)
        cut = {p.title for p in before.pieces}
        stems = safe_names(p.title for p in now.pieces)
        for name in piece_names(now, None):
            if name not in cut:
                print(f"{name}: it is new: cut it.")
                continue
            pair = work_from_file(before, name, old.parent), work_from_file(now, name, new.parent)
            change = regrade_piece(pair)
            for words in [change.trouble] if change.trouble else [f"{c.code}: {c.words}" for c in change.panels]:
                print(f"{name}: {words}")
            if change.strips is not None:
                for path in write_pattern(change.strips, out / f"{stems[name]} strips", ["svg", "pdf"], paper):
                    print(path)


def write_pattern(made: PiecePattern, stem: Path, wanted: list[str], paper: PaperName) -> Iterator[Path]:
    """Write a pattern in every wanted format under a path that wants an ending."""
    for ending in wanted:
        if ending == "svg":
            content = write_svg(made).encode()
        elif ending == "pdf":
            content = write_pdf(made, paper)
        elif ending == "dxf":
            content = write_dxf(made)
        elif ending == "card":
            content = write_card(made, paper)
        else:
            content = json.dumps(pattern_data(made), indent=1, ensure_ascii=False).encode()
        yield put(stem.with_name(f"{stem.name} card.pdf" if ending == "card" else f"{stem.name}.{ending}"), content)
