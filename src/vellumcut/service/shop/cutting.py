"""A sheet on the simulated cutter: its program, what the machine does with it, and what it cut."""

from dataclasses import dataclass

from vellumcut.core.errors import CraftError
from vellumcut.core.knife.held import HeldPart, held_against
from vellumcut.core.knife.path import Program, program_of
from vellumcut.core.knife.setup import CutterSetup
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.formats.shop.knife_code import write_knife_code
from vellumcut.service.keeping.settings import read_cutter
from vellumcut.service.shop.layouts import Laid, drawn_sheet, layout_of
from vellumcut.service.shop.nests import SheetPlan, foam_words
from vellumcut.standins.cutter import Cutter, CutterStops
from vellumcut.store.database import Store


@dataclass(frozen=True)
class SheetProgram:
    """names: of its parts, by their keys. code: as the machine reads it."""

    sheet: SheetPlan
    parts: tuple[tuple[str, DrawnPanel], ...]
    names: dict[str, str]
    program: Program
    code: str


@dataclass(frozen=True)
class Played:
    """What the machine did. parts: what it cut, against the pattern; of a dry run nothing. stopped: before its end."""

    made: SheetProgram
    machine: Cutter
    parts: list[HeldPart]
    stopped: bool


def sheet_program(found: Laid, sheet: str, setup: CutterSetup) -> SheetProgram:
    """Raises NotFound, CraftError where the machine cannot cut the sheet, or parts lie wrong on it."""
    own, drawn = drawn_sheet(found, sheet)
    keys = [p.part.key for p in own.order]
    wrong = next((t for t in (found.plan.troubles if found.plan else []) if set(keys) & set(t.parts)), None)
    if wrong is not None:
        raise CraftError(f"{' and '.join(k.split('/')[1] for k in wrong.parts)} {wrong.words}: move one first", "sheet")
    copies = {c.key: c for c in found.material.copies}
    names = {k: f"{copies[k].code}, {copies[k].piece}" for k in keys}
    parts = tuple(zip(keys, drawn, strict=True))
    program = program_of(own.sheet, parts, setup)
    title = f"{foam_words(found.material)}, {own.sheet.key}"
    return SheetProgram(own, parts, names, program, write_knife_code(title, program, names))


def program_for(store: Store, build: int, material: str, sheet: str) -> SheetProgram:
    """Raises NotFound, CraftError."""
    return sheet_program(layout_of(store, build).material(material), sheet, read_cutter(store))


def play(made: SheetProgram, dry: bool = False, until: float | None = None) -> Played:
    """Let the machine carry out a program, to its end or to a moment, s. Raises CraftError where it refuses."""
    setup = made.program.setup
    machine = Cutter(setup.width, setup.height)
    try:
        machine.play(made.code, dry, until)
    except CutterStops as stop:
        raise CraftError(f"The cutter stopped. {stop}", "code") from None
    left, low, _, _ = made.sheet.sheet.shape.bounds
    parts = [] if dry else held_against(machine.fallen(), made.parts, (-left, -low))
    return Played(made, machine, parts, not machine.ended)
