"""A solid as a pattern: the same labelled panels that every other piece has, bent and folded, and nothing strained."""

from dataclasses import replace

import numpy as np

from vellumcut.core.design.flat import FlatMate
from vellumcut.core.design.piece import DartEdges, PieceDesign
from vellumcut.core.flatten.came_flat import EdgedShape, matched, mate_name
from vellumcut.core.flatten.flaws import find_flaws
from vellumcut.core.flatten.marks import Mark, mark_edge, mark_seam
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.flatten.strain import StrainSummary
from vellumcut.core.foam.sheets import Allowance, FoamGive, give_of
from vellumcut.core.foam.stacks import hardest_layer, layers_of
from vellumcut.core.foam.verdict import Verdict, strain_state
from vellumcut.core.laying.inked import line_key
from vellumcut.core.notes import Finding
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.flat_pattern import drawn_shape, panel_of
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.table import BETWEEN
from vellumcut.core.solids.piece import Known, flat_of, free_ends, known_of, made_solid
from vellumcut.core.solids.words import solid_findings

STAYS = Verdict("flat", "Lies flat", "It is bent and folded only: nothing of it is stretched.")


def solid_pattern(
    design: PieceDesign, name: str, build: str, gives: tuple[FoamGive, ...] = (), school: DartEdges = "by fold"
) -> PiecePattern:
    """All panels of a solid, every layer at its own depth. Raises CraftError."""
    known = known_of(design)
    deepest = max(len(layers_of(design, b.panel)) for b in known.bends)
    sheets = [_sheets(design, known, layer) for layer in range(1, deepest + 1)]
    strains = {p.number: p.strain for p in made_solid(design).unfolded.parts}
    panels: list[DrawnPanel] = []
    x = 0.0
    for number in sorted(sheets[0]):
        layers = layers_of(design, number)
        for layer in layers:
            edged, flat = sheets[layer.number - 1][number]
            verdict = _judged(flat, strains[number], give_of(layer.kind, layer.thickness, gives))
            panels.append(drawn_shape(design, (build, name), edged, layer, flat, verdict, x))
        x += float(np.ptp(panels[-1].flat.outline[:, 0])) + BETWEEN
    hardest = hardest_layer(design)
    give = give_of(hardest.kind, hardest.thickness, gives)
    told: tuple[Finding, ...] = tuple(solid_findings(design))
    return PiecePattern(name, design, tuple(panels), {}, give, told, gives, school, None, known)


def _judged(flat: FlatPanel, strain: StrainSummary | None, give: Allowance) -> Verdict:
    """What a panel asks of its foam. strain: None where it is only bent."""
    flaws = find_flaws(flat, False)
    if flaws:
        return Verdict("split", f"Cannot be cut so: {flaws[0].words}", "Change its measures.")
    if strain is None:
        return STAYS
    state = strain_state(strain, give)
    way = "squeeze" if strain.squeeze_p95 > strain.stretch_p95 else "stretch"
    asked = f"{max(strain.squeeze_p95, strain.stretch_p95):.1f} %"
    if state == "flat":
        return Verdict("flat", "Lies flat", f"The foam closes on its own: it gives {strain.worst:.1f} % at most.")
    if state == "warm":
        return Verdict("warm", f"Lies flat with a warm {way} of {asked}", "Warm it through and ease it over a form.")
    if state == "hard":
        words = "Warm it well and press it over a form; more panels ask less of the foam."
        return Verdict("hard", f"Warm {way} of {asked}, near what foam gives", words)
    return Verdict("split", f"Needs more panels: {asked} {way} is more than foam gives",
                   "Take more panels, or draw a seam over its fullest place.")  # fmt: skip


def _sheets(design: PieceDesign, known: Known, layer: int) -> dict[int, tuple[EdgedShape, FlatPanel]]:
    """One layer of every panel, by number: its edges, and as a flat panel."""
    work = flat_of(design, layer)
    assert work is not None
    made, over = matched(work), free_ends(design, layer)
    strains = {p.number: p.strain for p in made_solid(design, layer).unfolded.parts}
    out = {}
    for n, edged in made.panels.items():
        flat = _seamed(panel_of(edged, made, work), work.mates, over, known)
        strain = strains[n]
        # The mesh it was solved on is not the one it is drawn with.
        out[n] = edged, replace(flat, summary=replace(strain, worst_face=0) if strain else flat.summary)
    return out


def _seamed(
    flat: FlatPanel, mates: tuple[FlatMate, ...], over: dict[tuple[int, int], tuple[float, float]], known: Known
) -> FlatPanel:
    """With its folds by the keys they are worked by, and ticks that meet when it is closed."""
    edges, marks = list(flat.edges), list[Mark]()
    for k, mate in enumerate(mates):
        for key, first in ((mate.a, True), (mate.b, False)):
            if key.panel != flat.number:
                continue
            edge = edges[key.edge] = replace(edges[key.edge], arc=mate_name(k, mate), forward=first)
            before, after = over[key.panel, key.edge]
            shared = edge.body_length - before - after
            places, ticks = mark_seam(shared)
            at = [before + p for p in places] if first else [edge.body_length - after - p for p in places]
            marks += mark_edge(edge, at, ticks)
    folds = iter(c.name for c in known.folds if c.panel == flat.number)
    lines = tuple(replace(x, key=line_key(flat.number, k), name=next(folds, x.name)) for k, x in enumerate(flat.lines))
    return replace(flat, edges=tuple(edges), marks=tuple(marks), lines=lines)
