"""Where the parts of a build lie on sheets, as the maker left it; sheets that were cut, and the stock they came of."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import shapely
from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.errors import CraftError
from vellumcut.core.foam.shelf import ShelfSheet, row_of
from vellumcut.core.nest.cut_parts import CopyOfPart, laid_on_sheet
from vellumcut.core.nest.fill import Plan, Rules
from vellumcut.core.nest.kept import KeptCut, KeptPlace
from vellumcut.core.nest.plans import Effort, too_large
from vellumcut.core.nest.shapes import NestSheet, Placed
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.shop.supplies import Bought
from vellumcut.formats.shop.sheet_plan import ShownPart, ShownSheet
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.settings import add_bought_in, change_shelf_in
from vellumcut.service.rows import fetch
from vellumcut.service.shop.nests import (
    CLEARANCE,
    Material,
    MaterialPlan,
    SheetPlan,
    Tool,
    foam_words,
    laid,
    parts_of,
    so_far,
    whole_sheet,
)
from vellumcut.store.database import Store
from vellumcut.store.models import Build, SheetLayout

MOST_OFFCUTS, MOST_SHEETS = 40, 1000
"""Of one foam on the shelf: of more the smallest are left out."""


@dataclass(frozen=True)
class Laid:
    """One material of a build. material: what is not cut yet. plan: None while it was never laid. tool: what
    cuts. whole: how many parts there are, those that are cut among them."""

    material: Material
    tool: Tool
    plan: MaterialPlan | None
    cut: tuple[KeptCut, ...]
    whole: int


def rules_of(tool: Tool) -> Rules:
    return Rules(CLEARANCE[tool], CLEARANCE[tool])


@dataclass(frozen=True)
class Layout:
    """All sheets of a build. missing: pieces that cannot be cut yet, and why."""

    build: str
    materials: tuple[Laid, ...]
    missing: tuple[tuple[str, str], ...]

    def material(self, key: str) -> Laid:
        """Raises NotFound."""
        found = next((m for m in self.materials if m.material.key == key), None)
        if found is None:
            raise NotFound(f"Nothing of this costume is cut from “{key}”")
        return found


def layout_of(store: Store, build: int) -> Layout:
    """The sheets of a build as they are laid now. Raises NotFound."""
    works = builds.works_on(store, build)
    parts = parts_of(works)
    with store.read() as session:
        name = fetch(session, Build, build).name
        rows = {r.material: r for r in _rows(session, build)}
    return Layout(name, tuple(_laid(m, rows.get(m.key)) for m in parts.materials), parts.missing)


def _rows(session: Session, build: int) -> list[SheetLayout]:
    return list(session.scalars(select(SheetLayout).where(SheetLayout.build_id == build, ~SheetLayout.removed)).all())


def _laid(material: Material, row: SheetLayout | None) -> Laid:
    whole = len(material.copies)
    if row is None:
        return Laid(material, "knife", None, (), whole)
    cut = tuple(KeptCut.model_validate(c) for c in row.cut)
    done = {p.key for c in cut for p in c.parts}
    material = replace(material, copies=tuple(c for c in material.copies if c.key not in done))
    tool: Tool = row.tool if row.tool in CLEARANCE else "knife"
    plan = _plan(material, _places(row), rules_of(tool)) if material.copies else None
    return Laid(material, tool, plan, cut, whole)


def _places(row: SheetLayout) -> list[KeptPlace]:
    return [KeptPlace.model_validate(p) for p in row.places]


def _plan(material: Material, places: Sequence[KeptPlace], rules: Rules) -> MaterialPlan:
    """Parts that are still cut where they were laid; those that came since have no place yet."""
    copies = {c.key: c for c in material.copies}
    sheets = {s.key for s in material.sheets}
    placed = tuple(
        Placed(copies[p.key].part, p.sheet, p.turn, p.x, p.y, p.locked)
        for p in places
        if p.key in copies and p.sheet in sheets
    )
    there = {p.part.key for p in placed}
    used: dict[str, float] = {}
    for p in placed:
        used[p.sheet] = max(used.get(p.sheet, 0.0), p.shape.bounds[2])
    left = tuple(c.part for c in material.copies if c.key not in there)
    return MaterialPlan(material, Plan(placed, used, left), rules)


@dataclass
class Shown:
    """Materials as they are laid while that is searched, by their keys."""

    materials: dict[str, Laid] = field(default_factory=dict)


def start_nest(store: Store, build: int, materials: Sequence[str], tool: Tool, effort: Effort, seed: int) -> Job:
    """Lay parts on sheets, those the maker locked where they are. materials: which; none for all. What was found is
    kept when it ends or is stopped; the job shows what there is so far. Raises NotFound, CraftError."""
    shown = Shown()

    def work(job: Job) -> None:
        job.shown = shown
        job.report(0.0, "Reading every pattern")
        found = layout_of(store, build).materials
        wanted = [m for m in found if (m.material.key in materials or not materials) and m.material.copies]
        if not wanted:
            raise CraftError("There is nothing to lay on sheets yet: measure the wearer, and add a piece")
        try:
            _lay_all(wanted, tool, effort, seed, job, shown)
        finally:
            _keep(store, build, list(shown.materials.values()))

    with store.read() as session:
        name = fetch(session, Build, build).name
    return start_job(f"Laying {name} on sheets", work)


def _lay_all(wanted: Sequence[Laid], tool: Tool, effort: Effort, seed: int, job: Job, shown: Shown) -> None:
    weights = np.array([len(m.material.copies) + 10 for m in wanted])
    begins = np.concatenate([[0], np.cumsum(weights)]) / weights.sum()
    for k, m in enumerate(wanted):

        def heard(plan: MaterialPlan | None, share: float, k: int = k, m: Laid = m) -> None:
            if plan is not None:
                shown.materials[m.material.key] = replace(m, tool=tool, plan=plan)
            job.report(float(begins[k] + share * (begins[k + 1] - begins[k])), so_far(m.material, plan))

        held = [p for p in m.plan.plan.placed if p.locked] if m.plan else []
        laid(m.material, rules_of(tool), effort, seed, held, heard)


def _keep(store: Store, build: int, found: Sequence[Laid]) -> None:
    with store.write("Lay the parts on sheets") as session:
        for one in found:
            row = _row(session, build, one.material.key)
            row.tool = one.tool
            row.places = [_told(p) for p in one.plan.plan.placed] if one.plan else []


def _row(session: Session, build: int, material: str) -> SheetLayout:
    row = next((r for r in _rows(session, build) if r.material == material), None)
    if row is None:
        row = SheetLayout(build_id=build, material=material, tool="knife", places=[], cut=[])
        session.add(row)
    return row


def _told(p: Placed) -> dict[str, Any]:
    return KeptPlace(key=p.part.key, sheet=p.sheet, turn=p.turn, x=p.x, y=p.y, locked=p.locked).model_dump()


def move_part(store: Store, build: int, material: str, moved: KeptPlace) -> None:
    """One part where the maker put it. Raises NotFound where it is no part of the costume, or no such sheet is
    there."""
    found = layout_of(store, build).material(material)
    if moved.key not in {c.key for c in found.material.copies}:
        raise NotFound(f"Part {moved.key} is not among what is to be cut")
    if moved.sheet not in {s.key for s in found.material.sheets}:
        raise NotFound(f"There is no sheet “{moved.sheet}” of {material}")
    with store.write("Move a part on its sheet") as session:
        row = _row(session, build, material)
        row.places = [*(p for p in row.places if p["key"] != moved.key), moved.model_dump()]


def cut_sheet(store: Store, build: int, material: str, sheet: str) -> None:
    """A sheet is cut: it leaves the stock, what is left of it is an offcut there, and its parts are done. Raises
    NotFound, CraftError where parts lie on each other."""
    found = layout_of(store, build).material(material)
    own = next((s for s in found.plan.sheets if s.sheet.key == sheet), None) if found.plan else None
    if own is None or found.plan is None:
        raise NotFound(f"No part lies on “{sheet}” of {material}")
    lying = {p.part.key for p in own.placed}
    wrong = next((t for t in found.plan.troubles if lying & set(t.parts)), None)
    if wrong is not None:
        raise CraftError(f"{' and '.join(t.split('/')[1] for t in wrong.parts)} {wrong.words}: move one first", "sheet")
    names = _without(found.material, own.sheet)
    with store.write(f"Cut {sheet} of {material}") as session:
        row = _row(session, build, material)
        row.cut = [*row.cut, _cut(found.material, own)]
        rest = [p for p in row.places if p["sheet"] != sheet]
        row.places = [{**p, "sheet": names.get(p["sheet"], p["sheet"])} for p in rest]
        change_shelf_in(session, lambda shelf: _less(shelf, found.material, own))
        if not own.sheet.owned:  # It was bought without a word, or there would be nothing to cut.
            add_bought_in(session, _bought(found.material, build, 1))


def buy_sheets(store: Store, build: int, material: str, many: int) -> None:
    """Sheets that were to be bought are there: the first of them, with the parts that lie on them. Raises NotFound."""
    found = layout_of(store, build).material(material).material
    names = _once_bought(found, many)
    with store.write(f"Buy {many} sheet{'s' * (many > 1)} of {material}") as session:
        row = _row(session, build, material)
        row.places = [{**p, "sheet": names.get(p["sheet"], p["sheet"])} for p in row.places]
        change_shelf_in(session, lambda shelf: _more(shelf, found, many))
        add_bought_in(session, _bought(found, build, many))


def _bought(material: Material, build: int, many: int) -> Bought:
    paid = (material.price or 0.0) * many
    return Bought(name=foam_words(material), unit="sheets", amount=many, paid=paid, build=build, at=clock.now())


def _without(material: Material, gone: NestSheet) -> dict[str, str]:
    """New names of sheets when one is gone: its equals behind it move up."""
    alike = [s.key for s in material.sheets if (s.offcut, s.owned, s.size) == (gone.offcut, gone.owned, gone.size)]
    at = alike.index(gone.key)
    return dict(zip(alike[at + 1 :], alike[at:], strict=False))


def _once_bought(material: Material, many: int) -> dict[str, str]:
    """New names of sheets when some of those to buy are there."""
    new = [s.key for s in material.sheets if not s.owned]
    owned = sum(s.owned and not s.offcut for s in material.sheets)
    return dict(zip(new, [*(whole_sheet(owned + k) for k in range(many)), *new], strict=False))


def _more(shelf: Sequence[ShelfSheet], material: Material, many: int) -> tuple[ShelfSheet, ...]:
    row = _own_row(shelf, material)
    return _with_row(shelf, row.model_copy(update={"sheets": min(MOST_SHEETS, row.sheets + many)}))


def _own_row(shelf: Sequence[ShelfSheet], material: Material) -> ShelfSheet:
    own = row_of(material.kind, material.thickness, shelf)
    return own or ShelfSheet(kind=material.kind, thickness=material.thickness)


def _with_row(shelf: Sequence[ShelfSheet], row: ShelfSheet) -> tuple[ShelfSheet, ...]:
    """The shelf with a row in its place, or behind the others."""
    old = row_of(row.kind, row.thickness, shelf)
    return tuple(row if r is old else r for r in shelf) if old else (*shelf, row)


def _cut(material: Material, own: SheetPlan) -> dict[str, Any]:
    copies = {c.key: c for c in material.copies}
    return {
        "sheet": own.sheet.key,
        "outline": ring_of(own.sheet.shape),
        "parts": [{**_told(p), "code": copies[p.part.key].code, "outline": ring_of(p.shape)} for p in own.order],
        "rest": None if own.rest is None else _sides(own.rest),
        "owned": own.sheet.owned,
        "offcut": own.sheet.offcut,
    }


def ring_of(shape: shapely.Polygon) -> list[list[float]]:
    """Its outline to 0.1 mm, as points."""
    return [[round(x, 2), round(y, 2)] for x, y in shapely.get_coordinates(shape.exterior.simplify(0.1))]


def _sides(rest: shapely.Polygon) -> list[float]:
    left, low, right, high = rest.bounds
    return [round(right - left, 1), round(high - low, 1)]


def _less(shelf: Sequence[ShelfSheet], material: Material, own: SheetPlan) -> tuple[ShelfSheet, ...]:
    """The shelf without a sheet, and with what was left of it."""
    row = _own_row(shelf, material)
    offcuts = list(row.offcuts)
    if own.sheet.offcut:
        offcuts.remove(next(o for o in offcuts if sorted(o) == sorted(own.sheet.size)))
    if own.rest is not None:
        long, short = sorted(_sides(own.rest), reverse=True)
        offcuts.append((long, short))
    kept = sorted(offcuts, key=lambda o: -o[0] * o[1])[:MOST_OFFCUTS]
    sheets = row.sheets - (own.sheet.owned and not own.sheet.offcut)
    return _with_row(shelf, row.model_copy(update={"sheets": sheets, "offcuts": tuple(kept)}))


def drawn_sheet(found: Laid, sheet: str) -> tuple[SheetPlan, list[DrawnPanel]]:
    """A sheet, and its parts with all that is drawn on them, in the order of the knife. Raises NotFound."""
    own = next((s for s in found.plan.sheets if s.sheet.key == sheet), None) if found.plan else None
    if own is None:
        raise NotFound(f"No part lies on “{sheet}” of {found.material.key}")
    copies = {c.key: c for c in found.material.copies}
    return own, [laid_on_sheet(copies[p.part.key], p) for p in own.order]


def large_parts(found: Laid) -> list[str]:
    """Parts that fit on no sheet, were it empty."""
    left = {p.key for p in found.plan.plan.left} if found.plan else set()
    nest = found.material.nest(rules_of(found.tool))
    return [p.key for p in too_large(replace(nest, parts=tuple(p for p in nest.parts if p.key in left)))]


def shown_sheets(layout: Layout) -> list[ShownSheet]:
    """Every sheet with parts on it, for paper."""
    return [shown_sheet(m.material, sheet) for m in layout.materials if m.plan is not None for sheet in m.plan.sheets]


def shown_sheet(material: Material, own: SheetPlan) -> ShownSheet:
    copies = {c.key: c for c in material.copies}
    parts = [
        ShownPart(p, copies[p.part.key].code, _words_of(copies[p.part.key]), copies[p.part.key].turned)
        for p in own.order
    ]
    title = f"{foam_words(material)}, {own.sheet.key}"
    return ShownSheet(title, own.sheet, parts, own.cuts, own.rest, material.one_faced)


def _words_of(copy: CopyOfPart) -> str:
    return f"{copy.piece}, turned over" if copy.turned else copy.piece
