"""Builds and their pieces."""

import hashlib
import itertools
from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import cached_property
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.body.measures import Measurements
from vellumcut.core.cast.stations import Scanned
from vellumcut.core.design.making import Schools
from vellumcut.core.design.piece import DartEdges, PieceDesign, TemplateName
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.gun import HeatGun
from vellumcut.core.foam.sheets import FoamGive
from vellumcut.core.foam.shelf import ShelfSheet
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.make.owned import Owned
from vellumcut.core.solids.joined import with_feet
from vellumcut.formats.keeping.build_json import BuildFile, BuildPiece, BuildWearer
from vellumcut.service.body.scans import scanned_tubes, scans_folder
from vellumcut.service.body.wearers import newest_readings
from vellumcut.service.keeping.settings import gives_in, gun_in, owned_in, shelf_in
from vellumcut.service.merging import beside_others
from vellumcut.service.rows import design_of, fetch
from vellumcut.store.database import Store
from vellumcut.store.models import Build, Json, MeasurementSet, Piece, Wearer


@dataclass(frozen=True)
class Mate:
    """A piece of the same costume."""

    piece_id: int
    name: str
    design: PieceDesign


@dataclass(frozen=True)
class Work:
    """All a pattern is made from. costume: every piece of its build, as it is now."""

    piece_id: int
    build_id: int
    name: str
    build: str
    design: PieceDesign
    readings: Measurements
    scanned: Scanned = field(default_factory=dict)
    gives: tuple[FoamGive, ...] = ()
    dart_edges: DartEdges = "by fold"
    gun: HeatGun = field(default_factory=HeatGun)
    shelf: tuple[ShelfSheet, ...] = ()
    schools: Schools = field(default_factory=Schools)
    owned: Owned = field(default_factory=Owned)
    costume: tuple[Mate, ...] = ()

    @cached_property
    def key(self) -> str:
        """What the piece's panels are drawn from: its design and the body."""
        return f"{self.design.model_dump_json()}|{self.readings.model_dump_json()}"

    @cached_property
    def costume_key(self) -> str:
        """What the costume on its wearer is made from, this piece as it is worked on."""
        designs = {m.piece_id: m.design for m in self.costume} | {self.piece_id: self.design}
        rows = "|".join(f"{key}{design.model_dump_json()}" for key, design in sorted(designs.items()))
        return hashlib.sha256(f"{rows}|{self.readings.model_dump_json()}".encode()).hexdigest()


def list_builds(store: Store) -> list[tuple[Build, Wearer, list[Piece]]]:
    with store.read() as session:
        rows = session.execute(select(Build, Wearer).join(Wearer).where(~Build.removed).order_by(Build.id))
        return [(build, wearer, _pieces(session, build.id)) for build, wearer in rows]


def list_pieces(store: Store, build: int) -> list[Piece]:
    with store.read() as session:
        fetch(session, Build, build)
        return _pieces(session, build)


def get_piece(store: Store, number: int) -> Piece:
    """Raises NotFound."""
    with store.read() as session:
        return fetch(session, Piece, number)


def _pieces(session: Session, build: int) -> list[Piece]:
    wanted = select(Piece).where(Piece.build_id == build, ~Piece.removed).order_by(Piece.position, Piece.id)
    return list(session.scalars(wanted))


def add_build(
    store: Store,
    name: str,
    wearer: int,
    event_name: str = "",
    event_on: date | None = None,
    dart_edges: DartEdges = "by fold",
    schools: Json | None = None,
) -> Build:
    with store.write(f"Start {name}") as session:
        fetch(session, Wearer, wearer)
        build = Build(name=name, wearer_id=wearer, event_name=event_name, event_on=event_on, dart_edges=dart_edges)
        build.schools = schools or {}
        session.add(build)
    return build


def change_build(store: Store, number: int, seen: str | None = None, **fields: Any) -> Build:
    """fields: any of name, wearer_id, event_name, event_on, dart_edges, schools. seen: see ``beside_others``. Raises
    Overtaken."""
    with store.write("Change the build") as session:
        build = fetch(session, Build, number)
        if "wearer_id" in fields:
            fetch(session, Wearer, fields["wearer_id"])
        plain = fields | ({"event_on": fields["event_on"].isoformat()} if fields.get("event_on") else {})
        for key, value in beside_others(session, build, plain, seen).items():
            setattr(build, key, date.fromisoformat(value) if key == "event_on" and value else value)
    return build


def remove_build(store: Store, number: int) -> None:
    with store.write("Remove the build") as session:
        fetch(session, Build, number).removed = True


def _free_name(wanted: str, taken: Collection[str]) -> str:
    """The name, numbered where another piece of the build has it: a build file tells pieces apart by their names."""
    numbered = (wanted if n == 1 else f"{wanted} {n}" for n in itertools.count(1))
    return next(name for name in numbered if name not in taken)


def add_piece(store: Store, build: int, name: str, design: PieceDesign) -> Piece:
    """A piece more; its name is numbered where it is taken."""
    wanted = name or TEMPLATES[design.template].word
    with store.write(f"Add {wanted}") as session:
        fetch(session, Build, build)
        title = _free_name(wanted, [p.name for p in _pieces(session, build)])
        last = max((p.position for p in _pieces(session, build)), default=-1)
        piece = Piece(build_id=build, name=title, position=last + 1, design=design.model_dump(mode="json"))
        session.add(piece)
    return piece


STARTER: tuple[TemplateName, ...] = (
    "breastplate", "backplate", "gorget", "pauldron", "segmented rerebrace", "bracer", "faulds", "cuisse", "poleyn",
    "ridged greave", "sabaton cap",
)  # fmt: skip
"""A whole costume, in the order in which pieces lie over each other from the trunk out."""


def add_costume(store: Store, build: int, templates: tuple[TemplateName, ...] = STARTER) -> None:
    """Lay several pieces on the figure in one go, but for those it has; one undo takes them away again."""
    with store.write(f"Lay {len(templates)} pieces") as session:
        fetch(session, Build, build)
        present = _pieces(session, build)
        last = max((p.position for p in present), default=-1)
        there = {design_of(p).worn_as for p in present}
        wanted = [t for t in templates if t not in there]
        for k, template in enumerate(wanted, start=1):
            design = starter_design(template).model_dump(mode="json")
            session.add(Piece(build_id=build, name=TEMPLATES[template].word, position=last + k, design=design))


def change_piece(
    store: Store, number: int, name: str | None, design: PieceDesign | None, seen: str | None = None
) -> Piece:
    """seen: see ``beside_others``. Raises CraftError when another piece of the build has the name, Overtaken."""
    with store.write("Change the piece") as session:
        piece = fetch(session, Piece, number)
        if name and any(p.name == name for p in _pieces(session, piece.build_id) if p.id != number):
            raise CraftError(f"Another piece of this build is called {name}; give this one its own name", "name")
        mine: dict[str, Any] = {"name": name} if name else {}
        if design is not None:
            mine["design"] = design.model_dump(mode="json")
        kept = beside_others(session, piece, mine, seen)
        if kept.get("name", piece.name) != piece.name:
            _renamed(session, piece, kept["name"])
        piece.name = kept.get("name", piece.name)
        piece.design = PieceDesign.model_validate(kept.get("design", piece.design)).model_dump(mode="json")
    return piece


def _renamed(session: Session, piece: Piece, name: str) -> None:
    """Pieces that lie over one, or close on one, go on doing so under its new name."""
    for other in _pieces(session, piece.build_id):
        over, rig = other.design.get("over", []), other.design.get("rig", {})
        closings = rig.get("closings", [])
        if piece.name in over:
            other.design = {**other.design, "over": [name if x == piece.name else x for x in over]}
        if any(x.get("piece") == piece.name for x in closings):
            rows = [{**x, "piece": name if x.get("piece") == piece.name else x.get("piece", "")} for x in closings]
            other.design = {**other.design, "rig": {**rig, "closings": rows}}


def remove_piece(store: Store, number: int) -> None:
    with store.write("Remove a piece") as session:
        fetch(session, Piece, number).removed = True


def work_on(store: Store, piece: int) -> Work:
    """What the piece's pattern is made from now: its design and its wearer's newest readings."""
    with store.read() as session:
        work = work_in(session, piece)
    return replace(work, scanned=scanned_tubes(scans_folder(store), work.readings))


def work_for(store: Store, build: int, design: PieceDesign) -> Work:
    """As ``work_on``, for a piece that is not there yet. Raises NotFound."""
    with store.read() as session:
        row = fetch(session, Build, build)
        work = Work(0, build, "", row.name, design, newest_readings(session, row.wearer_id))
    return replace(work, scanned=scanned_tubes(scans_folder(store), work.readings))


def works_on(store: Store, build: int) -> list[Work]:
    """As ``work_on``, for every piece of a build, in its order. Raises NotFound."""
    with store.read() as session:
        works = _works(session, fetch(session, Build, build))
    scanned = scanned_tubes(scans_folder(store), works[0].readings) if works else {}
    return [replace(work, scanned=scanned) for work in works]


def work_in(session: Session, piece: int) -> Work:
    row = fetch(session, Piece, piece)
    return next(w for w in _works(session, fetch(session, Build, row.build_id)) if w.piece_id == piece)


def joined(pieces: Sequence[Mate]) -> tuple[Mate, ...]:
    """Pieces of a costume with the feet of what stands on them."""
    designs = {m.name: m.design for m in pieces}
    return tuple(replace(m, design=with_feet(m.design, designs)) for m in pieces)


def _works(session: Session, build: Build) -> list[Work]:
    """Every piece of a build as work: what they share is read once."""
    costume = joined([Mate(p.id, p.name, design_of(p)) for p in _pieces(session, build.id)])
    if not costume:
        return []
    first = costume[0]
    shared = Work(
        first.piece_id,
        build.id,
        first.name,
        build.name,
        first.design,
        _readings(session, build.wearer_id, costume),
        gives=gives_in(session),
        dart_edges=build.dart_edges,  # type: ignore[arg-type]
        gun=gun_in(session),
        shelf=shelf_in(session),
        schools=schools_of(build),
        owned=owned_in(session),
        costume=costume,
    )
    return [replace(shared, piece_id=m.piece_id, name=m.name, design=m.design) for m in costume]


def _readings(session: Session, wearer: int, costume: Sequence[Mate]) -> Measurements:
    """What the wearer measures; nothing of one who was never measured, where a solid asks for none. Raises
    CraftError."""
    try:
        return newest_readings(session, wearer)
    except CraftError:
        if any(m.design.solid for m in costume):
            return Measurements(taken_on=date.min)
        raise


def schools_of(build: Build) -> Schools:
    """How this build is made."""
    return Schools.model_validate(build.schools or {})


def export_build(store: Store, number: int) -> BuildFile:
    with store.read() as session:
        build = fetch(session, Build, number)
        wearer = fetch(session, Wearer, build.wearer_id)
        names: list[str] = []
        for piece in _pieces(session, number):
            names.append(_free_name(piece.name, names))
        rows = zip(names, _pieces(session, number), strict=True)
        pieces = tuple(BuildPiece(name=name, **design_of(p).model_dump()) for name, p in rows)
        readings = newest_readings(session, wearer.id)
        return BuildFile(
            name=build.name,
            wearer=BuildWearer(name=wearer.name, measurements=readings),
            pieces=pieces,
            dart_edges=build.dart_edges,  # type: ignore[arg-type]
            foam_gives=gives_in(session),
            schools=schools_of(build),
        )


def add_from_file(session: Session, build: BuildFile, wearer: int | None = None) -> Build:
    """A build from a file. wearer: whose it is, who has its readings already; None makes one of its own."""
    if wearer is None:
        person = Wearer(name=build.wearer.name)
        session.add(person)
        session.flush()
        readings = build.wearer.measurements
        kept = readings.model_dump(mode="json")
        session.add(MeasurementSet(wearer_id=person.id, taken_on=readings.taken_on, readings=kept))
        wearer = person.id
    row = Build(name=build.name, wearer_id=wearer, event_on=None, dart_edges=build.dart_edges)
    row.schools = build.schools.model_dump()
    session.add(row)
    session.flush()
    for position, piece in enumerate(build.pieces):
        design = piece.design.model_dump(mode="json")
        session.add(Piece(build_id=row.id, name=piece.title, position=position, design=design))
    session.flush()
    return row
