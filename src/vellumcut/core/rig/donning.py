"""Getting in and out: can the limb's widest part pass the piece's narrowest inside?"""

from dataclasses import dataclass

import numpy as np

from vellumcut.core.body.guess import complete_limb
from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import SEGMENTS, Segment, Side
from vellumcut.core.cast.armour import INNER, OUTER, ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.design import PieceDesign, opening
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.templates import edge_places, is_inked
from vellumcut.core.notes import Note, Value

SLIDE = 10.0
"""Girth beyond the gate's own that lets it slide through with the base layer on, mm (est.)."""


@dataclass(frozen=True)
class Donning:
    """side: of the limb. passes: None when a measure is missing. needed: opening to plan, girth in mm; 0 if none.

    opening_length: how far it must run from the narrow end, mm.
    """

    side: Side
    passes: bool | None
    sentence: str
    needed: float
    opening_length: float
    notes: tuple[Note, ...]


@dataclass(frozen=True)
class _Gate:
    word: str
    girth: float


def widest_gate(measures: Measurements, design: PieceDesign, side: Side) -> tuple[_Gate | None, list[str]]:
    """The widest thing on the way to where the piece sits, and the names of measures still missing."""
    part = TEMPLATES[design.template].part
    if part == "torso":
        return None, []
    segment = SEGMENTS[part]
    gates, missing = [], []
    for name in (*segment.gate_from, segment.name):
        reading, passed = measures.limb(name, side), SEGMENTS[name]
        if passed.gate is not None and reading is not None and reading.gate:
            gates.append(_Gate(passed.gate.name, reading.gate))
        elif passed.gate is not None:
            missing.append(passed.gate.name)
        if name != segment.name and reading is not None:
            gates += [_Gate(n, r.body_girth) for n, r in reading.stations.items()]
    if measures.limb(segment.name, side) and segment.gate_from:
        own = complete_limb(measures, segment.name, side).reading
        gates.append(_Gate(segment.stations[0].name, own.stations[segment.stations[0].name].body_girth))
    return max(gates, key=lambda g: g.girth, default=None), missing


def check_donning(measures: Measurements, design: PieceDesign, surface: ArmourSurface, side: Side) -> Donning:
    """Compare the gate with the narrowest inside girth; an opening all along the back passes by springing open."""
    if is_inked(design):
        return _drawn(design, side)
    low, high = edge_places(surface.tube, design)
    z = np.linspace(low, high, 80)
    inside = surface.girth(surface.tube.along(z), INNER)
    if design.back == "open":
        return _through_the_back(design, surface, side, low, high)
    gate, missing = widest_gate(measures, design, side)
    if gate is None or missing:
        return Donning(
            side, None, f"Measure the {' and the '.join(missing)} first: a closed tube must pass it.", 0, 0, ()
        )
    narrow = float(inside.min())
    notes = (_gate_note(design, gate, narrow, float(z[int(inside.argmin())]), surface),)
    need = gate.girth + SLIDE
    if narrow >= need:
        words = f"The {gate.word} ({gate.girth:.0f} mm) passes: the narrowest inside is {narrow:.0f} mm."
        return Donning(side, True, words, 0, 0, notes)
    short = float(need - narrow)
    wide = z[inside >= need]
    from_low = inside[0] <= inside[-1]
    run = float((wide.min() - low) if from_low else (high - wide.max())) if len(wide) else float(high - low)
    ends = segment_of(design).end_word
    words = (
        f"The {gate.word} ({gate.girth:.0f} mm) cannot pass: the narrowest inside is {narrow:.0f} mm. "
        f"It needs an opening that spreads by {short:.0f} mm and runs {run:.0f} mm from the {ends[0 if from_low else 1]} end. "
        "Choose an open back with a closure."
    )
    return Donning(side, False, words, short, run, notes)


def segment_of(design: PieceDesign) -> Segment:
    """The limb a plain shell sits on; only limbs have plain shells."""
    part = TEMPLATES[design.template].part
    if part == "torso":
        raise CraftError("A plain shell sits on a limb", "design.template")
    return SEGMENTS[part]


def _drawn(design: PieceDesign, side: Side) -> Donning:
    """A drawn piece opens where its lines say; how far it must spring there is for a fitting in paper to show."""
    closure = design.choices.get(
        "closure", next((c.usual for c in TEMPLATES[design.template].choices if c.name == "closure"), "")
    )
    where = f" at the {closure}" if closure else " where its outline is open"
    words = (
        f"Goes on{where}. Try it in paper with tape first: a drawn piece is not checked against the body's widest part."
    )
    return Donning(side, None, words, 0, 0, ())


def _through_the_back(design: PieceDesign, surface: ArmourSurface, side: Side, low: float, high: float) -> Donning:
    width = max(2 * float(max(s)) for s in zip(*surface.tube.half_widths(np.linspace(low, high, 40)), strict=True))
    spread = float(max(0.0, width + 2 * design.base_layer - opening(design)))
    outer = float(surface.girth(surface.tube.along((low + high) / 2), OUTER)[0])
    note = Note(
        title="Spread to put it on",
        result=Value("spread the edges by", spread),
        formula="{0} widest limb + 2 x {1} base layer - {2} opening",
        values=(Value("widest", width), Value("base layer", design.base_layer), Value("opening", opening(design))),
        reason=f"The back is open all along, so the limb goes in sideways; foam {outer:.0f} mm round springs that far.",
        change="A wider opening springs less.",
        about="donning",
    )
    words = f"Goes on sideways through the open back: spread the edges by {spread:.0f} mm."
    return Donning(side, True, words, 0, 0, (note,))


def _gate_note(design: PieceDesign, gate: _Gate, narrow: float, at: float, surface: ArmourSurface) -> Note:
    body = float(surface.tube.girth(surface.tube.along(at)))
    return Note(
        title="Narrowest inside",
        result=Value("inside girth", narrow),
        formula="{0} body girth + 2 x 3.1416 x ({1} base layer + {2} ease); must pass {3} "
        + gate.word
        + " + {4} to slide",
        values=(
            Value("girth", body),
            Value("base layer", design.base_layer),
            Value("ease", float(surface.ease_at(at))),
            Value(gate.word, gate.girth),
            Value("slide", SLIDE),
        ),
        reason=f"A closed tube must pass over the {gate.word} before it sits.",
        change="More ease, a shorter piece, or an opening at the back.",
        about="donning",
    )
