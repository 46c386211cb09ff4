"""Pattern files of other hands come in at their true size with all that is on them, or are asked about."""

import math
from contextlib import contextmanager, redirect_stderr
from importlib import import_module
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest.mock import patch

import numpy as np
import pytest
import shapely

from tests.depth import DEEP, long
from tests.formats.habits import DXFS, PDFS, SVGS, Habit, svg
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.flat_pattern import flat_pattern
from vellumcut.formats.pattern import pattern_files
from vellumcut.formats.pattern.drawn_panels import panels_of
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file
from vellumcut.formats.pattern.read_svg import read_svg
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.formats.workers import Bounds

ALL = [*SVGS, *DXFS, *PDFS]
APART = ALL if DEEP else ALL[::10]
"""Read by a process of its own, as the program does it; the others here, since each takes a second to begin."""
FRONT = 120 * 80 - 400 + 100 * math.pi
HOLE = 64 * math.pi


@pytest.mark.parametrize("habit", [pytest.param(h, id=f"{h.file[2:]}: {h.name}", marks=long if n % 2 else ())
    for n, h in enumerate(ALL)])  # fmt: skip
def test_what_another_program_wrote_is_read_as_it_is_or_asked_about(habit: Habit, tmp_path, monkeypatch):
    if habit not in APART:
        monkeypatch.setattr(pattern_files, "worked", worked_here)
    path = tmp_path / habit.file
    path.write_bytes(habit.content)
    if habit.ask:
        with pytest.raises(CraftError) as asked:
            read_pattern_file(path, habit.file)
        assert asked.value.field == habit.ask, asked.value.message
    read = read_pattern_file(path, habit.file, HowToRead(**habit.answers))
    shapes = sorted(read.shapes, key=lambda s: -shapely.Polygon(s.outline).area)
    assert len(shapes) == 2
    sizes = [np.sort(np.ptp(np.array(s.outline), axis=0)) for s in shapes]
    assert np.allclose(sizes, [[80, 120], [60, 90]], atol=0.1)
    assert shapely.Polygon(shapes[0].outline).area == pytest.approx(FRONT, abs=4)
    assert shapely.Polygon(shapes[1].outline).area == pytest.approx(2700, abs=4)
    assert [len(s.holes) for s in shapes] == [habit.holes, 0]
    for hole in shapes[0].holes:
        assert shapely.Polygon(hole).area == pytest.approx(HOLE, abs=0.5)
    kinds = [line.kind for s in shapes for line in s.lines]
    assert kinds.count("fold") == habit.folds
    assert len(kinds) == habit.folds + (1 - habit.holes), "nothing is on them that was not drawn"
    if habit.names:
        assert tuple(s.name for s in shapes) == habit.names
    assert habit.left in "; ".join(read.left)
    leaves_as_it_came(read.shapes, habit.holes)


@contextmanager
def worked_here(module, bounds, source, told, what):
    """As ``worked``, in this process and without bounds."""
    with TemporaryDirectory() as folder, redirect_stderr(StringIO()) as errors, patch.object(Bounds, "hold"):
        if import_module(module).main(source, Path(folder), told):
            raise CraftError(errors.getvalue().strip().splitlines()[-1], "file")
        yield Path(folder)


def leaves_as_it_came(shapes, holes: int) -> None:
    """The file that is cut from it, read back."""
    flat = FlatWork(panels=shapes, source="file")
    design = PieceDesign.model_validate({**starter_design("breastplate").model_dump(), "flat": flat.model_dump()})
    cut = panels_of(read_svg(write_svg(flat_pattern(design, "Piece", "Build")).encode())).shapes
    areas = sorted((shapely.Polygon(s.outline).area for s in cut), reverse=True)
    assert areas == [pytest.approx(FRONT, abs=6), pytest.approx(2700, abs=2)]
    assert [shapely.Polygon(h).area for s in cut for h in s.holes] == [pytest.approx(HOLE, abs=0.5)] * holes


def read(tmp_path, body: str):
    (tmp_path / "a.svg").write_bytes(svg(f'<g fill="none" stroke="black">{body}</g>'))
    return read_pattern_file(tmp_path / "a.svg", "a.svg")


def test_a_part_in_the_waste_of_another_is_a_panel(tmp_path):
    """A ring, and a plate of its own in what is cut out of it."""
    ring = '<rect x="10" y="10" width="180" height="180" rx="9"/><circle cx="100" cy="100" r="80"/>'
    shapes = read(tmp_path, ring + '<circle cx="100" cy="100" r="60"/><circle cx="100" cy="100" r="5"/>').shapes
    assert sorted((len(s.holes), round(shapely.Polygon(s.outline).area, -2)) for s in shapes) == [
        (1, 11300),
        (1, 32300),
    ]


def test_many_holes_come_in_and_lines_past_what_is_kept_are_told(tmp_path):
    holes = "".join(f'<circle cx="{20 + 12 * (k % 15)}" cy="{20 + 12 * (k // 15)}" r="3"/>' for k in range(150))
    strokes = "".join(f'<path d="M{20 + k % 150} 170 v4"/>' for k in range(230))
    read_back = read(tmp_path, f'<path d="M5 5H198V190H5Z"/>{holes}{strokes}')
    (shape,) = read_back.shapes
    assert (len(shape.holes), len(shape.lines)) == (150, 200)
    assert read_back.left == ("30 lines past the 200 on one panel",)


def test_an_outline_of_too_many_points_is_told_by_fewer(tmp_path):
    """A scanned line: 9,000 points that tremble by microns."""
    turn = np.linspace(0, 2 * np.pi, 9000, endpoint=False)
    at = 100 + (90 + 0.002 * np.sin(900 * turn))[:, None] * np.column_stack([np.cos(turn), np.sin(turn)])
    (shape,) = read(tmp_path, '<path d="M' + " L".join(f"{x:.4f} {y:.4f}" for x, y in at) + ' Z"/>').shapes
    assert len(shape.outline) <= 4000
    away = np.hypot(*(np.array(shape.outline) - (100, -100)).T)
    assert abs(away - 90).max() < 0.01
    assert shapely.Polygon(shape.outline).area == pytest.approx(np.pi * 90**2, rel=1e-4)
