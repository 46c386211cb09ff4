"""A piece's pattern as plain data, for the command line and for other programs."""

from typing import Any

import numpy as np

from vellumcut.core.design.piece import opening
from vellumcut.core.flatten.curves import FlatEdge
from vellumcut.core.flatten.panel import FlatDart, FlatPanel, Seam
from vellumcut.core.foam.bends import PanelBend
from vellumcut.core.foam.edges import EdgeCut
from vellumcut.core.foam.grooves import FoldCut
from vellumcut.core.foam.joints import Joint
from vellumcut.core.foam.stacks import layers_of
from vellumcut.core.notes import Finding, Note, Value
from vellumcut.core.pattern.drawn import DrawnPanel
from vellumcut.core.pattern.pattern import PiecePattern


def pattern_data(pattern: PiecePattern) -> dict[str, Any]:
    """Lengths in mm, y up the limb; strain in per cent. See docs/formats.md."""
    return {
        "piece": pattern.name,
        "template": pattern.design.template,
        "foam": pattern.design.foam,
        "opening": opening(pattern.design),
        "panels": [_panel(p) for p in pattern.panels],
        "parts": [_panel(p) for p in pattern.parts],
        "layers": [{"thickness": x.thickness, "kind": x.kind} for x in layers_of(pattern.design, 0)],
        "joints": [{"side": side, **joint_data(j)} for side, joints in pattern.joints.items() for j in joints],
        "folds": [{"side": side, **fold_data(c)} for side, cuts in pattern.folds.items() for c in cuts],
        "bends": [{"side": side, **bend_data(b)} for side, bends in pattern.bends.items() for b in bends],
        "notes": [_note(n) for n in pattern.notes],
        "findings": [_finding(f) for f in pattern.findings],
    }


def _panel(panel: DrawnPanel) -> dict[str, Any]:
    flat = panel.flat
    own = {e.name: _edge_cut(panel.edges[e.name]) for e in (*flat.edges, *flat.holes) if e.name in panel.edges}
    return {
        "number": flat.number,
        "layer": panel.layer.number,
        "layers": panel.layer.count,
        "foam": panel.layer.thickness,
        "foam_kind": panel.layer.kind,
        "side": panel.side,
        "twin": panel.twin,
        "face": flat.face,
        "label": {"code": panel.label.code, "lines": list(panel.label.lines)},
        "outline": _points(flat.outline),
        "outline_length": round(flat.outline_length, 3),
        "area": round(flat.area, 1),
        "edges": [_edge(e, own) for e in flat.edges],
        "hole_cuts": {e.name: own[e.name] for e in flat.holes if e.name in own},
        "holes": [_points(ring) for ring in flat.hole_rings],
        "centre_line": _points(flat.centre),
        "darts": [_dart(d) for d in flat.darts],
        "lines": [
            {"kind": x.kind, "name": x.name, "key": x.key, "words": x.words, "points": _points(x.points)}
            for x in flat.lines
        ],
        "marks": [
            {"edge": m.edge, "at": round(m.at, 2), "ticks": m.ticks, "lines": m.lines.round(3).tolist()}
            for m in flat.marks
        ],
        "seams": [_seam(s) for s in flat.seams],
        "strain": strain_data(flat),
        "strain_before_truing": round(flat.free_p95, 3),
        "verdict": {"state": panel.verdict.state, "sentence": panel.verdict.sentence, "advice": panel.verdict.advice},
    }


def _edge(edge: FlatEdge, cuts: dict[str, dict[str, Any]]) -> dict[str, Any]:
    return {
        "name": edge.name,
        "kind": edge.kind,
        "length": round(edge.length, 3),
        "on_body": round(edge.body_length, 3),
        "points": _points(edge.points()),
        "cut": cuts.get(edge.name),
    }


def _seam(seam: Seam) -> dict[str, Any]:
    return {
        "name": seam.name,
        "on_body": round(seam.on_body, 3),
        "side_a": round(seam.side_a, 3),
        "side_b": round(seam.side_b, 3),
        "mismatch": round(seam.mismatch, 3),
        "kind": seam.kind,
        "before_truing": [round(x, 3) for x in seam.free],
        "marks": seam.marks,
    }


def joint_data(joint: Joint) -> dict[str, Any]:
    """How both edges of a joint are cut: in degrees off square, at stations along it where they change."""
    rows = zip(joint.panels, joint.foam, joint.bevel, strict=True)
    return {
        "kind": joint.kind,
        "name": joint.name,
        "length": round(joint.length, 3),
        "ends": list(joint.ends),
        "fold": round(joint.fold.mean, 2),
        "asked": joint.asked,
        "sides": [
            {
                "panel": panel,
                "foam": foam,
                "bevel": round(bevel.off_square, 2),
                "taken_off": bevel.taken_off,
                "move": round(bevel.move(0.0, foam / 2, foam), 3),
            }
            for panel, foam, bevel in rows
        ],
        "stations": [
            {"at": round(at, 2), "fold": round(fold, 2), "bevel": [round(b.off_square, 2) for b in both]}
            for at, fold, both in joint.stations
        ],
        "words": joint.words,
    }


def _edge_cut(cut: EdgeCut) -> dict[str, Any]:
    """How one edge of one sheet is cut: its fold and bevel in degrees at stations along it, mm on the body."""
    rows = zip(cut.at, cut.fold, cut.lean, cut.move, strict=True)
    stations = [{k: round(float(v), 3) for k, v in zip(("at", "fold", "bevel", "move"), r, strict=True)} for r in rows]
    mean = {k: float(np.mean(getattr(cut, k))) for k in ("fold", "lean")}
    shape = "joined" if cut.joint else cut.work.shape if cut.work else "as cut"
    return {
        "fold": round(mean["fold"], 2),
        "bevel": round(mean["lean"], 2),
        "taken_off": cut.taken_off,
        "joint": cut.joint,
        "shape": shape,
        "work": cut.work.model_dump(mode="json", exclude={"name"}) if cut.work else None,
        "stations": _thinned(stations),
        "words": cut.words,
    }


def _thinned(stations: list[dict[str, float]]) -> list[dict[str, float]]:
    """Stations without those in a row that say the same."""
    same = [{k: v for k, v in s.items() if k != "at"} for s in stations]
    last = len(stations) - 1
    return [s for k, s in enumerate(stations) if k in (0, last) or not same[k - 1] == same[k] == same[k + 1]]


def fold_data(cut: FoldCut) -> dict[str, Any]:
    """How a fold or score line inside a panel is worked, in mm and degrees."""
    return {
        "key": cut.key,
        "name": cut.name,
        "panel": cut.panel,
        "length": round(cut.length, 2),
        "way": cut.work.way,
        "angle": round(cut.angle, 2),
        "angle_from": cut.told,
        "armour_folds": round(cut.body.mean, 2),
        "face": cut.face,
        "depth": round(cut.depth, 3),
        "width": round(cut.width, 3),
        "hinge": round(cut.hinge, 3),
        "walls": cut.work.walls,
        "overcut": cut.work.overcut,
        "lines": cut.lines,
        "step": cut.work.step,
        "how": cut.how,
    }


def bend_data(bend: PanelBend) -> dict[str, Any]:
    """How a panel is bent: radii in mm, below zero where it is hollow; strain of its worst face in per cent."""
    figures = {k: round(float(getattr(bend, k)), 2) for k in ("across", "along", "tightest", "strain", "foam")}
    turn = round(float(np.degrees(bend.turn)), 1)
    return {"panel": bend.panel, **figures, "turn": turn, "advised": bend.advised, "way": bend.way, "words": bend.words,
            "aid": bend.aid}  # fmt: skip


def strain_data(flat: FlatPanel) -> dict[str, float]:
    """Area-weighted strain figures in per cent, in foam terms."""
    s = flat.summary
    return {
        "mean": round(s.mean, 3),
        "p95": round(s.p95, 3),
        "p99": round(s.p99, 3),
        "worst": round(s.worst, 3),
        "stretch_p95": round(s.stretch_p95, 3),
        "squeeze_p95": round(s.squeeze_p95, 3),
    }


def _dart(d: FlatDart) -> dict[str, Any]:
    known = (k for k in ("intake", "angle", "curvature", "left", "right") if getattr(d, k) is not None)
    figures = {k: round(float(getattr(d, k)), 3) for k in known}
    return {"name": d.name, **figures, "tip": _points(d.tip), "mouth": _points(d.mouth)}


def _points(points: Any) -> Any:
    return points.round(3).tolist()


def _value(v: Value) -> dict[str, Any]:
    return {"word": v.word, "amount": round(v.amount, 4), "kind": v.kind}


def _note(n: Note) -> dict[str, Any]:
    made = n.formula.format(*(f"{v.amount:.4g}" for v in n.values))
    return {
        "title": n.title,
        "result": _value(n.result),
        "made": made,
        "values": [_value(v) for v in n.values],
        "reason": n.reason,
    }


def _finding(f: Finding) -> dict[str, Any]:
    return {"level": f.level, "message": f.message, "place": f.place, "advice": f.advice}
