"""Core results as answers: arrays become lists, nothing is computed here."""

from typing import Any

import numpy as np

from vellumcut.api import schemas as s
from vellumcut.api.body import schemas as b
from vellumcut.api.body.schemas import CompletedOut, GuessedLimb, GuessedStation, GuessedTorso
from vellumcut.api.pattern import schemas as q
from vellumcut.core.body.guess import complete_limb
from vellumcut.core.body.measures import Measurements, stations_of
from vellumcut.core.body.segments import SEGMENTS
from vellumcut.core.body.torso import complete_torso
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.cast.halves import Asymmetry
from vellumcut.core.cast.picture import picture_mesh, picture_tube
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.piece import PieceDesign, opening
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.mesh import panel_shape
from vellumcut.core.flatten.panel import FlatDart, FlatPanel
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.core.ink.stage import read_piece_ink
from vellumcut.core.ink.templates import ink_limb_piece, is_inked
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.core.pattern.regrade import compare_patterns
from vellumcut.formats.body.shapes import join_meshes
from vellumcut.service.jobs import Job
from vellumcut.service.keeping import builds
from vellumcut.service.keeping.builds import Work
from vellumcut.service.making import plans
from vellumcut.service.merging import tag_of_row
from vellumcut.service.pattern.ink import numbered_shapes, panels_of
from vellumcut.service.pattern.patterns import ShownCast
from vellumcut.store.database import Store
from vellumcut.store.models import Build, Piece, Wearer


def points(array: np.ndarray, digits: int = 2) -> Any:
    return np.asarray(array).round(digits).tolist()


def piece_view(store: Store, piece: Piece, work: Work | None = None) -> s.PieceOut:
    """work: the piece as work, where it was read already."""
    design = PieceDesign.model_validate(piece.design)
    template = TEMPLATES[design.template]
    progress, trouble = None, ""
    try:
        progress = plans.progress_of(store, work or builds.work_on(store, piece.id))
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
        tag=tag_of_row(piece),
    )


def wearer_view(wearer: Wearer) -> s.WearerOut:
    return s.WearerOut(id=wearer.id, name=wearer.name, note=wearer.note, tag=tag_of_row(wearer))


def build_view(store: Store, build: Build, wearer: Wearer, pieces: list[Piece]) -> s.BuildOut:
    try:
        works = {work.piece_id: work for work in builds.works_on(store, build.id)}
    except CraftError:  # nobody is measured, which each piece says for itself
        works = {}
    return s.BuildOut(
        id=build.id,
        name=build.name,
        wearer_id=wearer.id,
        wearer=wearer.name,
        event_name=build.event_name,
        event_on=build.event_on,
        dart_edges=build.dart_edges,  # type: ignore[arg-type]
        schools=builds.schools_of(build),
        pieces=[piece_view(store, piece, works.get(piece.id)) for piece in pieces],
        tag=tag_of_row(build),
    )


def pattern_view(pattern: PiecePattern, changed_since: int | None, sides: Asymmetry | None) -> q.PatternOut:
    return q.PatternOut(
        name=pattern.name,
        settled=pattern.settled,
        panels=[panel_view(p) for p in pattern.panels],
        notes=list(pattern.notes),
        findings=list(pattern.findings),
        allowance=q.AllowanceOut.model_validate(pattern.give),
        in_sheets=[q.InSheetOut(kind=k, thickness=t, state=state) for (k, t), state in pattern.in_sheets.items()],
        opening=opening(pattern.design),
        cut_length=pattern.cut_length,
        area=pattern.area,
        changed_since=changed_since,
        asymmetry=None if sides is None else q.AsymmetryOut.model_validate(sides),
    )


def panel_view(panel: DrawnPanel) -> q.PanelOut:
    return q.PanelOut(
        **dict(flat_view(panel.flat)),
        number=panel.flat.number,
        side=panel.side,
        twin=panel.twin,
        face=panel.flat.face,
        label=q.LabelOut(code=panel.label.code, lines=list(panel.label.lines)),
        place=points(np.array(panel.place)),
        verdict=panel.verdict,
    )


def flat_view(flat: FlatPanel) -> q.FlatOut:
    worst = flat.faces[flat.summary.worst_face]
    return q.FlatOut(
        edges=[_edge_view(e) for e in flat.edges],
        holes=[_edge_view(e) for e in flat.holes],
        centre=points(flat.centre),
        lines=[q.LineOut(kind=x.kind, name=x.name, points=points(x.points)) for x in flat.lines],
        marks=[q.MarkOut(edge=m.edge, ticks=m.ticks, lines=points(m.lines)) for m in flat.marks],
        seams=[q.SeamOut.model_validate(x) for x in flat.seams],
        darts=[_dart_view(d) for d in flat.darts],
        outline_length=flat.outline_length,
        area=flat.area,
        p95=flat.summary.p95,
        stretch_p95=flat.summary.stretch_p95,
        squeeze_p95=flat.summary.squeeze_p95,
        free_p95=flat.free_p95,
        worst=flat.summary.worst,
        mean=flat.summary.mean,
        worst_at=points(flat.vertices[worst].mean(axis=0)),
        vertices=points(flat.vertices),
        faces=flat.faces.tolist(),
        strain=points(flat.strain),
        uv=points(flat.uv, 4),
    )


def job_view(job: Job) -> b.JobOut:
    """A job as it stands; what it made is given as a number, or fetched apart."""
    made = job.result if isinstance(job.result, int) else None
    return b.JobOut(id=job.id, title=job.title, state=job.state, share=job.share, words=job.words, result=made)


def _edge_view(edge: FlatEdge) -> q.EdgeOut:
    drawn = points(edge.points(2.0))
    return q.EdgeOut(name=edge.name, kind=edge.kind, length=edge.length, on_body=edge.body_length, points=drawn)


def _dart_view(dart: FlatDart) -> q.DartOut:
    flat = {k: points(np.array(getattr(dart, k)), 4) for k in ("tip", "mouth", "tip_uv", "mouth_uv")}
    figures = {k: getattr(dart, k) for k in ("key", "name", "intake", "angle", "curvature", "left", "right")}
    return q.DartOut(**figures, **flat)


def cast_view(shown: ShownCast) -> s.CastOut:
    """The tube as a triangle mesh with its tape direction, rings at the stations, and the foam over it."""
    surface, side = shown.surface, shown.side
    tube = surface.tube
    flip = side == "right"
    mirror = np.array([-1.0 if flip else 1.0, 1.0, 1.0])
    picture = picture_tube(tube, 41, 65)
    places, mesh, faces = picture_mesh(picture, tube)
    levels = tube.mm(places[:, 1])
    arc = places[:, 0] * np.interp(levels, picture.levels, picture.girths)
    ring = np.linspace(0, 1, 61)
    rings = [
        s.RingOut(name=name, girth=girth, at=at, points=points(tube.frame(ring, np.full(61, float(k)))[0] * mirror))
        for k, (name, at, girth) in enumerate(zip(tube.names, tube.at, tube.station_girths, strict=True))
    ]
    meshes = _foam_meshes(shown)
    foam, foam_faces = join_meshes([(v, f.astype(np.int64)) for _, (v, f) in meshes])
    return s.CastOut(
        side=side,
        positions=points((mesh * mirror).ravel()),
        tape=points(np.stack([arc, levels], axis=1).ravel()),
        triangles=(faces[:, ::-1] if flip else faces).ravel().tolist(),
        rings=rings,
        foam_positions=points((foam * mirror).ravel()),
        foam_triangles=(foam_faces[:, ::-1] if flip else foam_faces).ravel().tolist(),
        foam_panels=[number for number, (_, f) in meshes for _ in range(len(f))],
        places=points(places),
        length=tube.length,
    )


def _foam_meshes(shown: ShownCast) -> list[tuple[int, tuple[np.ndarray, np.ndarray]]]:
    """The sheet's outer face over every panel, by the panel's number; none of panels that came flat and lie nowhere."""
    surface, design = shown.surface, shown.design
    if design.flat is not None:
        return list(numbered_shapes(surface, shown.laid))
    if is_inked(design):
        return list(numbered_shapes(surface, panels_of(read_piece_ink(surface.tube, design))))
    ink = ink_limb_piece(surface, design)
    return [(ink.number, panel_shape(surface, ink, OUTER))]


def overlay_view(number: int, name: str, old: PiecePattern, new: PiecePattern) -> s.OverlayOut:
    panels = [
        s.OverlaidOut(
            code=c.code,
            before=c.before,
            old=points(c.old[::2] + p.place) if c.before else [],
            new=points(c.new[::2] + p.place),
            apart=c.apart,
        )
        for c, p in zip(compare_patterns(old, new), new.panels, strict=True)
    ]
    gone = sorted({p.label.code for p in old.panels} - {p.before for p in panels})
    return s.OverlayOut(number=number, name=name, panels=panels, gone=gone, apart=max(p.apart for p in panels))


def complete_view(readings: Measurements) -> CompletedOut:
    """Every measure of a set with its guesses. What cannot be guessed yet is left out."""
    limbs = []
    for segment in SEGMENTS:
        for side in (
            ("left", "right") if any(x.segment == segment and x.side != "both" for x in readings.limbs) else ("both",)
        ):
            try:
                full = complete_limb(readings, segment, "left" if side == "both" else side)
            except CraftError:
                continue
            stations = [
                GuessedStation(name=n, girth=r.body_girth, at=r.at, guessed=n in full.guessed)
                for n, r in full.reading.stations.items()
            ]
            limbs.append(GuessedLimb(segment=segment, side=side, stations=stations, borrowed=full.borrowed))
    torso, trouble = None, ""
    if readings.torso is not None and readings.torso.girths:
        sizes = complete_torso(readings.torso)
        torso = GuessedTorso(girths=sizes.girths, lengths=sizes.lengths, guessed=list(sizes.guessed))
        try:
            build_tube(readings.model_copy(update={"scans": ()}), "torso", "left")
        except CraftError as error:
            trouble = error.message
    return CompletedOut(limbs=limbs, torso=torso, trouble=trouble)
