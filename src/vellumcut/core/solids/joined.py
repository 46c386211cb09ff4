"""A solid that stands on another piece: its foot, as it is drawn there."""

from collections.abc import Mapping

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.design.making import Detail, MotifRing
from vellumcut.core.design.parts import Plate
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.solids.made import PLATES, shell_of

Array = NDArray[np.float64]
Faces = NDArray[np.int64]

LOWEST = 0.5
"""mm within which places belong to a solid's foot."""


def foot_of(design: PieceDesign) -> shapely.Polygon:
    """What a solid covers of what it stands on, mm: within the outer face of its lower end. Raises CraftError for one
    that stands on nothing."""
    solid = design.solid
    if solid is None or solid.kind in PLATES:
        raise CraftError("Only a shape with a lower end stands on another piece", "making.details")
    shell = shell_of(solid, design.foam)
    low = shell.vertices[:, 2].min()
    at_foot = shell.vertices[shell.faces][:, :, 2] <= low + LOWEST
    outer = shell.offset(shell.depth_of(design.foam, design.foam))[at_foot]
    inner = shell.vertices[shell.faces][at_foot]
    foot = shapely.convex_hull(shapely.MultiPoint(np.vstack([outer, inner])[:, :2]))
    if foot.geom_type != "Polygon" or foot.area < 20:
        raise CraftError("It has no lower end to stand on", "making.details")
    return foot.simplify(0.05)


def outer_face(design: PieceDesign) -> tuple[Array, Faces]:
    """The outer face of a solid in its foam, to be seen: (n, 3) mm, and (m, 3) triangles, outward. Places at folds are
    there once for each part."""
    shell = shell_of(design.solid, design.foam)
    corners = shell.offset(shell.depth_of(design.foam, design.foam)).reshape(-1, 3)
    owner = np.repeat(shell.part, 3)[:, None]
    _, first, same = np.unique(np.hstack([corners.round(3), owner]), axis=0, return_index=True, return_inverse=True)
    return corners[first], same.reshape(-1, 3).astype(np.int64)


def with_foot(detail: Detail, pieces: Mapping[str, PieceDesign]) -> Detail:
    """A joined part with its foot's outline as that piece is now; as it was where there is no such piece. pieces: of
    the costume, by name."""
    other = pieces.get(detail.of)
    if not detail.of or other is None or not isinstance(detail.shape, Plate):
        return detail
    try:
        foot = foot_of(other)
    except CraftError:
        return detail
    low_x, low_y, high_x, _ = foot.bounds
    ring = [(round(x - low_x, 3), round(y - low_y, 3)) for x, y in np.array(foot.exterior.coords)[:-1].tolist()]
    shape = detail.shape.model_copy(update={"wide": high_x - low_x})
    return detail.model_copy(update={"motif": (MotifRing(points=tuple(ring)),), "shape": shape})


def with_feet(design: PieceDesign, pieces: Mapping[str, PieceDesign]) -> PieceDesign:
    """A piece's design with the feet of all that is joined to it."""
    if not any(d.of for d in design.making.details):
        return design
    details = tuple(with_foot(d, pieces) for d in design.making.details)
    return design.model_copy(update={"making": design.making.model_copy(update={"details": details})})
