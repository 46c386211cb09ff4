"""Folds of known bodies, and edges that meet: rebuilt as the cut foam would stand, by a library of plane geometry."""

from dataclasses import dataclass

import numpy as np
import pytest
import shapely

from tests.bodies import WEARER, limb, measures
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.flatten.mesh import EDIT_SIZE
from vellumcut.core.foam.bevels import SQUARE_BELOW, bevels
from vellumcut.core.foam.folds import read_fold
from vellumcut.core.foam.joints import DART_SQUARE_FOAM, square_dart
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.lift import StrokeLift
from vellumcut.core.pattern.pattern import pattern_piece

FOAM = 6.0


@dataclass(frozen=True)
class Prism(TubeSurface):
    """Flat sides all round, and upright or leaning profiles. corners: (n, 2) counter-clockwise, first not repeated.

    profile: (z, share) rows by which the corners are drawn together at heights.
    """

    corners: np.ndarray
    profile: tuple[tuple[float, float], ...] = ((0.0, 1.0), (200.0, 1.0))
    names: tuple[str, ...] = ("low", "high")
    at: tuple[float, ...] = (0.0, 200.0)

    def frame(self, around, along):
        u, v = np.broadcast_arrays(np.asarray(around, dtype=float) % 1.0, np.asarray(along, dtype=float))
        z = self.mm(v)
        share = np.interp(z, *zip(*self.profile, strict=True))
        ring = np.vstack([self.corners, self.corners[:1]])
        steps = np.linalg.norm(np.diff(ring, axis=0), axis=1)
        at = np.concatenate([[0.0], np.cumsum(steps)]) / steps.sum()
        flat = np.stack([np.interp(u, at, ring[:, k]) for k in (0, 1)], axis=-1)
        heading = np.diff(ring, axis=0)[np.clip(np.searchsorted(at, u, "right") - 1, 0, len(steps) - 1)]
        out = np.stack([heading[..., 1], -heading[..., 0], np.zeros_like(u)], axis=-1)
        return np.concatenate([flat * share[..., None], z[..., None]], axis=-1), out / np.linalg.norm(
            out, axis=-1, keepdims=True
        )

    def rings(self, mm):
        around = np.tile(np.linspace(0, 1, 181), (len(mm), 1))
        return around, *self.frame(around, self.along(mm)[:, None])

    def hollow(self, uv):
        return np.zeros(len(uv))

    def tightest(self, mm):
        return np.full(len(mm), 1e6)

    def half_widths(self, mm):
        return np.full(len(mm), 50.0), np.full(len(mm), 50.0)

    def girth(self, along):
        ring = np.vstack([self.corners, self.corners[:1]])
        return np.full(np.shape(along), np.linalg.norm(np.diff(ring, axis=0), axis=1).sum())


def turned(*turns):
    """Corners of a closed outline of sides of 90 mm that turns so at each; the last two sides are as long as they must
    be."""
    headings = np.radians(np.concatenate([[0.0], np.cumsum(turns[:-1])]))
    ways = np.stack([np.cos(headings), np.sin(headings)], axis=1)
    lengths = np.full(len(turns), 90.0)
    lengths[-2:] = np.linalg.solve(ways[-2:].T, -(ways[:-2] * 90.0).sum(axis=0))
    assert (lengths > 0).all()
    return np.cumsum(ways * lengths[:, None], axis=0)


def fold_at(body, corner):
    """Mean fold up the edge at a corner, degrees."""
    ring = np.vstack([body.corners[-1:], body.corners])
    at = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(ring, axis=0), axis=1))])
    ring = np.vstack([body.corners, body.corners[:1]])
    from_first = (at[corner + 1] - at[1]) / np.linalg.norm(np.diff(ring, axis=0), axis=1).sum()
    uv = np.stack([np.full(30, from_first), np.linspace(0.1, 0.9, 30)], axis=1)
    return read_fold(ArmourSurface(body, 1.5, FOAM, (3.0, 3.0)), uv).mean


def test_edges_of_a_box_like_body_are_read_ridge_and_valley():
    turns = (30, 60, 90, -30, 120, 90)
    body = Prism(turned(*turns))
    assert [fold_at(body, k) for k in range(len(turns))] == pytest.approx(turns, abs=1.0)


@pytest.mark.parametrize("thick", [2.0, 6.0, 12.0])
@pytest.mark.parametrize("radius", [22.0, 45.0, 80.0])
def test_plain_curvature_is_no_fold(radius, thick):
    """Square edges of a bent sheet are radial and meet flush: a cylinder's and a cone's closing seams stay square, and
    the strip is as long as its middle is round (closed form)."""
    cylinder = build_tube(
        measures(limb("forearm", (0, 100, 240), (2 * np.pi * radius,) * 3, (1.0,) * 3)), "forearm", "left"
    )
    surface = ArmourSurface(cylinder, 1.0, thick, (2.0, 2.0, 2.0))
    up = np.stack([np.full(30, 0.5), np.linspace(0.05, 1.95, 30)], axis=1)
    assert abs(read_fold(surface, up).degrees).max() < 1e-6
    assert surface.girth(1.0) == pytest.approx(2 * np.pi * (radius + 3.0 + thick / 2), abs=0.005)
    wider = limb("forearm", (0, 100, 240), tuple(2 * np.pi * (radius + 0.1 * z) for z in (0, 100, 240)), (1.0,) * 3)
    cone = ArmourSurface(build_tube(measures(wider), "forearm", "left"), 1.0, thick, (2.0, 2.0, 2.0))
    assert abs(read_fold(cone, up).degrees).max() < 1e-3


@pytest.mark.parametrize("kink", [8.0, 28.0, 40.0])
def test_a_crest_is_read_at_its_kink_and_not_over_the_curve_beside_it(kink):
    """A lift that rises straight to a line on a cylinder: each side leans by half the kink there (closed form)."""
    cylinder = build_tube(measures(limb("lower leg", (0, 180, 330), (300.0,) * 3, (1.0,) * 3)), "lower leg", "left")
    width, girth = 60.0, 300.0
    # height * (1.5 s^2 - 0.5 s^3) falls from the crest at 1.5 height / width, on a layer that is wider than the skin.
    wide = (girth / (2 * np.pi) + 3.0) / (girth / (2 * np.pi))
    for _ in range(40):
        height = np.tan(np.radians(kink / 2)) * width / 1.5 * wide
        wide = (girth / (2 * np.pi) + 3.0 + height) / (girth / (2 * np.pi))
    crest = StrokeLift(shapely.LineString([(0.0, -50.0), (0.0, 400.0)]), height, width, girth)
    surface = ArmourSurface(cylinder, 0.0, 6.0, (0.0, 0.0, 0.0), (crest,))
    up = np.stack([np.zeros(30), np.linspace(0.1, 1.9, 30)], axis=1)
    assert read_fold(surface, up).degrees == pytest.approx(kink, abs=0.1)
    assert read_fold(surface, up + [0.3 / girth, 0.0]).degrees == pytest.approx(kink, abs=0.6)


@pytest.mark.parametrize("lean", [20.0, -35.0])
def test_where_a_cone_meets_a_cylinder(lean):
    """Along a ring of 200 mm across: folded in above is a ridge, out is a valley."""
    circle = np.linspace(-np.pi / 2, 1.5 * np.pi, 360, endpoint=False)
    share = 1 - 100 * np.tan(np.radians(lean)) / 100
    body = Prism(100 * np.stack([np.cos(circle), np.sin(circle)], axis=1), ((0, 1), (100, 1), (200, share)))
    uv = np.stack([np.linspace(0.1, 0.4, 60), np.full(60, 0.5)], axis=1)
    assert read_fold(ArmourSurface(body, 0.0, FOAM, (0.0, 0.0)), uv).degrees == pytest.approx(lean, abs=1.0)


def test_equal_sheets_take_half_each_and_a_slight_fold_stays_square():
    one, two = bevels(60.0, FOAM, FOAM)
    assert (one.off_square, two.off_square) == pytest.approx((30.0, 30.0))
    assert one.move(0.0, FOAM / 2, FOAM) == pytest.approx(FOAM / 2 * np.tan(np.radians(30.0)))
    assert bevels(-60.0, FOAM, FOAM)[0].move(0.0, FOAM / 2, FOAM) == pytest.approx(FOAM / 2 * np.tan(np.radians(30.0)))
    assert [b.off_square for b in bevels(SQUARE_BELOW - 0.1, FOAM, FOAM)] == [0.0, 0.0]


def joints(template, school="by fold", **changes):
    design = starter_design(template).model_copy(update={"side": "left"} | changes)
    return pattern_piece(WEARER, design, "P", "B", EDIT_SIZE, school=school).joints["left"]


def test_joints_are_what_is_glued_and_nothing_else():
    assert [j.name for j in joints("breastplate")] == []
    (ridge,) = joints("breastplate", choices={"front": "centre ridge"})
    assert (ridge.name, ridge.panels, ridge.bevel[0].taken_off) == ("centre ridge", (1, 1), "inner")
    assert ridge.bevel[0].off_square == pytest.approx(ridge.fold.mean / 2)
    higher = joints("breastplate", choices={"front": "centre ridge"}, sizes={"ridge height": 30.0})[0]
    assert higher.fold.mean > ridge.fold.mean + 5
    assert (ridge.changes, ridge.ends) == (True, ("lower end", "upper end"))
    assert (
        f"off the inner face of both edges, turning the knife as you go, from {ridge.fold.degrees[0] / 2:.0f}°"
        in ridge.words
    )


def test_a_seam_that_a_dart_opens_on_is_read_from_end_to_end():
    dart = Stroke(key="d", kind="dart", points=((0.0, 2.0), (0.08, 2.1)))
    whole = joints("breastplate", choices={"front": "centre ridge"})[0]
    ridge, slit = joints("breastplate", choices={"front": "centre ridge"}, cuts=(dart,))
    assert (ridge.length, ridge.fold.mean) == pytest.approx((whole.length, whole.fold.mean), rel=0.01)
    assert (slit.kind, slit.ends) == ("dart", ("mouth", "tip"))


def test_darts_are_cut_by_the_school_of_the_build():
    cups = {"choices": {"front": "cups"}}
    slight = [j for j in joints("breastplate", **cups) if j.kind == "dart"]
    assert slight
    assert all(j.bevel[0].off_square == 0 and "puckers" in j.words for j in slight)
    assert all("formed after" in j.words for j in joints("breastplate", "square", **cups) if j.kind == "dart")
    assert square_dart("bevelled", 45.0, FOAM) == square_dart("by fold", 45.0, FOAM) == ""
    assert "needs no bevel" in square_dart("by fold", 45.0, DART_SQUARE_FOAM)
