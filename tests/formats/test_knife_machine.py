"""The simulated cutter on programs written by hand: what it refuses, and what it says it cut."""

import pytest
import shapely

from vellumcut.standins.cutter import Cutter, CutterStops

HEAD = "UNIT MM\nSHEET 300 200 6\nTOOL KNIFE\n"
SQUARE = (
    "MOVE 10 10\nDOWN 6\nLINE 60 10\nUP\nMOVE 60 10\nDOWN 6\nLINE 60 60\nUP\n"
    "MOVE 60 60\nDOWN 6\nLINE 10 60\nLINE 10 9\nUP\nMOVE 0 0\nEND\n"
)


def test_a_square_falls_out_and_a_shallow_one_does_not():
    machine = Cutter(400, 300)
    machine.play(HEAD + SQUARE)
    (square,) = machine.fallen()
    assert square.equals_exact(shapely.Polygon([(10, 10), (60, 10), (60, 60), (10, 60)]).normalize(), 0.01) or (
        square.symmetric_difference(shapely.box(10, 10, 60, 60)).area < 0.01
    )
    shallow = Cutter(400, 300)
    shallow.play(HEAD + SQUARE.replace("DOWN 6\nLINE 60 60", "DOWN 3\nLINE 60 60"))
    assert not shallow.fallen()
    assert machine.clock > 200 / 60


@pytest.mark.parametrize(
    ("program", "words"),
    [
        (HEAD + "DOWN 6\nLINE 350 10", "off the sheet"),
        (HEAD + "MOVE 500 10", "off the bed"),
        (HEAD + "MOVE nan 10", "off the bed"),
        (HEAD + "DOWN 9", "into the bed"),
        (HEAD + "LINE 10 10", "the tool is up"),
        (HEAD + "DOWN 6\nMOVE 10 10", "the tool is down"),
        (HEAD + "FLY 1 2", "not known"),
        (HEAD + "MOVE 1", "Line 4"),
        (HEAD + "MOVE 1 1\nEND", "not home"),
        (HEAD + "MOVE 1 1", "no END"),
        ("SHEET 900 100 6", "larger than the bed"),
        ("SHEET 90 100", "three sizes"),
        ("SHEET 90 100 6\nDOWN 6", "no tool"),
        ("SHEET 90 100 6\nTOOL PEN\nDOWN 6", "a pen draws"),
        ("", "no END"),
    ],
)
def test_what_it_cannot_do_is_refused_with_the_line(program, words):
    with pytest.raises(CutterStops, match=words):
        Cutter(400, 300).play(program)
