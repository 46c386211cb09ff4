"""A body that has changed: what still fits, what a strip mends, what must be cut again."""

import numpy as np
import pytest
from shapely.geometry import Polygon

from tests.bodies import limb, measures, trunk
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.regrade import FITS, compare_patterns


def pattern(grown: float, template="bracer", calf=0.0):
    forearm = limb("forearm", (0, 138, 240), (168 + grown, 252 + grown, 262 + grown), (0.76, 0.93, 0.95), gate=240)
    body = trunk(bust=940 + grown, underbust=810 + grown, waist=760 + grown, hip=980 + grown, neck=370)
    leg = limb("lower leg", (0, 200, 325), (225, 372 + calf, 352), (1.15, 1.06, 1.02), gate=328)
    wearer = measures(forearm, leg).model_copy(update={"torso": body})
    return pattern_piece(wearer, starter_design(template), "P", "B", None)


def test_the_same_body_and_a_hair_more_still_fit():
    for grown in (0.0, 4.0):
        (change,) = compare_patterns(pattern(0), pattern(grown))
        assert change.state == "fits"
        assert change.apart <= FITS
        assert change.strip is None
    assert change.apart == pytest.approx(grown / 2, abs=0.3)


def test_a_fuller_arm_wants_a_strip_as_wide_as_it_grew():
    old, new = pattern(0), pattern(14)
    (change,) = compare_patterns(old, new)
    assert change.state == "strip"
    assert change.edge.startswith("closing edge")
    low, mean, high = change.width
    assert (low, mean, high) == pytest.approx((14, 14, 14), abs=1.0)
    # The strip and the old panel are together the new one.
    whole = Polygon(change.old).union(Polygon(change.strip).buffer(0.2))
    assert whole.symmetric_difference(Polygon(change.new)).area < 0.02 * Polygon(change.new).area
    assert Polygon(change.strip).area == pytest.approx(14 * new.panels[0].flat.edge(change.edge).length, rel=0.05)


def test_a_thinner_arm_is_trimmed_and_a_calf_that_grew_in_the_middle_is_cut_again():
    (change,) = compare_patterns(pattern(14), pattern(0))
    assert change.state == "trim"
    assert change.width[1] == pytest.approx(-14, abs=1.5)
    (change,) = compare_patterns(pattern(0, "greave"), pattern(0, "greave", calf=40))
    assert change.state == "again"
    assert change.apart > FITS
    (change,) = compare_patterns(pattern(0), pattern(120))
    assert change.state == "again"


def test_panels_side_by_side_keep_their_numbers_when_the_body_grows():
    for grown in np.linspace(-20, 60, 5):
        panels = pattern(float(grown), "faulds").panels
        assert [p.flat.edges[0].name for p in panels] == ["front edge", "joint 1", "joint 2"]
        assert all(e.length > 5 for p in panels for e in p.flat.edges)
