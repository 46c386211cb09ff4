"""A piece whose panels came flat: the same labelled panels that every other piece has, strain unknown."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.body.segments import Side
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.design.piece import DartEdges, PieceDesign
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.came_flat import EdgedShape, Matched, TruedMate, growth, matched, regrown
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.flaws import find_flaws
from vellumcut.core.flatten.marks import Mark, mark_edge, mark_seam
from vellumcut.core.flatten.outlines import as_drawn, ring_edge, triangles_in, upright
from vellumcut.core.flatten.panel import FlatDart, FlatLine, FlatPanel, Seam
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.sheets import FoamGive, give_of
from vellumcut.core.foam.stacks import PlacedLayer, hardest_layer, layers_of
from vellumcut.core.foam.verdict import Verdict, judge_laid, place_words
from vellumcut.core.ink.library.table import TEMPLATES, twinned
from vellumcut.core.laying.inked import LaidFlat
from vellumcut.core.notes import Finding
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.labels import label_panel
from vellumcut.core.pattern.laid_panel import dart_findings, on_wearer
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.table import BETWEEN

Array = NDArray[np.float64]
UNKNOWN = StrainSummary(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0, (0.0, 0.0), False)
SAYS = {
    "tape": "Traced from a cast: what the foam has to give between its edges is not known.",
    "paper": "Traced from a pattern: what the foam has to give between its edges is not known.",
    "file": "Read from a pattern file: what the foam has to give between its edges is not known.",
}
ADVICE = "Close it in paper or scrap first; a place that will not lie down wants a dart."
STANDS_OFF = "A ridge or a flare that stands off the body is not seen there: give its angle by hand, on Foam."
APART = 0.5
"""mm by which edges that are glued may differ without a word."""


def flat_factor(design: PieceDesign, now: float | None = None) -> float:
    """How many times as wide the panels are made than they came. now: mm round the body today where they were taken;
    None where that is not known."""
    work = design.flat
    if work is None or work.girth is None:
        return 1.0
    off = design.base_layer, design.ease, design.foam / 2
    if work.grow:
        return growth(work.girth, *off, now)
    return 1.0 if now is None else regrown(work.girth, *off, now)


def match_flat(design: PieceDesign, now: float | None = None) -> Matched:
    """Its panels with their edges made to match. now: see ``flat_factor``. Raises CraftError where it has none."""
    if design.flat is None:
        raise CraftError("This piece is worked out from the body: it has no panels that came flat", "design.flat")
    return matched(design.flat, flat_factor(design, now))


def flat_pattern(
    design: PieceDesign,
    name: str,
    build: str,
    gives: tuple[FoamGive, ...] = (),
    school: DartEdges = "by fold",
    now: float | None = None,
    laid: Mapping[Side, LaidFlat] | None = None,
    unlaid: str = "",
) -> PiecePattern:
    """All panels of a piece that came flat. now: see ``flat_factor``. laid: its drawn sides on the wearer, where it was
    laid there; unlaid: why it does not lie where it was laid. Raises CraftError."""
    made = match_flat(design, now)
    hardest = hardest_layer(design)
    side = drawn_side(design)
    here = (laid or {}).get(side)
    panels, x = [], 0.0
    for number, edged in sorted(made.panels.items()):
        bare = panel_of(edged, made, design.flat)
        width = float(np.ptp(bare.outline[:, 0]))
        for layer in layers_of(design, number):
            flat, verdict = _judged(bare, here, design, layer, gives)
            panels.append(drawn_shape(design, (build, name), edged, layer, flat, verdict, x))
        x += width + BETWEEN
    give = give_of(hardest.kind, hardest.thickness, gives)
    why = [Finding("look", unlaid, "flat.lies")] if unlaid else []
    said = (*why, *_regraded(design, now), *_told(made), *_of_laid(panels, here))
    return PiecePattern(name, design, tuple(panels), {side: here} if here else {}, give, said, gives, school)


def _judged(
    bare: FlatPanel, here: LaidFlat | None, design: PieceDesign, layer: PlacedLayer, gives: tuple[FoamGive, ...]
) -> tuple[FlatPanel, Verdict]:
    """A sheet of a panel with what is known of it: all, where it was laid on the wearer; else what it is cut from."""
    flaws, work = find_flaws(bare, False), design.flat
    if here is not None and work is not None and bare.number in here.laid:
        flat = on_wearer(bare, here, work, layer.number == 1)
        whole = TEMPLATES[design.template].part in WHOLE
        where = place_words(flat.summary.worst_uv, here.tube.names, whole)
        return flat, judge_laid(flat, give_of(layer.kind, layer.thickness, gives), where, flaws)
    source = work.source if work else "file"
    return bare, Verdict("split" if flaws else "unknown", flaws[0].words if flaws else SAYS[source], ADVICE)


def drawn_side(design: PieceDesign) -> Side:
    """The side that panels which came flat are drawn for."""
    return "right" if design.side == "right" else "left"


def drawn_shape(
    design: PieceDesign,
    named: tuple[str, str],
    edged: EdgedShape,
    layer: PlacedLayer,
    flat: FlatPanel,
    verdict: Verdict,
    x: float,
) -> DrawnPanel:
    """A sheet of a panel with its label. named: the build and the piece. x: where it lies on the table, mm."""
    shape, side = edged.shape, drawn_side(design)
    twin = twinned(design)
    copies = shape.copies * (2 if twin else 1) * (2 if shape.mirrored else 1)
    label = label_panel(*named, design, side, shape.number, layer, twin, shape.mirrored)
    words = f"cut {copies}" if shape.copies > 1 else label.count
    told = f"{label.piece}: {shape.name}" if shape.name else label.piece
    return DrawnPanel(
        side, twin or shape.mirrored, copies, replace(label, count=words, piece=told), flat, verdict, layer,
        find_flaws(flat, False), (x, 0.0),
    )  # fmt: skip


def panel_of(edged: EdgedShape, made: Matched, work: FlatWork | None) -> FlatPanel:
    """One panel, lower left corner at zero."""
    low = np.concatenate(edged.edges).min(axis=0)
    number = edged.shape.number
    mates = {key.edge: (m, key is m.a) for m in made.mates for key in (m.a, m.b) if key.panel == number}
    drawn = as_drawn if work is not None and work.source in ("file", "solid") else (lambda points: points)
    edges = tuple(_edge(k, drawn(e - low), edged, mates.get(k)) for k, e in enumerate(edged.edges))
    holes = tuple(ring_edge(f"hole {k}", drawn(np.vstack([h, h[:1]]) - low)) for k, h in enumerate(edged.holes, 1))
    lines = tuple(
        FlatLine("mark" if s.kind in ("segment", "seam") else s.kind, s.name or s.kind, p - low)
        for s, p in zip(edged.shape.lines, edged.lines, strict=True)
        if s.kind != "centre line"
    )
    centre = next(
        (p - low for s, p in zip(edged.shape.lines, edged.lines, strict=True) if s.kind == "centre line"), None
    )
    outline = np.vstack([e.points()[:-1] for e in edges])
    vertices, faces = triangles_in(outline, [h.points()[:-1] for h in holes])
    return FlatPanel(
        number=number,
        face="outer",
        edges=edges,
        centre=upright(outline) if centre is None else centre,
        marks=tuple(m for k, e in enumerate(edges) if k in mates for m in _marks(e, *mates[k])),
        seams=tuple(_seam(m) for m, first in mates.values() if first)
        + tuple(_dart_seam(edges, k, tip) for k, tip in enumerate(edged.tips, 1)),
        summary=UNKNOWN,
        vertices=vertices,
        faces=faces,
        strain=np.zeros(len(vertices)),
        holes=holes,
        darts=tuple(_dart(edges, k, tip) for k, tip in enumerate(edged.tips, 1)),
        uv=np.zeros((len(vertices), 2)),
        lines=lines,
    )


def _edge(k: int, points: Array, edged: EdgedShape, mated: tuple[TruedMate, bool] | None) -> FlatEdge:
    """mated: the seam it is glued in, and whether it is its first side."""
    at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    leg = k in edged.tips or (k + 1) % len(edged.edges) in edged.tips
    arc = mated[0].name if mated else ""
    name = arc or f"edge {k + 1}"
    if mated and not mated[1] and mated[0].a.panel == mated[0].b.panel:
        name = f"{arc}, other edge"
    kind = "dart" if leg else "seam" if mated else "outline"
    return FlatEdge(name, kind, points, at, np.linspace(0.0, 1.0, len(points)), arc)


def _marks(edge: FlatEdge, mate: TruedMate, first: bool) -> list[Mark]:
    """Ticks at the same distances on both edges of a seam. Both run counter-clockwise round their panels, so that they
    run against each other: the second's ticks are counted from its end."""
    length = sum(mate.now) / 2
    at, ticks = mark_seam(length)
    own = edge.body_length
    share = [x / length * own for x in at]
    places = share if first else [own - x for x in share]
    return mark_edge(edge, places, ticks)


def _seam(mate: TruedMate) -> Seam:
    places, _ = mark_seam(sum(mate.now) / 2)
    return Seam(mate.name, sum(mate.now) / 2, *mate.now, arc=mate.name, free=mate.came, marks=len(places))


def _dart_seam(edges: tuple[FlatEdge, ...], k: int, tip: int) -> Seam:
    a, b = edges[tip - 1], edges[tip]
    return Seam(f"dart {k}", (a.length + b.length) / 2, a.length, b.length, kind="dart", free=(a.length, b.length))


def _dart(edges: tuple[FlatEdge, ...], k: int, tip: int) -> FlatDart:
    a, b = edges[tip - 1], edges[tip]
    left, right, end = a.knots[0], b.knots[-1], b.knots[0]
    one, other = left - end, right - end
    angle = float(np.degrees(np.arccos(np.clip(one @ other / (np.hypot(*one) * np.hypot(*other)), -1, 1))))
    none = np.zeros(2)
    return FlatDart(
        f"dart {k}",
        f"dart {k}",
        float(np.hypot(*(left - right))),
        angle,
        None,
        a.length,
        b.length,
        end,
        (left + right) / 2,
        none,
        none,
    )


def _of_laid(panels: Sequence[DrawnPanel], here: LaidFlat | None) -> Iterator[Finding]:
    """What is to be looked at where panels were laid on the wearer."""
    if here is None:
        return
    inner = [p.flat for p in panels if p.layer.number == 1]
    yield from dart_findings(inner)
    if any(s.kind != "dart" for f in inner for s in f.seams):
        yield Finding("say", "Folds are read where the panels lie on the body.", "flat.lies", STANDS_OFF)
    for number in sorted({f.number for f in inner} - set(here.laid)):
        words = f"Panel {number} lies nowhere on the body yet: its folds, and what its foam has to give, are not known."
        yield Finding("say", words, "flat.lies", "Lay it down too, or say which edge it is glued to.")


def _regraded(design: PieceDesign, now: float | None) -> list[Finding]:
    work = design.flat
    if work is None or work.girth is None or now is None or abs(now - work.girth) < APART:
        return []
    words = (
        f"The {work.station} measures {now:.0f} mm now and measured {work.girth:.0f} mm when these were taken: the "
        "panels "
        f"are made {flat_factor(design, now) / flat_factor(design):.3f} times as wide."
    )
    return [Finding("say", words, "flat.girth")]


def _told(made: Matched) -> list[Finding]:
    out = []
    for mate in made.mates:
        now = abs(mate.now[0] - mate.now[1])
        if now > APART:
            words = f"The edges of {mate.name} differ by {now:.1f} mm and will pucker."
            out.append(Finding("look", words, "flat.mates", "Have them made equal, or see which of them is wrong."))
        elif mate.apart > APART:
            words = (
                f"The edges of {mate.name} came {mate.apart:.1f} mm apart and were made equal; a corner moved "
                f"{mate.moved:.1f} mm."
            )
            out.append(Finding("say", words, "flat.mates"))
    for shape in made.panels.values():
        if shape.shape.off > 1.0:
            out.append(
                Finding(
                    "look",
                    f"Panel {shape.shape.number} may be off by {shape.shape.off:.1f} mm.",
                    "flat",
                    "Photograph it again.",
                )
            )
    return out
