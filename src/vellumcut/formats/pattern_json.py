"""A piece's pattern as plain data, for the command line and for other programs."""

from typing import Any

from vellumcut.core.flatten.panel import FlatDart, FlatPanel
from vellumcut.core.foam.joints import Joint
from vellumcut.core.ink.design import opening
from vellumcut.core.layout.pattern import DrawnPanel, PiecePattern
from vellumcut.core.notes import Finding, Note, Value


def pattern_data(pattern: PiecePattern) -> dict[str, Any]:
    """Lengths in mm, y up the limb; strain in per cent. See docs/formats.md."""
    return {
        "piece": pattern.name,
        "template": pattern.design.template,
        "foam": pattern.design.foam,
        "opening": opening(pattern.design),
        "panels": [_panel(p) for p in pattern.panels],
        "joints": [{"side": side, **joint_data(j)} for side, joints in pattern.joints.items() for j in joints],
        "notes": [_note(n) for n in pattern.notes],
        "findings": [_finding(f) for f in pattern.findings],
    }


def _panel(panel: DrawnPanel) -> dict[str, Any]:
    flat = panel.flat
    return {
        "number": flat.number,
        "side": panel.side,
        "twin": panel.twin,
        "face": flat.face,
        "label": {"code": panel.label.code, "lines": list(panel.label.lines)},
        "outline": _points(flat.outline),
        "outline_length": round(flat.outline_length, 3),
        "area": round(flat.area, 1),
        "edges": [
            {
                "name": e.name,
                "kind": e.kind,
                "length": round(e.length, 3),
                "on_body": round(e.body_length, 3),
                "points": _points(e.points()),
            }
            for e in flat.edges
        ],
        "holes": [_points(ring) for ring in flat.hole_rings],
        "centre_line": _points(flat.centre),
        "darts": [_dart(d) for d in flat.darts],
        "lines": [{"kind": x.kind, "name": x.name, "points": _points(x.points)} for x in flat.lines],
        "marks": [
            {"edge": m.edge, "at": round(m.at, 2), "ticks": m.ticks, "lines": m.lines.round(3).tolist()}
            for m in flat.marks
        ],
        "seams": [
            {
                "name": s.name,
                "on_body": round(s.on_body, 3),
                "side_a": round(s.side_a, 3),
                "side_b": round(s.side_b, 3),
                "mismatch": round(s.mismatch, 3),
                "kind": s.kind,
                "before_truing": [round(x, 3) for x in s.free],
                "marks": s.marks,
            }
            for s in flat.seams
        ],
        "strain": strain_data(flat),
        "strain_before_truing": round(flat.free_p95, 3),
        "verdict": {"state": panel.verdict.state, "sentence": panel.verdict.sentence, "advice": panel.verdict.advice},
    }


def joint_data(joint: Joint) -> dict[str, Any]:
    """How both edges of a joint are cut: in degrees off square, at stations along it where they change."""
    return {
        "kind": joint.kind,
        "name": joint.name,
        "panels": list(joint.panels),
        "length": round(joint.length, 3),
        "ends": list(joint.ends),
        "fold": round(joint.fold.mean, 2),
        "bevel": round(joint.bevel.off_square, 2),
        "taken_off": joint.bevel.taken_off,
        "move": round(joint.bevel.move, 3),
        "stations": [
            {
                "at": round(float(at), 2),
                "fold": round(float(d), 2),
                "bevel": round(joint.bevel_at(float(d)).off_square, 2),
            }
            for at, d in zip(joint.fold.at, joint.fold.degrees, strict=True)
        ],
        "words": joint.words,
    }


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
    figures = {k: round(float(getattr(d, k)), 3) for k in ("intake", "angle", "curvature", "left", "right")}
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
