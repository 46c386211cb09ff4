"""Tables of the figure and of rigs, everything that can close a seam or two edges, and how pieces rest, as they were
looked at: to a part in a thousand, where ``test_kept_rigs`` sees what a ruler sees.

``python -m tests.core.rigging.test_kept_closings`` writes them anew after a change that is meant to move them.
"""

from dataclasses import replace

import pytest

from tests.bodies import measures
from tests.core.pieces_to_make import worn
from tests.core.rigging.test_openings import ring_piece
from tests.kept import comes_out_the_same, told, write
from vellumcut.core.design.rig import EdgeClosing, OpeningKind, OpeningRow
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.anchors import across_rows
from vellumcut.core.rig.closures.facing import facings_of
from vellumcut.core.rig.closures.facing_marks import places_of
from vellumcut.core.rig.closures.openings import CLOSINGS, opening_marks, openings_of
from vellumcut.core.rig.costume import Costume
from vellumcut.core.rig.figure import figure_of
from vellumcut.core.rig.loads import rest_of
from vellumcut.core.rig.recipes import RIGS
from vellumcut.core.rig.straps import straps_of_piece


def figure() -> dict:
    return {name: told(joint, deep=3) for name, joint in figure_of(measures()).joints.items()}


def opened(kind: OpeningKind, low: float, high: float | None) -> dict:
    """A closed shell whose seam opens all along, or in part."""
    costume = worn(ring_piece(0.5, 2.6, OpeningRow(line="inner", kind=kind, low=low, high=high)))
    laid = costume.piece(1).on("left")
    (plan,) = openings_of(laid)
    marks = [m for p in laid.inked.panels for m in opening_marks(laid, plan, p)]
    return {"plan": told(plan), "marks": [[m.name, *told((100 * m.uv.mean(axis=0)).tolist())] for m in marks]}


def faced(kind: OpeningKind, apart: float) -> dict:
    """A breastplate whose side edges close on a backplate that stands off the body; its holes on both."""
    row = EdgeClosing(edge="side edge", other="side edge", piece="backplate", kind=kind, low=15)
    beside = starter_design("backplate").model_copy(update={"ease": 3.0 + apart})
    plain = starter_design("breastplate")
    design = plain.model_copy(update={"rig": plain.rig.model_copy(update={"closings": (row,)})})
    costume = worn(design, beside)
    plans = facings_of(costume, costume.piece(1), "left")
    places = [list(places_of(costume, costume.piece(k), "left")) for k in (1, 2)]
    return {"plans": told(plans, without=("row",)), "places": told(places)}


def drawn_shut() -> dict:
    """Straps across what an open shell leaves open, by closure and run."""
    out = {}
    for closure in ("none", "hook-and-loop", "buckles"):
        for run in ("across", "round"):
            plain = starter_design("greave")
            rig = plain.rig.model_copy(update={"run": run})
            laid = worn(plain.model_copy(update={"closure": closure, "back": "open", "rig": rig})).piece(1).on("left")
            out[f"{closure}, {run}"] = told(across_rows(laid))
    return out


def rests(template: str, grams: float) -> dict:
    """How a piece with one strap too few rests, and where one more would hold it."""
    costume = worn(starter_design(template))
    heavy = Costume(costume.figure, tuple(replace(p, weight=grams) for p in costume.pieces))
    out = {}
    for kept in (0, 1):
        straps = straps_of_piece(heavy, heavy.piece(1))[:kept]
        side = heavy.piece(1).sides[0]
        out[f"{kept} straps"] = told(rest_of(heavy, heavy.piece(1), side, straps), deep=2)
    return out


def right_side() -> dict:
    """A sleeve on the right, held by an elastic round the trunk."""
    plain = starter_design("rerebrace")
    way = next(r.key for r in RIGS["rerebrace"] if any(x.through == "trunk" for x in r.straps))
    rig = plain.rig.model_copy(update={"way": way})
    costume = worn(plain.model_copy(update={"rig": rig, "side": "right"}))
    straps = straps_of_piece(costume, costume.piece(1))
    return {s.key: told([s.side, s.standing, s.longest, s.points.mean(axis=0)]) for s in straps}


SPANNED: dict[OpeningKind, float] = {"lacing": 40.0, "buckles": 60.0, "ratchet": 60.0}
FIGURES = {
    "closings figure": figure,
    "closings tables": lambda: {t: told(rigs, deep=6) for t, rigs in RIGS.items()},
    "closings opened": lambda: {
        f"{k}, {low:.0f}": opened(k, low, high) for k in CLOSINGS for low, high in ((0.0, None), (20.0, 110.0))
    },
    "closings faced": lambda: {k: faced(k, SPANNED.get(k, 4.0)) for k in CLOSINGS},
    "closings drawn shut": drawn_shut,
    "closings rests": lambda: {t: rests(t, 500.0) for t in ("breastplate", "cuisse", "bracer", "tasset")},
    "closings right side": right_side,
}  # fmt: skip


@pytest.mark.parametrize("name", FIGURES)
def test_closings_and_tables_come_out_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
