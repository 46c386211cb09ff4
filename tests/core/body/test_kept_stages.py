"""Each stage of tracing by itself, on small views from above that are drawn here, as its figures were looked at.

A whole trace hides a slip that a later stage mends; here what each stage makes is kept, to a part in a thousand.
``python -m tests.core.body.test_kept_stages`` writes them anew after a change that is meant to move them.
"""

from functools import cache

import cv2
import numpy as np
import pytest
import shapely

from tests.kept import comes_out_the_same, told, write
from vellumcut.core.design.flat import FlatShape
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.beneath import pieces_above
from vellumcut.core.trace.edges.bumps import without_bumps
from vellumcut.core.trace.edges.points import to_points
from vellumcut.core.trace.edges.slits import followed, without_ink
from vellumcut.core.trace.edges.thin import with_thin
from vellumcut.core.trace.edges.tips import slits_of, to_tips
from vellumcut.core.trace.floor import Floor, flow
from vellumcut.core.trace.ground import pieces_on
from vellumcut.core.trace.hand.corrections import redrawn
from vellumcut.core.trace.hand.rub import FLIP, Before, rub
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.ink import ink_on, inks_on
from vellumcut.core.trace.outline import BAND, Close, crop, look_close, palette_of, rims
from vellumcut.core.trace.over import look_over
from vellumcut.core.trace.piece import evenly, traced_piece
from vellumcut.core.trace.plain_floor import floor_between, unlike
from vellumcut.core.trace.settle import settled
from vellumcut.core.trace.shapes import shape_of
from vellumcut.core.trace.sure import roughness, sureness
from vellumcut.core.trace.view.find import across, linear_table
from vellumcut.core.trace.view.rectify import FromAbove

PER, SIDE = 0.45, 60.0
WIDE, HIGH = 760, 560
CARDS = np.array([[38.0, 38.0, 0.1], [305.0, 36.0, -0.2], [40.0, 214.0, 0.4], [303.0, 216.0, 0.05]])
PANEL = shapely.Polygon([(95, 60), (180, 52), (262, 66), (228, 196), (150, 205), (141.5, 118), (138.5, 205), (98, 190)])
"""With a slit from below, a sharp corner below right, and one straight side."""
SMALL = shapely.Polygon([(96, 14), (132, 10), (136, 44), (100, 42)])
PEN = shapely.LineString([(110, 80), (170, 95), (236, 84)]).buffer(0.6)
COLOURS = {"cloth": (0.06, 0.08, 0.07), "boards": (0.3, 0.2, 0.12), "print": (0.5, 0.48, 0.42)}


def cover(shape: shapely.Geometry) -> np.ndarray:
    """(h, w, 1) share of each pixel that an area, mm, covers."""
    fine = np.zeros((4 * HIGH, 4 * WIDE), np.uint8)
    for part in shapely.get_parts(shape):
        cv2.fillPoly(fine, [np.round(np.array(part.exterior.coords) / PER * 4 * 16).astype(np.int32)], 1, shift=4)
    return fine.reshape(HIGH, 4, WIDE, 4).mean(axis=(1, 3), dtype=float)[..., None]


def floor_light(kind: str) -> np.ndarray:
    luck = np.random.default_rng(len(kind))
    light = np.broadcast_to(np.array(COLOURS[kind]), (HIGH, WIDE, 3)).copy()
    grain = cv2.GaussianBlur(luck.normal(size=(HIGH, WIDE)), (0, 0), 2.0)[..., None]
    light *= np.exp((0.03 if kind == "cloth" else 0.7) * grain)
    if kind == "boards":
        for x in range(40, WIDE, 130):
            light[:, x : x + 5] *= 0.2
    if kind == "print":
        for y in range(10, HIGH, 18):
            for x in range(8, WIDE, 30):
                light[y : y + 7, x : x + int(luck.integers(8, 26))] *= 0.25
    return light


def photographed(light: np.ndarray, noise: int) -> FromAbove:
    """As a view from above: softened, with the noise of a sensor, in a picture's own steps."""
    light = cv2.GaussianBlur(light, (0, 0), 0.8) + np.random.default_rng(noise).normal(0, 0.004, light.shape)
    light = np.clip(light, 0, 1)
    steps = np.where(light < 0.0031308, 12.92 * light, 1.055 * np.maximum(light, 1e-6) ** (1 / 2.4) - 0.055)
    return FromAbove(np.round(steps * 255).astype(np.uint8), np.ones((HIGH, WIDE), bool), np.zeros(2), PER)


def lit() -> np.ndarray:
    """Light that falls off to one side."""
    return (1.1 - 0.3 * np.linspace(0, 1, WIDE))[None, :, None]


def tape() -> np.ndarray:
    return np.array([0.62, 0.55, 0.42]) * (1 - 0.9 * cover(PEN))


@cache
def laid(kind: str) -> FromAbove:
    """Two pieces on a floor, with their shadow beside them."""
    share = cover(shapely.union_all([PANEL, SMALL]))
    shadow = cv2.GaussianBlur(np.roll(share[..., 0], (4, 5), (0, 1)), (0, 0), 3.0)[..., None]
    light = share * tape() + (1 - share) * floor_light(kind) * (1 - 0.5 * shadow)
    return photographed(light * lit(), 1)


@cache
def bare(kind: str) -> FromAbove:
    return photographed(floor_light(kind) * 0.8, 2)


def image(x: np.ndarray) -> list:
    """Means of a hundred fields of an image, thirtyfold: a slip moves some of them, a few pixels of another machine's
    rounding move none by what is allowed."""
    x = np.asarray(x, float).reshape(*x.shape[:2], -1)
    return told((30 * cv2.resize(x, (10, 10), interpolation=cv2.INTER_AREA)).ravel()[:: max(1, x.shape[2])].tolist())


def line(points: np.ndarray, count: int = 40) -> list:
    points = np.asarray(points, float)
    ring = shapely.LinearRing(np.roll(points, -int(points[:, 0].argmin()), axis=0))
    return told(shapely.get_coordinates(ring.interpolate(np.linspace(0, 1, count), normalized=True)).ravel().tolist())


def close_told(close: Close) -> dict:
    return {
        "share": image(close.share), "lacking": image(close.lacking), "drawn": image(close.drawn),
        "grounds": told((30 * close.palette.grounds.mean(axis=0)).tolist()), "patterned": close.palette.patterned,
        "inks": told((100 * np.asarray(close.palette.inks)).ravel().tolist()),
    }  # fmt: skip


def edges_told(close: Close) -> dict:
    """An outline from its first line on, step by step."""
    out: dict = {}
    first = rims(close, 40.0)[0]
    bared = without_ink(close, first)
    outline, tips = to_tips(close, bared)
    drawn = to_points(close, evenly(outline))
    slits = slits_of(evenly(drawn), tips)
    thin = with_thin(close, evenly(drawn), shapely.Polygon())
    flat = without_bumps(close, evenly(thin.outline))
    for name, ring in (("rim", first), ("bared", bared), ("tips", outline), ("points", drawn), ("flat", flat)):
        out[name] = [*line(ring), told(100 * float(shapely.Polygon(ring).area) / 1000)]
    out["slits"] = told([[*s.tip.tolist(), s.deep, s.angle, 3 * s.off] for s in slits])
    out["thin"] = told([len(thin.slits), len(thin.asked), 3 * thin.least])
    sure = sureness(0.03, close, evenly(flat), [s.off for s in slits])
    out["sure"] = told([30 * sure.rms, 30 * sure.worst, 30 * sure.edge, 30 * roughness(evenly(flat))])
    out["unsure"] = told([len(sure.unsure), sum((b - a) % len(flat) for a, b in sure.unsure) / 100])
    return out


def alone(kind: str) -> dict:
    """Everything that one photograph is asked."""
    above = laid(kind)
    coarse, known, masks = pieces_on(above, CARDS, SIDE)
    palette = palette_of(coarse, known)
    here, rough = crop(above, coarse, masks[0])
    inks = inks_on(here, rough)
    close = look_close(here, rough, palette)
    parts = settled(here, rough, lambda view, mask, band=BAND: look_close(view, mask, palette, band))
    deep = followed(look_close(here, parts[0], palette))
    made = traced_piece(above, here, deep, lambda outline: 0.02, palette.patterned)
    return {
        "known": image(known), "masks": [image(m) for m in masks], "settled": [image(p) for p in parts],
        "inks": told((100 * np.asarray(inks)).tolist()), "close": close_told(close), "followed": image(deep.share),
        "ink": told([[x.colour, *x.points[0].tolist(), *x.points[-1].tolist(), 3 * x.width] for x in
            ink_on(here, np.asarray(deep.share > 0.5, np.uint8))]),
        "edges": edges_told(deep), "said": [f.words for f in made.findings] if made else [],
    }  # fmt: skip


@cache
def shaded() -> FromAbove:
    """A shadow's edge across both pieces, and one piece that runs out of the picture."""
    out = shapely.box(240, 190, 420, 240)
    share = cover(shapely.union_all([PANEL.difference(out.buffer(6)), SMALL, out]))
    light = share * tape() + (1 - share) * floor_light("boards")
    x = np.arange(WIDE)[None, :, None] + 0.3 * np.arange(HIGH)[:, None, None]
    return photographed(light * (0.35 + 0.65 / (1 + np.exp((x - 420) / 3))), 3)


def _slit(x: float, deep: float, degrees: float, way: float = 1.0) -> shapely.Polygon:
    """From the straight side at 60 mm down, or at 180 mm up."""
    mouth = 60.0 if way > 0 else 180.0
    half = deep * np.tan(np.radians(degrees / 2))
    return shapely.Polygon(
        [(x - half, mouth - 3 * way), (x + half, mouth - 3 * way), (x + 0.3 * way, mouth + way * deep)]
    )


NEEDLES = shapely.Polygon(
    [(80, 60), (262, 60), (262, 96), (303, 104.5), (262, 113), (262, 131), (290, 147), (262, 163), (262, 180),
     (80, 180)]
).difference(
    shapely.union_all([
        _slit(104, 52, 1.7), _slit(132, 40, 3.0), _slit(160, 62, 8.0), _slit(196, 30, 16.0), _slit(232, 24, 30.0),
        _slit(110, 46, 2.2, -1.0), _slit(150, 38, 12.0, -1.0), _slit(200, 20, 40.0, -1.0),
    ])
)  # fmt: skip
"""Sharp points of 23 and 60 degrees to the right, slits of all widths above and below."""


@cache
def needles(kind: str) -> tuple[FromAbove, np.ndarray]:
    """White tape with a pen's line to its rim, dark joints and pale flecks of the floor beside it; and its mask."""
    whole = NEEDLES.union(shapely.box(180, 176, 186, 183)).difference(shapely.box(214, 178, 219, 181))
    share = cover(whole)
    pen = cover(shapely.union_all([shapely.LineString(x).buffer(0.7) for x in (((120, 90), (120, 181)),
        ((150, 150), (240, 120)))]))  # fmt: skip
    marks = shapely.union_all(
        [shapely.box(88, 181, 93, 200), shapely.box(70, 100, 80, 103), shapely.box(240, 54, 248, 60)]
    )
    floor = floor_light(kind) * (1 - 0.9 * cover(marks))
    light = share * np.array([0.62, 0.63, 0.6]) * (1 - 0.92 * pen) + (1 - share) * floor
    return photographed(light * lit(), 5), np.asarray(share[..., 0] > 0.5, np.uint8)


def of_needles(kind: str) -> dict:
    """Its edges on a floor that is known by colour, by one photograph and over the floor itself."""
    above, mask = needles(kind)
    known = np.asarray(cv2.erode(1 - mask, np.ones((9, 9), np.uint8)))
    palette = palette_of(above, known)
    palette = type(palette)(palette.grounds, inks_on(above, mask), palette.patterned)
    floor = Floor(bare(kind).picture, above.seen, np.full((2, 2, 3), 1.1, np.float32), np.zeros(2), PER)
    out = {}
    for word, close in (
        ("alone", look_close(above, mask, palette)),
        ("over", look_over(above, mask, palette, floor, BAND)),
    ):
        out[word] = {"share": image(close.share), "edges": edges_told(followed(close))}
    made = traced_piece(above, above, followed(look_close(above, mask, palette)), lambda outline: 0.05, False)
    shape = shape_of(made, 1)
    cut = shapely.Polygon(np.array(shape.outline)).buffer(0).difference(shapely.box(0, -75, 150, -55))
    again = redrawn(shape, max(shapely.get_parts(cut), key=lambda g: g.area), [np.array([196.0, -90.0])])
    for word, s in (("shape", shape), ("redrawn", again)):
        out[word] = [line(np.array(s.outline), 60), told([s.outline[k] for k in s.corners]),
            told([s.outline[k] for k in s.darts]),
            [[x.kind, *told([*x.points[0], *x.points[-1]])] for x in s.lines]]  # fmt: skip
    return out


def profiles() -> dict:
    """Where light steps up along lines across edges of every sharpness, brightness and distance."""
    x = np.linspace(-20, 20, 400)
    rows = [0.1 + high / (1 + np.exp(-(x - off) / soft)) for off in (-6.0, 0.4, 7.0) for soft in (0.3, 1.5, 4.0)
        for high in (0.01, 0.1, 0.7)]  # fmt: skip
    light = np.repeat(np.array(rows, np.float32), 5, axis=0)
    light[60:, 150:] -= 0.3  # a stripe that falls again
    k = np.arange(len(rows))
    places = np.column_stack([np.full(len(rows), 200.0), 5.0 * k + 2])
    ways = np.column_stack([np.cos(0.02 * k), np.sin(0.02 * k)])
    found = across(light, places, ways, np.linspace(60.0, 150.0, len(rows)))
    return {n: told(np.nan_to_num(v, nan=-9.0).tolist()) for n, v in vars(found).items()}


def in_shade() -> dict:
    """Pieces under the edge of a shadow, told from boards, and what is said of each."""
    above = shaded()
    coarse, known, masks = pieces_on(above, CARDS, SIDE)
    palette = palette_of(coarse, known)
    out: dict = {"masks": [image(m) for m in masks], "grounds": told((30 * palette.grounds.mean(axis=0)).tolist())}
    for k, mask in enumerate(masks):
        here, rough = crop(above, coarse, mask)
        made = traced_piece(above, here, followed(look_close(here, rough, palette)), lambda outline: 0.02, True)
        if made:
            sure = told([30 * made.sure.rms, 30 * made.sure.worst])
            out[f"piece {k}"] = [line(made.outline), sure, *(f.words for f in made.findings)]
    return out


def between() -> dict:
    """A plain floor drawn on beneath its pieces, and the second look that it allows."""
    above = laid("cloth")
    coarse, _, masks = pieces_on(above, CARDS, SIDE)
    floor = floor_between(above, coarse, masks[:1], CARDS, SIDE)
    second, _, found, lit_floor = pieces_above(above, floor, CARDS, SIDE, 2.0)
    return {
        "gain": image(floor.gain), "unknown": told([1e5 * x for x in floor.unknown]), "light": image(floor.light()),
        "found": [image(m) for m in found], "now": image(lit_floor.gain), "per": told(second.per),
        "unlike": [image(m) for m in unlike(coarse, found, masks[:1])],
    }  # fmt: skip


def over(kind: str) -> dict:
    """Pieces told from the floor that was photographed before, a little off and in other light."""
    above, under = laid(kind), bare(kind)
    rolled = np.roll(under.picture, (2, -3), (0, 1))
    shift = flow(linear_table()[above.picture], linear_table()[rolled], np.ones((HIGH, WIDE), bool), 56)
    finer = flow(linear_table()[above.picture], linear_table()[rolled], np.ones((HIGH, WIDE), bool), 28)
    floor = Floor(under.picture, above.seen, np.ones((2, 2, 3), np.float32), np.zeros(2), PER, unknown=(1e-5,) * 3)
    coarse, known, masks, floor = pieces_above(above, floor, CARDS, SIDE)
    palette = palette_of(coarse, known)
    here, rough = crop(above, coarse, masks[0])
    own = floor.cropped(here)
    close = look_over(here, rough, palette, own, BAND)
    return {
        "flow": [image(shift[..., k]) for k in (0, 1)], "finer": [image(finer[..., k]) for k in (0, 1)],
        "masks": [image(m) for m in masks], "gain": image(floor.gain), "cropped": image(own.gain),
        "light": image(own.coarser(here.coarser(1.0)).light()), "close": close_told(close),
        "edges": edges_told(followed(close)),
    }  # fmt: skip


def strokes() -> dict:
    """What each stroke of a finger makes of the shapes."""
    above = laid("boards")
    ground = Ground(above, CARDS, SIDE)
    up = [shapely.orient_polygons(shapely.transform(p, lambda q: q * FLIP)) for p in (PANEL, SMALL)]
    shapes = [
        FlatShape(number=k, outline=tuple(map(tuple, np.array(p.exterior.coords)[:-1].tolist())), corners=(0, 2))
        for k, p in enumerate(up, 1)
    ]
    bitten = shapes[0].model_copy(update={"outline": _without(up[0], shapely.Point(96.5, -120).buffer(9))})
    acts = {
        "missed": ([shapes[0]], [(104.0, 25.0), (126.0, 30.0)], 8.0, True),
        "bitten": ([bitten], [(97.0, 112.0), (103.0, 128.0)], 6.0, True),
        "floor": (shapes[:1], [(238.0, 170.0), (247.0, 130.0)], 4.0, False),
        "parted": (shapes[:1], [(80.0, 130.0), (270.0, 128.0)], 2.0, False),
        "joined": (shapes, [(116.0, 30.0), (122.0, 70.0)], 6.0, True),
        "slit": (shapes[:1], [(200.0, 205.0), (196.0, 150.0)], 1.0, False),
        "on a card": (shapes, [(38.0, 38.0), (42.0, 40.0)], 4.0, True),
        "all over": (shapes, [(20.0, 120.0), (70.0, 125.0)], 6.0, True),
    }
    out = {}
    for name, (had, points, wide, piece) in acts.items():
        before = {s.number: Before(0.1) for s in had}
        try:
            after = rub(ground, had, Stroke(np.array(points), wide, piece), before, 0.1)
        except CraftError as error:
            out[name] = error.message
            continue
        out[name] = {
            "shapes": [[s.number, len(s.darts), *line(np.array(s.outline), 30)] for s in after.shapes],
            "gone": list(after.gone),
            "seen": [[n, [f.words for f in p.findings], told([30 * p.sure.rms, 30 * p.sure.worst])]
                for n, p in after.seen.items()],
        }  # fmt: skip
    return out


def _without(area: shapely.Polygon, part: shapely.Polygon) -> tuple:
    ring = shapely.orient_polygons(area.difference(part)).exterior
    return tuple(map(tuple, np.array(ring.coords)[:-1].tolist()))


def shaped() -> dict:
    """A piece as it leaves as a panel."""
    above = laid("cloth")
    coarse, known, masks = pieces_on(above, CARDS, SIDE)
    here, rough = crop(above, coarse, masks[0])
    close = followed(look_close(here, rough, palette_of(coarse, known)))
    made = traced_piece(above, here, close, lambda outline: 0.02, False)
    shape = shape_of(made, 3, "front")
    return {
        "outline": line(np.array(shape.outline)), "corners": told([shape.outline[k] for k in shape.corners]),
        "darts": told([shape.outline[k] for k in shape.darts]), "off": told(100 * shape.off),
        "lines": [[x.kind, x.name, *told([*x.points[0], *x.points[-1]])] for x in shape.lines],
    }  # fmt: skip


FIGURES = {
    **{f"stages {kind} alone": (lambda k=kind: alone(k)) for kind in ("cloth", "boards")},
    "stages in shade": in_shade, "stages between": between,
    "stages boards over": lambda: over("boards"), "stages print over": lambda: over("print"),
    **{f"stages needles on {kind}": (lambda k=kind: of_needles(k)) for kind in ("cloth", "boards")},
    "stages profiles": profiles, "stages strokes": strokes, "stages shaped": shaped,
}  # fmt: skip


@pytest.mark.parametrize("name", FIGURES)
def test_every_stage_comes_out_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
