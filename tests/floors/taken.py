"""Scenes of pieces on floors, photographed: one picture of the floor with its cards, one with the pieces laid down."""

from dataclasses import dataclass, field

import cv2
import numpy as np
import shapely

from tests.floors.laid import Cut, lay_out, moved
from tests.floors.stuff import FLOORS, TAPES, Sheet, too_alike
from vellumcut.core.trace.trace import Trace
from vellumcut.core.trace.view.cards import cells
from vellumcut.core.trace.view.rigid import onto

WIDE, HIGH = 860.0, 645.0
"""mm on which pieces and cards lie."""
BEYOND = 130.0
"""mm of bare floor round that."""
PENS = ((0.02, 0.02, 0.025), (0.3, 0.02, 0.03), (0.03, 0.05, 0.3))


@dataclass(frozen=True, eq=False)
class Taken:
    """picture, ground: (h, w, 3) red first, ground without the pieces. cuts: where they lie, mm; cards: (n, 3) of
    numbers."""

    floor: str
    tape: str
    picture: np.ndarray
    ground: np.ndarray
    cuts: list[Cut]
    cards: dict[int, np.ndarray] = field(default_factory=dict)

    def place(self, trace: Trace, points: np.ndarray) -> np.ndarray:
        """Places in a trace's mm, by where its cards lie; nothing is stretched."""
        true = np.array([self.cards[n][:2] for n in trace.view.numbers])
        return onto(true, trace.view.poses[:, :2]).place(np.asarray(points))


@dataclass(frozen=True)
class Wanted:
    """What a scene is to be. width: pixels of the picture."""

    seed: int
    floor: str | None = None
    tape: str | None = None
    count: int | None = None
    touching: bool = False
    width: int = 3000


def take(wanted: Wanted) -> Taken:
    luck = np.random.default_rng([77, wanted.seed])
    per = wanted.width / WIDE * 1.15
    sheet = Sheet(WIDE + 2 * BEYOND, HIGH + 2 * BEYOND, per, luck)
    names = sorted(FLOORS)
    floor = wanted.floor or names[wanted.seed % len(names)]
    bare = FLOORS[floor](sheet).astype(np.float32)
    tapes = [t for t in TAPES if not too_alike(bare, TAPES[t])]
    tape = wanted.tape or str(luck.choice(tapes))
    count = wanted.count or int(luck.choice([1, 1, 1, 2, 3, 4, 6, 9, 16, 30]))
    cuts, cards = lay_out(luck, WIDE, HIGH, count, wanted.touching)
    cuts, cards = [moved(c, 0.0, BEYOND, BEYOND) for c in cuts], [c + (BEYOND, BEYOND, 0) for c in cards]
    numbers = luck.permutation(12)[: len(cards)].tolist()
    for number, card in zip(numbers, cards, strict=True):
        _lay_card(bare, per, number, card)
    full = bare.copy()
    sun = luck.uniform(0, 2 * np.pi)
    for cut in cuts:
        _lay_piece(full, sheet, cut, TAPES[tape], sun)
    camera = _Camera.by_chance(luck, wanted.width)
    nearby = camera.moved(luck)
    shade = luck.random() < 0.4
    picture = _developed(full * _light(sheet, luck, shade)[..., None], camera, luck, per)
    ground = _developed(bare * _light(sheet, luck, luck.random() < 0.3)[..., None], nearby, luck, per)
    return Taken(floor, tape, picture, ground, cuts, dict(zip(numbers, cards, strict=True)))


def _lay_card(sheet: np.ndarray, per: float, number: int, card: np.ndarray) -> None:
    x, y, turn = card
    fine = 10.0
    black = np.kron(cells(number), np.ones((int(10 * fine),) * 2))
    tile = np.where(np.pad(black, int(8 * fine), constant_values=1) > 0.5, 0.8, 0.04).astype(np.float32)
    c, s = np.cos(turn) * per / fine, np.sin(turn) * per / fine
    half = (len(tile) - 1) / 2
    matrix = np.array([[c, -s, x * per - 0.5 - c * half + s * half], [s, c, y * per - 0.5 - s * half - c * half]])
    soft = cv2.GaussianBlur(tile, (0, 0), 0.5 * fine / per)
    size = sheet.shape[1::-1]
    drawn, there = (cv2.warpAffine(m, matrix, size, flags=cv2.INTER_LINEAR) for m in (soft, np.ones_like(tile)))
    sheet *= (1 - there)[..., None]
    sheet += (drawn * there)[..., None]


def cover_of(area: shapely.Polygon, per: float, shape: tuple[int, int]) -> np.ndarray:
    """Share of each pixel that an area covers, from a raster four times as fine. The fill takes all pixels that its rim
    touches, which would close a slit where it is 0.1 mm wide: those count half."""
    low = np.floor(np.array(area.bounds[:2]) * per).astype(int) - 3
    high = np.ceil(np.array(area.bounds[2:]) * per).astype(int) + 3
    low, high = np.maximum(low, 0), np.minimum(high, shape[::-1])
    size = (high - low) * 4
    fine = np.zeros((size[1], size[0]), np.uint8)
    rings = [np.array(r.coords) for r in (area.exterior, *area.interiors)]
    points = [np.round(((r * per - low) * 4 - 0.5) * 64).astype(np.int32) for r in rings]
    cv2.fillPoly(fine, points, 255, shift=6)
    cv2.polylines(fine, points, True, 128, shift=6)
    small = cv2.resize(fine, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    out = np.zeros(shape, np.float32)
    out[low[1] : high[1], low[0] : high[0]] = small
    return out


def _lay_piece(sheet: np.ndarray, s: Sheet, cut: Cut, tape: tuple[float, float, float], sun: float) -> None:
    per, luck = s.per, s.luck
    low = np.maximum(np.floor((np.array(cut.area.bounds[:2]) - 8) * per).astype(int), 0)
    high = np.minimum(np.ceil((np.array(cut.area.bounds[2:]) + 8) * per).astype(int), sheet.shape[1::-1])
    window = slice(low[1], high[1]), slice(low[0], high[0])
    cover = cover_of(cut.area, per, sheet.shape[:2])[window]
    thick = luck.uniform(0.4, 1.4) * per
    cast = cv2.warpAffine(
        cover, np.float32([[1, 0, np.cos(sun) * thick], [0, 1, np.sin(sun) * thick]]), cover.shape[::-1]
    )
    under = sheet[window] * (1 - luck.uniform(0.1, 0.35) * cv2.GaussianBlur(cast, (0, 0), thick))[..., None]
    top = np.broadcast_to(np.array(tape, np.float32), under.shape) * np.float32(1)
    wrinkle = cv2.resize(
        luck.standard_normal((14, 18)).astype(np.float32), cover.shape[::-1], interpolation=cv2.INTER_CUBIC
    )
    top = top * (1 + 0.035 * wrinkle)[..., None]
    for _ in range(int(luck.integers(3, 14))):
        at = luck.uniform(0, cover.shape[::-1], (2, 2))
        cv2.line(top, at[0].astype(int).tolist(), at[1].astype(int).tolist(), tuple((np.array(tape) * 0.9).tolist()), 1)
    _inked(top, cut, low, s)
    sheet[window] = under * (1 - cover[..., None]) + top * cover[..., None]


def _inked(top: np.ndarray, cut: Cut, low: np.ndarray, s: Sheet) -> None:
    middle = np.array(cut.area.centroid.coords[0])
    reach = np.sqrt(cut.area.area) / 3
    for pen in s.luck.permutation(3)[: int(s.luck.integers(0, 3))]:
        a, b = middle + s.luck.uniform(-reach, reach, (2, 2))
        t = np.linspace(0, 1, 25)[:, None]
        line = (
            a * (1 - t) + b * t + np.array([b[1] - a[1], a[0] - b[0]]) * 0.5 * s.luck.uniform(-0.3, 0.3) * t * (1 - t)
        )
        at = np.round((line * s.per - low) * 16).astype(np.int32)
        cv2.polylines(top, [at], False, PENS[pen], max(1, int(1.4 * s.per)), cv2.LINE_AA, 4)


def _light(s: Sheet, luck: np.random.Generator, shade: bool) -> np.ndarray:
    """How much light falls on each place: a lamp aside, a window, and at times somebody's shadow."""
    x, y = s.grid()
    lamp = np.array([luck.uniform(-0.5, 1.5) * s.wide, luck.uniform(-0.5, 1.5) * s.high])
    far = ((x - lamp[0]) ** 2 + (y - lamp[1]) ** 2) / (luck.uniform(900, 1600) ** 2)
    light = 1 / (1 + far)
    if shade:
        at = luck.uniform(0.1, 0.9, 2) * (s.wide, s.high)
        way = luck.uniform(0, 2 * np.pi)
        edge = (x - at[0]) * np.cos(way) + (y - at[1]) * np.sin(way) + 20 * s.mottle(120)
        light = light * (1 - luck.uniform(0.2, 0.5) / (1 + np.exp(-edge / luck.uniform(3, 14))))
    return (light / np.quantile(light[::50, ::50], 0.98)).astype(np.float32)


@dataclass(frozen=True)
class _Camera:
    """Where it hangs over the floor, mm, how it is turned (vector of rotation), and its lens; what it makes of
    light."""

    width: int
    place: tuple[float, float, float]
    turned: tuple[float, float, float]
    k1: float
    k2: float
    gain: tuple[float, float, float]
    contrast: float
    sharpen: float
    soft: float

    @staticmethod
    def by_chance(luck: np.random.Generator, width: int) -> "_Camera":
        tilt, way = luck.uniform(0, 0.42), luck.uniform(0, 2 * np.pi)
        high = 880.0 + 260 * tilt
        lean = np.array([np.cos(way), np.sin(way)]) * tilt
        turned = float(lean[0]), float(lean[1]), float(luck.uniform(-0.1, 0.1))
        place = *_under(turned, high), high
        balance = luck.uniform(0.9, 1.1, 3) * luck.uniform(0.8, 1.02)
        return _Camera(
            width, place, turned, luck.uniform(-0.1, 0.06),
            luck.uniform(-0.01, 0.02), tuple(balance), luck.uniform(0.0, 0.25), luck.uniform(0, 0.7),
            luck.uniform(0.5, 1.1),
        )  # fmt: skip

    def moved(self, luck: np.random.Generator) -> "_Camera":
        """As it is held for the other picture: some cm off, a little turned, other exposure and white balance."""
        way = luck.uniform(0, 2 * np.pi)
        far = luck.uniform(10, 100)
        turned = tuple(np.array(self.turned) + luck.normal(0, 0.013, 3))
        z = self.place[2] + luck.uniform(-30, 30)
        x, y = _under(turned, z)
        gain = tuple(np.array(self.gain) * luck.uniform(0.85, 1.15) * luck.uniform(0.93, 1.07, 3))
        place = x + far * np.cos(way) * 0.4, y + far * np.sin(way) * 0.4, z
        return _Camera(self.width, place, turned, self.k1, self.k2, gain, self.contrast, self.sharpen, self.soft)

    def seen(self, finer: float) -> np.ndarray:
        """(h, w, 2) mm on the floor that each pixel of a picture that much finer sees."""
        w, h = int(self.width * finer), int(self.width * 0.75 * finer)
        focal = 0.98 * w
        x, y = np.meshgrid(
            (np.arange(w, dtype=np.float32) - w / 2 + 0.5) / focal,
            (np.arange(h, dtype=np.float32) - h / 2 + 0.5) / focal,
        )
        r2 = x * x + y * y
        bend = 1 + self.k1 * r2 + self.k2 * r2 * r2
        rotation, _ = cv2.Rodrigues(np.array(self.turned))
        ray = np.stack([x * bend, y * bend, np.ones_like(x)], axis=-1) @ rotation.T.astype(np.float32)
        down = self.place[2] / ray[..., 2]
        return np.stack([self.place[0] + ray[..., 0] * down, self.place[1] + ray[..., 1] * down], axis=-1)


def _under(turned: tuple[float, ...], high: float) -> tuple[float, float]:
    """Where a camera hangs so that it looks at the middle of what lies there."""
    ray = cv2.Rodrigues(np.array(turned))[0] @ (0, 0, 1)
    x, y = np.array((WIDE, HIGH)) / 2 + BEYOND - ray[:2] / ray[2] * high
    return float(x), float(y)


def _developed(light: np.ndarray, camera: _Camera, luck: np.random.Generator, per: float) -> np.ndarray:
    finer = 1.4
    where = (camera.seen(finer) * per - 0.5).astype(np.float32)
    fine = cv2.remap(light, where[..., 0], where[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT_101)
    fine = cv2.GaussianBlur(fine, (0, 0), camera.soft * finer)
    size = camera.width, int(camera.width * 0.75)
    raw = cv2.resize(fine, size, interpolation=cv2.INTER_AREA) * np.array(camera.gain, np.float32)
    v = np.hypot(*np.meshgrid(np.linspace(-1, 1, size[0]), np.linspace(-1, 1, size[1]))).astype(np.float32)
    raw *= (1 - 0.1 * v**2)[..., None]
    noise = luck.standard_normal(raw.shape).astype(np.float32)
    raw += noise * np.sqrt(2e-5 + 1.2e-4 * np.clip(raw, 0, None))
    raw = np.clip(raw / 0.86, 0, 1)
    tone = np.where(raw < 0.0031308, 12.92 * raw, 1.055 * np.power(raw, 1 / 2.4) - 0.055)
    tone = tone + camera.contrast * 0.35 * (tone - 0.5) * tone * (1 - tone) * 4
    grey = tone.mean(axis=2)
    tone = tone + camera.sharpen * (grey - cv2.GaussianBlur(grey, (0, 0), 1.2))[..., None]
    eight = np.clip(tone * 255 + 0.5, 0, 255).astype(np.uint8)
    quality = [cv2.IMWRITE_JPEG_QUALITY, int(luck.integers(84, 97))]
    packed = cv2.imencode(".jpg", eight[..., ::-1], quality)[1]
    return np.ascontiguousarray(cv2.imdecode(packed, cv2.IMREAD_COLOR)[..., ::-1])
