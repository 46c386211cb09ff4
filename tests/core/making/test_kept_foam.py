"""The foam room as it was looked at: bends, folds, joints, edges, heat and stacks of pieces drawn by lot are kept.

``python -m tests.core.making.test_kept_foam`` writes them anew after a change that is meant to move them; the
difference shows in the repository what it moved.
"""

import random

import numpy as np
import pytest

from tests.bodies import WEARER
from tests.kept import comes_out_the_same, told, write
from vellumcut.core.design.foam import EdgeWork, FoamWork, FoldWork, Layer, PanelWork, SeamWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.advice import advise_sheet, instead_of
from vellumcut.core.foam.bends import kerf_findings, plan_kerfs
from vellumcut.core.foam.bevels import bevels
from vellumcut.core.foam.coach import Coach
from vellumcut.core.foam.edges import free_edges
from vellumcut.core.foam.grooves import fold_lines
from vellumcut.core.foam.gun import HeatGun, ScrapTest, air_of, better_hold, gun_factor, gun_note, slab_of
from vellumcut.core.foam.heat import plan_heat, seconds_until
from vellumcut.core.foam.joints import joint_note
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.foam.stacks import asked_of_faces, placed, slip
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern, pattern_piece

SIZE = 14.0
"""Triangles of the meshes, mm: what is kept here is no outline."""
WAYS = ("groove", "crease", "opened score", "late score", "set back", "drum")
TWICE = ("bracer", "greave", "breastplate", "ridged greave", "gorget", "faulds")
APART = ("surface", "tube", "ink", "uv")
SHELF = (ShelfSheet(kind="armour", thickness=6.0, density=95.0, price=14.0), ShelfSheet(kind="soft", thickness=4.0))


def drawn(template: str, luck: random.Random) -> PieceDesign:
    """A starter of any foam, its folds, edges, seams and panels worked in ways of their own."""
    foam = luck.choice((3.0, 5.0, 8.0, 10.0))
    layers = (Layer(thickness=4, kind="soft"), Layer(thickness=3)) if luck.random() < 0.3 else ()
    own = {
        "foam": foam,
        "layers": layers,
        "layered": luck.choice(("bent", "alike")),
        "foam_kind": luck.choice(("armour", "soft")),
    }
    plain = PieceDesign.model_validate(starter_design(template).model_dump() | own)
    made = creased(plain, pattern_piece(WEARER, plain, "Piece", "Build", SIZE))
    side, piece = next(iter(made.inked.items()))
    folds = tuple(
        FoldWork(key=key, way=luck.choice(WAYS), angle=luck.choice((None, 35.0, -28.0, 75.0)),
            count=luck.choice((0, 2)),
            depth=luck.choice((None, None, 1.5, 2.0)), walls=luck.choice(("two sloping", "one upright")),
            overcut=luck.choice((0.0, 1.5)))
        for key in dict.fromkeys(line.key for _, line, _ in fold_lines(piece))
    )  # fmt: skip
    steep = {"way": "groove", "walls": "one upright", "angle": 80.0}
    if template == "sabaton cap":  # such a groove is refused, and nothing of the piece is cut then
        folds = (folds[0].model_copy(update=steep), *folds[1:])
    edges = tuple(
        EdgeWork(name=name, shape=luck.choice(("square", "rounded", "angled", "thinned")),
            angle=luck.choice((30.0, 55.0)),
            face=luck.choice(("inner", "outer")))
        for name in dict.fromkeys(free_edges(made.flats(side))) if luck.random() < 0.7
    )  # fmt: skip
    seams = tuple(SeamWork(name=j.name, fold=luck.uniform(-60, 60)) for j in made.joints[side] if luck.random() < 0.4)
    panels = tuple(
        PanelWork(panel=p.number, bend=luck.choice((None, "kerf", "laminate", "past")),
            kerf_depth=luck.choice((None, 0.7 * foam)))
        for p in piece.panels if luck.random() < 0.6
    )  # fmt: skip
    return made.design.model_copy(update={"foam_work": FoamWork(folds=folds, edges=edges, seams=seams, panels=panels)})


def creased(design: PieceDesign, made: PiecePattern) -> PiecePattern:
    """The same with two folds and two score lines more, up and across its first panel."""
    panel = made.panels[0].flat
    (left, low), (right, high) = np.quantile(panel.uv, 0.2, axis=0), np.quantile(panel.uv, 0.8, axis=0)
    x, y = (left + right) / 2, (low + high) / 2
    ends = {
        "up": ((x, low), (x, high)),
        "over": ((left, y), (right, y)),
        "slant": ((left, low), (x, y)),
        "side": ((right, low), (right, y)),
    }
    strokes = tuple(
        Stroke(
            key=f"lot-{name}",
            kind="fold" if name in ("up", "side") else "score",
            name=name,
            points=at,
            curve="straight",
        )
        for name, at in ends.items()
    )
    sheet = ink_sheet(made.inked[made.panels[0].side].tube, design)
    inked = sheet.model_copy(update={"strokes": (*sheet.strokes, *strokes)})
    return pattern_piece(WEARER, design.model_copy(update={"ink": inked}), "Piece", "Build", SIZE)


def piece_told(made: PiecePattern) -> dict:
    """All that the foam room says of one side of a pattern."""
    side, piece = next(iter(made.inked.items()))
    kerfs = [plan_kerfs(piece.surface, p, b) for p, b in zip(piece.panels, made.bends[side], strict=True) if b.kerfed]
    return {
        "bends": [told(b, APART) for b in made.bends[side]],
        "kerfs": [[told(k, APART), *(f.message for f in kerf_findings(k, 1))] for k in kerfs],
        "instead": [told(instead_of(b, 60_000.0, 210.0, SHELF), APART) for b in made.bends[side][:1]],
        "folds": [told(f, APART) for f in made.folds[side]],
        "joints": [told(j, APART) | {"note": told(joint_note(j))} for j in made.joints[side]],
        "cut": tried(lambda: {p.label.code: panel_told(p) for p in as_cut(made).panels}),
        "verdicts": [told(p.verdict) for p in made.panels],
        "findings": [f.message for f in made.findings],
    }


def panel_told(panel: DrawnPanel) -> list:
    return [told(panel.edges), told(panel.beside), [[x.kind, x.name, told(x.points)] for x in panel.flat.lines]]


def pieces(template: str) -> dict:
    luck, out = random.Random(f"foam {template}"), {}
    for k in range(2 if template in TWICE else 1):
        design = drawn(template, luck)
        out[f"piece {k + 1}"] = tried(lambda d=design: piece_told(pattern_piece(WEARER, d, "Piece", "Build", SIZE)))
    return out


def heated() -> dict:
    """The gun over every kind of foam; a coach who is told what a probe reads; scraps; sheets; bevels; stacks."""
    out = {}
    gun = HeatGun()
    slow = HeatGun(
        high=420.0, tests=(ScrapTest(thickness=6, seconds=34), ScrapTest(thickness=10, event="limp", seconds=230))
    )
    for kind, thickness in (("armour", 2.0), ("armour", 6.0), ("armour", 10.0), ("soft", 5.0), ("mat", 10.0)):
        slab = slab_of(kind, thickness, SHELF)
        air = air_of(gun, "high", 100.0)
        out[f"{kind} {thickness:g}"] = {
            "plans": [
                tried(lambda s=s, d=d, n=n, slab=slab: told(plan_heat(slab, air_of(gun, s, d), n), ("air",)))
                for s, d, n in (("high", 100.0, 2), ("low", 60.0, 1))
            ],
            "until": [
                tried(lambda e=e, slab=slab, air=air: told(seconds_until(slab, air, e))) for e in ("gloss", "limp")
            ],
            "better": told(better_hold(slab, gun, 2, 1.3)),
            "coach": coached(Coach(slab, air)) + coached(Coach(slab, air, faces=1)),
            "sheet": told(
                [
                    facts_of_sheet(kind, thickness, SHELF).grams(5e4, thickness),
                    facts_of_sheet(kind, thickness, SHELF).cost(5e4),
                ]
            ),
        }
    out["gun"] = told([gun_factor(slow), gun_note(slow, 0.8), air_of(slow, "low", 150.0, 0.8)])
    out["advice"] = [
        told(advise_sheet(r, x, 9e4, SHELF))
        for r in ("base", "structure", "detail", "border")
        for x in (18.0, 60.0, 240.0)
    ]
    turns = (
        (0.5, 6.0, 6.0),
        (30.0, 6.0, 6.0),
        (60.0, 3.0, 10.0),
        (60.0, 10.0, 3.0),
        (-45.0, 4.0, 8.0),
        (140.0, 5.0, 5.0),
        (20.0, 2.0, 12.0),
    )
    out["bevels"] = [tried(lambda t=t: [[told(b), told(b.move(0.0, 3.0, 8.0))] for b in bevels(*t)]) for t in turns]
    for sheets in (
        ((6.0, "armour"),),
        ((4.0, "soft"), (6.0, "armour")),
        ((2.0, "soft"), (4.0, "armour"), (2.0, "soft")),
    ):
        for alike in (True, False):
            layers = placed(sheets, alike)
            asked = [told(asked_of_faces(layers, alike, r)) for r in (6.0, 40.0, 160.0)]
            out[f"stack {sheets} {alike}"] = [told(layers), told(slip(1.3, layers)), asked]
    return out


def tried(act):
    """What is made, or why it cannot be."""
    try:
        return act()
    except CraftError as error:
        return error.message


def coached(coach: Coach) -> list:
    """What it says while a face warms by four degrees a second, is turned when it asks, and is let cool."""
    said, degrees = [], 21.0
    for k in range(90):
        degrees = degrees + 12.0 if coach.act == "heat" else max(21.0, degrees - 14.0)
        coach.read(3.0, degrees)
        if k % 9 == 0 or coach.act in ("turn", "shape"):
            said.append([coach.act, coach.face, coach.words, told(coach.middle), told(coach.number)])
        if coach.act == "turn":
            coach.turned()
            degrees = coach.read_last
        elif coach.act == "shape":
            coach.shaped()
    return said


FIGURES = {"foam heat": heated, **{f"foam {name}": (lambda n=name: pieces(n)) for name in TEMPLATES}}


@pytest.mark.parametrize("name", FIGURES)
def test_kept_figures_of_the_foam_come_out_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
