"""Rigs as plain data, as docs/formats.md says."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from vellumcut.core.cast.armour import OUTER
from vellumcut.core.make.weight import Weight
from vellumcut.core.rig.closures.facing import facings_of
from vellumcut.core.rig.closures.magnets import MagnetPlan
from vellumcut.core.rig.closures.openings import openings_of
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.loads import Rest
from vellumcut.core.rig.parts import RigPlan
from vellumcut.core.rig.straps import Strap
from vellumcut.core.worn.donning import Donning
from vellumcut.core.worn.dressing import DressingStep
from vellumcut.core.worn.movement import Bind


def _place(at: np.ndarray) -> list[float]:
    return [round(float(x), 2) for x in at]


def piece_rig_data(
    costume: Costume, piece: Worn, straps: Sequence[Strap], rests: Mapping[Any, Rest | None], plans: Sequence[RigPlan],
    donning: Sequence[Donning], magnets: Sequence[MagnetPlan], weight: Weight,
) -> dict[str, Any]:  # fmt: skip
    """One piece's rig. Places are mm on the standing figure."""
    return {
        "name": piece.name,
        "template": piece.design.template,
        "way": costume.rig(piece).key,
        "anchors": [a for side in piece.sides for a in _anchors(costume, piece, side)],
        "straps": [_strap(s) for s in straps],
        "parts": [
            {"side": p.side, "name": x.name, "count": x.count, "cut": round(x.length, 1), "at": list(x.at),
                "stitches": x.stitches, "glue": x.glue}
            for p in plans
            for x in p.parts
        ],
        "weight": {k: round(v, 1) for k, v in asdict(weight).items()} | {"total": round(weight.total, 1)},
        "rests": [_rest(r) for r in rests.values() if r is not None],
        "donning": [{"side": d.side, "passes": d.passes, "spread": round(d.needed, 1),
            "words": d.sentence} for d in donning],
        "magnets": [
            {"edge": m.row.edge, "seat": m.seat, "couples": m.couples, "alike": m.alike, "magnets": m.magnets,
                "washers": m.washers, "at": [round(x, 1) for x in m.at], "poles": list(m.poles)}
            for m in magnets
        ],
        "openings": [
            {"seam": o.name, "kind": o.row.kind, "length": round(o.length, 1), "from": round(o.low, 1),
                "to": round(o.high, 1), "at": [round(x, 1) for x in o.at]}
            for o in openings_of(piece.on(piece.sides[0]))
        ],
        "closings": [
            {"words": c.words, "length": round(c.length, 1), "from": round(c.low, 1), "to": round(c.high, 1),
                "gap": round(c.gap, 1), "alike": c.alike, "problem": c.problem}
            for c in facings_of(costume, piece, piece.sides[0])
        ],
    }  # fmt: skip


def _anchors(costume: Costume, piece: Worn, side: Any) -> list[dict[str, Any]]:
    seat = costume.seat(piece.part, side)
    surface = piece.on(side).inked.surface
    rows = costume.anchors(piece, side)
    return [
        {
            "name": a.name,
            "side": side,
            "kind": a.kind,
            "own": a.own,
            "uv": [round(a.uv[0], 5), round(a.uv[1], 5)],
            "at": None if seat is None else _place(seat.place(surface.points(np.array([a.uv]), OUTER))[0]),
        }
        for a in rows
    ]


def _strap(strap: Strap) -> dict[str, Any]:
    return {
        "name": strap.key,
        "words": strap.words,
        "side": strap.side,
        "material": strap.material,
        "fastening": strap.fastening,
        "standing": round(strap.standing, 2),
        "longest": round(strap.longest, 2),
        "posture": strap.posture,
        "cut": round(strap.cut, 2),
        "adjusts": round(strap.adjust, 2),
        "ends": [{"piece": e.piece, "anchor": e.anchor, "at": _place(e.at)} for e in strap.ends],
        "line": [_place(p) for p in strap.points],
    }


def _rest(rest: Rest) -> dict[str, Any]:
    return {
        "side": rest.side,
        "weight": round(rest.weight, 1),
        "carried": round(rest.carried, 1),
        "left_over": round(rest.left, 4),
        "loads": [{"anchor": x.anchor, "grams": round(x.grams, 1), "moving": round(x.moving, 1), "rivets": x.rivets,
            "hook_mm2": round(x.hook)} for x in rest.loads],
    }  # fmt: skip


def rig_data(build: str, pieces: Sequence[dict[str, Any]], dressing: Sequence[DressingStep], binds: Sequence[Bind],
    costume: Costume) -> dict[str, Any]:  # fmt: skip
    """A whole costume."""
    return {
        "format": "vellumcut-rig",
        "version": 1,
        "build": build,
        "pieces": list(pieces),
        "dressing": [
            {"piece": x.name, "who": x.who, "why": x.why, "minutes": x.minutes, "out_alone": x.out,
                "how": x.how} for x in dressing
        ],
        "movement": [
            {
                "joint": b.joint,
                "motion": b.motion,
                "moving": [costume.piece(b.moving[0]).name, b.moving[1]],
                "fixed": [costume.piece(b.fixed[0]).name, b.fixed[1]],
                "by": list(b.by),
                "meets_at": None if b.angle is None else round(b.angle, 1),
                "reach": b.reach,
                "gap": None if b.opening is None else round(b.opening.after, 1),
            }
            for b in binds
        ],
    }  # fmt: skip
