"""Photographs traced, and patterns from elsewhere fitted to a wearer."""

import json
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import typer

from vellumcut.cli.words import clear_words, piece_names, put
from vellumcut.core.design.flat import FlatShape, FlatWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.fit_flat import fitted
from vellumcut.core.pattern.flat_pattern import flat_pattern
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.trace.view.cards import SIDE
from vellumcut.core.trace.view.judge import UNMEASURED
from vellumcut.formats.body.outlines import write_outlines_dxf, write_outlines_svg
from vellumcut.formats.body.photographs import HowTaken, Traced, trace_file
from vellumcut.formats.keeping.build_json import read_build_file
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.layer_words import said_layers
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file, said_places
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.service.pattern.flats import fit_of
from vellumcut.service.pattern.patterns import work_from_file

STOPPED = 3
"""Exit code where a photograph was read and cannot be trusted as it is."""


def trace(photographs: Sequence[Path], out: Path, square: float | None, joined: bool, ground: Path | None) -> None:
    stopped = False
    with clear_words():
        missing = next((p for p in (*photographs, *([ground] if ground else [])) if not p.is_file()), None)
        if missing:
            raise CraftError(f"There is no photograph {missing}", "photograph")
        if ground and joined:
            raise CraftError("Photographs that are joined are traced without one of the floor", "ground")
        rows = [(photographs[0], tuple(photographs[1:]))] if joined else [(p, ()) for p in photographs]
        for path, others in rows:
            made = trace_file(path, SIDE * (square or 100.0) / 100.0, how=HowTaken(others=others, floor=ground))
            made.data["checked"] = square is not None
            stopped |= _told(path, made)
            print(put(out / f"{path.stem}.json", json.dumps(made.data, indent=1, ensure_ascii=False).encode()))
            trusted = _trusted(made)
            if trusted:
                print(put(out / f"{path.stem}.svg", write_outlines_svg(trusted, path.stem).encode()))
                print(put(out / f"{path.stem}.dxf", write_outlines_dxf(trusted)))
    if stopped:
        raise typer.Exit(STOPPED)


def _stops(findings: Sequence[dict[str, str]]) -> bool:
    return any(f["weight"] == "stop" for f in findings)


def _trusted(made: Traced) -> list[FlatShape]:
    """Shapes of which nothing says stop."""
    if _stops(made.data["findings"]):
        return []
    pieces = zip(made.shapes, made.data["pieces"], strict=True)
    return [shape for shape, piece in pieces if not _stops(piece["findings"])]


def _told(path: Path, made: Traced) -> bool:
    """Print what was found, how sure it is, and what to do; whether anything of it is stopped."""
    data = made.data
    count = len(data["pieces"])
    print(f"{path.name}: {count} {'piece' if count == 1 else 'pieces'} among {len(data['cards'])} cards")
    said = [*data["findings"]]
    for piece in data["pieces"]:
        error, slits = piece["error_mm"], len(piece["slits"])
        print(
            f"  Piece {piece['number']}: {piece['area_mm2'] / 100:.0f} cm2, "
            f"{slits} {'slit' if slits == 1 else 'slits'}, "
            f"off by {error['rms']:.2f} mm on the whole, up to {error['worst']:.1f} mm anywhere"
        )
        said += [f | {"what": f"Piece {piece['number']}: {f['what']}"} for f in piece["findings"]]
    if not data["checked"]:
        print(f"  Look: {UNMEASURED.words} Give it as --square.")
    for finding in said:
        print(f"  {'STOP' if finding['weight'] == 'stop' else 'Look'}: {finding['what']} {finding['do']}")
    return _stops(said)


def fit(
    pattern: Path,
    build: Path,
    out: Path,
    piece: str | None,
    unit: str,
    layers: Sequence[str],
    places: Sequence[str],
    share: float,
    along: bool,
    paper: PaperName,
) -> None:
    with clear_words():
        how = HowToRead(unit, 0.0, said_places(places), said_layers(layers))
        read = read_pattern_file(pattern, pattern.name, how)
        for words in read.left:
            print(f"Not in the panels: {words}")
        name = piece_names(read_build_file(build), piece)[0]
        work = work_from_file(read_build_file(build), name, build.parent)
        flat = FlatWork(panels=read.shapes, source="file")
        work = replace(work, design=_with(work.design, flat))
        numbers = [s.number for s in read.shapes]
        made = fit_of(work, numbers, share, None, along)
        fits_now = _with(work.design, fitted(flat, numbers, made))
        after = fit_of(replace(work, design=fits_now), numbers, share, None, False)
        fits = flat_pattern(fits_now, work.name, work.build, work.gives)
        rows = [
            {"at": r.word, "up_mm": round(r.up, 1), "was_mm": round(r.was, 1), "wants_mm": round(r.wants, 1)}
            for r in made.rows
        ]
        told = {
            "pattern": pattern.name, "piece": work.name, "along": round(made.along, 4), "rows": rows,
            "off_mm": round(after.off, 2),
        }  # fmt: skip
        for r in made.rows:
            if r.word != "between":
                print(f"{r.word}: {r.was:.0f} mm round, {r.wants:.0f} wanted")
        print(f"Fitted, it is within {after.off:.1f} mm at every height")
        stem = f"{pattern.stem} fitted"
        print(put(out / f"{stem}.json", json.dumps(told, indent=1, ensure_ascii=False).encode()))
        print(put(out / f"{stem}.svg", write_svg(fits).encode()))
        print(put(out / f"{stem}.dxf", write_dxf(fits)))
        print(put(out / f"{stem}.pdf", write_pdf(fits, paper)))


def _with(design: PieceDesign, flat: FlatWork) -> PieceDesign:
    return PieceDesign.model_validate({**design.model_dump(), "flat": flat.model_dump()})
