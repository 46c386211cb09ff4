"""Rigs and the figure as answers: arrays become lists, nothing is computed here."""

import numpy as np

from vellumcut.api.rigging import schemas as r
from vellumcut.api.views import points
from vellumcut.core.body.segments import Side
from vellumcut.core.ink.laps import asked_overlap, plate_edges
from vellumcut.core.rig.anchors import RIGHT, Anchor, at_its_line
from vellumcut.core.rig.closures.behind import closings
from vellumcut.core.rig.closures.facing import FacingPlan, edges_of, facings_of
from vellumcut.core.rig.closures.magnet_lines import magnet_line_names
from vellumcut.core.rig.closures.magnets import MagnetPlan, magnets_of
from vellumcut.core.rig.closures.openings import OpeningPlan, openings_of, seam_length, seams_to_open, why_none_opens
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.figure import RANK
from vellumcut.core.rig.loads import AnchorLoad, Rest, load_note
from vellumcut.core.rig.parts import way_why, way_words
from vellumcut.core.rig.recipes import rigs_for
from vellumcut.core.rig.rest_words import rest_findings, rest_words
from vellumcut.core.rig.stacking import unsaid_beneath
from vellumcut.core.rig.straps import Strap
from vellumcut.core.worn.movement import Trim
from vellumcut.core.worn.postures import POSTURES, turns_of
from vellumcut.core.worn.scene import FigurePart, body_parts, piece_parts
from vellumcut.service.rigging.movements import Moved, Turned
from vellumcut.service.rigging.rigs import CostumeRig, PieceRig


def rig_view(made: PieceRig) -> r.RigOut:
    piece, costume = made.piece, made.costume
    company = {m.template for m in costume.mates}
    rests = [x for x in made.rests.values() if x is not None]
    loads = [(x, load) for x in rests for load in x.loads]
    notes = [s.note for s in made.straps if s.side == piece.sides[0]]
    notes += [load_note(x, a) for x, a in loads if x.side == piece.sides[0] and not a.anchor.endswith(RIGHT)]
    notes += [n for d in made.donning for n in d.notes]
    laid = piece.on(piece.sides[0])
    plates = [name for name, _, _ in plate_edges([x.ink for x in laid.inked.regions])]
    return r.RigOut(
        plans=made.plans,
        donning=made.donning,
        weight=r.WeightOut.model_validate(made.weight),
        closure=piece.design.closure,
        closings=list(closings(laid)),
        way=costume.rig(piece).key,
        ways=[
            r.WayOut(key=x.key, words=way_words(x, laid), why=way_why(x, laid))
            for x in (
                [costume.rig(piece)]
                if at_its_line(laid)
                else rigs_for(piece.design.template, company, piece.design.side)
            )
        ],
        anchors=[a for side in piece.sides for a in _anchors(costume, piece, side, [x for _, x in loads])],
        straps=[strap_view(s, piece.key) for s in made.straps],
        rests=[_rest(x, piece, costume) for x in rests],
        notes=list({n.title: n for n in notes}.values()),
        findings=[f for x in rests for f in rest_findings(x, piece, costume)],
        magnets=[_magnet(x) for x in magnets_of(piece.on(piece.sides[0]))],
        openings=[_opening(x) for x in openings_of(laid)],
        seams=[
            r.OpenableSeamOut(line=k, name=s.name or "seam", length=seam_length(laid, s))
            for k, s in seams_to_open(laid).items()
        ],
        no_seams=why_none_opens(laid),
        beneath=[x.name for x in unsaid_beneath(costume, piece)],
        plates=plates,
        asked_overlap=asked_overlap(laid.inked.tube, piece.part, len(plates)),
        facings=[_facing(x) for x in facings_of(costume, piece, piece.sides[0])],
        edges=[
            r.EdgesOut(piece="" if p is piece else p.name, edges=list(edges_of(p.on(p.sides[0]))))
            for p in (piece, *(x for x in costume.pieces if x is not piece and x.part in (piece.part, "torso")))
        ],
        magnet_lines=list(magnet_line_names(piece.on(piece.sides[0]))),
        copies=piece.copies,
    )


def _anchors(costume: Costume, piece: Worn, side: Side, loads: list[AnchorLoad]) -> list[r.AnchorOut]:
    seat = costume.seat(piece.part, side)
    if seat is None:
        return []
    out = []
    for anchor in costume.anchors(piece, side):
        at = seat.place(piece.on(side).inked.surface.points(np.array([anchor.uv]), 1.0))[0]
        own = [x for x in loads if x.anchor == anchor.name and (piece.on(side).whole or x.side == side)]
        grams = sum(x.moving for x in own) if own else None
        out.append(_anchor(anchor, piece, side, at, grams, own))
    return out


def _anchor(
    anchor: Anchor, piece: Worn, side: Side, at: np.ndarray, grams: float | None, loads: list[AnchorLoad]
) -> r.AnchorOut:
    return r.AnchorOut(
        piece=piece.key, key=anchor.key, name=anchor.name, side=side, kind=anchor.kind, own=anchor.own,
        moved=anchor.key in piece.design.rig.moved, at=points(at), uv=points(np.array(anchor.uv), 4), grams=grams,
        hook=max((x.hook for x in loads), default=None), rivets=max((x.rivets for x in loads), default=None),
    )  # fmt: skip


def strap_view(strap: Strap, piece: int) -> r.StrapOut:
    return r.StrapOut(
        key=strap.key, words=strap.words, side=strap.side, piece=piece, material=strap.material,
        fastening=strap.fastening, points=points(strap.points, 1), standing=strap.standing, longest=strap.longest,
        posture=strap.posture, cut=strap.cut, adjust=strap.adjust, note=strap.note,
    )  # fmt: skip


def _rest(rest: Rest, piece: Worn, costume: Costume) -> r.RestOut:
    better = None
    seat = costume.seat(piece.part, rest.side)
    if rest.better is not None and seat is not None:
        better = points(seat.place(piece.on(rest.side).inked.surface.points(np.array([rest.better]), 1.0))[0])
    return r.RestOut(
        side=rest.side, weight=rest.weight, carried=rest.carried, left=rest.left, swings=rest.swings, better=better,
        words=rest_words(rest, piece),
    )  # fmt: skip


def figure_view(made: CostumeRig) -> r.FigureOut:
    figure = made.costume.figure
    joints = [
        r.FigureJoint(
            key=j.key, words=j.words, at=points(j.at), moves=j.moves, rank=RANK[j.key.split()[-1]],
            motions=[r.MotionOut(key=m.key, words=m.words, axis=list(m.axis), reach=m.reach) for m in j.motions],
        )
        for j in figure.joints.values()
    ]  # fmt: skip
    return r.FigureOut(
        meshes=[_mesh(p) for p in (*body_parts(made.costume), *piece_parts(made.costume))],
        joints=joints,
        postures={n: [r.TurnOut(joint=j, motion=m, degrees=d) for j, m, d in turns_of(n)] for n in POSTURES},
        missing=list(figure.missing),
        ground=figure.ground,
        straps=[strap_view(s, key) for key, straps in made.straps.items() for s in straps],
        dressing=made.dressing,
    )


def _mesh(part: FigurePart) -> r.MeshOut:
    used, packed = np.unique(part.faces, return_inverse=True)
    return r.MeshOut(
        region=part.region, piece=part.piece, side=part.side, positions=points(part.points[used].ravel(), 1),
        triangles=packed.ravel().tolist(),
    )  # fmt: skip


def _opening(plan: OpeningPlan) -> r.OpeningOut:
    return r.OpeningOut(
        line=plan.row.line,
        name=plan.name,
        kind=plan.row.kind,
        words=plan.words,
        length=plan.length,
        low=plan.low,
        high=plan.high,
        at=list(plan.at),
        hides=plan.hides,
        parts=list(plan.parts),
        advice=list(plan.advice),
    )


def _facing(plan: FacingPlan) -> r.FacingOut:
    return r.FacingOut(
        row=plan.row, words=plan.words, length=plan.length, low=plan.low, high=plan.high, gap=plan.gap,
        alike=plan.alike, at=list(plan.at), parts=list(plan.parts), advice=list(plan.advice), problem=plan.problem,
    )  # fmt: skip


def _magnet(plan: MagnetPlan) -> r.MagnetOut:
    return r.MagnetOut(
        edge=plan.row.edge, seat=plan.seat, couples=plan.couples, magnets=plan.magnets, washers=plan.washers,
        at=list(plan.at), poles=list(plan.poles), strip=list(plan.strip) if plan.strip else None, note=plan.note,
        advice=list(plan.advice), problem=plan.problem, alike=plan.alike,
    )  # fmt: skip


LEAVES_OUT = (
    "Pieces turn rigidly with their part of the body. Flesh that gives, foam that bends and straps that slide are "
    "left out, "
    "and the joints' places are estimated from the measures: try it on in paper where it is close."
)
KINDS = ("touches", "binds", "opens", "reaches", "free")


def movement_view(joint: str, costume: Costume, found: Turned) -> r.MovementOut:
    """Pairs to look at first."""
    words = {m.key: m.words for m in costume.figure.joints[joint].motions}
    rows = [_bind(m, costume, words) for m in found.pairs]
    rows.sort(key=lambda b: (KINDS.index(b.kind), b.angle if b.angle is not None else 999.0))
    stands = [
        r.StandsOut(
            on=x.found.on,
            piece=x.found.piece,
            name=costume.piece(x.found.piece).name,
            edge=x.found.edge,
            mm=x.found.mm,
            at=points(x.found.at),
            trims=_trims(costume, x.trims),
        )
        for x in found.stands
    ]
    return r.MovementOut(joint=joint, binds=rows, stands=stands, leaves_out=LEAVES_OUT)


def _trims(costume: Costume, trims: tuple[Trim, ...]) -> list[r.TrimOut]:
    return [r.TrimOut(piece=t.piece, name=costume.piece(t.piece).name, edge=t.edge, mm=t.mm) for t in trims]


def _bind(moved: Moved, costume: Costume, words: dict[str, str]) -> r.BindOut:
    b = moved.found
    return r.BindOut(
        motion=b.motion, words=words[b.motion], kind=moved.kind, moving=b.moving[0], fixed=b.fixed[0], angle=b.angle,
        reach=b.reach, wanted=moved.wanted, posture=moved.posture, at=points(b.at),
        opening=b.opening.after if b.opening else None, overlap=b.overlap if b.opening else None,
        trims=_trims(costume, moved.trims), by=list(b.by),
    )  # fmt: skip
