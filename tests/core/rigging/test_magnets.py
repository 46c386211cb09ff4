"""Magnets along edges and along lines inside a panel: counts by hand, marks on the line."""

import numpy as np
import pytest
from shapely.geometry import LineString, Point

from tests.core.pieces_to_make import worn
from vellumcut.core.design.rig import MagnetRow
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.board import line
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.closures.magnet_lines import MagnetLine, magnet_line_names, magnet_marks
from vellumcut.core.rig.closures.magnets import advised_seat, derated, hold_of, magnets_of, plan_magnets


def test_magnets_by_hand():
    """12 x 3 mm in an edge of 6 mm: 2,200 g a couple. A belt plate of 900 g along 160 mm: 900 x 3 / 2,200 = 1.2, two;
    the end ones 20 mm in, 120 apart: two. 3 kg: 4.1, five. Behind 2 mm of foam 0.32 of it is left: 900 x 3 / 704 = 3.8,
    four."""
    row = MagnetRow(edge="upper", size=12, thick=3, load=900)
    plain = plan_magnets(row, edge(160), 6, 0)
    assert (plain.seat, plain.couples, plain.magnets, plain.at) == ("slot", 2, 4, (20, 140))
    heavy = plan_magnets(row.model_copy(update={"load": 3000}), edge(160), 6, 0)
    assert heavy.couples == 5
    assert np.diff(heavy.at) == pytest.approx(30)
    behind = plan_magnets(row.model_copy(update={"seat": "back pocket", "washers": False}), edge(160), 6, 0)
    assert behind.couples == 4
    washed = plan_magnets(row.model_copy(update={"washers": True}), edge(160), 6, 0)
    assert (washed.magnets, washed.washers) == (washed.couples, washed.couples)
    assert plan_magnets(row.model_copy(update={"load": 1}), edge(500), 6, 0).couples == 5  # 460 / 120 + 1
    assert plain.poles == ("N", "S")
    assert (hold_of(10, 3), derated(2.0)) == (1700, 0.32)


def edge(length: float, within: bool = False, alike: int = 1) -> MagnetLine:
    return MagnetLine(length, within, alike)


def test_magnets_inside_a_panel_sit_in_pockets_and_alike_lines_share_the_load():
    row = MagnetRow(edge="badge", size=10, thick=3, load=1600)
    one = plan_magnets(row, edge(200, within=True), 6, 0)
    assert (one.seat, one.couples) == ("back pocket", int(np.ceil(1600 * 3 / (1700 * 0.32))))
    two = plan_magnets(row, edge(200, within=True, alike=2), 6, 0)
    assert two.couples == int(np.ceil(1600 * 3 / 2 / (1700 * 0.32)))
    assert two.magnets == 2 * 2 * two.couples
    assert plan_magnets(row.model_copy(update={"load": 10}), edge(6, within=True), 6, 0).at == (3.0,)
    with pytest.raises(CraftError, match="no edge"):
        plan_magnets(row.model_copy(update={"seat": "slot"}), edge(200, within=True), 10, 0)
    with pytest.raises(CraftError, match="do not fit"):
        plan_magnets(row.model_copy(update={"load": 9000}), edge(120, within=True), 6, 0)


@pytest.mark.parametrize("template", ["breastplate", "tasset", "ridged greave"])
def test_magnets_along_a_mark_are_drawn_on_it_on_every_panel_that_has_it(template):
    design = starter_design(template)
    (piece,) = worn(design).pieces
    laid = piece.on(piece.sides[0])
    sheet, (u, v) = laid.inked.drawn, laid.spot(0.35, 0.5, 30.0)
    ends = laid.plane.uv(laid.plane.flat(np.array([[u, v]])) + np.array([[0.0, -28.0], [0.0, 28.0]]))
    mark = line("badge", "mark", "badge", *((float(x), float(y)) for x, y in ends))
    rows = (MagnetRow(edge="badge", size=8, load=200),)
    marked = design.model_copy(update={"rig": design.rig.model_copy(update={"magnets": rows}),
        "ink": sheet.model_copy(update={"strokes": (*sheet.strokes, mark)})})  # fmt: skip
    (piece,) = worn(marked).pieces
    laid = piece.on(piece.sides[0])
    (plan,) = magnets_of(laid)
    assert not plan.problem
    owners = [
        (p, t) for p, t in zip(laid.inked.panels, laid.inked.twins, strict=True) for x in p.inside if x.name == "badge"
    ]
    assert plan.alike == (2 if owners[0][1] else 1)
    assert "badge" in magnet_line_names(laid)
    drawn = [m for p, _ in owners for m in magnet_marks(laid, "badge", 8, plan.at, plan.poles, p)]
    assert len(drawn) == plan.couples
    lain = LineString(laid.plane.flat(next(x.uv for x in owners[0][0].inside if x.name == "badge")))
    for ring in drawn:
        outline = laid.inked.surface.points(ring.uv)
        assert lain.distance(Point(laid.plane.flat(ring.uv).mean(axis=0))) < 1.0
        wide = np.linalg.norm(outline[:, None] - outline[None], axis=2).max()
        assert wide == pytest.approx(8, abs=0.5)


def test_a_magnet_thicker_than_the_slot_goes_on_a_strip():
    assert advised_seat("edge to edge", 6, 3) == "slot"
    assert advised_seat("edge to edge", 4, 3) == "underlap strip"
    assert advised_seat("plate on plate", 4, 3) == "back pocket"
    strip = plan_magnets(MagnetRow(edge="upper", size=10, thick=3), edge(200), 4, 50)
    assert strip.strip == (200, 36)
    with pytest.raises(CraftError, match="2 mm at most"):
        plan_magnets(MagnetRow(edge="upper", seat="slot"), edge(200), 4, 50)
