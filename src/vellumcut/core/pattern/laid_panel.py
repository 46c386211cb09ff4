"""A panel that came flat and was laid on its wearer: what the foam gives there, how its darts close, and what is fixed
to it."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.flat import FlatWork
from vellumcut.core.flatten.came_flat import mate_name
from vellumcut.core.flatten.curvature import gathered_curvature
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.mesh import EDIT_SIZE, mesh_panel
from vellumcut.core.flatten.panel import FlatDart, FlatLine, FlatPanel, Seam, leg_arc
from vellumcut.core.flatten.strain import summarise, vertex_strain
from vellumcut.core.foam.bends import kerf_lines
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.laying.inked import LaidFlat, dart_key, edge_seam, line_key, mate_key
from vellumcut.core.laying.laid import LaidPanel
from vellumcut.core.notes import Finding

Array = NDArray[np.float64]

DART_APART, DART_SHARE = 5.0, 0.3
"""Degrees, and share of the larger, by which a dart may close otherwise than the body curves round it (est.)."""


def on_wearer(flat: FlatPanel, piece: LaidFlat, work: FlatWork, first: bool) -> FlatPanel:
    """The panel with all that is known of it now. first: whether it is the innermost sheet, which straps are fixed
    to."""
    laid = piece.laid[flat.number]
    at = next(k for k, ink in enumerate(piece.panels) if ink.number == flat.number)
    ink = piece.panels[at]
    low = np.concatenate(laid.panel.edged.edges).min(axis=0)
    faces, count = laid.rest.faces, len(laid.places)
    fixed = (*kerf_lines(piece, ink), *(piece.fixings[at] if piece.fixings else ())) if first else ()
    return replace(
        flat,
        edges=tuple(_edge(k, e, flat, laid, work, low) for k, e in enumerate(flat.edges)),
        seams=tuple(_seam(s, flat, work) for s in flat.seams),
        summary=summarise(laid.strain, laid.rest.area, laid.places[faces].mean(axis=1)),
        vertices=laid.panel.here(laid.panel.mesh.chart) - low,
        faces=np.ascontiguousarray(faces[:, ::-1]) if laid.panel.turned else faces,
        strain=vertex_strain(laid.strain, faces, laid.rest.area, count),
        uv=laid.places,
        darts=tuple(_darts(flat, ink, piece.surface)),
        lines=(*_keyed(flat, laid, low), *(_line(x, laid, low) for x in fixed)),
    )


def _edge(k: int, edge: FlatEdge, flat: FlatPanel, laid: LaidPanel, work: FlatWork, low: Array) -> FlatEdge:
    along = laid.on_body(edge.knots + low)[:, 1]
    tips = laid.panel.edged.tips
    for n, tip in enumerate(tips, 1):
        if k in (tip, (tip - 1) % len(flat.edges)):
            return replace(edge, along=along, arc=leg_arc(dart_key(flat.number, n)), forward=k != tip)
    seam = edge_seam(work, flat.number, k)
    arc, forward = ("", True) if seam is None else (mate_key(seam[0]), seam[1])
    return replace(edge, along=along, arc=arc, forward=forward)


def _seam(seam: Seam, flat: FlatPanel, work: FlatWork) -> Seam:
    """With what its sides share, as joints know it."""
    if seam.kind == "dart":
        return replace(seam, arc=leg_arc(dart_key(flat.number, int(seam.name.removeprefix("dart ")))))
    return replace(seam, arc=next(mate_key(k) for k, m in enumerate(work.mates) if mate_name(k, m) == seam.name))


def _keyed(flat: FlatPanel, laid: LaidPanel, low: Array) -> Iterator[FlatLine]:
    """Its own lines, by the keys that folds know them by."""
    strokes = zip(laid.panel.edged.shape.lines, laid.panel.edged.lines, strict=True)
    keys = [line_key(flat.number, k) for k, (s, _) in enumerate(strokes) if s.kind != "centre line"]
    yield from (replace(x, key=key) for x, key in zip(flat.lines, keys, strict=True))


def _line(line: InkLine, laid: LaidPanel, low: Array) -> FlatLine:
    return FlatLine(line.kind, line.name, laid.on_table(line.uv) - low, line.key)


def _darts(flat: FlatPanel, ink: PanelInk, surface: ArmourSurface) -> Iterator[FlatDart]:
    """Held against the body: by Gauss and Bonnet a dart closes by about the curvature that is gathered round it."""
    gathered = gathered_curvature(mesh_panel(surface, ink, EDIT_SIZE)) if ink.darts else []
    found = {d.name: (float(np.degrees(g)), d) for d, g in zip(ink.darts, gathered, strict=True)}
    for dart in flat.darts:
        curvature, own = found[dart.name]
        yield replace(dart, key=own.key, curvature=curvature, tip_uv=own.uv[-1], mouth_uv=own.uv[0])


def dart_findings(flats: Sequence[FlatPanel]) -> Iterator[Finding]:
    """Darts that close by more or less than the body asks for."""
    for flat in flats:
        for dart in flat.darts:
            if dart.curvature is None:
                continue
            apart = dart.angle - dart.curvature
            if abs(apart) <= max(DART_APART, DART_SHARE * max(abs(dart.angle), abs(dart.curvature))):
                continue
            words = (
                f"{dart.name.capitalize()} of panel {flat.number} closes {dart.angle:.0f}°, and the body curves by "
                f"{dart.curvature:.0f}° round it."
            )
            advice = (
                "It makes a point there that the body has not: a smaller dart, or another tip."
                if apart > 0
                else "The foam gives the rest, or the panel lies elsewhere on the body than it was laid."
            )
            yield Finding("look", words, "flat.darts", advice)
