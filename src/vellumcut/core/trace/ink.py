"""Ink on a piece: strokes as lines, by colour.

Ink takes light from what it lies on. How much, by colour, tells it from the edges of tape, which take little, and from
shadows, which take from all colours alike and have no sharp edge.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d
from skimage.morphology import skeletonize

from vellumcut.core.trace.ground import Mask, disc
from vellumcut.core.trace.skeleton import branches
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]
Light = NDArray[np.float32]

FINE = 0.3
"""mm a pixel at which strokes are looked at: a pen is 0.8 mm wide and more."""
SURE, FAINT = 0.5, 0.25
"""Light taken, -log of what comes back, of a stroke's middle and of its rims. The edge of a strip of tape takes
0.15."""
AROUND = 11.0
"""mm round a place that tell how bright it is without ink."""
SHORTEST = 5.0
"""mm of the shortest stroke: shorter ones are specks, or dots of letters."""
WIDEST = 4.0
"""mm: what is wider is no stroke."""
TAKEN: dict[str, tuple[float, float, float]] = {
    "black": (1.0, 1.0, 1.0),
    "red": (0.15, 1.0, 0.95),
    "blue": (1.0, 0.75, 0.2),
    "green": (1.0, 0.3, 0.8),
}
"""How much of red, green and blue light each colour of ink takes, against the most it takes."""


@dataclass(frozen=True, eq=False)
class InkLine:
    """A stroke. points: (n, 2) mm along its middle. width: mm. colour: a key of TAKEN."""

    colour: str
    points: Array
    width: float

    @property
    def length(self) -> float:
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


def ink_on(here: FromAbove, inside: Mask) -> list[InkLine]:
    """Strokes on a piece, longest first. inside: where the piece lies in the view."""
    view = here.coarser(max(FINE, here.per))
    body = np.asarray(cv2.resize(inside, view.picture.shape[1::-1], interpolation=cv2.INTER_NEAREST), np.uint8)
    taken = absorbed(view, body)
    body = np.asarray(cv2.erode(body, disc(0.6, view.per)))
    most = taken.max(axis=2) * body
    strokes = _strokes(most, view.per)
    if not strokes.any():
        return []
    colour = _colours(taken)
    out: list[InkLine] = []
    for k, name in enumerate(TAKEN):
        own = np.asarray((strokes > 0) & (colour == k), np.uint8)
        own = np.asarray(cv2.morphologyEx(own, cv2.MORPH_CLOSE, disc(0.5, view.per)))
        wide = cv2.distanceTransform(own, cv2.DIST_L2, 5) * 2 * view.per
        for path in branches(np.asarray(skeletonize(own > 0))):
            line = _line(view, path, name, float(np.median(wide[path[:, 1], path[:, 0]])))
            if line is not None:
                out.append(line)
    return sorted(_joined(out), key=lambda s: -s.length)


DEEP = 6.0
"""mm inside a piece's rough rim at which a dark line is ink and no slit, unless it runs on to the rim."""
FEW = 40
"""Pixels of a colour below which it is no ink."""


def inks_on(here: FromAbove, rough: Mask) -> Light:
    """(k, 3) what ink on this piece sends back of red, green and blue light, against the piece: read off strokes well
    inside it, before its outline is known."""
    view = here.coarser(max(2 * FINE, here.per))
    body = np.asarray(cv2.resize(rough, view.picture.shape[1::-1], interpolation=cv2.INTER_NEAREST), np.uint8)
    taken = absorbed(view, body)
    body = np.asarray(cv2.erode(body, disc(DEEP, view.per)), np.uint8)
    most = taken.max(axis=2) * body
    strokes = _strokes(most, view.per)
    middle = (strokes > 0) & (most > 0.8 * cv2.dilate(most, disc(0.9, view.per)))
    colour = _colours(taken)
    found = [
        np.median(taken[middle & (colour == k)], axis=0)
        for k in range(len(TAKEN))
        if (middle & (colour == k)).sum() > FEW
    ]
    return np.exp(-np.array(found, np.float32).reshape(-1, 3))


def absorbed(view: FromAbove, body: Mask) -> Light:
    """(h, w, 3) light that is taken at each pixel against what comes back round it, -log of the share."""
    filled = view.picture.copy()
    # The ground beyond the rim must not count as what the piece looks like: the piece is carried on over it.
    rim = np.asarray(body == 0, np.uint8)
    mean = [int(np.median(filled[..., k][body > 0])) if body.any() else 128 for k in range(3)]
    filled[rim > 0] = mean
    shrink = max(1, round(0.9 / view.per))
    small = cv2.resize(filled, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA)
    size = min(31, round(AROUND / (view.per * shrink)) | 1)
    plain = cv2.resize(cv2.medianBlur(small, size), view.picture.shape[1::-1], interpolation=cv2.INTER_LINEAR)
    table = linear_table()
    soft = cv2.GaussianBlur(view.picture, (0, 0), 0.6)
    return np.asarray(-np.log((table[soft] + 0.004) / (table[plain] + 0.004)), np.float32)


def _strokes(most: Light, per: float) -> Mask:
    """Where strokes lie: what is faint but touches what is sure, and is not wider than a pen."""
    faint = np.asarray(most > FAINT, np.uint8)
    _, label = cv2.connectedComponents(faint, connectivity=8)
    kept = np.isin(label, np.unique(label[most > SURE])) & (faint > 0)
    # The rims of a stroke are blurred: what takes less than half of its middle lies outside it.
    peak = cv2.dilate(most, disc(0.9, per))
    out = np.asarray(kept & (most > 0.5 * peak), np.uint8)
    blots = cv2.morphologyEx(out, cv2.MORPH_OPEN, disc(WIDEST / 2, per))
    beside: Mask = out & (1 - np.asarray(cv2.dilate(blots, disc(1.0, per)), np.uint8))
    return beside


def _colours(taken: Light) -> NDArray[np.int64]:
    soft = cv2.GaussianBlur(np.clip(taken, 0, None), (0, 0), 1.2)
    share = soft / np.maximum(soft.max(axis=2, keepdims=True), 1e-3)
    kinds = np.array(list(TAKEN.values()), np.float32)
    off = np.stack([((share - kind) ** 2).sum(axis=2) for kind in kinds])
    return np.asarray(off.argmin(axis=0))


def _line(view: FromAbove, path: NDArray[np.int64], colour: str, width: float) -> InkLine | None:
    points = view.mm(path.astype(float))
    if len(points) < 4 or len(points) * view.per < SHORTEST * 0.6:
        return None
    smooth = gaussian_filter1d(points, 0.8 / view.per, axis=0, mode="nearest")
    ends = smooth[[0, -1]]
    smooth = np.vstack([points[:1] * 0.5 + ends[:1] * 0.5, smooth[1:-1], points[-1:] * 0.5 + ends[1:] * 0.5])
    return InkLine(colour, smooth[:: max(1, round(0.6 / view.per))], width)


GAP = 5.0
"""mm over which a stroke goes on: where another crosses it, or the pen skipped."""


def _joined(lines: list[InkLine]) -> list[InkLine]:
    """Strokes of one colour that go on in one another, joined; short ones dropped."""
    left = sorted(lines, key=lambda s: -s.length)
    out: list[InkLine] = []
    while left:
        line = left.pop(0)
        while (found := _next(line, left)) is not None:
            k, points = found
            line = InkLine(line.colour, points, line.width)
            left.pop(k)
        if line.length >= SHORTEST:
            out.append(line)
    return out


def _next(line: InkLine, left: list[InkLine]) -> tuple[int, Array] | None:
    for k, other in enumerate(left):
        if other.colour != line.colour:
            continue
        for a in (line.points, line.points[::-1]):
            for b in (other.points, other.points[::-1]):
                gap = b[0] - a[-1]
                far = float(np.hypot(*gap))
                if far < GAP and _goes_on(a, b, gap, far):
                    return k, np.vstack([a, b])
    return None


def _goes_on(a: Array, b: Array, gap: Array, far: float) -> bool:
    """Whether two strokes that meet go the same way there."""
    before, after = a[-1] - a[max(0, len(a) - 6)], b[min(len(b) - 1, 5)] - b[0]
    ways = [w / max(1e-9, float(np.hypot(*w))) for w in (before, after)]
    straight = float(ways[0] @ ways[1])
    return straight > 0.8 and (far < 1.2 or (float(ways[0] @ gap) / far > 0.75))
