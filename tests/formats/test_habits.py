"""Pattern files of other hands come in at their true size with all that is on them, or are asked about."""

import math

import numpy as np
import pytest
import shapely

from tests.formats.habits import DXFS, PDFS, SVGS, Habit
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.flat_pattern import flat_pattern
from vellumcut.formats.pattern.drawn_panels import panels_of
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file
from vellumcut.formats.pattern.read_svg import read_svg
from vellumcut.formats.pattern.svg import write_svg

ALL = [*SVGS, *DXFS, *PDFS]
FRONT = 120 * 80 - 400 + 100 * math.pi
HOLE = 64 * math.pi


@pytest.mark.parametrize("habit", ALL, ids=[f"{h.file[2:]}: {h.name}" for h in ALL])
def test_what_another_program_wrote_is_read_as_it_is_or_asked_about(habit: Habit, tmp_path):
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


def leaves_as_it_came(shapes, holes: int) -> None:
    """The file that is cut from it, read back."""
    flat = FlatWork(panels=shapes, source="file")
    design = PieceDesign.model_validate({**starter_design("breastplate").model_dump(), "flat": flat.model_dump()})
    cut = panels_of(read_svg(write_svg(flat_pattern(design, "Piece", "Build")).encode())).shapes
    areas = sorted((shapely.Polygon(s.outline).area for s in cut), reverse=True)
    assert areas == [pytest.approx(FRONT, abs=6), pytest.approx(2700, abs=2)]
    assert [shapely.Polygon(h).area for s in cut for h in s.holes] == [pytest.approx(HOLE, abs=0.5)] * holes
