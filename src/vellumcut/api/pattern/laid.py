"""What is laid on a piece, and the cut list of a build."""

from collections.abc import Sequence
from typing import Literal

from fastapi import Response

from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.files import Unit, download
from vellumcut.api.schemas import In, Out, Points
from vellumcut.api.views import points
from vellumcut.core.design.making import Detail
from vellumcut.core.design.parts import Border
from vellumcut.core.design.sheet import Key
from vellumcut.core.pattern.laid_on.places import Shown
from vellumcut.core.pattern.pages import PaperName
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.service.keeping import builds
from vellumcut.service.making import plans
from vellumcut.service.pattern import laid

router = routes("parts")


class ShownOut(Out):
    """Lines on a drawn panel, mm. code: the panel's."""

    code: str
    rings: list[Points]


class LineThereOut(Out):
    """A line of the piece that something can be laid along, and where it shows. length: mm."""

    name: str
    kind: Literal["edge", "seam", "inked"]
    length: float
    shown: list[ShownOut]


class LaidOut(Out):
    """One detail with its shape. length: along its strips or its line, count: how many sit in it, over all copies; mm.
    minutes, grams: None while it is only tried. problems: why some of it cannot lie there, and what it lies over;
    wrong: where that is. worn: its lines on the piece as it is worn, (n, 3) mm. detail: as it was read, lengths in mm
    whatever unit they were typed in."""

    key: str
    name: str
    words: str
    length: float
    count: int
    packs: int
    width: float
    minutes: float | None
    grams: float | None
    problems: list[str]
    shown: list[ShownOut]
    wrong: list[ShownOut]
    worn: list[Points]
    detail: Detail


class LaidOnOut(Out):
    lines: list[LineThereOut]
    rows: list[LaidOut]


class TryPartIn(In):
    """A detail as it would lie."""

    detail: Detail


@router.get("/pieces/{piece}/laid")
def laid_on(store: StoreDep, piece: Id) -> LaidOnOut:
    """Lines that something can be laid along, and what lies there."""
    work = builds.work_on(store, piece)
    return LaidOnOut(
        lines=[
            LineThereOut(name=x.line.name, kind=x.line.kind, length=x.line.length, shown=_shown(x.shown))
            for x in laid.lines_of(work)
        ],
        rows=[_view(row) for row in laid.laid_rows(work, plans.tempo_of(store))],
    )


@router.post("/pieces/{piece}/laid/try")
def try_part(store: StoreDep, piece: Id, body: TryPartIn) -> LaidOut:
    """One detail as it would lie, while a hand drags it. Keeps nothing."""
    return _view(laid.try_part(builds.work_on(store, piece), body.detail))


@router.post("/pieces/{piece}/laid/mend")
def mend_part(store: StoreDep, piece: Id, body: TryPartIn) -> LaidOut:
    """The detail where it fits, as near as can be to where it was. Keeps nothing."""
    return _view(laid.mend_part(builds.work_on(store, piece), body.detail))


@router.get("/pieces/{piece}/laid/{key}/sizes.pdf", response_class=Response)
def sizes_pdf(store: StoreDep, piece: Id, key: Key, paper: PaperName = "A4", unit: Unit = "mm") -> Response:
    """A plate's outline on paper at three sizes, to hold against the wearer before one is cut."""
    made = laid.sizes_of(builds.work_on(store, piece), key)
    return download(write_pdf(made, paper, unit), f"{made.name} sizes", "pdf", "application/pdf")


def _view(row: laid.LaidRow) -> LaidOut:
    detail = row.sum.detail
    return LaidOut(
        key=detail.key,
        name=detail.name,
        words=row.sum.words,
        length=row.sum.length,
        count=row.sum.count,
        packs=row.sum.packs,
        width=detail.shape.width if isinstance(detail.shape, Border) else detail.size,
        minutes=row.minutes,
        grams=row.grams,
        problems=[*row.sum.problems, *row.crosses],
        shown=_shown(row.shown),
        wrong=_shown(row.wrong),
        worn=[points(x) for x in row.worn],
        detail=detail,
    )


def _shown(rows: Sequence[Shown]) -> list[ShownOut]:
    return [ShownOut(code=x.code, rings=[points(r) for r in x.rings]) for x in rows]
