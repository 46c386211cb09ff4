"""Two lefts: mirrored pairs on a mat with one good face, over random builds. What a left and a right one have to be is
told by a piece made for one side alone; which way a part lies is read off its outline, turned but never turned over."""

import json

import numpy as np
import pytest
import shapely
from shapely import affinity

from tests.api.conftest import READINGS
from tests.depth import DEEP
from vellumcut.core.nest.search import first_plan
from vellumcut.core.nest.shapes import Placed
from vellumcut.formats.keeping.build_json import read_build
from vellumcut.service.pattern.patterns import cutting_pattern, work_from_file
from vellumcut.service.shop.layouts import rules_of
from vellumcut.service.shop.nests import parts_of

UNEVEN = "ridged greave"
"""Its panels have a hand that their outline tells."""
TEMPLATES = ("ridged greave", "bracer", "greave")
ALIKE = 0.004
"""Share of a part's area in which the same outline, cut anew, may differ."""


def someones(seed):
    """A build of one or two pieces in pairs, one of them uneven, with uneven ends, drawn from either face."""
    lot = np.random.default_rng(seed)
    pieces = []
    for k in range(int(lot.integers(1, 3))):
        point = {"shape": "pointed", "point": int(lot.integers(10, 35)), "inset": int(lot.integers(5, 40))}
        pieces.append(
            {
                "template": str(lot.choice(TEMPLATES)) if k else UNEVEN, "name": f"P{k}",
                "ease": int(lot.integers(0, 14)),
                "layers": [{"thickness": 10, "kind": "mat"}], "drawn_face": str(lot.choice(["outer", "inner"])),
                str(lot.choice(["upper", "lower"])): point, "side": "both",
            }
        )  # fmt: skip
    return pieces


def works(pieces):
    wearer = {"name": "Someone", "measurements": READINGS}
    told = {"format": "vellumcut-build", "version": 1, "name": "Pairs", "wearer": wearer, "pieces": pieces}
    build = read_build(json.dumps(told))
    return [work_from_file(build, p.title, None) for p in build.pieces]


def unlike(a, b):
    """Share of area in which two outlines differ, one turned and moved onto the other as well as it goes."""
    best = 1.0
    a, b = (affinity.translate(s, -s.centroid.x, -s.centroid.y) for s in (a, b))
    for turn in np.arange(0, 360, 2.0):
        one = affinity.rotate(a, turn, origin=(0, 0))
        best = min(best, one.symmetric_difference(b).area / b.area)
    return best


@pytest.mark.parametrize("seed", range(100 if DEEP else 4))
def test_of_every_pair_one_of_each_is_cut_on_a_mat(seed):
    pieces = someones(seed)
    made = works(pieces)
    (mat,) = parts_of(made).materials
    assert mat.one_faced
    plan = first_plan(mat.nest(rules_of("knife")))
    assert not plan.left
    lying = {p.part.key: p for p in plan.placed}
    told = 0
    for piece, work in zip(pieces, made, strict=True):
        (alone,) = works([piece | {"side": "left", "drawn_face": "outer"}])
        left = {p.label.code: p.flat.shape for p in cutting_pattern(alone).to_cut}
        own = [c for c in mat.copies if c.piece == work.name]
        for code, outer in left.items():
            stem = code.removesuffix(" L")
            pair = {c.code: lying[c.key] for c in own if c.code.removesuffix(" L").removesuffix(" R") == stem}
            assert set(pair) == {f"{stem} L", f"{stem} R"}
            from_behind = affinity.scale(outer, -1, 1)
            wanted = {f"{stem} L": from_behind, f"{stem} R": outer}
            told += _held(pair, wanted)
    assert told


def _held(pair: dict[str, Placed], wanted: dict[str, shapely.Polygon]) -> int:
    """How many of a pair's parts have a hand at all; each that has lies as it is wanted."""
    told = 0
    for code, placed in pair.items():
        right = unlike(placed.shape, wanted[code])
        wrong = unlike(placed.shape, affinity.scale(wanted[code], -1, 1))
        assert right < 0.03
        if abs(wrong - right) > ALIKE:
            assert right < wrong, code
            told += 1
    return told
