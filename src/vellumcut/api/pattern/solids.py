"""Solids: the kinds there are, and how one looks."""

from pathlib import Path
from typing import Annotated

from fastapi import Query, Request

from vellumcut.api.deps import Id, StoreDep, routes, takes_file
from vellumcut.api.schemas import Out, PieceOut
from vellumcut.api.uploads import read_upload
from vellumcut.api.views import piece_view, points
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.design.solids import Solid, SolidKind
from vellumcut.core.solids.measures import MEASURES, SHARED, Asked, Measure
from vellumcut.core.solids.words import STARTERS, WORDS
from vellumcut.core.words import SEEN
from vellumcut.formats.body.mesh_files import LARGEST_SCAN, mesh_format
from vellumcut.service.keeping import builds
from vellumcut.service.pattern import models
from vellumcut.service.pattern.solids import view_solid

router = routes("solids")


class ChoiceOut(Out):
    value: str
    word: str


class MeasureOut(Out):
    """A measure as it is asked for."""

    field: str
    word: str
    hint: str
    asked: Asked
    choices: list[ChoiceOut]


class SolidKindOut(Out):
    """solid: with usual measures."""

    kind: SolidKind
    word: str
    about: str
    solid: Solid
    measures: list[MeasureOut]


class SolidOut(Out):
    """positions: x, y, z of each vertex in turn, mm, of the face that was measured. triangles: three vertices each.
    parts: the panel of each. edges: two ends in turn, mm: seams and folds. size: mm."""

    positions: list[float]
    triangles: list[int]
    parts: list[int]
    edges: list[float]
    size: list[float]


@router.get("/solids")
def kinds() -> list[SolidKindOut]:
    return [
        SolidKindOut(
            kind=kind, word=word, about=about, solid=STARTERS[kind],
            measures=[_measure(m) for m in (*MEASURES[kind], *SHARED)],
        )
        for kind, (word, about) in WORDS.items()
    ]  # fmt: skip


def _measure(m: Measure) -> MeasureOut:
    return MeasureOut(
        field=m.field,
        word=m.word,
        hint=m.hint,
        asked=m.asked,
        choices=[ChoiceOut(value=v, word=w) for v, w in m.choices],
    )


class ModelBroughtIn(PieceOut):
    """said: what was found in the file, in words."""

    said: list[str]


class StrainOut(Out):
    """What a model asks of its foam in the mean, per cent, in so many panels."""

    panels: int
    strain: float


@router.post("/builds/{build}/models", status_code=201, openapi_extra=takes_file(LARGEST_SCAN))
async def bring_in_model(
    store: StoreDep,
    build: Id,
    request: Request,
    name: Annotated[str, Query(min_length=1, max_length=200), SEEN],
    template: TemplateName = "breastplate",
) -> ModelBroughtIn:
    """Bring in an OBJ, STL, PLY or GLB mesh as a piece that is unfolded. template: what it goes with."""
    kind = mesh_format(name)

    def read(path: Path) -> ModelBroughtIn:
        made, said = models.piece_from_model(store, build, path, name, template)
        return ModelBroughtIn(**dict(piece_view(store, made)), said=list(said))

    return await read_upload(store, request, read, LARGEST_SCAN, f".{kind}")


class GirthOut(Out):
    """A station of the wearer: mm round the body there, and round the foam's face that a shape's measures are of."""

    name: str
    body: float
    foam: float


@router.get("/pieces/{piece}/girths")
def girths(store: StoreDep, piece: Id, template: TemplateName) -> list[GirthOut]:
    """What a shape would measure round a part of the wearer. template: a piece that is worn there."""
    rows = models.girths_for(builds.work_on(store, piece), template)
    return [GirthOut(name=name, body=body, foam=foam) for name, body, foam in rows]


@router.get("/pieces/{piece}/strains")
def strains(store: StoreDep, piece: Id) -> list[StrainOut]:
    """A model's panels against what they ask of its foam."""
    rows = models.strains_of(builds.work_on(store, piece))
    return [StrainOut(panels=made, strain=strain) for made, strain in {made: s for _, made, s in rows}.items()]


@router.get("/pieces/{piece}/solid")
def solid(store: StoreDep, piece: Id) -> SolidOut:
    seen = view_solid(builds.work_on(store, piece))
    return SolidOut(
        positions=points(seen.vertices.ravel()),
        triangles=seen.faces.ravel().tolist(),
        parts=seen.part.tolist(),
        edges=points(seen.edges.ravel()),
        size=list(seen.size),
    )
