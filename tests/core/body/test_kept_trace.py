"""Tracing as it was looked at: small photographs read step by step, and every gesture that puts an outline right, kept.

Places are kept to two hundredths of a millimetre: another machine's camera arithmetic may round what is finer.
``python -m tests.core.body.test_kept_trace`` writes them anew after a change that is meant to move them.
"""

from dataclasses import replace
from functools import cache

import cv2
import numpy as np
import pytest
import shapely

from tests.casts import picture_of
from tests.depth import mostly
from tests.kept import comes_out_the_same, write
from vellumcut.core.design.flat import FlatShape, FlatStroke
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.edges.slits import legs_of, notches, without_ink
from vellumcut.core.trace.ground import by_calm, by_colour, by_edges, known_ground, pieces_on, steepness, surprise
from vellumcut.core.trace.hand import corrections
from vellumcut.core.trace.outline import Close, colours, crop, opponent
from vellumcut.core.trace.shapes import lies_on, measures, shape_of, with_corners
from vellumcut.core.trace.trace import Trace, trace_picture
from vellumcut.core.trace.view.find import across, light_of, sightings
from vellumcut.core.trace.view.join import joined
from vellumcut.core.trace.view.judge import judge_view
from vellumcut.core.trace.view.rectify import FromAbove, box_of, resolution
from vellumcut.standins.casts import scene

SMALL = {"size": (1500, 1125), "tilt": 0.3, "over": 700.0, "blur": 0.4}
SCENES = {"cloth": scene(5, "cloth", "tape", cards=4, **SMALL), "boards": scene(13, "boards", "tape", cards=5, **SMALL)}


@cache
def traced(name: str) -> tuple[np.ndarray, Trace]:
    picture = picture_of(SCENES[name])
    return picture, trace_picture(picture)


def rounded(values, digits: int = 2) -> list[float]:
    return (np.asarray(values, dtype=float).round(digits) + 0.0).ravel().tolist()


def ring(points, count: int = 48) -> list[float]:
    """Places evenly round a closed line, from the one that lies furthest left."""
    points = np.asarray(points, dtype=float)
    line = shapely.LinearRing(np.roll(points, -int(points[:, 0].argmin()), axis=0))
    places = line.interpolate(np.linspace(0, 1, count, endpoint=False), normalized=True)
    return rounded(shapely.get_coordinates(places))


def photograph(name: str) -> dict:
    """All that is read off one photograph."""
    _, trace = traced(name)
    view, lens = trace.view, trace.view.lens
    return {
        "dropped": list(trace.dropped),
        "lens": rounded([lens.k1, lens.k2], 3),
        "cards": [list(view.numbers), rounded(view.poses)],
        "above": [*trace.above.picture.shape[:2], *rounded([trace.above.per, resolution(lens, view.poses)])],
        "box": rounded(box_of(lens, view.poses)),
        "said": [f.words for f in trace.findings],
        "pieces": [piece(trace, k) for k in range(len(trace.pieces))],
    }


def piece(trace: Trace, k: int) -> dict:
    found = trace.pieces[k]
    shape = shape_of(found, k + 1)
    return {
        "area": round(found.area / 100, 2),
        "outline": ring(found.outline),
        "holes": [ring(h, 12) for h in found.holes],
        "slits": [rounded([*s.tip, s.deep, s.angle]) for s in found.slits],
        "ink": [[x.colour, *rounded([*x.points[0], *x.points[-1], len(x.points) / 20])] for x in found.ink],
        "sure": rounded([found.sure.rms, found.sure.worst, found.sure.view, found.sure.edge]),
        "unsure": len(found.sure.unsure),
        "said": [f.words for f in found.findings],
        "shape": [len(shape.corners), len(shape.darts), len(shape.lines), *rounded(measures(shape))],
        "corners": rounded([shape.outline[c] for c in shape.corners]),
    }


def grounds(name: str) -> dict:
    """Piece told from ground by each of the ways, on a coarse picture: how much of it, and where its middle is, mm."""
    picture, trace = traced(name)
    seen = sightings(picture)
    coarse = trace.above.coarser(1.0)
    known, barred = known_ground(coarse, trace.view.poses, trace.side)
    masks = {
        "known": known, "barred": barred, "edges": by_edges(coarse, known, barred),
        "colour": by_colour(coarse, known, barred),
        **{f"calm {k}": m for k, m in enumerate(by_calm(coarse, known, barred))},
    }  # fmt: skip
    odd = surprise(cv2.cvtColor(coarse.picture, cv2.COLOR_RGB2LAB), known)
    found = {k: covered(coarse, m) for k, m in masks.items()}
    profiles = across(
        light_of(picture),
        np.array([[300.0, 300.0], [900.0, 500.0]]),
        np.array([[1.0, 0.0], [0.6, 0.8]]),
        np.array([8.0, 5.0]),
    )
    return {
        "sightings": [[s.number, *rounded(s.corners)] for s in sorted(seen, key=lambda s: s.number)],
        "masks": found,
        "surprise": rounded(np.quantile(odd, (0.05, 0.5, 0.9, 0.99))),
        "profiles": rounded(
            np.nan_to_num(np.asarray(next(iter(profiles.__dict__.values())), dtype=float)).ravel()[:12]
        ),
    }


def close_by() -> dict:
    """What tells a piece from its ground beside its edge, on a plain ground and as on a patterned one."""
    _, trace = traced("boards")
    coarse, _, masks = pieces_on(trace.above, trace.view.poses, trace.side)
    here, rough = crop(trace.above, coarse, masks[0])
    out = {
        "found": [covered(coarse, m) for m in masks],
        "steep": rounded(np.quantile(steepness(coarse), (0.5, 0.9, 0.99))),
    }
    for word, patterned in (("plain", False), ("patterned", True)):
        told = colours(here, opponent(here.picture), rough, patterned).__dict__
        out[word] = {
            k: rounded(np.quantile(v, (0.05, 0.3, 0.7, 0.95))) for k, v in told.items() if isinstance(v, np.ndarray)
        }
    return out


def bent_card() -> dict:
    """Six cards, one of which does not lie flat: it is left out, and the rest are believed."""
    flat = scene(2, "cloth", "tape", cards=6, slits=0, **SMALL)
    bad = replace(flat, cards=[replace(c, lifted=6.0) if k == 0 else c for k, c in enumerate(flat.cards)])
    picture = picture_of(bad)
    judged = judge_view(light_of(picture), sightings(picture))
    return {
        "dropped": list(judged.dropped),
        "said": [f.words for f in judged.findings],
        "cards": rounded(judged.view.poses),
    }


def covered(coarse: FromAbove, mask) -> list[float]:
    rows, columns = np.nonzero(np.asarray(mask) > 0)
    where = coarse.mm(np.array([columns.mean(), rows.mean()])) if len(rows) else (0.0, 0.0)
    return rounded([len(rows) * coarse.per**2 / 100, *where])


STAR = FlatShape(
    number=1, name="star", off=0.3,
    outline=tuple(
        (float(60 * (1 + 0.35 * np.cos(5 * t)) * np.cos(t)), float(45 * (1 + 0.35 * np.cos(5 * t)) * np.sin(t)))
        for t in np.linspace(0, 2 * np.pi, 240, endpoint=False)),
    corners=(0, 48, 96, 144, 192), darts=(),
    lines=(FlatStroke(kind="fold", name="blue", points=((-40.0, 3.0), (0.0, 5.0), (42.0, 2.0))),),
    holes=(((10.0, 10.0), (20.0, 10.0), (18.0, 20.0)),),
)  # fmt: skip
HALF = FlatShape(
    number=4, outline=((20.0, -30.0), (95.0, -22.0), (70.0, 40.0), (88.0, 90.0), (31.0, 101.0)), corners=(0, 1, 3, 4)
)
"""Half of a panel, its middle a slanted edge from the fifth place to the first."""
BESIDE = STAR.model_copy(
    update={"number": 2, "outline": tuple((x + 122.0, y) for x, y in STAR.outline), "lines": (), "holes": ()}
)


def gestures() -> dict:
    """Each gesture on a star, and what it refuses."""
    at = np.array
    acts = {
        "move": lambda: corrections.move_corner(STAR, at(STAR.outline[48]) + [2, 1], at([30.0, 70.0])),
        "move nothing": lambda: corrections.move_corner(STAR, at([0.0, 0.0]), at([30.0, 70.0])),
        "more corner": lambda: corrections.toggle_corner(STAR, at(STAR.outline[24])),
        "less corner": lambda: corrections.toggle_corner(STAR, at(STAR.outline[96]) + [1.0, 0.5]),
        "far": lambda: corrections.toggle_corner(STAR, at([300.0, 0.0])),
        "straight": lambda: corrections.straighten(STAR, 1),
        "smooth": lambda: corrections.smooth(STAR, 2),
        "left": lambda: corrections.symmetric(STAR, "left"),
        "right": lambda: corrections.symmetric(STAR, "right"),
        "left, turned": lambda: corrections.symmetric(corrections.turn(STAR, 33.0), "left"),
        "right, moved": lambda: corrections.symmetric(corrections.turn(BESIDE, -70.0), "right"),
        "unfold": lambda: corrections.unfold(HALF, 1),
        "pair": lambda: corrections.pair(HALF),
        "object": lambda: corrections.as_object(STAR),
        "cut": lambda: corrections.cut(STAR, at([[5.0, -90.0], [-4.0, 0.0], [8.0, 90.0]]), 7),
        "cut not quite across": lambda: corrections.cut(STAR, 0.9 * at([STAR.outline[55], STAR.outline[178]]), 7),
        "no cut": lambda: corrections.cut(STAR, at([[200.0, -90.0], [200.0, 90.0]]), 7),
        "join": lambda: corrections.join(STAR, BESIDE),
        "too far": lambda: corrections.join(STAR, corrections.turn(BESIDE, 65.0)),
        "kind": lambda: corrections.set_kind(STAR, 0, "score"),
        "turn": lambda: corrections.turn(STAR, 33.0),
        "segments": lambda: corrections.segments(STAR, 3),
    }
    return {name: drawn(act) for name, act in acts.items()}


def drawn(act) -> object:
    try:
        made = act()
    except CraftError as error:
        return error.message
    return [
        {"outline": ring(s.outline, 30), "corners": rounded([s.outline[c] for c in s.corners]), "darts": len(s.darts),
            "lines": [[x.kind, *rounded(x.points)] for x in s.lines], "holes": [rounded(h) for h in s.holes],
            "told": [s.number, s.name, s.object, s.off]}
        for s in (made if isinstance(made, (tuple, list)) else (made,))
    ]  # fmt: skip


def notched(deep: float, half: float, ink: float = 0.0) -> np.ndarray:
    """A plate with a slit from above and, where asked, a nick as ink leaves it, mm, as dense as a traced outline."""
    corners = [(0, 0), (200, 0), (200, 120), (100 + half, 120), (100, 120 - deep), (100 - half, 120), (0, 120)]
    if ink:
        corners[1:1] = [(60, 0), (60.5, ink), (61.5, ink), (62, 0)]
    line = shapely.LinearRing(np.array(corners, dtype=float) * [1, 1])
    return shapely.get_coordinates(shapely.segmentize(line, 0.5))[:-1] * [1, -1]


UNKNOWN_FLOOR = Close(*[np.ones((2, 2), np.float32)] * 2, None, np.zeros(2), 1.0, *[np.zeros((2, 2), np.float32)] * 2)


def slits() -> dict:
    out = {}
    for deep, half, ink in ((60.0, 2.0, 0.0), (35.0, 6.0, 0.0), (80.0, 1.0, 5.0), (15.0, 12.0, 3.0)):
        outline = notched(deep, half, ink)
        found = [(n, legs_of(outline, n, 1.5, 12.0)) for n in notches(outline)]
        mended = without_ink(UNKNOWN_FLOOR, outline)
        dense, corners, darts = with_corners(outline * [1, -1], [n.tip * [1, -1] for n, _ in found])
        out[f"{deep:g} {half:g} {ink:g}"] = {
            "notches": [rounded([*n.tip, n.deep, *n.way, 100 * (legs.opening if legs else 0.0)]) for n, legs in found],
            "mended": [round(abs(shapely.Polygon(mended).area)), ring(mended, 24)],
            "corners": [rounded(dense[list(corners)]), len(darts)],
        }
    flat = STAR.model_copy(update={"outline": tuple((x + 1.0, y) for x, y in STAR.outline)})
    out["lies on"] = [lies_on(STAR, flat.outline), lies_on(STAR, BESIDE.outline)]
    return out


def two_views() -> dict:
    """Two photographs of one ground, laid together by their cards."""
    one = scene(5, "cloth", "tape", cards=6, **SMALL)
    other = replace(one, shot=replace(one.shot, roll=one.shot.roll + 0.4, tilt=0.15))
    both = joined([picture_of(one), picture_of(other)])
    light = both.mean(axis=2)
    return {
        "size": list(both.shape),
        "light": rounded(light[40::160, 40::160]),
        "mean": rounded(both.mean(axis=(0, 1))),
    }


FIGURES = {
    "trace gestures": gestures, "trace slits": slits, "trace two views": two_views,
    "trace close by": close_by, "trace bent card": bent_card,
    **{f"trace {name}": (lambda n=name: {"read": photograph(n), "told apart": grounds(n)}) for name in SCENES},
}  # fmt: skip


@pytest.mark.parametrize("name", mostly(FIGURES, 3))
def test_what_was_traced_is_traced_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
