"""Ink of a piece as it is read on its wearer's body, saved or just drawn."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import BodyPart, Side
from vellumcut.core.body.tube import TubeSurface
from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.sheet import InkSheet
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import PanelInk
from vellumcut.core.ink.regions import InkReading, read_ink
from vellumcut.core.ink.templates import armour_surface, ink_sheet
from vellumcut.formats.body.shapes import Shape, armour_panels, join_meshes, shape_mesh
from vellumcut.service.body.scans import scanned_tubes, scans_folder
from vellumcut.service.keeping.builds import Work
from vellumcut.service.pattern.patterns import drawn_tube
from vellumcut.service.rows import fetch, readings_of
from vellumcut.store.database import Store
from vellumcut.store.models import MeasurementSet

Array = NDArray[np.float64]
Faces = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class InkView:
    """sheet: the strokes. foam: vertices (n, 3) in mm and faces of the armour's outer face over every panel."""

    sheet: InkSheet
    reading: InkReading
    foam: tuple[Array, Faces]


def drawn_side(work: Work) -> Side:
    """Whose limb the sheet shows: the left one, unless the piece is for the right only."""
    return "right" if work.design.side == "right" and TEMPLATES[work.design.template].part not in WHOLE else "left"


def tube_of(work: Work) -> TubeSurface:
    return drawn_tube(work, drawn_side(work))


def tube_of_set(store: Store, number: int, part: BodyPart, side: Side) -> TubeSurface:
    """A part of the body as one set of measures gives it. Raises CraftError."""
    with store.read() as session:
        readings = readings_of(fetch(session, MeasurementSet, number))
    return build_tube(readings, part, side, scanned_tubes(scans_folder(store), readings))


def view_ink(work: Work, drawn: InkSheet | None = None) -> InkView:
    """The piece's ink, or other strokes tried on it. Raises CraftError when the body is missing."""
    tube = tube_of(work)
    sheet = drawn if drawn is not None else ink_sheet(tube, work.design)
    design = work.design.model_copy(update={"ink": sheet})
    reading = read_ink(tube, sheet, design.halves == "as measured")
    surface = armour_surface(tube, design)
    return InkView(sheet, reading, panels_shape(surface, reading))


def panels_shape(surface: ArmourSurface, reading: InkReading) -> tuple[Array, Faces]:
    """Every panel's outer face, mirror images too, as one mesh."""
    return join_meshes([mesh for _, mesh in numbered_shapes(surface, panels_of(reading))])


def panels_of(reading: InkReading) -> list[tuple[PanelInk, bool]]:
    """The panels that are enclosed, and whether each has a mirror image."""
    return [(region.ink, region.twin) for region in reading.regions]


def numbered_shapes(
    surface: ArmourSurface, panels: Sequence[tuple[PanelInk, bool]]
) -> list[tuple[int, tuple[Array, Faces]]]:
    """Every panel's outer face by its number, mirror images too. panels: with whether they have one.

    A panel too thin to be meshed is left out of the picture only.
    """
    parts: list[tuple[int, tuple[Array, Faces]]] = []
    for ink, twin in panels:
        try:
            ((points, faces),) = armour_panels(surface, [ink])
        except CraftError:
            continue
        parts.append((ink.number, (points, faces)))
        if twin:
            parts.append((ink.number, (points * np.array([-1.0, 1.0, 1.0]), faces[:, ::-1])))
    return parts


def shape_of(work: Work, what: Shape) -> tuple[Array, Faces]:
    """The body's tube, the armour or the ink of a piece as one mesh, in mm. Raises CraftError."""
    view = view_ink(work)
    tube = tube_of(work)
    surface = armour_surface(tube, work.design.model_copy(update={"ink": view.sheet}))
    if what == "armour":
        return view.foam
    return shape_mesh(surface, [], view.sheet, what)
