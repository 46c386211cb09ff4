"""Tables. Only what a person decided is stored; every result is computed again from these rows."""

from datetime import date
from typing import Any, ClassVar

from sqlalchemy import JSON, ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

Json = dict[str, Any]


class Base(DeclarativeBase):
    type_annotation_map: ClassVar = {Json: JSON, list[Json]: JSON}
    ABSENT: ClassVar[Json] = {"removed": True}
    """How a row looks once the act that wrote it is undone. Rows stay: timers, cautions and kept versions point at
    them, and a number is never given twice. Nothing: undo leaves such rows as they are."""


class Wearer(Base):
    __tablename__ = "wearer"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    note: Mapped[str] = mapped_column(Text, default="")
    removed: Mapped[bool] = mapped_column(default=False)


class MeasurementSet(Base):
    """One dated set. readings: core ``Measurements`` as JSON; readings_schema: its version."""

    __tablename__ = "measurement_set"
    id: Mapped[int] = mapped_column(primary_key=True)
    wearer_id: Mapped[int] = mapped_column(ForeignKey("wearer.id"), index=True)
    taken_on: Mapped[date]
    readings: Mapped[Json]
    readings_schema: Mapped[int] = mapped_column(default=1)
    removed: Mapped[bool] = mapped_column(default=False)


class Build(Base):
    """A costume in work for one wearer. dart_edges: core ``DartEdges``, how its darts are cut. schools: core
    ``Schools``, what it does otherwise than usual."""

    __tablename__ = "build"
    id: Mapped[int] = mapped_column(primary_key=True)
    wearer_id: Mapped[int] = mapped_column(ForeignKey("wearer.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    event_name: Mapped[str] = mapped_column(String(120), default="")
    event_on: Mapped[date | None]
    dart_edges: Mapped[str] = mapped_column(String(20), default="by fold")
    schools: Mapped[Json] = mapped_column(default=dict)
    removed: Mapped[bool] = mapped_column(default=False)


class Piece(Base):
    """One item of armour. design: core ``PieceDesign`` as JSON; design_schema: its version."""

    __tablename__ = "piece"
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(default=0)
    design: Mapped[Json]
    design_schema: Mapped[int] = mapped_column(default=1)
    removed: Mapped[bool] = mapped_column(default=False)


class PieceVersion(Base):
    """A kept pattern: all it was made from, for ever. Never changed, never deleted."""

    __tablename__ = "piece_version"
    __table_args__ = (UniqueConstraint("piece_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id"), index=True)
    number: Mapped[int]
    name: Mapped[str] = mapped_column(String(120))
    kept_at: Mapped[float]
    design: Mapped[Json]
    readings: Mapped[Json]
    removed: Mapped[bool] = mapped_column(default=False)


class TickFields:
    """What a maker did about a step. step: its key, with "#" and a part's name for one coat or check. answer: to its
    question. took: minutes. figures: what it measured when it was done, with its title; empty in rows of older
    programs."""

    step: Mapped[str] = mapped_column(String(160))
    done_at: Mapped[float | None]
    answer: Mapped[str] = mapped_column(String(10), default="")
    begun_at: Mapped[float | None] = mapped_column(default=None)
    took: Mapped[float | None] = mapped_column(default=None)
    note: Mapped[str] = mapped_column(Text, default="")
    figures: Mapped[Json] = mapped_column(JSON, default=dict)


class StepTick(TickFields, Base):
    """A build step of a piece, done or begun."""

    __tablename__ = "step_tick"
    ABSENT: ClassVar[Json] = {"done_at": None, "begun_at": None, "answer": "", "note": "", "figures": {}}
    __table_args__ = (UniqueConstraint("piece_id", "step"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id"), index=True)


class CostumeTick(TickFields, Base):
    """A step of the whole costume, done or begun."""

    __tablename__ = "costume_tick"
    ABSENT: ClassVar[Json] = {"done_at": None, "begun_at": None, "answer": "", "note": "", "figures": {}}
    __table_args__ = (UniqueConstraint("build_id", "step"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)


class CautionSeen(Base):
    """A caution the maker has acknowledged for a build."""

    __tablename__ = "caution_seen"
    ABSENT: ClassVar[Json] = {}
    __table_args__ = (UniqueConstraint("build_id", "caution"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    caution: Mapped[str] = mapped_column(String(40))
    seen_at: Mapped[float]


class Timer(Base):
    """A running or ended timer. Seconds are counted from started_at by the wall clock, so a restart loses nothing."""

    __tablename__ = "timer"
    ABSENT: ClassVar[Json] = {"stopped_at": 0.0}
    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    piece_id: Mapped[int | None] = mapped_column(ForeignKey("piece.id"))
    label: Mapped[str] = mapped_column(String(200))
    started_at: Mapped[float]
    ready_after: Mapped[float]
    warn_after: Mapped[float]
    closes_after: Mapped[float]
    stopped_at: Mapped[float | None]
    heard: Mapped[str] = mapped_column(String(20), default="")
    step: Mapped[str] = mapped_column(String(160), default="")


class LogEntry(Base):
    """A note. worn: core ``Wearing``, where it tells of a day in the costume; empty otherwise."""

    __tablename__ = "log_entry"
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    piece_id: Mapped[int | None] = mapped_column(ForeignKey("piece.id"))
    written_at: Mapped[float]
    text: Mapped[str] = mapped_column(Text)
    worn: Mapped[Json] = mapped_column(default=dict)
    removed: Mapped[bool] = mapped_column(default=False)


class FitSession(Base):
    """A fitting. findings: list of core ``FitFinding``; accepted_version: the version that answers it."""

    __tablename__ = "fit_session"
    id: Mapped[int] = mapped_column(primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id"), index=True)
    fitted_at: Mapped[float]
    findings: Mapped[list[Json]]
    note: Mapped[str] = mapped_column(Text, default="")
    accepted_version: Mapped[int | None]
    removed: Mapped[bool] = mapped_column(default=False)


class Scan(Base):
    """A scanned body. file: name in the data folder's ``scans``. stance: core ``Stance`` as JSON."""

    __tablename__ = "scan"
    id: Mapped[int] = mapped_column(primary_key=True)
    wearer_id: Mapped[int] = mapped_column(ForeignKey("wearer.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    file: Mapped[str] = mapped_column(String(100))
    taken_at: Mapped[float]
    triangles: Mapped[int]
    stance: Mapped[Json]
    warnings: Mapped[list[str]] = mapped_column(JSON)
    removed: Mapped[bool] = mapped_column(default=False)


class TracedPhotograph(Base):
    """A photograph of pieces among marker cards. file, above: names in ``traces`` and ``above``, as it was taken and as
    seen from above. floor: name in ``floors`` of the one of the bare floor, or nothing. side: mm of the cards' black
    squares. found: as ``formats.trace_json`` writes it. shapes: core ``FlatShape`` for each piece as the maker left it,
    in the picture's mm, y up.
    """

    __tablename__ = "traced_photograph"
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    file: Mapped[str] = mapped_column(String(100))
    above: Mapped[str] = mapped_column(String(100))
    floor: Mapped[str] = mapped_column(String(100), default="", server_default="")
    taken_at: Mapped[float]
    side: Mapped[float]
    found: Mapped[Json]
    shapes: Mapped[list[Json]]
    removed: Mapped[bool] = mapped_column(default=False)


class ReferencePicture(Base):
    """A picture under a piece's ink. file: name in ``pictures``. size: pixels. placing: where it lies on the sheet."""

    __tablename__ = "reference_picture"
    id: Mapped[int] = mapped_column(primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    file: Mapped[str] = mapped_column(String(100))
    size: Mapped[list[int]] = mapped_column(JSON)
    placing: Mapped[Json]
    removed: Mapped[bool] = mapped_column(default=False)


class BenchPicture(Base):
    """A photograph of a step, or, where it has no step, of the reference. words: which version, which side, what it
    shows. file: name in ``photographs``."""

    __tablename__ = "bench_picture"
    id: Mapped[int] = mapped_column(primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id"), index=True)
    step: Mapped[str] = mapped_column(String(160), default="")
    words: Mapped[str] = mapped_column(String(200), default="")
    file: Mapped[str] = mapped_column(String(100))
    taken_at: Mapped[float]
    removed: Mapped[bool] = mapped_column(default=False)


class SheetLayout(Base):
    """How the parts of one foam of a build lie on sheets. material: its kind and thickness. tool: what it is cut with.
    places: where parts lie that are not cut yet, core ``Placed`` without its outline. cut: sheets that were cut, with
    their parts and what was left."""

    __tablename__ = "sheet_layout"
    id: Mapped[int] = mapped_column(primary_key=True)
    build_id: Mapped[int] = mapped_column(ForeignKey("build.id"), index=True)
    material: Mapped[str] = mapped_column(String(40))
    tool: Mapped[str] = mapped_column(String(20), default="knife")
    places: Mapped[list[Json]] = mapped_column(JSON)
    cut: Mapped[list[Json]] = mapped_column(JSON)
    removed: Mapped[bool] = mapped_column(default=False)


class Setting(Base):
    """One choice that holds for the whole workshop, such as the unit shown."""

    __tablename__ = "setting"
    ABSENT: ClassVar[Json] = {"value": {}}
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(40), unique=True)
    value: Mapped[Json]


class Change(Base):
    """One undoable act: the rows it touched, before and after. tab: the window it was made in, its own made-up word."""

    __tablename__ = "change"
    __table_args__ = {"sqlite_autoincrement": True}  # noqa: RUF012
    id: Mapped[int] = mapped_column(primary_key=True)
    made_at: Mapped[float]
    tab: Mapped[str] = mapped_column(String(40), default="")
    words: Mapped[str] = mapped_column(String(200))
    rows: Mapped[list[Json]]
    undone: Mapped[bool] = mapped_column(default=False)
