"""Core results as answers: arrays become lists, nothing is computed here."""

from typing import Any

import numpy as np

from vellumcut.api import schemas as s
from vellumcut.core.body.measures import stations_of
from vellumcut.core.cast.armour import MIDDLE, ArmourSurface
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.panel import FlatPanel
from vellumcut.core.foam.sheets import ALLOWANCES
from vellumcut.core.ink.design import PieceDesign, opening
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.templates import edge_places, ink_limb_piece
from vellumcut.core.layout.pattern import DrawnPanel, PiecePattern
from vellumcut.service import bench, builds, patterns
from vellumcut.store.database import Store
from vellumcut.store.models import Build, Piece, Wearer

RING, LEVELS = 60, 40


def points(array: np.ndarray, digits: int = 2) -> Any:
    return np.asarray(array).round(digits).tolist()


def piece_view(store: Store, piece: Piece) -> s.PieceOut:
    design = PieceDesign.model_validate(piece.design)
    template = TEMPLATES[design.template]
    progress, trouble = None, ""
    try:
        progress = patterns.progress_of(builds.work_on(store, piece.id), bench.ticks_of(store, piece.id))
    except CraftError as error:
        trouble = error.message
    return s.PieceOut(
        id=piece.id,
        build_id=piece.build_id,
        name=piece.name,
        design=design,
        segment=template.part,
        stations=list(stations_of(template.part)),
        usual_insets=list(template.insets),
        progress=progress,
        trouble=trouble,
    )


def build_view(store: Store, build: Build, wearer: Wearer, pieces: list[Piece]) -> s.BuildOut:
    return s.BuildOut(
        id=build.id,
        name=build.name,
        wearer_id=wearer.id,
        wearer=wearer.name,
        event_name=build.event_name,
        event_on=build.event_on,
        pieces=[piece_view(store, piece) for piece in pieces],
    )


def pattern_view(pattern: PiecePattern, changed_since: int | None) -> s.PatternOut:
    return s.PatternOut(
        name=pattern.name,
        panels=[panel_view(p) for p in pattern.panels],
        notes=list(pattern.notes),
        findings=list(pattern.findings),
        allowance=s.AllowanceOut.model_validate(ALLOWANCES[pattern.design.foam_kind]),
        opening=opening(pattern.design),
        cut_length=pattern.cut_length,
        area=pattern.area,
        changed_since=changed_since,
    )


def panel_view(panel: DrawnPanel) -> s.PanelOut:
    flat = panel.flat
    worst = flat.faces[flat.summary.worst_face]
    return s.PanelOut(
        number=flat.number,
        side=panel.side,
        twin=panel.twin,
        face=flat.face,
        label=s.LabelOut(code=panel.label.code, lines=list(panel.label.lines)),
        edges=[
            s.EdgeOut(name=e.name, kind=e.kind, length=e.length, on_body=e.body_length, points=points(e.points(2.0)))
            for e in flat.edges
        ],
        centre=points(flat.centre),
        marks=[s.MarkOut(edge=m.edge, ticks=m.ticks, lines=points(m.lines)) for m in flat.marks],
        seams=[s.SeamOut.model_validate(x) for x in flat.seams],
        outline_length=flat.outline_length,
        area=flat.area,
        p95=flat.summary.p95,
        worst=flat.summary.worst,
        mean=flat.summary.mean,
        worst_at=points(flat.vertices[worst].mean(axis=0)),
        verdict=panel.verdict,
        vertices=points(flat.vertices),
        faces=flat.faces.tolist(),
        strain=points(flat.strain),
    )


def cast_view(surface: ArmourSurface, design: PieceDesign, side: str) -> s.CastOut:
    """The tube as a triangle mesh with its tape direction, rings at the stations, and the foam over it."""
    tube = surface.tube
    mirror = np.array([-1.0 if side == "right" else 1.0, 1.0, 1.0])
    ends = (tube.at[0] - 35.0, tube.at[-1] + 35.0)
    levels = np.linspace(*ends, LEVELS)
    around = np.linspace(0, 1, RING + 1)
    u, z = (g.ravel() for g in np.meshgrid(around, levels))
    body = tube.uv_to_xyz(np.stack([u, tube.along(z)], axis=1)) * mirror
    arc = u * np.repeat(tube.girth(tube.along(levels)), RING + 1)
    rings = []
    for k, name in enumerate(tube.names):
        ring = tube.uv_to_xyz(np.stack([around, np.full(RING + 1, float(k))], axis=1)) * mirror
        rings.append(s.RingOut(name=name, girth=tube.station_girths[k], at=tube.at[k], points=points(ring)))
    foam, foam_faces = _foam_mesh(surface, design)
    return s.CastOut(
        side=side,
        positions=body.ravel().round(2).tolist(),
        tape=np.stack([arc, z], axis=1).ravel().round(2).tolist(),
        triangles=_grid_triangles(LEVELS, RING + 1, side == "right"),
        rings=rings,
        foam_positions=(foam * mirror).ravel().round(2).tolist(),
        foam_triangles=foam_faces if side != "right" else np.reshape(foam_faces, (-1, 3))[:, ::-1].ravel().tolist(),
        length=tube.length,
    )


def _foam_mesh(surface: ArmourSurface, design: PieceDesign) -> tuple[np.ndarray, list[int]]:
    """The sheet's middle layer as a grid between its inked ends and closing edges."""
    tube = surface.tube
    ink = {line.name: line.uv for line in ink_limb_piece(surface, design).outline}
    low, high = edge_places(tube, design)
    left_line, right_line = ink["closing edge B"], ink["closing edge A"][::-1]
    rows = []
    for share in np.linspace(0, 1, LEVELS):
        z = low + (high - low) * share
        left, right = (np.interp(z, tube.mm(line[:, 1]), line[:, 0]) for line in (left_line, right_line))
        around = np.concatenate([np.linspace(right, 0, RING // 2 + 1), np.linspace(0, left, RING // 2 + 1)[1:]])
        tip = 1 - np.abs(around) / np.where(around >= 0, left, -right)
        mm = low - design.lower.reach * tip + share * (high - low + (design.lower.reach + design.upper.reach) * tip)
        rows.append(surface.points(np.stack([around, tube.along(mm)], axis=1), MIDDLE))
    return np.vstack(rows), _grid_triangles(LEVELS, RING + 1, False)


def _grid_triangles(rows: int, columns: int, flip: bool) -> list[int]:
    r, c = (g.ravel() for g in np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij"))
    a, b, d, e = r * columns + c, r * columns + c + 1, (r + 1) * columns + c, (r + 1) * columns + c + 1
    faces = np.vstack([np.stack([a, b, e], axis=1), np.stack([a, e, d], axis=1)])
    return (faces[:, ::-1] if flip else faces).ravel().tolist()


def overlay_view(number: int, name: str, old: PiecePattern, new: PiecePattern) -> s.OverlayOut:
    move, apart = patterns.overlay_difference(old, new)
    a: FlatPanel = old.panels[0].flat
    return s.OverlayOut(
        number=number, name=name, old=points(a.outline + move), new=points(new.panels[0].flat.outline), apart=apart
    )
