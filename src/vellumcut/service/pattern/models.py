"""Models from mesh files as pieces of a costume."""

from dataclasses import replace
from math import pi
from pathlib import Path
from typing import Literal

from vellumcut.core.design.piece import PieceDesign, TemplateName
from vellumcut.core.design.solids import Model
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.solids.models.clean import pack
from vellumcut.core.solids.models.model import strain_by_panels
from vellumcut.formats.body.mesh_files import mesh_format, read_mesh_file
from vellumcut.service.keeping.builds import Work, add_piece
from vellumcut.service.pattern.patterns import station_girths
from vellumcut.store.database import Store
from vellumcut.store.models import Piece

COUNTS = (1, 2, 3, 4, 6, 9)
"""Numbers of panels that are held against each other."""


def model_from_file(path: Path, name: str) -> tuple[Model, tuple[str, ...]]:
    """A mesh file as a model, and what was found in it, in words. Raises CraftError."""
    read = read_mesh_file(path, "model")
    up: Literal["y", "z"] = "y" if mesh_format(name) in ("glb", "obj") else "z"
    return Model(mesh=pack(read.vertices, read.faces), file=name[-120:], up=up), read.warnings


def piece_from_model(
    store: Store, build: int, path: Path, name: str, template: TemplateName
) -> tuple[Piece, tuple[str, ...]]:
    """A mesh file as a piece of its own, and what was found in it, in words. Raises CraftError, NotFound."""
    solid, said = model_from_file(path, name)
    title = name.rsplit(".", 1)[0][:120] or "Model"
    return add_piece(store, build, title, PieceDesign(template=template, solid=solid)), said


def girths_for(work: Work, template: TemplateName) -> list[tuple[str, float, float]]:
    """Stations of a part of the body, mm round the wearer there, and round the face of the foam that a solid's measures
    are of: off the skin by base layer and ease, and its outer one by the foam, too. Raises CraftError."""
    design = work.design
    off = design.base_layer + design.ease + (0.0 if design.solid and design.solid.inside else design.foam)
    there = replace(work, design=starter_design(template))
    return [(name, girth, girth + 2 * pi * off) for name, girth in station_girths(there)]


def strains_of(work: Work) -> tuple[tuple[int, int, float], ...]:
    """What a model asks of its foam by the number of its panels: asked for, made, per cent in the mean. Raises
    CraftError."""
    solid = work.design.solid
    if not isinstance(solid, Model):
        raise CraftError("Only a model is parted into panels by number", "design.solid")
    try:
        return strain_by_panels(solid, COUNTS)
    except ValueError as error:
        raise CraftError(str(error), "design.solid") from error
