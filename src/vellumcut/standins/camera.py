"""A camera that is not there: photographs of pieces on a ground with marker cards, from known truth.

Light is added up as light (linear), then blurred by the lens, made noisy by the sensor, given the screen's curve and
packed as JPEG. Every scene comes from its seed.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.trace.view.cards import CARD, CELLS, SIDE, cells
from vellumcut.standins.grounds import Ground, ground_colour

Array = NDArray[np.float64]
Picture = NDArray[np.uint8]
Light = NDArray[np.float32]

INKS: dict[str, tuple[float, float, float]] = {
    "black": (0.03, 0.03, 0.035),
    "red": (0.42, 0.03, 0.035),
    "blue": (0.03, 0.07, 0.36),
    "green": (0.03, 0.22, 0.07),
}
"""Albedo of felt pens, linear."""


@dataclass(frozen=True, eq=False)
class LaidPiece:
    """What lies on the ground. outline: (n, 2) mm, y down, slits included. ink: colour and (n, 2) line, mm."""

    outline: Array
    ink: Sequence[tuple[str, Array]] = ()
    colour: tuple[float, float, float] = (0.66, 0.47, 0.22)
    taped: bool = True
    pen: float = 1.6


@dataclass(frozen=True)
class LaidCard:
    """A card on the ground: its middle, mm, and turn, radians. size: of its print. lifted: mm that one edge stands
    up."""

    number: int
    x: float
    y: float
    turn: float
    size: float = 1.0
    lifted: float = 0.0


@dataclass(frozen=True)
class Shot:
    """How it is photographed. size: pixels. tilt, way: radians. distortion: r' = r (1 + k r2), r = 1 in the corner.
    over: mm of ground that the picture's width takes in. blur: of the lens, pixels. light: how uneven, 0 to 1.
    """

    size: tuple[int, int] = (4000, 3000)
    tilt: float = 0.2
    way: float = 0.5
    roll: float = 0.0
    distortion: float = -0.03
    over: float = 620.0
    blur: float = 0.9
    noise: float = 0.012
    light: float = 0.35
    quality: int = 92
    linear: bool = True
    aim: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, eq=False)
class Scene:
    """All that is in front of the camera. shadow: (n, 2) outline of a soft shadow, mm; glare: x, y, radius of a
    shine."""

    pieces: Sequence[LaidPiece]
    cards: Sequence[LaidCard]
    ground: Ground = "cloth"
    shot: Shot = field(default_factory=Shot)
    shadow: Array | None = None
    glare: tuple[float, float, float] | None = None
    seed: int = 0

    def with_shot(self, **changes: object) -> "Scene":
        return replace(self, shot=replace(self.shot, **changes))  # type: ignore[arg-type]


def photograph(scene: Scene, beat: Callable[[], None] = lambda: None) -> Picture:
    """(h, w, 3) picture, red first, as a telephone would hand it over. beat: called now and then; may raise to stop
    it."""
    luck = np.random.default_rng(scene.seed)
    plane = seen_plane(scene.shot)
    light = ground_colour(scene.ground, plane, luck)
    for piece in scene.pieces:
        beat()
        _lay_piece(light, plane, piece, luck)
    for card in scene.cards:
        beat()
        _lay_card(light, plane, card)
    beat()
    _lit(light, plane, scene, luck)
    beat()
    return _developed(light, scene.shot, luck)


def jpeg(scene: Scene, beat: Callable[[], None] = lambda: None) -> bytes:
    """As ``photograph``, packed."""
    seen = photograph(scene, beat)[:, :, ::-1]
    done, packed = cv2.imencode(".jpg", seen, [cv2.IMWRITE_JPEG_QUALITY, scene.shot.quality])
    if not done:
        raise RuntimeError("the picture could not be packed")
    return packed.tobytes()


def view(shot: Shot) -> Array:
    """(3, 3) from plane mm to undistorted picture units, half the diagonal = 1, x right, y down."""
    w, h = shot.size
    half = np.hypot(w, h) / 2
    focal = 1.5  # a telephone's main lens: about 67 degrees over the diagonal
    wide = w / half
    away = shot.over * focal / wide
    about = np.array([-np.sin(shot.way), np.cos(shot.way), 0.0])
    turn, _ = cv2.Rodrigues(about * shot.tilt)
    spin, _ = cv2.Rodrigues(np.array([0.0, 0.0, shot.roll]))
    seen = (turn @ spin)[:, :2]
    place = np.column_stack([seen, np.array([0.0, 0.0, away]) - seen @ np.array(shot.aim)])
    out: Array = np.diag([focal, focal, 1.0]) @ place
    return out


def pixels_of(shot: Shot, places: Array) -> Array:
    """(n, 2) pixels that see places on the ground, mm: what the picture is held against."""
    w, h = shot.size
    seen = np.column_stack([places, np.ones(len(places))]) @ view(shot).T
    flat = seen[:, :2] / seen[:, 2:]
    bent = flat * (1 + shot.distortion * (flat**2).sum(axis=1, keepdims=True))
    out: Array = bent * np.hypot(w, h) / 2 + np.array([w, h]) / 2 - 0.5
    return out


def seen_plane(shot: Shot) -> Light:
    """(h, w, 2) place on the ground, mm, that each pixel sees."""
    w, h = shot.size
    half = np.hypot(w, h) / 2
    across, down = (np.arange(w) + 0.5 - w / 2) / half, (np.arange(h) + 0.5 - h / 2) / half
    table = np.linspace(0.0, 1.6, 4001)
    lens = table * (1.0 + shot.distortion * table**2)
    back = np.linalg.inv(view(shot))
    seen = np.empty((h, w, 2), np.float32)
    for band, _ in _bands((slice(0, h), slice(0, w))):
        x, y = np.meshgrid(across, down[band])
        bent = np.hypot(x, y)
        ratio = np.where(bent > 1e-9, np.interp(bent, lens, table) / np.maximum(bent, 1e-9), 1.0)
        flat = np.stack([x * ratio, y * ratio, np.ones_like(x)], axis=-1) @ back.T
        seen[band] = flat[..., :2] / flat[..., 2:]
    return seen


Window = tuple[slice, slice]
"""Rows and columns of the picture."""


def _bands(window: Window, rows: int = 64) -> Iterator[Window]:
    """A window in bands so narrow that what is worked out of one stays in the processor's own memory."""
    for first in range(window[0].start, window[0].stop, rows):
        yield slice(first, min(first + rows, window[0].stop)), window[1]


PIXEL = 0.1
"""Half of what a pixel sees, mm: what is drawn finely is spread over it, or its edges would step."""


def _window(plane: Light, low: Array, high: Array) -> Window | None:
    """Rows and columns of the picture that see a box on the ground."""
    coarse = plane[::8, ::8]
    inside = np.asarray(((coarse > low - 12) & (coarse < high + 12)).all(axis=2))
    rows, cols = np.flatnonzero(np.any(inside, axis=1)), np.flatnonzero(np.any(inside, axis=0))
    if not len(rows) or not len(cols):
        return None
    (h, w), (top, left) = plane.shape[:2], (max(0, rows[0] * 8 - 8), max(0, cols[0] * 8 - 8))
    return slice(top, min(h, rows[-1] * 8 + 16)), slice(left, min(w, cols[-1] * 8 + 16))


FINE = 0.1
"""mm a pixel of what is laid on the ground: half of what a 12 MP picture of it resolves."""


def coverage(polygons: Sequence[Array], low: Array, size: tuple[int, int]) -> Light:
    """How much of each fine pixel the polygons cover. low: the raster's corner, mm."""
    fine = np.zeros((size[1] * 2, size[0] * 2), np.uint8)
    for polygon in polygons:
        cv2.fillPoly(fine, [np.round(((polygon - low) / FINE * 2 - 0.5) * 256).astype(np.int32)], 255, shift=8)
    cover = np.asarray(cv2.resize(fine, size, interpolation=cv2.INTER_AREA), np.float32) / 255.0
    return np.asarray(cv2.GaussianBlur(cover, (0, 0), PIXEL / FINE), np.float32)


def _sampled(raster: Light, plane: Light, low: Array) -> Light:
    where = (plane - low.astype(np.float32)) / np.float32(FINE) - np.float32(0.5)
    return np.asarray(cv2.remap(raster, where[..., 0], where[..., 1], cv2.INTER_LINEAR, borderValue=0.0), np.float32)


def _lay_piece(light: Light, plane: Light, piece: LaidPiece, luck: np.random.Generator) -> None:
    low, high = piece.outline.min(0) - 6.0, piece.outline.max(0) + 6.0
    window = _window(plane, low, high)
    if window is None:
        return
    size = (int(np.ceil((high[0] - low[0]) / FINE)), int(np.ceil((high[1] - low[1]) / FINE)))
    cover = coverage([piece.outline], low, size)
    near = cv2.GaussianBlur(cover, (0, 0), 1.6 / FINE)
    colour = _tape(size, luck, piece) if piece.taped else np.full((*size[::-1], 3), piece.colour, np.float32)
    for name, line in piece.ink:
        drawn, at = _stroke(line, piece.pen, low, size)
        drawn = drawn[..., None] * np.float32(luck.uniform(0.8, 0.97))
        colour[at] = colour[at] * (1 - drawn) + np.array(INKS[name], np.float32) * drawn
    for band in _bands(window):
        there, under = plane[band], light[band]
        # What lies close over the ground keeps light from it: a thin dark rim outside the edge.
        under *= 1 - np.float32(0.25) * _sampled(near, there, low + np.array([0.0, 0.6]))[..., None]
        share = _sampled(cover, there, low)[..., None]
        light[band] = under * (1 - share) + _sampled(colour, there, low) * share


def _stroke(line: Array, pen: float, low: Array, size: tuple[int, int]) -> tuple[Light, Window]:
    """How much of each fine pixel a line covers, and the part of the raster that it is on."""
    wide = max(1, round(pen / FINE))
    near = np.array([line.min(0) - low, line.max(0) - low]) / FINE + [[-wide - 12], [wide + 12]]
    (left, top), (right, bottom) = np.clip(near, 0, size).astype(int)
    fine = np.zeros((max(1, bottom - top), max(1, right - left)), np.uint8)
    at = np.round(((line - low) / FINE - 0.5) * 64).astype(np.int32) - np.array([left, top], np.int32) * 64
    cv2.polylines(fine, [at], False, 255, wide, cv2.LINE_AA, 6)
    soft = np.asarray(cv2.GaussianBlur(fine, (0, 0), 0.12 / FINE), np.float32) / 255.0
    return soft, (slice(top, top + len(fine)), slice(left, left + fine.shape[1]))


def _tape(size: tuple[int, int], luck: np.random.Generator, piece: LaidPiece) -> Light:
    """Crossed strips of tape: each a little lighter or darker, with a thin line where it ends."""
    tone = np.ones(size[::-1], np.float32)
    reach = float(np.hypot(*size))
    for _ in range(int(np.clip(size[0] * size[1] / 60_000, 6, 200))):
        middle = luck.uniform(0, 1, 2) * size
        angle, width, long = luck.choice([0.5, -0.6]) + luck.normal(0, 0.15), 24 / FINE, reach * luck.uniform(0.15, 0.4)
        box = cv2.boxPoints((middle.tolist(), (long, width), float(np.degrees(angle))))
        cv2.fillPoly(tone, [np.int32(np.round(box))], float(luck.uniform(0.93, 1.06)))
        cv2.polylines(tone, [np.int32(np.round(box))], True, float(luck.uniform(0.86, 0.94)), 2)
    grain = luck.normal(0, 0.012, (size[1] // 8 + 1, size[0] // 8 + 1)).astype(np.float32)
    tone *= 1 + cv2.resize(grain, size, interpolation=cv2.INTER_CUBIC)
    return np.asarray(tone[..., None] * np.array(piece.colour, np.float32), np.float32)


def _lay_card(light: Light, plane: Light, card: LaidCard) -> None:
    """Lay a card down; one that is lifted at an edge is seen as if its outer cells lay elsewhere."""
    middle = np.array([card.x, card.y])
    window = _window(plane, middle - 70 * card.size, middle + 70 * card.size)
    if window is None:
        return
    soft, corner = _printed(card.number), np.full(2, -CARD / 2)
    whole, white = np.ones_like(soft), np.array([1.0, 1.0, 0.98], np.float32)
    c, s = np.cos(card.turn), np.sin(card.turn)
    for band in _bands(window):
        own = (plane[band] - middle.astype(np.float32)) @ np.array([[c, -s], [s, c]], np.float32)
        own = own / np.float32(card.size)
        if card.lifted:
            bent = np.clip(own[..., 0] / SIDE + 0.2, 0, 1)
            own = own - np.stack([bent**2 * np.float32(card.lifted), 0 * bent], axis=-1)
        share = _sampled(whole, own, corner)[..., None]
        light[band] = light[band] * (1 - share) + _sampled(soft, own, corner)[..., None] * white * share


def _printed(number: int) -> Light:
    """A card's print, a fine pixel each, with the pixel's own blur."""
    fine = np.ones((int(CARD / FINE), int(CARD / FINE)), np.float32)
    rim = int((CARD - SIDE) / 2 / FINE)
    block = round(SIDE / CELLS / FINE)
    fine[rim:-rim, rim:-rim] = np.kron(cells(number), np.ones((block, block), np.float32))
    return np.asarray(cv2.GaussianBlur(np.where(fine > 0.5, 0.82, 0.035).astype(np.float32), (0, 0), PIXEL / FINE))


def _lit(light: Light, plane: Light, scene: Scene, luck: np.random.Generator) -> None:
    way = luck.uniform(0, 2 * np.pi)
    across = plane @ np.array([np.cos(way), np.sin(way)], np.float32)
    light *= np.exp(-np.float32(scene.shot.light) * across / np.float32(scene.shot.over))[..., None]
    if scene.shadow is not None:
        low = scene.shadow.min(0) - 60
        size = tuple(np.ceil((scene.shadow.max(0) + 60 - low) / 2).astype(int).tolist())
        dark = np.zeros(size[::-1], np.uint8)
        cv2.fillPoly(dark, [np.int32(np.round((scene.shadow - low) / 2))], 255)
        soft = cv2.GaussianBlur(dark, (0, 0), 6.0).astype(np.float32) / 255.0
        where = (plane - low.astype(np.float32)) / 2
        light *= 1 - np.float32(0.55) * cv2.remap(soft, where[..., 0], where[..., 1], cv2.INTER_LINEAR)[..., None]
    if scene.glare is not None:
        x, y, radius = scene.glare
        far = np.hypot(plane[..., 0] - np.float32(x), plane[..., 1] - np.float32(y))
        light += (2.5 * np.exp(-((far / np.float32(radius)) ** 4)))[..., None]


def _developed(light: Light, shot: Shot, luck: np.random.Generator) -> Picture:
    light *= np.float32(0.95 / max(0.4, float(np.quantile(light[::16, ::16].max(axis=2), 0.995))))
    if not shot.linear:
        light = _curve(light)
    seen = cv2.GaussianBlur(light, (0, 0), shot.blur) if shot.blur > 0 else light
    grain = np.empty(seen.shape, np.float32)
    cv2.setRNGSeed(int(luck.integers(1 << 30)))
    cv2.randn(grain, 0.0, 1.0)
    out = np.empty(seen.shape, np.uint8)
    for band in _bands((slice(0, len(seen)), slice(0, seen.shape[1]))):
        one = seen[band] + grain[band] * np.float32(shot.noise) * np.sqrt(np.clip(seen[band], 0.02, 1))
        out[band] = np.clip((_curve(one) if shot.linear else one) * 255 + 0.5, 0, 255)
    return out


def _curve(light: Light) -> Light:
    """The screen's curve (sRGB, IEC 61966-2-1), by table."""
    steps = np.linspace(0.0, 1.0, 4097, dtype=np.float32)
    table = np.where(steps <= 0.0031308, 12.92 * steps, 1.055 * steps ** np.float32(1 / 2.4) - 0.055)
    at = np.clip(light, 0, 1) * np.float32(4096)
    return np.asarray(table.astype(np.float32)[at.astype(np.int32)])
