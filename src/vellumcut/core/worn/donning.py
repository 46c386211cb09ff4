"""Getting in and out: can what has to pass pass, and how far must a piece be spread?"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.guess import complete_limb
from vellumcut.core.body.measures import Measurements
from vellumcut.core.body.segments import SEGMENTS, Segment, Side
from vellumcut.core.body.torso import BUST, HIP
from vellumcut.core.cast.armour import INNER, ArmourSurface
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.errors import CraftError
from vellumcut.core.foam.bends import BEND_WARM
from vellumcut.core.foam.sheets import give_of
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.lines import opens
from vellumcut.core.notes import Note, Value
from vellumcut.core.rig.closures.openings import openings_of, seam_ends
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.worn.spread import bent_open
from vellumcut.core.worn.stiffened import Opened, bent_most

Array = NDArray[np.float64]

NOTHING = 0.5
"""Less than this is no shortage, mm."""
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


def check_donning(measures: Measurements, laid: LaidPiece, side: Side) -> Donning:
    """How one drawn side of a piece is put on, and whether it passes."""
    if laid.inked.drawn is not None or laid.whole:
        return _drawn(measures, laid, side)
    design, surface = laid.design, laid.inked.surface
    low, high = laid.inked.ends
    z = np.linspace(low, high, 160)
    inside = surface.girth(surface.tube.along(z), INNER)
    if design.back == "open":
        return _through_the_back(laid, side, low, high)
    gate, missing = widest_gate(measures, design, side)
    if gate is None or missing:
        return _unmeasured(side, missing)
    # A limb that is slimmer higher up: what sits there passed what lies below it.
    beneath = _below(np.asarray(surface.tube.girth(surface.tube.along(z))) + 2 * np.pi * design.base_layer)
    spare = inside - np.maximum(beneath, gate.girth) - SLIDE
    at = int(spare.argmin()) if spare.min() < 0 else int(inside.argmin())
    if spare.min() < 0 and beneath[at] > gate.girth:
        gate = _Gate("limb below it", float(beneath[at]))
    narrow = float(inside[at])
    notes = (_gate_note(design, gate, narrow, float(z[at]), surface),)
    if spare.min() > -NOTHING:
        words = f"The {gate.word} ({gate.girth:.0f} mm) passes: the narrowest inside is {narrow:.0f} mm."
        return Donning(side, True, words, 0, 0, notes)
    bad, short = z[spare < 0], float(-spare.min())
    from_low = bad.max() - low <= high - bad.min()
    run = float(bad.max() - low if from_low else high - bad.min())
    ends = segment_of(design).end_word
    words = (
        f"The {gate.word} ({gate.girth:.0f} mm) cannot pass: it meets {narrow:.0f} mm inside. "
        f"{_would_pass(design, narrow, short)} needs an opening that spreads by {short:.0f} mm and runs {run:.0f} mm "
        f"from the {ends[0 if from_low else 1]} end. "
        "Choose an open back with a closure."
    )
    return Donning(side, False, words, short, run, notes)


def _would_pass(design: PieceDesign, inside: float, short: float) -> str:
    """Begins the sentence on what a ring that is too narrow needs: where warm foam gives as much, at which girth it
    would pass."""
    gives = give_of(design.foam_kind, design.foam).stretch / 100 * inside
    if short > gives:
        return "It"
    return (
        f"It would pass at {inside + short:.0f} mm inside. Warmed through, foam gives about {gives:.0f} mm there: "
        f"enough, but for each wearing anew; {short / (2 * np.pi):.1f} mm more ease all round gives it for good. "
        "Else it"
    )


def _below(girths: Array) -> Array:
    """The largest of the girths below each, (n,); nothing below the first."""
    return np.concatenate([[0.0], np.maximum.accumulate(girths)[:-1]])


def _unmeasured(side: Side, missing: list[str]) -> Donning:
    words = f"Measure the {' and the '.join(missing)} first: a closed tube must pass it."
    return Donning(side, None, words, 0, 0, ())


def segment_of(design: PieceDesign) -> Segment:
    """The limb a plain shell sits on; only limbs have plain shells."""
    part = TEMPLATES[design.template].part
    if part == "torso":
        raise CraftError("A plain shell sits on a limb", "design.template")
    return SEGMENTS[part]


LEVELS, COLUMNS = 60, 720
"""Where a piece's rings are read: along it, and round it."""
SHUT = 4.0
"""A ring with a gap narrower than this, mm, is closed: no body passes there."""


@dataclass(frozen=True, eq=False)
class Rings:
    """A piece level by level. z: (n,) mm along. closed: (n,) whether it goes all round. inside: (n,) mm round its inner
    face. gap: (n,) widest free arc of the ring, mm. body: (n,) girth of the body there, mm, its base layer on it.
    across: (n,) the body's breadth that has to pass a gap, mm."""

    z: Array
    closed: NDArray[np.bool_]
    inside: Array
    gap: Array
    body: Array
    across: Array


def rings_of(laid: LaidPiece) -> Rings:
    """Read a piece's rings from its ink and its inner face."""
    _, low, _, high = laid.area.bounds
    z = np.linspace(low, high, LEVELS + 2)[1:-1]
    around = np.arange(COLUMNS) / COLUMNS
    tube, base = laid.inked.tube, laid.design.base_layer
    v, u = np.meshgrid(tube.along(z), (around + 0.5) % 1.0 - 0.5, indexing="ij")
    uv = np.stack([u.ravel(), v.ravel()], axis=1)
    on = laid.covers(uv).reshape(LEVELS, COLUMNS)
    points = laid.inked.surface.points(uv, INNER).reshape(LEVELS, COLUMNS, 3)
    step = np.linalg.norm(np.roll(points, -1, axis=1) - points, axis=2)
    inside = step.sum(axis=1)
    gap = np.array([_widest_gap(row, s) for row, s in zip(on, step, strict=True)])
    body = tube.tape_girth(tube.along(z)) + 2 * np.pi * base
    across = 2 * np.minimum(*tube.half_widths(z)) + 2 * base
    return Rings(z, gap < SHUT, inside, gap, np.asarray(body), np.asarray(across))


def _widest_gap(on: NDArray[np.bool_], step: Array) -> float:
    """Longest free arc of a ring, mm."""
    if on.all():
        return 0.0
    if not on.any():
        return float(step.sum())
    start = int(on.argmax())
    turned, arc = np.roll(on, -start), np.roll(step, -start)
    best = run = 0.0
    for covered, length in zip(turned, arc, strict=True):
        run = 0.0 if covered else run + float(length)
        best = max(best, run)
    return best


HEAD = 580.0
"""Round a grown head, where nobody measured it, mm (est.)."""
SHOULDERS = 1.16
"""Round the shoulders, arms down, beside the bust (est.)."""


def gates_above(measures: Measurements, laid: LaidPiece, side: Side) -> tuple[list[_Gate], list[str]]:
    """What a closed ring passes from the far end of its part before it comes to the piece, and what was not measured:
    on a limb from hand or foot up, on the neck over the head."""
    part = TEMPLATES[laid.design.template].part
    if part == "neck":
        return [_Gate("head", HEAD)], []
    gate, missing = widest_gate(measures, laid.design, side)
    return ([gate] if gate else []), missing


def passes(rings: Rings, gates: list[_Gate], from_low: bool) -> tuple[bool, int, float]:
    """Whether every closed ring passes what lies on its way, the ring that is tightest for its way, and what it must
    pass."""
    order = slice(None) if from_low else slice(None, None, -1)
    far = max((g.girth for g in gates), default=0.0)
    way = np.maximum(_below(rings.body[order])[order], far)
    spare = np.where(rings.closed, rings.inside - way - SLIDE, np.inf)
    k = int(spare.argmin())
    return bool(spare[k] >= 0), k, float(way[k])


def _drawn(measures: Measurements, laid: LaidPiece, side: Side) -> Donning:
    """A piece drawn stroke by stroke, or one on the trunk or the neck."""
    rings = rings_of(laid)
    opens_at = _closing_line(laid)
    if not rings.closed.any() or opens_at:
        return _spread(laid, rings, side, opens_at)
    if laid.whole and TEMPLATES[laid.design.template].part == "torso":
        return _over_the_trunk(laid, replace(rings, inside=rings.inside + _slits(laid, rings)), side)
    gates, missing = gates_above(measures, laid, side)
    if missing:
        return _unmeasured(side, missing)
    rings = replace(rings, inside=rings.inside + _slits(laid, rings))
    neck = TEMPLATES[laid.design.template].part == "neck"
    good, k, way = passes(rings, gates, not neck)
    what = gates[0].word if gates and gates[0].girth >= way - 1 else "limb below it"
    return _told(laid.design, side, good, rings, k, way, what)


GIVES = 0.35
"""A slit that ends within a piece spreads at its mouth by so much of its length, its edges bent aside (est.)."""


RIM = 3.0
"""A slit that ends so near to its seam's end runs out of the rim, mm."""


def _slits(laid: LaidPiece, rings: Rings) -> Array:
    """How much wider each ring becomes, (n,) mm, where seams open for a part of their length: nothing at a slit's
    closed end, and nothing where both its ends are closed."""
    out = np.zeros(len(rings.z))
    for plan in openings_of(laid):
        at_low, at_high = plan.low < RIM, plan.high > plan.length - RIM
        if plan.row.whole or not (at_low or at_high):
            continue
        ends = seam_ends(laid, plan)
        deep = (rings.z - min(ends)) if at_high else (max(ends) - rings.z)
        within = (rings.z >= min(ends)) & (rings.z <= max(ends))
        out += np.where(within, GIVES * np.clip(deep, 0.0, None), 0.0)
    return out


def _over_the_trunk(laid: LaidPiece, rings: Rings, side: Side) -> Donning:
    """A ring round the trunk that does not open: over head and shoulders, or up over the hips, whichever is easier."""
    tube = laid.inked.tube
    shoulders = SHOULDERS * float(tube.tape_girth(float(BUST)))
    hips = float(tube.tape_girth(float(HIP)))
    down = passes(rings, [_Gate("shoulders", shoulders), _Gate("head", HEAD)], False)
    up = passes(rings, [_Gate("hips", hips)], True)
    rows = sorted([(not down[0], down[2], down, "shoulders"), (not up[0], up[2], up, "hips")], key=lambda r: r[:2])
    _, _, (good, k, way), what = rows[0]
    return _told(laid.design, side, good, rings, k, way, what)


def _told(design: PieceDesign, side: Side, good: bool, rings: Rings, k: int, way: float, what: str) -> Donning:
    inside = float(rings.inside[k])
    note = Note(
        "Narrowest on its way",
        Value("inside girth", inside),
        "{0} inside; must pass {1} " + what + " + {2} to slide",
        (Value("inside", inside), Value(what, way), Value("slide", SLIDE)),
        "A ring that does not open has to pass everything on the way to where it sits.",
        "More ease, or a line along which it opens.",
        about="donning",
    )
    if good:
        return Donning(
            side, True, f"The {what} ({way:.0f} mm) passes: the ring is {inside:.0f} mm inside there.", 0, 0, (note,)
        )
    short = way + SLIDE - inside
    bad = rings.closed & (rings.inside < way + SLIDE)
    run = float(np.ptp(rings.z[bad])) if bad.any() else 0.0
    words = (
        f"The {what} ({way:.0f} mm) cannot pass: the ring is {inside:.0f} mm inside. "
        f"{_would_pass(design, inside, short)} needs an opening that "
        f"spreads by {short:.0f} mm and runs {run:.0f} mm: "
        f"{'let a seam open across it' if design.flat else 'ink a line named closure across it'}."
    )
    return Donning(side, False, words, short, run, (note,))


def _closing_line(laid: LaidPiece) -> str:
    """Name of the line along which a drawn piece opens; empty where there is none."""
    lines = [line for p in laid.inked.panels for line in p.outline if opens(line.arc)]
    return lines[0].name if lines else ""


def _spread(laid: LaidPiece, rings: Rings, side: Side, opens_at: str) -> Donning:
    """A piece with an opening all along: the body goes in sideways, and the edges are spread as far as that asks."""
    gap = np.where(rings.closed, 0.0, rings.gap)
    spread = np.maximum(0.0, rings.across - gap)
    k = int(spread.argmax())
    foam = float(rings.inside[k] - gap[k])
    rows = [Opened(float(f - g), float(g), float(w)) for f, g, w in zip(rings.inside, gap, rings.across, strict=True)]
    bent = bent_most(laid.inked, rings.z, rows)
    where = f" at the {opens_at}" if opens_at else ""
    note = Note(
        "Spread to put it on",
        Value("spread the edges by", float(spread[k])),
        "{0} body across - {1} opening",
        (Value("across", float(rings.across[k])), Value("opening", float(gap[k]))),
        f"The body goes in sideways{where}; {foam:.0f} mm of foam round springs that far.",
        "A wider opening springs less.",
        about="donning",
    )
    if bent.both > BEND_WARM:
        words = (
            f"It cannot be spread wide enough{where}: {rings.across[k]:.0f} mm have to pass, and {foam:.0f} mm "
            "of foam do not open so far."
        ) + bent.words
        return Donning(side, False, words, float(spread[k]), float(np.ptp(rings.z)), (note,))
    if spread[k] < 1:
        return Donning(side, True, f"Is laid on{where}: its opening of {gap.min():.0f} mm lets the body in.", 0, 0, ())
    words = f"Goes on sideways{where}: spread its edges by {spread[k]:.0f} mm.{bent.words}"
    return Donning(side, True, words, float(spread[k]), float(np.ptp(rings.z)), (note,))


def _through_the_back(laid: LaidPiece, side: Side, low: float, high: float) -> Donning:
    """A plain shell that is open all along: the limb goes in sideways, as far as its foam can be bent open."""
    design, surface = laid.design, laid.inked.surface
    z = np.linspace(low, high, 40)
    across = 2 * np.max(surface.tube.half_widths(z), axis=0) + 2 * design.base_layer
    gap = opening(design)
    foam = np.asarray(surface.girth(surface.tube.along(z))) - gap
    k = int(across.argmax())
    spread, width = float(max(0.0, across[k] - gap)), float(across[k] - 2 * design.base_layer)
    note = Note(
        title="Spread to put it on",
        result=Value("spread the edges by", spread),
        formula="{0} widest limb + 2 x {1} base layer - {2} opening",
        values=(Value("widest", width), Value("base layer", design.base_layer), Value("opening", gap)),
        reason=f"The back is open all along, so the limb goes in sideways; {foam[k]:.0f} mm of foam round springs that "
        "far.",
        change="A wider opening springs less.",
        about="donning",
    )
    rings = [Opened(float(f), gap, float(w)) for f, w in zip(foam, across, strict=True)]
    bent = bent_most(laid.inked, z, rings)
    if bent.both > BEND_WARM:
        k = int(np.argmax([bent_open(r.foam, r.gap, r.across, design.foam) for r in rings]))
        creases = (
            f": {across[k]:.0f} mm have to pass, and {foam[k]:.0f} mm of {design.foam:g} mm foam would bend its faces "
            f"by {min(bent.alone, 99):.0f} %, where it creases. A wider opening lets the limb in, thinner foam springs "
            "farther."
        )
        why = creases if bent.alone > BEND_WARM else f".{bent.words}"
        words = f"It cannot be spread wide enough at the open back{why}"
        return Donning(side, False, words, spread, float(high - low), (note,))
    if spread < 1:
        words = f"Is laid on from behind: its opening of {gap:.0f} mm lets the limb in."
        return Donning(side, True, words, 0, 0, ())
    words = f"Goes on sideways through the open back: spread the edges by {spread:.0f} mm.{bent.words}"
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
