"""How the pattern's measures are made, each with its formula and the values in it."""

import math

import numpy as np

from vellumcut.core.cast.armour import MIDDLE, ArmourSurface
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.ink.templates import edge_places, insets
from vellumcut.core.notes import Note, Value

_THICKNESS_REASON = (
    "Foam has thickness: its inner face is squeezed and its outer face stretched, and only the middle layer keeps "
    "its length. A pattern off the skin is always too small."
)


def pattern_notes(surface: ArmourSurface, design: PieceDesign, flat: FlatPanel, side: str) -> list[Note]:
    """Notes on the stand-off, the width at each edge and station, the length and the closing edges."""
    notes = [stand_off_note(surface, design)]
    low, high = edge_places(surface.tube, design)
    places = [("Lower edge", low), ("Upper edge", high)]
    places += [(n.capitalize(), z) for n, z in zip(surface.tube.names, surface.tube.at, strict=True) if low < z < high]
    notes += [_width_note(surface, design, flat, word, z) for word, z in sorted(places, key=lambda item: item[1])]
    notes.append(_length_note(surface, design, flat, low, high))
    if side:
        notes = [Note(**{**n.__dict__, "title": f"{n.title}, {side}"}) for n in notes]
    return notes


def stand_off_note(surface: ArmourSurface, design: PieceDesign) -> Note:
    """How far the foam's middle layer lies from the body."""
    total = design.base_layer + design.ease + design.foam / 2
    return Note(
        title="Why the sheet is bigger than the skin",
        result=Value("middle of the foam lies out by", total),
        formula="{0} base layer + {1} ease + half of {2} foam",
        values=(Value("base layer", design.base_layer), Value("ease", design.ease), Value("foam", design.foam)),
        reason=_THICKNESS_REASON + f" All round that is {2 * math.pi * total:.0f} mm on every girth.",
        change="Thinner foam, a thinner base layer or less ease make the piece smaller.",
        about="stand-off",
    )


def _width_note(surface: ArmourSurface, design: PieceDesign, flat: FlatPanel, word: str, z: float) -> Note:
    tube = surface.tube
    along = tube.along(z)
    body, offset = float(tube.girth(along)), float(surface.offset_at(z, MIDDLE)[0])
    gap = opening(design)
    made = float(surface.girth(along)[0]) - gap
    below, above = tube.girth(tube.along(np.array([z - 1.0, z + 1.0])))
    slope = float(above - below) / (4 * math.pi)
    lean = math.cos(math.atan(slope))
    return Note(
        title=f"Width at the {word.lower()}",
        result=Value("width of foam", made),
        formula="{0} girth + 2 x 3.1416 x {1} out x {2} lean - {3} opening",
        values=(
            Value("girth", body),
            Value("out", offset),
            Value("lean of the limb", lean, "ratio"),
            Value("opening", gap),
        ),
        reason="Each girth grows by 2 pi times the stand-off of the foam's middle layer; where the limb tapers the "
        "stand-off leans, which shortens it a little.",
        change="The girth, the ease at this station, the foam, the opening at the back.",
        measured=Value("on the flat panel", _flat_width(flat, float(along))),
        about=word.lower(),
    )


def _flat_width(flat: FlatPanel, along: float) -> float:
    """Width of the flat panel at a station coordinate, along the arc that meets both closing edges squarely, mm."""
    (left, left_way), (right, right_way) = (
        flat.edge(n).place(flat.edge(n).arc_at(along)) for n in ("closing edge A", "closing edge B")
    )
    chord = float(np.linalg.norm(right - left))
    cross = float(right_way[0] * -left_way[1] - right_way[1] * -left_way[0])
    half = abs(math.atan2(cross, float(right_way @ -left_way))) / 2
    return chord if half < 1e-6 else chord * half / math.sin(half)


def _length_note(surface: ArmourSurface, design: PieceDesign, flat: FlatPanel, low: float, high: float) -> Note:
    centre = float(np.linalg.norm(np.diff(flat.centre, axis=0), axis=1).sum())
    return Note(
        title="Length at the front",
        result=Value("length", high - low + design.lower.reach + design.upper.reach),
        formula="{0} limb - {1} kept free below - {2} kept free above + {3} points",
        values=(
            Value("limb", surface.tube.length),
            Value("free below", insets(design)[0]),
            Value("free above", insets(design)[1]),
            Value("points", design.lower.reach + design.upper.reach),
        ),
        reason="The joints at both ends stay free to bend. Over a bulge the foam is longer than the limb is straight.",
        change="The free ends and the points.",
        measured=Value("on the flat panel", centre),
        about="length",
    )
