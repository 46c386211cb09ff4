"""What was kept comes out the same: a pattern that is printed again in two years must lie on the foam cut today.

The figures in ``kept/*.json`` were looked at when they were written: ``python -m tests.core.test_kept_figures`` writes
them anew after a change that is meant to move them, and the difference shows in the repository what it moved.
"""

import random
from datetime import date
from functools import cache
from types import SimpleNamespace

import numpy as np
import pytest

from tests.bodies import FOREARM, WEARER, limb, measures, trunk
from tests.kept import comes_out_the_same, write
from vellumcut.core.body.guess import complete_limb
from vellumcut.core.body.measures import Measurements, changes_since, question_measures
from vellumcut.core.body.segments import SEGMENTS
from vellumcut.core.body.torso import TORSO_GIRTHS, TORSO_LENGTHS, complete_torso
from vellumcut.core.cast.halves import asymmetry
from vellumcut.core.cast.picture import picture_tube
from vellumcut.core.cast.scanned.landmarks import propose_ends
from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.scan import fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.scanned.stance import guess_stance
from vellumcut.core.cast.smoothing import smooth_rings
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.cast.wrap import plan_wrap
from vellumcut.core.design.piece import USUAL_GAP, PieceDesign
from vellumcut.core.flatten.mesh import EDIT_SIZE
from vellumcut.core.foam.advice import advise_sheet, instead_of
from vellumcut.core.foam.bends import panel_bends
from vellumcut.core.foam.sheets import CATALOGUE, sheet_of, stack_for, usual_give
from vellumcut.core.foam.verdict import place_words, strain_state
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.pattern.advice_words import plan_words, split_words
from vellumcut.core.pattern.dart_advice import standing
from vellumcut.core.pattern.fold import on_the_fold
from vellumcut.core.pattern.pages import PAPERS, plan_pages
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.pattern.regrade import compare_patterns
from vellumcut.core.pattern.strips import strips_pattern
from vellumcut.standins.made_up_body import BodyShape, made_up_body

ODD = limb("forearm", (0, 138, 240), (171, 258, 266), (0.8, 0.9, 0.92), side="right")
GROWN = measures(
    limb("forearm", (0, 138, 240), (168, 262, 262), (0.76, 0.93, 0.95)),
    limb("lower leg", (0, 200, 325), (225, 390, 352), (1.15, 1.06, 1.02)),
    limb("upper arm", (0, 110, 190), (268, 318, 335)),
    limb("thigh", (0, 130, 265), (405, 500, 590)),
).model_copy(update={"torso": trunk(bust=958, underbust=822, waist=776, hip=986, neck=370)})


def varied(name: str):
    """The starter, each of its choices, and two with sizes of their own."""
    template, luck = TEMPLATES[name], random.Random(name)
    start = starter_design(name)
    yield "starter", start
    for choice in template.choices:
        for option in choice.options[1:]:
            yield f"{choice.name} {option}", start.model_copy(update={"choices": {choice.name: option}})
    for k in range(2):
        sizes = {
            s.name: round(luck.uniform(*sorted((0.6 * s.usual, 1.4 * s.usual + 4)))) if not s.count else s.usual + k
            for s in template.sizes
        }
        edges = {"point": 12.0 + 20 * k, "flare": 8.0 * k, "flare_length": 30.0}
        more = {
            "back": "closed" if k else "open",
            "closure": "none" if k else "zip",
            "foam": 4.0 + 4 * k,
            "lower": {"shape": "pointed", "inset": 22.0, **edges},
            "upper": {"shape": "straight" if k else "pointed", "inset": 30.0, **edges},
        }
        yield f"own sizes {k + 1}", type(start).model_validate(start.model_dump() | {"sizes": sizes} | more)


def rounded(values, digits: int = 3) -> list[float]:
    return np.asarray(values, dtype=float).round(digits).ravel().tolist()


def sheets(name: str) -> dict:
    """Every stroke that a template lays, by its key: points, and how far it is lifted."""
    out = {}
    for title, design in varied(name):
        tube = build_tube(WEARER, TEMPLATES[name].part, "left")
        sheet = ink_sheet(tube, design)
        out[title] = {s.name: rounded([*np.ravel(s.points), s.lift, s.lift_width], 4) for s in sheet.strokes}
    return out


@cache
def patterned(name: str, title: str, grown: bool = False):
    design = dict(varied(name))[title]
    return pattern_piece(GROWN if grown else WEARER, design, name, "kept", EDIT_SIZE)


def panels(name: str) -> dict:
    """Edges, strain, place on the table, pages and the fold of the starter's panels."""
    out = {}
    for title in ("starter", "own sizes 1", "own sizes 2"):
        made = patterned(name, title)
        for drawn in made.panels:
            flat, pages = drawn.flat, plan_pages(drawn.flat.outline, "A4")
            out[f"{title} {drawn.label.code}"] = {
                **{e.name: rounded([e.length, e.body_length], 2) for e in (*flat.edges, *flat.holes)},
                "sums": rounded([flat.area / 100, flat.summary.p95, flat.summary.worst, flat.free_p95, flat.saddle], 2),
                "place": rounded(drawn.place, 2),
                "words": [drawn.verdict.state, flat.face, *drawn.label.lines],
                "marks": [[m.edge, m.ticks, *rounded(m.lines, 2)] for m in flat.marks],
                "pages": [[t.name, *rounded((t.x, t.y), 2)] for t in pages.tiles],
            }
        folded = on_the_fold(made)
        out[f"{title} piece"] = {
            "sums": rounded([made.cut_length, made.area / 100, made.joined_length, made.opening_length], 2),
            "fold": rounded([p.flat.outline_length for p in folded.panels], 2),
            "notes": [[n.title, round(v.amount, 2)] for n in made.notes for v in (n.result, *n.values)],
            "findings": [f.message for f in made.findings],
        }
    return out


def mended(name: str) -> dict:
    """What a wearer who has grown needs: strips, and how wide."""
    old, new = patterned(name, "starter"), patterned(name, "starter", grown=True)
    changes = compare_patterns(old, new)
    strips = strips_pattern(new, changes)
    told = {c.code: [c.state, c.words, *rounded([c.apart, *c.width], 2)] for c in changes}
    edges = [rounded([e.length for e in p.flat.edges], 2) for p in strips.panels] if strips else []
    return {"changes": told, "strips": edges}


def bodies() -> dict:
    """Ends and tubes off a made-up scan, guesses of what was not measured, wraps and smoothing."""
    points, faces = made_up_body(BodyShape(), 14.0)
    mesh, out = BodyMesh(points, faces), {}
    out["stance"] = vars(guess_stance(points, faces))
    for segment in ("torso", "forearm", "upper arm", "thigh", "lower leg"):
        ends = propose_ends(mesh, segment, "left")
        low, high, front = (np.array(p) for p in (ends.low, ends.high, ends.front))
        if segment == "torso":
            fit = fit_trunk(mesh, low, high, front)
        else:
            fit = fit_limb(
                mesh, limb_placement(low, high, front, False), float(np.linalg.norm(high - low)), tuple("abc")
            )
        v = np.linspace(0, len(fit.tube.at) - 1, 9)
        spots, normals = fit.tube.frame(*(g.ravel() for g in np.meshgrid((0.0, 0.3, 0.7), v[1::3])))
        out[segment] = {
            "ends": rounded([low, high, front], 2),
            "tube": rounded([*fit.tube.girth(v), *fit.tube.tape_girth(v), *fit.tube.at], 2),
            "frame": rounded([spots, 10 * normals], 2),
            "residual": rounded([fit.residual.mean, fit.residual.p95], 2),
            "hollow": rounded(
                100 * fit.tube.hollow(np.stack([np.linspace(0, 1, 12), np.linspace(0.2, 1.8, 12)], axis=1)), 2
            ),
        }
    leg = (
        (points[faces, 2].min(axis=1) > 130)
        & (points[faces, 2].max(axis=1) < 430)
        & (points[faces, 0].min(axis=1) > 20)
    )
    used, packed = np.unique(faces[leg], return_inverse=True)
    alone = propose_ends(BodyMesh(points[used], packed.reshape(-1, 3)), "lower leg", "left")
    out["a leg alone"] = rounded([alone.low, alone.high, alone.front], 2)
    for part in ("forearm", "thigh", "torso", "neck", "shoulder", "foot"):
        tube = build_tube(WEARER, part, "left")
        picture = picture_tube(tube, 9, 13)
        wrap = plan_wrap(tube, part, "left")
        out[f"measured {part}"] = {
            "picture": rounded(np.asarray(picture.points)[::2, ::3], 2),
            "hollow": rounded(tube.hollow(np.array([[0.1, 0.5], [0.6, 1.5]])), 5),
            "tightest": rounded(tube.tightest(np.array([20.0, 90.0])), 2),
            "wrap": rounded([wrap.area / 1e4, wrap.film, wrap.tape, wrap.minutes], 2),
        }
    few = measures(FOREARM)
    for part in ("upper arm", "thigh", "lower leg"):
        done = complete_limb(few, part, "left")
        out[f"guessed {part}"] = rounded([[r.at, r.girth] for r in done.reading.stations.values()], 2)
    sizes = complete_torso(trunk(bust=1010))
    out["guessed torso"] = {k: round(v, 2) for k, v in sizes.girths.items()} | {
        k: round(v, 2) for k, v in sizes.lengths.items()
    }
    odd = measures(FOREARM.model_copy(update={"side": "left"}), ODD)
    told = asymmetry(odd, "forearm")
    out["left and right"] = told.words
    angle, level = np.linspace(0, 2 * np.pi, 90, endpoint=False), np.cumsum([0, 4, 4, 6, 4, 3, 4, 5, 4, 4, 4, 7, 4])
    radius = 60 + 3 * np.sin(5 * angle) + np.cos(level / 6)[:, None]
    rings = np.stack([radius * np.sin(angle), -radius * np.cos(angle), 0 * radius + level[:, None]], axis=2)
    out["smoothed"] = rounded(smooth_rings(level.astype(float), rings, 9.0)[::3, ::11], 3)
    return out


def pieces_apart() -> dict:
    """Both sides of a limb that is not alike."""
    odd = measures(FOREARM.model_copy(update={"side": "left"}), ODD)
    piece = ink_piece(build_tube(odd, "forearm", "right"), starter_design("bracer"))
    return {"ends": rounded(piece.ends, 2), "taken": date(2026, 11, 2).isoformat()}


def tables() -> dict:
    """What the craft's tables say, and within which bounds a build file's fields may lie."""
    return {
        "templates": {n: repr((t.sizes, t.choices, t.insets, t.part, t.symmetric)) for n, t in TEMPLATES.items()},
        "segments": {n: repr(s) for n, s in SEGMENTS.items()},
        "torso": {n: repr(m) for n, m in {**TORSO_GIRTHS, **TORSO_LENGTHS}.items()},
        "papers": repr(PAPERS),
        "gaps": repr(USUAL_GAP),
        "sheets": [repr((s, [usual_give(k, s.thickness) for k in s.kinds], sheet_of(s.thickness))) for s in CATALOGUE],
        "stacks": {f"{t:g}": repr(stack_for(t)) for t in (2, 3, 7, 10, 13, 22)},
        "fields": {n: repr(PieceDesign.model_json_schema()["properties"][n]) for n in PieceDesign.model_fields},
        "readings": repr(Measurements.model_json_schema()["$defs"]),
    }


def told() -> dict:
    """What is asked and said of measures, of growing, of bending and of plans that reach or do not."""
    slips = WEARER.model_copy(update={"limbs": (limb("forearm", (0, 138, 240), (268, 452, 262)), *WEARER.limbs[1:])})
    out = {
        "asked": [q.message for q in question_measures(slips)],
        "grown": [f.message for f in changes_since(WEARER, GROWN)],
    }
    for thickness in (2, 5, 8, 12, 20, 25):
        design = starter_design("bracer").model_copy(update={"foam": float(thickness)})
        piece = ink_piece(build_tube(WEARER, "forearm", "left"), design)
        (bend,) = panel_bends(piece)
        out[f"bent {thickness}"] = [bend.words, bend.aid, *(f.message for f in bend.findings)]
        ways = instead_of(bend, 80_000.0, 240.0)
        out[f"instead of {thickness}"] = [
            [w.key, w.words, *(round(v, 2) for v in (w.strain, w.foam, w.grams, w.cement, w.minutes))] for w in ways
        ]
        out[f"advised {thickness}"] = [
            advise_sheet(r, 12.0 * thickness, 8e4).words for r in ("base", "structure", "detail")
        ]
    for share in (0.4, 0.9, 0.984, 0.99, 1.001, 1.4, 2.5):
        out[f"standing {share}"] = standing(5.0 * share, 5.0)
        strain = SimpleNamespace(stretch_p95=5.0 * share, squeeze_p95=3.0 * share, p95=5.0 * share)
        out[f"state {share}"] = strain_state(strain, usual_give("armour", 6.0))
    for key, kind, plans, splits in (
        ("reached", "darts", [(4.1, 1)], []),
        ("short", "short", [(6.2, 2), (7.0, 1)], []),
        ("short, better split", "short", [(6.2, 2)], [(5.2, "split")]),
        ("short, worse split", "short", [(6.2, 2)], [(7.2, "split")]),
        ("saddle", "saddle", [], [(4.0, "insert")]),
        ("nothing", "short", [], []),
    ):
        darts = tuple(
            SimpleNamespace(p95=p, squeeze=p - 2.0, flat=SimpleNamespace(darts=(None,) * n)) for p, n in plans
        )
        parted = tuple(SimpleNamespace(p95=p, kind=k, words=split_words(k, p, 14.0)) for p, k in splits)
        flat = SimpleNamespace(summary=SimpleNamespace(p95=9.0, squeeze_p95=4.0), saddle=0.6)
        out[f"plan {key}"] = plan_words(kind, flat, darts, parted, usual_give("armour", 6.0))
    for along in (-0.2, 0.0, 0.3, 0.5, 1.0, 1.49, 1.51, 2.0):
        out[f"place {along}"] = [
            place_words((u, along), ("wrist", "belly", "elbow")) for u in (0.0, 0.12, 0.3, 0.5, 0.8)
        ]
    return out


FIGURES = {
    "tables": tables,
    "told": told,
    **{f"sheet {name}": (lambda n=name: sheets(n)) for name in TEMPLATES},
    **{f"panels {name}": (lambda n=name: panels(n)) for name in TEMPLATES},
    **{f"regrade {name}": (lambda n=name: mended(n)) for name in ("bracer", "breastplate", "cuisse", "belt", "faulds")},
    "bodies": bodies,
    "apart": pieces_apart,
}


def check(name: str) -> None:
    comes_out_the_same(name, FIGURES)


@pytest.mark.parametrize("template", TEMPLATES)
def test_ink_that_was_laid_is_laid_the_same(template):
    check(f"sheet {template}")


@pytest.mark.parametrize("template", TEMPLATES)
def test_panels_that_were_cut_come_out_the_same(template):
    check(f"panels {template}")


@pytest.mark.parametrize("name", [name for name in FIGURES if name.startswith("regrade")])
def test_what_a_grown_wearer_needs_comes_out_the_same(name):
    check(name)


@pytest.mark.parametrize("name", ["tables", "told"])
def test_what_the_craft_says_is_said_the_same(name):
    check(name)


@pytest.mark.parametrize("name", ["bodies", "apart"])
def test_bodies_are_read_as_they_were(name):
    check(name)


if __name__ == "__main__":
    write(FIGURES)
