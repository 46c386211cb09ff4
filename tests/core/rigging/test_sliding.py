"""Plates that slide at the waist: how far they reach, against a turn by another library."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from tests.core.pieces_to_make import worn
from tests.core.rigging.bodies_worn import BODIES
from vellumcut.core.cast.armour import MIDDLE
from vellumcut.core.design.making import Detail
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.rig.costume import Costume
from vellumcut.core.worn.sliding import STAYS, slides_of

PLATE = Detail(key="waist", kind="sliding plate", name="waist plate", apart=True)


def with_plate(template: str, plate: Detail = PLATE) -> PieceDesign:
    design = starter_design(template)
    return design.model_copy(update={"making": design.making.model_copy(update={"details": (plate,)})})


def hem_of(costume: Costume) -> np.ndarray:
    """The lower edge of the first piece on the figure."""
    piece = costume.pieces[0]
    laid, seat = piece.on("left"), costume.seat("torso", "left")
    lines = [x.uv for p in laid.inked.panels for x in p.outline if x.kind == "outline" and x.name.startswith("hem")]
    return seat.place(laid.inked.surface.points(np.vstack(lines), MIDDLE))


@pytest.mark.parametrize("body", BODIES)
def test_a_plate_reaches_behind_the_hem_by_what_leaning_back_opens(body):
    """20 degrees about the wearer's left-right axis through the middle of the waist: the front goes up."""
    costume = worn(with_plate("breastplate"), readings=BODIES[body])
    (slide,) = slides_of(costume, costume.pieces[0], "left")
    hem = hem_of(costume)
    at = costume.figure.joints["waist"].at
    front = int(np.abs(hem[:, 0]).argmin())
    ways = [Rotation.from_euler("x", turn, degrees=True).apply(hem - at) + at for turn in (20, -20)]
    (back,) = [way for way in ways if way[front, 2] > hem[front, 2]]
    assert slide.opens == pytest.approx((back - hem)[:, 2].max(), abs=0.5)
    assert slide.reach == pytest.approx(slide.opens + STAYS)
    assert 25 <= slide.reach <= 70
    assert slide.edge == "hem"


def test_nothing_is_said_where_leaning_back_opens_nothing():
    """A back closes, hips and limbs do not follow."""
    for template in ("backplate", "faulds", "gorget", "bracer", "greave"):
        costume = worn(with_plate(template))
        piece = costume.pieces[0]
        assert slides_of(costume, piece, piece.sides[0]) == ()
    other = worn(with_plate("breastplate", PLATE.model_copy(update={"kind": "emblem"})))
    assert slides_of(other, other.pieces[0], "left") == ()


def test_an_edge_that_the_maker_names_is_asked():
    """The neckline goes back, and opens nothing; an edge that is not there any more is not asked."""
    found = []
    for edge in ("hem", "neckline", "gone"):
        costume = worn(with_plate("breastplate", PLATE.model_copy(update={"edge": edge})))
        found.append([s.edge for s in slides_of(costume, costume.pieces[0], "left")])
    assert found == [["hem"], [], ["hem"]]
