"""Solids: the kinds there are, and how one looks."""

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.schemas import Out
from vellumcut.api.views import points
from vellumcut.core.design.solids import Solid, SolidKind
from vellumcut.core.solids.measures import MEASURES, SHARED, Asked, Measure
from vellumcut.core.solids.words import STARTERS, WORDS
from vellumcut.service.keeping import builds
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
