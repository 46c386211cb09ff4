"""Rigs as they were looked at: straps, parts, anchors, marks and loads of every rig of every template are kept.

``python -m tests.core.rigging.test_kept_rigs`` writes them anew after a change that is meant to move them; the
difference shows in the repository what it moved.
"""

import json
from dataclasses import replace

import numpy as np
import pytest

from tests.core.pieces_to_make import worn
from tests.depth import long
from tests.kept import file_of, write
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.rig import EdgeClosing, MagnetRow
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.rig.anchors import anchor_marks
from vellumcut.core.rig.closures.behind import closed_by
from vellumcut.core.rig.closures.eyelets import eyelet_marks
from vellumcut.core.rig.closures.facing import edges_of, facings_of
from vellumcut.core.rig.closures.magnet_lines import magnet_line_names, magnet_marks
from vellumcut.core.rig.closures.magnets import magnets_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.fixing import Fixing
from vellumcut.core.rig.loads import load_note, rest_of
from vellumcut.core.rig.parts import plan_parts
from vellumcut.core.rig.recipes import RIGS
from vellumcut.core.rig.rest_words import rest_words
from vellumcut.core.rig.stacking import unsaid_beneath
from vellumcut.core.rig.straps import straps_of_piece

COMPANY: dict[str, tuple[tuple[str, ...], ...]] = {
    "tasset": (("belt",), ("faulds",)),
    "cuisse": (("belt",), ("faulds",)),
    "poleyn": (("cuisse",), ("greave",)),
    "pauldron": (("breastplate", "backplate"),),
    "breastplate": (("backplate",),),
    "shoulder extension": (("backplate",),),
}
"""Beside what else a piece is looked at."""
ALIKE = ("segmented rerebrace", "segmented bracer")
"""Templates whose rigs are another's."""
WEIGHS = 400.0


def told(costume: Costume, piece: Worn) -> dict:
    """All that is said of one piece's rig, in figures, rounded as far as a maker's ruler sees."""
    side = piece.sides[0]
    laid = piece.on(side)
    heavy = Costume(costume.figure, tuple(replace(p, weight=WEIGHS * (1 + p.key / 9)) for p in costume.pieces))
    straps = [s for p in heavy.pieces for s in straps_of_piece(heavy, p)]
    own = [s for s in straps if s.ends[0].piece == piece.key and s.side == side]
    rest = rest_of(heavy, heavy.piece(piece.key), side, straps)
    fixing = Fixing(under_strip=piece.key % 2 == 0, masked=True)
    plan = plan_parts(costume, piece, side, own, rest, fixing)
    anchors = costume.anchors(piece, side)
    rows = list(zip(laid.inked.panels, laid.inked.twins, strict=True))
    marks = [m for p, twin in rows for m in anchor_marks(laid, anchors, p, twin)]
    marks += [m for p, _ in rows for m in eyelet_marks(laid, p)] if closed_by(laid) == "lacing" else []
    marks += [m for x in magnets_of(laid) for p, _ in rows
        for m in magnet_marks(laid, x.row.edge, x.row.size, x.at, x.poles, p)]  # fmt: skip
    corners = [(m.name, laid.plane.flat(m.uv)) for m in marks]
    return {
        "straps": {s.key: _round([s.standing, s.longest, s.cut, s.adjust], 0) for s in own},
        "parts": [[p.name, p.count, round(p.length), len(p.at), p.ends, p.sewn, p.glue] for p in plan.parts],
        "made": [_round([p.note.result.amount, *(v.amount for v in p.note.values)], 0) for p in plan.parts],
        "advice": list(plan.advice),
        "anchors": {a.name: _round(laid.plane.flat(np.array([a.uv]))[0], 0) for a in anchors},
        "marks": [[n, *_round([*c.mean(axis=0), *np.ptp(c, axis=0)], 0)] for n, c in corners],
        "loads": {x.anchor: _round([x.grams, x.moving, x.hook, x.rivets], 0) for x in rest.loads},
        "notes": [n.formula for n in ([load_note(rest, rest.loads[0])] if rest.loads else [])],
        "rests": rest_words(rest, piece),
        "closings": [
            [x.words, _round([x.length, x.gap, *x.at], 0), x.problem] for x in facings_of(costume, piece, side)
        ],
        "magnets": [
            [x.seat, x.couples, x.magnets, x.washers, _round(x.at, 0), _round([v.amount for v in x.note.values], 1)]
            for x in magnets_of(laid)
        ],
        "formulas": {s.key: _round([v.amount for v in s.note.values], 0) for s in own},
        "under": [p.name for p in unsaid_beneath(costume, piece)],
    }


def _round(values, digits: int) -> list[float]:
    return (np.asarray([float(v) for v in values]).round(digits) + 0.0).tolist()


def design_of(template: str, way: str) -> PieceDesign:
    """A starter that is held this way, its opening drawn shut by what each rig can have."""
    plain = TEMPLATES[template].lay is None
    design = starter_design(template)
    closure = {"across": "buckles", "glove": "lacing"}.get(way, "hook-and-loop") if plain else design.closure
    return design.model_copy(
        update={"closure": closure, "back": "open", "rig": design.rig.model_copy(update={"way": way})}
    )


PAIRS = (("closing edge A", "closing edge B"), ("side edge", "side edge"))
"""Edges of a piece that its makers do close on each other."""


def rigs(template: str) -> dict:
    """Every rig of a template alone, the usual one with magnets and a closing, and in company."""
    out = {}
    for rig in RIGS[template]:
        others = tuple(starter_design(t) for t in rig.needs)
        costume = worn(design_of(template, rig.key), *others)
        out[rig.key] = told(costume, costume.piece(1))
    laid = costume.piece(1).on(costume.piece(1).sides[0])
    edge, *_, other = edges = list(edges_of(laid))
    drawn_together = next(p for p in (*PAIRS, (edge, other)) if set(p) <= set(edges))
    pairs = dict.fromkeys((drawn_together, (edge, other)))
    usual = design_of(template, "")
    more = {
        "magnets": (MagnetRow(edge=magnet_line_names(laid)[0], size=8, washers=True), MagnetRow(edge=edge, load=700)),
        "closings": tuple(EdgeClosing(edge=a, other=b, kind="buckles") for a, b in pairs),
    }
    costume = worn(usual.model_copy(update={"rig": usual.rig.model_copy(update=more)}))
    out["with magnets"] = told(costume, costume.piece(1))
    for beside in COMPANY.get(template, ()):
        costume = worn(usual, *(starter_design(t) for t in beside))
        out[f"beside {' and '.join(beside)}"] = told(costume, costume.piece(1))
    return out


@pytest.mark.parametrize("template", [pytest.param(t, marks=long if t in ALIKE else ()) for t in TEMPLATES])
def test_kept_figures_of_every_rig_come_out_the_same(template):
    kept = json.loads(file_of(f"rig {template}").read_text())
    made = json.loads(json.dumps(rigs(template)))
    assert list(made) == list(kept)
    for way, rows in kept.items():
        for what, figures in rows.items():
            assert near(made[way][what], figures), f"{way}: {what}\n{made[way][what]}\n{figures}"


def near(one, other) -> bool:
    """Alike but for a last digit that another machine may round the other way."""
    if isinstance(one, dict):
        return list(one) == list(other) and all(near(one[k], other[k]) for k in other)
    if isinstance(one, list):
        return len(one) == len(other) and all(near(a, b) for a, b in zip(one, other, strict=True))
    if isinstance(one, (int, float)) and not isinstance(one, bool):
        return abs(one - other) <= max(1.0, 0.004 * abs(other))
    return one == other


if __name__ == "__main__":
    write({f"rig {name}": (lambda n=name: rigs(n)) for name in TEMPLATES})
