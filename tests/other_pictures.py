"""Photographs by other means than the camera stand-in: drawn in the screen's numbers, warped, toned and sharpened as
telephones do. Nothing of the stand-in is used, so that the two do not err alike."""

from dataclasses import dataclass

import cv2
import numpy as np
import shapely

from vellumcut.core.trace.trace import Trace
from vellumcut.core.trace.view.cards import cells
from vellumcut.core.trace.view.rigid import onto

PER = 4.0
"""Pixels of the drawing a mm."""
WIDE, HIGH = 900, 700
"""mm that are drawn."""
FRAMED = 800
"""mm that the picture's width takes in."""
PIECES = {
    "white": (238, 238, 234),
    "silver": (176, 178, 182),
    "duct": (120, 122, 126),
    "tan": (206, 170, 120),
    "paper": (228, 205, 160),
}
RUG = np.array([(120, 30, 35), (30, 35, 70), (190, 160, 110), (60, 80, 50), (90, 20, 30), (210, 190, 150)], np.float32)


@dataclass(frozen=True, eq=False)
class Strange:
    """picture: (h, w, 3). outline: (n, 2) mm, cards: number to (2,) mm, both as drawn."""

    picture: np.ndarray
    outline: np.ndarray
    cards: dict[int, np.ndarray]

    def on(self, trace: Trace) -> np.ndarray:
        """The outline in a trace's mm, by where its cards lie."""
        true = np.array([self.cards[n] for n in trace.view.numbers])
        seen = trace.view.poses[:, :2]
        return onto(true, seen).place(self.outline)


def strange(ground: str, piece: str, seed: int, shadow: bool = False, size: tuple[int, int] = (4000, 3000)) -> Strange:
    luck = np.random.default_rng([seed, *ground.encode(), *piece.encode()])
    floor = GROUNDS[ground](luck)
    sheet = floor.copy()
    outline = _outline(luck) + (WIDE / 2, HIGH / 2)
    _lay(sheet, outline, np.array(PIECES[piece], np.float32), luck)
    cards = _cards(sheet, luck)
    if shadow:
        edge = luck.uniform(0.3, 0.7, 2) * WIDE
        dark = _cover(np.array([[edge[0], -50], [WIDE * 1.2, -50], [WIDE * 1.2, HIGH * 1.2], [edge[1], HIGH * 1.2]]))
        sheet *= (1 - luck.uniform(0.25, 0.5) * cv2.GaussianBlur(dark, (0, 0), luck.uniform(1.5, 8) * PER))[..., None]
    return Strange(_photographed(sheet, floor, luck, size), outline, cards)


def _noise(luck: np.random.Generator, across: float, along: float) -> np.ndarray:
    """Soft noise over the drawing; mm of a patch across and along."""
    cells_of = (max(2, int(HIGH / along) + 2), max(2, int(WIDE / across) + 2))
    grid = luck.normal(0, 1, cells_of).astype(np.float32)
    return cv2.resize(grid, (int(WIDE * PER), int(HIGH * PER)), interpolation=cv2.INTER_CUBIC)


def _plain(colour: tuple[int, int, int]) -> np.ndarray:
    return np.full((int(HIGH * PER), int(WIDE * PER), 3), colour, np.float32)


def _rug(luck: np.random.Generator) -> np.ndarray:
    out = _plain(tuple(RUG[luck.integers(len(RUG))]))
    n = int(25 * PER)
    for y in range(0, out.shape[0], n):
        for x in range(0, out.shape[1], n):
            diamond = np.array([[x + n / 2, y], [x + n, y + n / 2], [x + n / 2, y + n], [x, y + n / 2]], np.int32)
            cv2.fillPoly(out, [diamond], RUG[(x // n * 3 + y // n * 5) % 6].tolist())
            cv2.circle(out, (x + n // 2, y + n // 2), n // 5, RUG[(x // n + y // n * 2 + 1) % 6].tolist(), -1)
    return out * (1 + 0.13 * _noise(luck, 0.9, 0.9))[..., None]


def _flecked(luck: np.random.Generator) -> np.ndarray:
    out = _plain((110, 105, 98))
    flecks = _noise(luck, 1.5, 1.5)
    out[flecks > 1.2], out[flecks < -1.3] = (180, 170, 150), (50, 45, 45)
    return out * (1 + 0.1 * _noise(luck, 0.5, 0.5))[..., None]


def _planks(luck: np.random.Generator) -> np.ndarray:
    out = _plain((170, 125, 80))
    n = int(70 * PER)
    for y in range(0, out.shape[0], n):
        out[y : y + n] *= luck.uniform(0.75, 1.15)
        out[y : y + 4] *= 0.3
    return out * (1 + 0.07 * _noise(luck, 60, 0.7) + 0.06 * _noise(luck, 120, 4))[..., None]


def _linen(luck: np.random.Generator) -> np.ndarray:
    weave = 0.02 * (_noise(luck, 0.4, 4) + _noise(luck, 4, 0.4))
    return _plain((222, 216, 203)) * (1 + weave + 0.035 * _noise(luck, 80, 25))[..., None]


def _tiles(luck: np.random.Generator) -> np.ndarray:
    out = _plain((190, 186, 180)) * (1 + 0.03 * _noise(luck, 10, 10))[..., None]
    for k in range(0, out.shape[1], int(100 * PER)):
        out[:, k : k + int(3 * PER)] = (120, 115, 110)
        out[k : k + int(3 * PER)] = (120, 115, 110)
    return out


def _herringbone(luck: np.random.Generator) -> np.ndarray:
    y, x = np.mgrid[0 : int(HIGH * PER), 0 : int(WIDE * PER)].astype(np.float32)
    along = np.where((x // (8 * PER)) % 2 == 0, x + y, x - y)
    light = ((along // (2.5 * PER)) % 2 == 0)[..., None]
    out = np.where(light, np.float32([95, 90, 85]), np.float32([140, 132, 122]))
    return out * (1 + 0.06 * _noise(luck, 0.6, 0.6))[..., None]


GROUNDS = {
    "rug": _rug,
    "flecked": _flecked,
    "planks": _planks,
    "linen": _linen,
    "tiles": _tiles,
    "herringbone": _herringbone,
}


def _outline(luck: np.random.Generator) -> np.ndarray:
    """A rounded piece about the origin with up to three wedges cut in, mm."""
    t = np.linspace(0, 2 * np.pi, 220, endpoint=False)
    a, b, p = luck.uniform(130, 190), luck.uniform(85, 130), luck.uniform(2.2, 4)
    far = (np.abs(np.cos(t) / a) ** p + np.abs(np.sin(t) / b) ** p) ** (-1 / p)
    far *= 1 + 0.05 * np.sin(2 * t + luck.uniform(0, 6)) + 0.03 * np.sin(3 * t + luck.uniform(0, 6))
    piece = shapely.Polygon(np.column_stack([far * np.cos(t), far * np.sin(t)]))
    for k in range(int(luck.integers(0, 4))):
        at = (k + luck.uniform(0.2, 0.8)) / 4 * piece.exterior.length
        mouth, next_to = (np.array(piece.exterior.interpolate(at + d).coords[0]) for d in (0, 1))
        along = (next_to - mouth) / np.hypot(*(next_to - mouth))
        out = np.array([along[1], -along[0]])
        out = -out if piece.contains(shapely.Point(mouth + 2 * out)) else out
        half, deep = luck.uniform(2, 12), luck.uniform(35, 70)
        wider = half * (1 + 3 / deep)
        tip = mouth - out * deep + along * luck.uniform(-5, 5)
        cut = piece.difference(shapely.Polygon([mouth + out * 3 + along * wider, tip, mouth + out * 3 - along * wider]))
        piece = cut if cut.geom_type == "Polygon" else piece
    return np.array(piece.exterior.coords)[:-1]


def _cover(polygon: np.ndarray) -> np.ndarray:
    fine = np.zeros((int(HIGH * PER) * 2, int(WIDE * PER) * 2), np.uint8)
    cv2.fillPoly(fine, [np.round((polygon * PER * 2 - 0.5) * 256).astype(np.int32)], 255, shift=8)
    return cv2.resize(fine, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def _lay(sheet: np.ndarray, outline: np.ndarray, colour: np.ndarray, luck: np.random.Generator) -> None:
    cover = _cover(outline)
    beneath = cv2.GaussianBlur(np.roll(cover, (int(0.8 * PER), int(0.6 * PER)), (0, 1)), (0, 0), 1.2 * PER)
    sheet *= (1 - 0.22 * beneath)[..., None]
    top = (
        np.broadcast_to(colour, sheet.shape)
        * (1 + 0.02 * _noise(luck, 14, 14) + 0.012 * _noise(luck, 0.7, 0.7))[..., None]
    )
    top = np.ascontiguousarray(top, np.float32)
    for ink in ((25, 25, 28), (170, 30, 35)):
        ends = np.array([WIDE / 2, HIGH / 2]) + luck.uniform(-60, 60, (2, 2))
        t = np.linspace(0, 1, 30)[:, None]
        line = ends[0] * (1 - t) + ends[1] * t + np.array([0, 48]) * t * (1 - t)
        cv2.polylines(top, [np.round(line * PER * 16).astype(np.int32)], False, ink, int(1.8 * PER), cv2.LINE_AA, 4)
    sheet[:] = sheet * (1 - cover[..., None]) + top * cover[..., None]


def _cards(sheet: np.ndarray, luck: np.random.Generator) -> dict[int, np.ndarray]:
    spots = [(0.16, 0.17), (0.83, 0.17), (0.15, 0.84), (0.84, 0.83), (0.5, 0.12)][: 4 + int(luck.random() < 0.5)]
    out = {}
    for number, spot in zip(luck.permutation(12).tolist(), spots, strict=False):
        middle = np.array(spot) * (WIDE, HIGH) + luck.uniform(-12, 12, 2)
        black = np.kron(cells(number), np.ones((200, 200), np.float32))
        rim = round(len(black) / 6)
        tile = np.where(np.pad(black, rim, constant_values=1.0) > 0.5, 244.0, 28.0).astype(np.float32)
        small = cv2.resize(tile, (int(80 * PER),) * 2, interpolation=cv2.INTER_AREA)
        angle = luck.uniform(0, 2 * np.pi)
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        at = np.column_stack([turn, middle * PER - 0.5 - turn @ np.full(2, (len(small) - 1) / 2)])
        drawn, there = (
            cv2.warpAffine(m, at, sheet.shape[1::-1])
            for m in (cv2.GaussianBlur(small, (0, 0), 0.5), np.ones_like(small))
        )
        sheet[:] = sheet * (1 - there[..., None]) + (drawn * there)[..., None]
        out[number] = middle
    return out


def _photographed(sheet: np.ndarray, floor: np.ndarray, luck: np.random.Generator, size: tuple[int, int]) -> np.ndarray:
    w, h = size
    where = _seen(luck, size)
    beyond = (where < 0).any(axis=2) | (where > np.array(sheet.shape[1::-1]) - 1).any(axis=2)
    both = [
        cv2.remap((np.clip(x, 0, 255) / 255) ** 2.2, *cv2.split(where), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        for x in (sheet, floor)
    ]
    light = np.where(beyond[..., None], both[1], both[0])
    soft = cv2.GaussianBlur(light, (0, 0), luck.uniform(0.9, 2.4) * w / 4000)
    picture = cv2.resize(soft, size, interpolation=cv2.INTER_AREA)
    u, v = np.linspace(-1, 1, w, dtype=np.float32)[None], np.linspace(-1, 1, h, dtype=np.float32)[:, None]
    picture *= ((1 - 0.12 * (u**2 + v**2)) * luck.uniform(0.8, 1.0))[..., None]
    picture += luck.normal(0, 0.008, (h, w, 1)).astype(np.float32) * np.sqrt(np.maximum(picture, 0.02))
    toned = 255 * np.maximum(picture, 0) ** (1 / 2.2)
    sharp = toned + 0.4 * (toned - cv2.GaussianBlur(toned, (0, 0), 1.5))
    packed = cv2.imencode(
        ".jpg",
        np.clip(sharp, 0, 255).astype(np.uint8)[..., ::-1],
        [cv2.IMWRITE_JPEG_QUALITY, int(luck.integers(82, 96))],
    )[1]
    return np.ascontiguousarray(cv2.imdecode(packed, cv2.IMREAD_COLOR)[..., ::-1])


def _seen(luck: np.random.Generator, size: tuple[int, int]) -> np.ndarray:
    """(h, w, 2) pixel of the drawing for each of the picture, one and a half times as fine: perspective to 33 degrees,
    a bend of
    two terms."""
    w, h = size
    tilt, way = luck.uniform(0, np.radians(33)), luck.uniform(0, 2 * np.pi)
    focus = 1.15 * w
    far = focus * FRAMED * 1.12 / w * (1 + 0.35 * np.sin(tilt))

    def about(angle: float) -> np.ndarray:
        c, s = np.cos(angle), np.sin(angle)
        return np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])

    lean = np.array([[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]])
    turn = about(-way + luck.uniform(-0.2, 0.2)) @ lean @ about(way)
    lens = np.array([[focus, 0, w / 2 - 0.5], [0, focus, h / 2 - 0.5], [0, 0, 1]])
    plane = (
        lens
        @ np.column_stack([turn[:, 0], turn[:, 1], [0, 0, far]])
        @ np.array([[1, 0, -WIDE / 2], [0, 1, -HIGH / 2], [0, 0, 1]])
    )
    back = np.linalg.inv(plane)
    y, x = np.mgrid[0 : int(h * 1.5), 0 : int(w * 1.5)].astype(np.float32)
    x, y = ((x + 0.5) / 1.5 - w / 2) / (0.625 * w), ((y + 0.5) / 1.5 - h / 2) / (0.625 * w)
    r2 = x**2 + y**2
    bend = (1 + luck.uniform(-0.07, 0.07) * r2 + luck.uniform(-0.01, 0.01) * r2**2) * 0.625 * w
    x, y = x * bend + w / 2 - 0.5, y * bend + h / 2 - 0.5
    depth = back[2, 0] * x + back[2, 1] * y + back[2, 2]
    rows = [(back[k, 0] * x + back[k, 1] * y + back[k, 2]) / depth * PER - 0.5 for k in (0, 1)]
    return np.stack(rows, axis=-1).astype(np.float32)
