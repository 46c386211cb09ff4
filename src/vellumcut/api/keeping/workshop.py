"""The workshop as a whole: tables of the craft, settings, undo."""

from dataclasses import asdict

from vellumcut import __version__
from vellumcut.api import schemas as s
from vellumcut.api.deps import StoreDep, routes
from vellumcut.api.keeping.schemas import NextChangeOut, UndoOut
from vellumcut.core.body.segments import SEGMENTS
from vellumcut.core.body.torso import TORSO_GIRTHS, TORSO_LENGTHS
from vellumcut.core.design.piece import USUAL_GAP
from vellumcut.core.design.sheet import STROKE_KINDS
from vellumcut.core.foam.sheets import CATALOGUE, KIND_WORDS, usual_give
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.pattern.pages import PAPERS
from vellumcut.service.keeping import settings
from vellumcut.service.keeping.settings import FoamGives, Settings

router = routes("workshop")


@router.get("/catalogue")
def catalogue() -> s.CatalogueOut:
    segments = [
        s.SegmentOut(
            name=x.name,
            word=x.word,
            stations=[s.StationOut.model_validate(st) for st in x.stations],
            gate=x.gate.name if x.gate else "",
            gate_how=x.gate.how if x.gate else "",
        )
        for x in SEGMENTS.values()
    ]
    return s.CatalogueOut(
        segments=segments,
        templates=[
            s.TemplateOut(
                name=t.name,
                word=t.word,
                segment=t.part,
                drawn=t.lay is not None,
                sizes=[s.SizeOut.model_validate(x) for x in t.sizes],
                choices=[s.ChoiceOut.model_validate(x) for x in t.choices],
                design=starter_design(t.name),
            )
            for t in TEMPLATES.values()
        ],
        torso_girths=[s.MeasureOut.model_validate(m) for m in TORSO_GIRTHS.values()],
        torso_lengths=[s.MeasureOut.model_validate(m) for m in TORSO_LENGTHS.values()],
        stroke_kinds={str(k): v for k, v in STROKE_KINDS.items()},
        sheets=[s.SheetOut(thickness=x.thickness, inch=x.inch, kinds=list(x.kinds), use=x.use) for x in CATALOGUE],
        foam_kinds={str(kind): words for kind, words in KIND_WORDS.items()},
        gives=[
            s.GiveOut(kind=kind, thickness=x.thickness, **asdict(usual_give(kind, x.thickness)))
            for x in CATALOGUE
            for kind in x.kinds
        ],
        usual_gap={str(kind): gap for kind, gap in USUAL_GAP.items()},
        papers={str(name): list(size) for name, size in PAPERS.items()},
        version=__version__,
    )


@router.get("/settings")
def read_settings(store: StoreDep) -> Settings:
    return settings.read_settings(store)


@router.put("/settings")
def write_settings(store: StoreDep, body: Settings) -> Settings:
    return settings.write_settings(store, body)


@router.get("/foam-gives")
def read_gives(store: StoreDep) -> FoamGives:
    return settings.read_gives(store)


@router.put("/foam-gives")
def write_gives(store: StoreDep, body: FoamGives) -> FoamGives:
    """Every sheet the maker has measured; the whole list at once."""
    return settings.write_gives(store, body)


@router.get("/undo")
def undo_words(store: StoreDep) -> UndoOut:
    undo, redo = settings.undo_words(store)
    return UndoOut(undo=NextChangeOut.model_validate(undo), redo=NextChangeOut.model_validate(redo))


@router.post("/undo")
def undo(store: StoreDep, change: int | None = None) -> UndoOut:
    """change: the one that is meant, so that no other window's change is taken back unseen; none takes the last."""
    settings.step_history(store, True, change)
    return undo_words(store)


@router.post("/redo")
def redo(store: StoreDep, change: int | None = None) -> UndoOut:
    """As undo."""
    settings.step_history(store, False, change)
    return undo_words(store)
