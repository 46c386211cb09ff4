"""Where the parts of a build lie on sheets, as the maker left it; sheets that were cut, and the stock they came of."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import shapely
from sqlalchemy import select
from sqlalchemy.orm import Session

from vellumcut.core.errors import CraftError
from vellumcut.core.foam.sheets import SAME_SHEET
from vellumcut.core.foam.shelf import ShelfSheet
from vellumcut.core.nest.cut_parts import CopyOfPart, laid_on_sheet
from vellumcut.core.nest.fill import Plan, Rules
from vellumcut.core.nest.kept import KeptPlace
from vellumcut.core.nest.plans import Effort, too_large
from vellumcut.core.nest.shapes import NestSheet, Placed
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.shop.supplies import Bought
from vellumcut.core.units import format_length
from vellumcut.formats.shop.sheet_plan import ShownPart, ShownSheet
from vellumcut.service import clock
from vellumcut.service.errors import NotFound
from vellumcut.service.jobs import Job, start_job
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.settings import add_bought_in, change_shelf_in
from vellumcut.service.rows import fetch
from vellumcut.service.shop.nests import CLEARANCE, Material, MaterialPlan, SheetPlan, Shown, Tool, laid, parts_of
from vellumcut.store.database import Store
from vellumcut.store.models import Build, SheetLayout

MOST_OFFCUTS, MOST_SHEETS = 40, 1000
"""Of one foam on the shelf: of more the smallest are left out."""


@dataclass(frozen=True)
class CutSheet:
    """A sheet that was cut. places: parts as they lay, their keys, codes and outlines. rest: what was left of it."""

    sheet: str
    outline: list[list[float]]
    parts: list[dict[str, Any]]
    rest: list[float] | None
    owned: bool
    offcut: bool


@dataclass(frozen=True)
class Laid:
    """One material of a build. material: what is not cut yet. plan: None while it was never laid. tool: what
    cuts. whole: how many parts there are, those that are cut among them."""

    material: Material
    tool: Tool
    plan: MaterialPlan | None
    cut: tuple[CutSheet, ...]
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
    cut = tuple(CutSheet(**c) for c in row.cut)
    done = {p["key"] for c in cut for p in c.parts}
    material = replace(material, copies=tuple(c for c in material.copies if c.key not in done))
    tool: Tool = row.tool  # type: ignore[assignment]
    plan = _plan(material, row.places, rules_of(tool)) if row.places else None
    return Laid(material, tool, plan, cut, whole)


def _plan(material: Material, places: Sequence[dict[str, Any]], rules: Rules) -> MaterialPlan:
    """Parts that are still cut where they were laid; those that came since have no place yet."""
    copies = {c.key: c for c in material.copies}
    sheets = {s.key for s in material.sheets}
    placed = tuple(
        Placed(copies[p["key"]].part, p["sheet"], p["turn"], p["x"], p["y"], p["locked"])
        for p in places
        if p["key"] in copies and p["sheet"] in sheets
    )
    there = {p.part.key for p in placed}
    used: dict[str, float] = {}
    for p in placed:
        used[p.sheet] = max(used.get(p.sheet, 0.0), p.shape.bounds[2])
    left = tuple(c.part for c in material.copies if c.key not in there)
    return MaterialPlan(material, Plan(placed, used, left), rules)


def start_nest(
    store: Store, build: int, materials: Sequence[str], tool: Tool, effort: Effort, seed: int
) -> tuple[Job, Shown]:
    """Lay parts on sheets, those the maker locked where they are. materials: which; none for all. What comes of it is
    kept when it ends. Raises NotFound, CraftError."""
    shown = Shown()

    def work(job: Job) -> Shown:
        job.report(0.0, "Reading every pattern")
        layout = layout_of(store, build)
        shown.missing = layout.missing
        wanted = [m for m in layout.materials if (m.material.key in materials or not materials) and m.material.copies]
        if not wanted:
            raise CraftError("There is nothing to lay on sheets yet: measure the wearer, and add a piece")
        try:
            lay_all(job, wanted)
        finally:  # What was found by the time it is stopped is kept, too.
            _keep(store, build, tool, list(shown.plans.values()))
        return shown

    def lay_all(job: Job, wanted: Sequence[Laid]) -> None:
        heavy = [len(m.material.copies) + 10 for m in wanted]
        for k, m in enumerate(wanted):
            share = (0.02 + 0.98 * sum(heavy[:k]) / sum(heavy), 0.02 + 0.98 * sum(heavy[: k + 1]) / sum(heavy))
            held = [p for p in m.plan.plan.placed if p.locked] if m.plan else []
            shown.put(laid(m.material, rules_of(tool), effort, seed, job, held, share, shown))

    with store.read() as session:
        name = fetch(session, Build, build).name
    return start_job(f"Laying {name} on sheets", work), shown


def _keep(store: Store, build: int, tool: Tool, plans: Sequence[MaterialPlan]) -> None:
    with store.write("Lay the parts on sheets") as session:
        for plan in plans:
            row = _row(session, build, plan.material.key)
            row.tool = tool
            row.places = [_told(p) for p in plan.plan.placed]


def _row(session: Session, build: int, material: str) -> SheetLayout:
    row = next((r for r in _rows(session, build) if r.material == material), None)
    if row is None:
        row = SheetLayout(build_id=build, material=material, tool="knife", places=[], cut=[])
        session.add(row)
    return row


def _told(p: Placed) -> dict[str, Any]:
    return {"key": p.part.key, "sheet": p.sheet, "turn": p.turn, "x": p.x, "y": p.y, "locked": p.locked}


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
    with store.write(f"Cut {sheet} of {material}") as session:
        row = _row(session, build, material)
        row.cut = [*row.cut, _cut(found.material, own)]
        rest = [p for p in row.places if p["sheet"] != sheet]
        row.places = [{**p, "sheet": _renamed(found.material, own.sheet, p["sheet"])} for p in rest]
        change_shelf_in(session, lambda shelf: _less(shelf, found.material, own))


def buy_sheets(store: Store, build: int, material: str, many: int) -> None:
    """Sheets that were to be bought are there: the first of them, with the parts that lie on them. Raises NotFound."""
    found = layout_of(store, build).material(material).material
    owned = sum(s.owned and not s.offcut for s in found.sheets)
    paid = (found.price or 0.0) * many
    with store.write(f"Buy {many} sheet{'s' * (many > 1)} of {material}") as session:
        row = _row(session, build, material)
        row.places = [{**p, "sheet": _once_bought(p["sheet"], owned, many)} for p in row.places]
        change_shelf_in(session, lambda shelf: _more(shelf, found, many))
        bought = Bought(name=foam_words(found), unit="sheets", amount=many, paid=paid, build=build, at=clock.now())
        add_bought_in(session, bought)


def foam_words(material: Material) -> str:
    return f"{format_length(material.thickness)} {material.kind} foam"


def _once_bought(sheet: str, owned: int, many: int) -> str:
    word, _, number = sheet.rpartition(" ")
    if word != "new":
        return sheet
    return f"sheet {owned + int(number)}" if int(number) <= many else f"new {int(number) - many}"


def _more(shelf: Sequence[ShelfSheet], material: Material, many: int) -> tuple[ShelfSheet, ...]:
    row = next((r for r in shelf if _is(r, material)), None)
    base = row or ShelfSheet(kind=material.kind, thickness=material.thickness)
    made = base.model_copy(update={"sheets": min(MOST_SHEETS, base.sheets + many)})
    return (*(made if r is row else r for r in shelf), *(() if row else (made,)))


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


def _renamed(material: Material, gone: NestSheet, name: str) -> str:
    """Sheets are numbered in their order: those behind one that is gone move up."""
    word, _, number = gone.key.rpartition(" ")
    own, _, at = name.rpartition(" ")
    return f"{own} {int(at) - 1}" if own == word and int(at) > int(number) else name


def _less(shelf: Sequence[ShelfSheet], material: Material, own: SheetPlan) -> tuple[ShelfSheet, ...]:
    """The shelf without a sheet, and with what was left of it."""
    row = next((r for r in shelf if _is(r, material)), None)
    base = row or ShelfSheet(kind=material.kind, thickness=material.thickness)
    offcuts = list(base.offcuts)
    if own.sheet.offcut:
        gone = own.sheet.size
        offcuts.remove(next(o for o in offcuts if sorted(o) == sorted(gone)))
    if own.rest is not None:
        long, short = sorted(_sides(own.rest), reverse=True)
        offcuts.append((long, short))
    sheets = base.sheets - (1 if own.sheet.owned and not own.sheet.offcut else 0)
    kept = sorted(offcuts, key=lambda o: -o[0] * o[1])[:MOST_OFFCUTS]
    made = base.model_copy(update={"sheets": sheets, "offcuts": tuple(kept)})
    return (*(made if r is row else r for r in shelf), *(() if row else (made,)))


def _is(row: ShelfSheet, material: Material) -> bool:
    return row.kind == material.kind and abs(row.thickness - material.thickness) < SAME_SHEET


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
