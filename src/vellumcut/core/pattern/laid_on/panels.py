"""What is laid on a piece as panels to cut: labelled, counted and drawn like any other."""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.parts import Border, Cuff, Links, Plate, Scales, lines_along
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.outlines import as_drawn, corners_in, ring_edge, triangles_in, upright
from vellumcut.core.flatten.panel import FlatLine, FlatPanel
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.stacks import placed
from vellumcut.core.foam.verdict import Verdict
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.parts.border import Cut, Strip
from vellumcut.core.parts.laid import LaidPart, laid_parts
from vellumcut.core.parts.profile import strips_from_sheet
from vellumcut.core.parts.scales import outline_of
from vellumcut.core.pattern.drawn import DrawnPanel, is_turned
from vellumcut.core.pattern.labels import Label
from vellumcut.core.pattern.laid_on.sums import foam_of
from vellumcut.core.pattern.table import BETWEEN
from vellumcut.core.units import format_length

Array = NDArray[np.float64]

GAP = 12.0
"""Room left between two parts on the table, mm."""
ALIKE = 1.0
"""Degrees by which two ends may differ and still be cut alike."""
CORNER = 20.0
"""Degrees from which an outline of a part has a corner that the knife stops at."""
STILL = StrainSummary(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0, (0.0, 0.0), False)
HOW: dict[Cut, str] = {
    "straight": "Cut straight: it lies round its line by itself.",
    "curved": "Cut as a curve: its line bends tighter than a straight strip lies on edge.",
}


@dataclass(frozen=True, eq=False)
class _Outline:
    """One outline to cut. rings: holes after the outer, (k, 2) mm. copies: how many are cut; count: the same in words,
    empty where it is as the panel beneath it. how: in words. size: in words, where it is cut by ruler. alike: none of
    them is turned over. drawn: lines on it, (k, 2) mm, up to which what is glued on it reaches."""

    rings: tuple[Array, ...]
    copies: int
    count: str
    how: str
    size: str = ""
    alike: bool = False
    drawn: tuple[Array, ...] = ()


def part_panels(piece: InkedPiece, panels: Sequence[DrawnPanel], design: PieceDesign) -> Iterator[DrawnPanel]:
    """What is cut to be laid on one drawn side's panels. panels: that side's, which tell how many there are of each."""
    numbers = {d.key: k for k, d in enumerate((d for d in design.making.details if d.shape), 1)}
    counted: dict[str, int] = {}
    for part in laid_parts(piece):
        base = next((p for p in panels if p.flat.number == part.panel and p.layer.number == 1), None)
        if base is None:
            continue
        for outline in _outlines(part, part.copies(base.copies)):
            number = counted[part.detail.key] = counted.get(part.detail.key, 0) + 1
            yield _drawn(outline, part, f"T{numbers[part.detail.key]}.{number}", base, design)


SIZES = (0.8, 1.0, 1.25)
"""Of what it is wide: an emblem is judged on paper, a size smaller and one larger beside it, before one is cut."""


def at_sizes(piece: InkedPiece, panels: Sequence[DrawnPanel], design: PieceDesign, key: str) -> list[DrawnPanel]:
    """The lowest layer of a plate at three sizes. Raises CraftError where the detail of that key is none."""
    part = next((p for p in laid_parts(piece) if p.detail.key == key and p.sheets), None)
    base = next((p for p in panels if part and p.flat.number == part.panel and p.layer.number == 1), None)
    if part is None or base is None or not isinstance(part.detail.shape, Plate):
        raise CraftError("Only a plate or an emblem that lies on the piece has sizes to choose from", "making.details")
    out = []
    for k, share in enumerate(SIZES, 1):
        for rings in part.sheets[0].outlines:
            wide = format_length(part.detail.shape.wide * share)
            outline = _Outline(tuple(r * share for r in rings), 1, f"to look at: {wide} across", "To choose by.")
            out.append(_drawn(outline, part, f"size {k}", base, design))
    return out


def _outlines(part: LaidPart, copies: int) -> Iterator[_Outline]:
    """copies: how many there are of the part."""
    shape, single = part.detail.shape, f"cut {copies}" if part.halved else ""
    if isinstance(shape, Border):
        yield from (_strip_outline(s, shape, part, copies) for s in part.strips if s.cut != "bought")
    if isinstance(shape, Links) and shape.holder:
        yield from (_strip_outline(s, shape.holder, part, copies) for s in part.strips)
    if isinstance(shape, Cuff):
        how = "A ruled strip, its lengths those of its own middle: the longer side stands out."
        yield from (_Outline((c.outline,), copies, single, how) for c in part.cuffs)
    if isinstance(shape, Scales) and part.count:
        many = part.count * copies
        yield _Outline((outline_of(shape),), many, f"cut {many} alike", "One outline for all of them.", alike=True)
    for plate in part.segments:
        how = f"Plate {plate.number} of {part.segments[-1].number} from the {' and '.join(lines_along(shape))} on."
        yield _Outline(plate.outline, copies, single, how, drawn=(plate.covered,) if len(plate.covered) else ())
    yield from _sheet_outlines(part, copies, single)


def _sheet_outlines(part: LaidPart, copies: int, count: str) -> Iterator[_Outline]:
    """Layers of a plate, on each the outline of the next; none of what is cut from film."""
    sheets = part.sheets if foam_of(part.detail) else ()
    for sheet, above in itertools.zip_longest(sheets, sheets[1:]):
        place = f"Layer {sheet.layer} of {len(sheets)}. " if len(sheets) > 1 else ""
        for rings in sheet.outlines:
            own = shapely.Polygon(rings[0]).buffer(0.01)
            on_it = [r for part_rings in (above.outlines if above else ()) for r in part_rings]
            drawn = tuple(np.vstack([r, r[:1]]) for r in on_it if own.contains(shapely.LinearRing(r)))
            yield _Outline(rings, copies, count, f"{place}Its outline as it was drawn.", drawn=drawn)


def _strip_outline(strip: Strip, border: Border, part: LaidPart, copies: int) -> _Outline:
    straight = strip.cut == "straight"
    cut, over = strips_from_sheet(border, copies, straight)
    slit = f", slit corner to corner into {2 * cut}" if cut != copies or over else ""
    # Turned end for end, only a strip whose ends lean alike is its own mirror image.
    alike = straight and (bool(slit) or abs(sum(strip.ends)) < ALIKE)
    count = f"cut {cut}{slit}" if alike or part.halved else ""
    size = f"{format_length(strip.length)} x {format_length(border.width)}{_end_words(strip)}" if straight else ""
    return _Outline(strip.outline, cut, count, HOW[strip.cut], size, alike)


def _end_words(strip: Strip) -> str:
    """How its ends are cut where that is not square, for a ruler; its length is that of its middle."""
    one, other = (round(abs(x)) for x in strip.ends)
    if not one and not other:
        return ""
    told = f"{one}°" if one == other else f"{one}° and {other}°"
    lean = "leaning towards each other" if strip.ends[0] * strip.ends[1] < 0 else "leaning one way"
    return f" along its middle, ends {told} off square" + (f", {lean}" if one and other else "")


def _drawn(outline: _Outline, part: LaidPart, code: str, base: DrawnPanel, design: PieceDesign) -> DrawnPanel:
    template = TEMPLATES[design.template]
    single = template.part in WHOLE
    foam = foam_of(part.detail)
    label = Label(
        build=base.label.build,
        piece=f"{base.label.piece}: {part.detail.name}",
        code=f"{template.code} {code}" + ("" if single else f" {base.side[0].upper()}"),
        side=base.side,
        foam=f"{format_length(foam[1])} {foam[0]} foam" if foam else "film",
        count=outline.count or base.label.count,
        face=f"{design.drawn_face} face drawn",
    )
    rings, drawn = ([_turned(r, base.side, design) for r in lines] for lines in (outline.rings, outline.drawn))
    flat = _flat(rings, drawn, base.flat.number)
    verdict = Verdict("flat", "Cut to its own depth", outline.how)
    layer = placed([(foam[1], foam[0]) if foam else (design.foam, design.foam_kind)], False)[0]
    twin = base.twin and not part.halved and not outline.alike
    return DrawnPanel(base.side, twin, outline.copies, label, flat, verdict, layer, by_measure=outline.size)


def beneath(parts: Sequence[DrawnPanel], panels: Sequence[DrawnPanel]) -> tuple[DrawnPanel, ...]:
    """Parts laid out in rows under the panels, none wider than these where it can be helped."""
    if not parts:
        return ()
    outlines = np.vstack([p.flat.outline + p.place for p in panels])
    left, right, y = outlines[:, 0].min(), outlines[:, 0].max(), outlines[:, 1].min() - BETWEEN
    out, x, deep = [], left, 0.0
    for part in parts:
        wide, high = np.ptp(part.flat.outline, axis=0)
        if x > left and x + wide > right:
            x, y, deep = left, y - deep - GAP, 0.0
        out.append(replace(part, place=(float(x), float(y - high))))
        x, deep = x + wide + GAP, max(deep, high)
    return tuple(out)


def _turned(ring: Array, side: Side, design: PieceDesign) -> Array:
    """A ring as it is drawn for a side."""
    return np.asarray((ring * [-1, 1])[::-1]) if is_turned(side, design) else ring


REACHES = "the next one reaches here"


def _flat(rings: Sequence[Array], drawn: Sequence[Array], number: int) -> FlatPanel:
    low = rings[0].min(axis=0)
    outer, *holes = (r - low for r in rings)
    edges = tuple(_edges(outer))
    outline = np.vstack([e.points()[:-1] for e in edges])
    round_holes = tuple(ring_edge(f"hole {k}", as_drawn(np.vstack([h, h[:1]]))) for k, h in enumerate(holes, 1))
    vertices, faces = triangles_in(outline, [h.points()[:-1] for h in round_holes])
    return FlatPanel(
        number=number,
        face="outer",
        edges=edges,
        centre=upright(outline),
        marks=(),
        seams=(),
        summary=STILL,
        vertices=vertices,
        faces=faces,
        strain=np.zeros(len(vertices)),
        holes=round_holes,
        uv=np.zeros((len(vertices), 2)),
        lines=tuple(FlatLine("mark", REACHES, line - low) for line in drawn),
    )


def _edges(ring: Array) -> Iterator[FlatEdge]:
    """An outline from corner to corner."""
    corners = corners_in(ring, CORNER)
    if not len(corners):
        yield ring_edge("edge 1", as_drawn(np.vstack([ring, ring[:1]])))
        return
    closed = np.vstack([np.roll(ring, -corners[0], axis=0), ring[corners[:1]]])
    ends = [*(corners - corners[0]), len(ring)]
    for k, (a, b) in enumerate(itertools.pairwise(ends), 1):
        points = as_drawn(closed[a : b + 1])
        at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        yield FlatEdge(f"edge {k}", "outline", points, at, np.linspace(0.0, 1.0, len(points)))
