"""Scenes for the camera, from a seed: pieces of a cut-open cast with their darts and ink, and cards laid round them."""

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.trace.view.cards import CARD
from vellumcut.standins.camera import LaidCard, LaidPiece, Scene, Shot, pixels_of
from vellumcut.standins.grounds import Ground

Array = NDArray[np.float64]
COLOURS: dict[str, tuple[float, float, float]] = {
    "tape": (0.66, 0.47, 0.22),
    "white": (0.82, 0.82, 0.80),
    "grey": (0.30, 0.31, 0.33),
    "brown": (0.33, 0.20, 0.10),
}


def cast_piece(
    seed: int, wide: float = 360.0, high: float = 280.0, slits: int = 2, colour: str = "tape", inked: bool = True
) -> LaidPiece:
    """A flattened piece about the origin. wide, high: mm. slits: darts cut open along its edge."""
    luck = np.random.default_rng(seed)
    while True:
        outline = _cut_open(luck, wide, high, slits)
        whole = shapely.Polygon(outline)
        # Slits that meet would cut the piece in two.
        if whole.is_valid and whole.buffer(-4.0).geom_type == "Polygon":
            break
    lines = tuple((name, _inside(luck, wide, high)) for name in ("black", "red", "blue")) if inked else ()
    return LaidPiece(outline, lines, COLOURS[colour], taped=colour == "tape")


def _cut_open(luck: np.random.Generator, wide: float, high: float, slits: int) -> Array:
    count = int(luck.integers(6, 10))
    angles = np.linspace(0, 2 * np.pi, count, endpoint=False) + luck.uniform(-0.18, 0.18, count)
    reach = luck.uniform(0.82, 1.0, count)
    corners = np.column_stack([np.cos(angles) * reach * wide / 2, np.sin(angles) * reach * high / 2])
    opened = set(luck.choice(count, min(slits, count), replace=False).tolist())
    rows: list[Array] = []
    for k in range(count):
        edge = _bowed(corners[k], corners[(k + 1) % count], luck.uniform(-0.05, 0.11))
        rows.append(_slit(edge, luck) if k in opened else edge[:-1])
    return np.concatenate(rows)


def _bowed(a: Array, b: Array, bow: float) -> Array:
    t = np.linspace(0, 1, 40)[:, None]
    out_of = np.array([b[1] - a[1], a[0] - b[0]])
    curve: Array = a * (1 - t) + b * t + 4 * t * (1 - t) * bow * out_of
    return curve


def _slit(edge: Array, luck: np.random.Generator) -> Array:
    """The edge with a dart cut out of it: two legs to a tip inside."""
    steps = np.hypot(*np.diff(edge, axis=0).T)
    far = np.concatenate([[0], np.cumsum(steps)])
    intake = luck.uniform(8, 26)
    middle = luck.uniform(0.4, 0.6) * far[-1]
    mouth = [
        np.array([np.interp(s, far, edge[:, j]) for j in (0, 1)]) for s in (middle - intake / 2, middle + intake / 2)
    ]
    along = (mouth[1] - mouth[0]) / np.hypot(*(mouth[1] - mouth[0]))
    tip = (
        (mouth[0] + mouth[1]) / 2
        + np.array([-along[1], along[0]]) * luck.uniform(45, 90)
        + along * luck.uniform(-12, 12)
    )
    before, after = edge[far < middle - intake / 2], edge[far > middle + intake / 2][:-1]
    # Legs bow a little, and never so far that they cross.
    bow = luck.uniform(-0.03, 0.03, 2) * intake / np.hypot(*(tip - mouth[0]))
    return np.vstack([before, _bowed(mouth[0], tip, bow[0])[:-1], _bowed(tip, mouth[1], bow[1]), after])


def _inside(luck: np.random.Generator, wide: float, high: float) -> Array:
    a, b = luck.uniform(-0.22, 0.22, (2, 2)) * (wide, high)
    a, b = a - (0, 0.12 * high), b + (0, 0.12 * high)
    return _bowed(a, b, luck.uniform(-0.2, 0.2))


def scene(
    seed: int, ground: Ground = "cloth", colour: str = "tape", cards: int = 4, slits: int = 2, **shot: object
) -> Scene:
    """One piece among cards, photographed by chance within the bounds of a careful maker: tilt to 35 degrees, bend to
    8 %. shot: fields of Shot that are set.
    """
    luck = np.random.default_rng(seed + 5000)
    taken = Shot(
        tilt=luck.uniform(0, np.radians(35)),
        way=luck.uniform(0, 2 * np.pi),
        roll=luck.uniform(-0.3, 0.3),
        distortion=luck.uniform(-0.08, 0.08),
        over=820.0,
        blur=luck.uniform(0.6, 1.6),
        light=luck.uniform(0.0, 0.5),
    )
    taken = replace(taken, **shot)  # type: ignore[arg-type]
    wide, high = luck.uniform(300, 400), luck.uniform(180, 280)
    piece = cast_piece(seed, wide, high, slits, colour)
    return Scene([piece], cards_round(piece.outline, cards, taken, luck), ground, taken, seed=seed)


def demo_scene(seed: int = 1) -> Scene:
    """Half a breastplate cut from the body: a front panel with a dart to its fullest place, and a side panel whose edge
    came out 6 mm longer than the one it is glued to, as tape that was pulled at does.
    """
    front = [
        _bowed(np.array([-250.0, -150.0]), np.array([-130.0, -168.0]), 0.05),
        _bowed(np.array([-130.0, -168.0]), np.array([-60.0, -128.0]), -0.16),
        _bowed(np.array([-60.0, -128.0]), np.array([-36.0, 152.0]), 0.03),
        _bowed(np.array([-36.0, 152.0]), np.array([-128.0, 160.0]), 0.01),
        _bowed(np.array([-128.0, 160.0]), np.array([-143.0, 40.0]), 0.0),
        _bowed(np.array([-143.0, 40.0]), np.array([-151.0, 160.0]), 0.0),
        _bowed(np.array([-151.0, 160.0]), np.array([-250.0, 148.0]), 0.02),
        _bowed(np.array([-250.0, 148.0]), np.array([-250.0, -150.0]), 0.0),
    ]
    side = [
        _bowed(np.array([22.0, -130.0]), np.array([120.0, -86.0]), -0.10),
        _bowed(np.array([120.0, -86.0]), np.array([200.0, -60.0]), -0.04),
        _bowed(np.array([200.0, -60.0]), np.array([210.0, 150.0]), 0.02),
        _bowed(np.array([210.0, 150.0]), np.array([20.0, 156.7]), 0.03),
        _bowed(np.array([20.0, 156.7]), np.array([22.0, -130.0]), 0.036),
    ]
    inked = (
        ("blue", _bowed(np.array([-225.0, -120.0]), np.array([-225.0, 120.0]), 0.03)),
        ("black", _bowed(np.array([-70.0, -20.0]), np.array([-44.0, -22.0]), 0.0)),
    )
    more = (
        ("red", _bowed(np.array([60.0, -70.0]), np.array([170.0, 120.0]), 0.06)),
        ("black", _bowed(np.array([12.0, -18.0]), np.array([44.0, -20.0]), 0.0)),
    )
    pieces = [
        LaidPiece(np.concatenate([e[:-1] for e in front]), inked),
        LaidPiece(np.concatenate([e[:-1] for e in side]), more),
    ]
    luck = np.random.default_rng(seed)
    shot = Shot(tilt=0.22, way=1.2, roll=0.04, distortion=-0.03, over=880.0, blur=0.9, light=0.3)
    cards = cards_round(np.concatenate([p.outline for p in pieces]), 6, shot, luck)
    return Scene(pieces, cards, "cloth", shot, seed=seed)


def on_newspaper(seed: int = 1) -> Scene:
    """The demo's cast on sheets of newspaper."""
    return replace(demo_scene(seed), ground="newspaper")


def before_it_was_laid(scene: Scene) -> Scene:
    """The floor and its cards before anything lay there, photographed from a little aside in other light."""
    luck = np.random.default_rng(scene.seed + 900)
    shot, aside = scene.shot, luck.uniform(-18, 18, 2)
    return replace(
        scene.with_shot(
            tilt=shot.tilt + float(luck.uniform(-0.03, 0.03)),
            roll=shot.roll + float(luck.uniform(-0.03, 0.03)),
            aim=(shot.aim[0] + float(aside[0]), shot.aim[1] + float(aside[1])),
            light=shot.light * float(luck.uniform(0.7, 1.2)),
        ),
        pieces=(),
    )


def cards_round(outline: Array, count: int, shot: Shot, luck: np.random.Generator) -> list[LaidCard]:
    """Cards laid loosely round what lies there, as far apart as the picture lets them, numbers by chance."""
    low, high = outline.min(0) - CARD * 0.75, outline.max(0) + CARD * 0.75
    middle = (low + high) / 2
    ways = [(-1, -1), (1, 1), (1, -1), (-1, 1), (0, -1), (0, 1), (-1, 0), (1, 0)][:count]
    numbers = luck.permutation(12)
    out = []
    for number, way in zip(numbers.tolist(), ways, strict=False):
        for far in (1.12, 1.0, 0.92, 0.86, 0.8):
            x, y = middle + (high - low) / 2 * way * far + luck.uniform(-8, 8, 2)
            card = LaidCard(number, float(x), float(y), float(luck.uniform(0, 2 * np.pi)))
            if _in_view(card, shot):
                out.append(card)
                break
    return out


def _in_view(card: LaidCard, shot: Shot) -> bool:
    reach = CARD * 0.72 * np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    seen = pixels_of(shot, np.array([card.x, card.y]) + reach)
    return bool((seen > 8).all() and (seen < np.array(shot.size) - 8).all())
