"""Pattern files of other hands come in at their true size with all that is on them, or are asked about."""

import math

import numpy as np
import pytest
import shapely

from tests.formats.habits import DXFS, PDFS, SVGS, Habit
from vellumcut.core.errors import CraftError
from vellumcut.formats.pattern.pattern_files import HowToRead, read_pattern_file

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
