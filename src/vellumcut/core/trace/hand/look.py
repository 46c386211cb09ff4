"""The ground about a stroke: what looks like the piece there, and what like floor."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from skimage.measure import find_contours

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.beneath import cheapest, least_cut
from vellumcut.core.trace.ground import Mask, disc, known_ground
from vellumcut.core.trace.hand.stroke import Ground, Stroke
from vellumcut.core.trace.outline import Palette, palette_of
from vellumcut.core.trace.view.find import linear_table
from vellumcut.core.trace.view.rectify import FromAbove

Array = NDArray[np.float64]
Light = NDArray[np.float32]

COARSE = 1.0
"""mm a pixel near an outline that was there."""
ALL_OVER = 2.0
"""mm a pixel where a stroke finds a piece that was missed: it may be of any size."""
MOST_PIXELS = 300_000
"""Of a window about a long stroke, so that it is answered soon."""
PALETTE = 3.0
"""mm a pixel at which the ground's colours are gathered."""
NEAR = 40.0
"""mm about a stroke, at least, where piece and floor are asked what they look like."""
STAYS = 5.0
"""What it costs, a square mm, to call a place something else than before where it is half held."""
STAYS_ANYHOW = 0.3
"""The same close to a stroke, where colours do not tell."""
CERTAIN = 60.0
"""The same under a stroke, on a card, and beyond where strokes reach."""
ROUNDS = 2
RIM = 3.0
"""mm about a rough rim in which it is drawn anew."""
CLOSER = 40
"""Steps of the search for a rim that is roughly known."""
THIN = 3.0
"""mm of a stroke's width below which what lies under it is not asked what it looks like: a slit's own edges."""
MOST_OF_ALL = 0.5
"""Of all ground in view, that no piece lies on more of."""
RAGGED = 220.0
"""A rim's length squared against the area in it: a disc's is 13, a plate's with ten slits 130, and pixels lengthen
it."""
SPECK = 4.0
"""mm, half of how wide a hole is that is one: what is thinner and shut in is ink."""


def all_over() -> CraftError:
    return CraftError(
        "What looks like that is all over the floor. Rub over nothing but the piece, or photograph the floor first.",
        "points",
    )


def no_rags(mask: Mask) -> Mask:
    """It, as it is. Raises CraftError for what is no piece by how long its rim is."""
    lines, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    if sum(cv2.arcLength(line, closed=True) for line in lines) ** 2 > RAGGED * max(1, int(mask.sum())):
        raise all_over()
    return mask


def ground_colours(ground: Ground, own: shapely.Geometry, others: list[shapely.Polygon], stroke: Stroke) -> Palette:
    """What the ground looks like where nothing is called piece."""
    coarse = ground.above.coarser(PALETTE)
    lying = drawn(coarse, shapely.union_all([own, *others, stroke.area]).buffer(PALETTE))
    return palette_of(coarse, np.asarray(coarse.seen & (lying == 0), np.uint8))


@dataclass(frozen=True, eq=False)
class Look:
    """A window on the ground about a stroke. own, barred, rub: (h, w) what was called piece, what nothing may become,
    and the stroke; ink: what is drawn on the piece. far: (h, w) mm from the stroke; reach: mm of it that are asked what
    they look like. colour, grain: (h, w) which of them is seen; edge: (h, w) what a rim costs there."""

    view: FromAbove
    own: Mask
    barred: Mask
    rub: Mask
    far: Light
    colour: NDArray[np.int32]
    grain: NDArray[np.int32]
    edge: Light
    stroke: Stroke
    palette: Palette
    reach: float
    ink: Mask

    @staticmethod
    def about(
        ground: Ground, own: shapely.Geometry, others: list[shapely.Polygon], stroke: Stroke, palette: Palette
    ) -> "Look":
        """Far enough about a stroke; all over the ground where nothing was called piece."""
        view = _window(ground.above, stroke, everything=own.is_empty)
        reach = np.inf if own.is_empty else max(stroke.held, NEAR)
        return Look.at(view, ground, own, others, stroke, palette, reach)

    @staticmethod
    def at(
        view: FromAbove, ground: Ground, own: shapely.Geometry, others: list[shapely.Polygon], stroke: Stroke,
        palette: Palette, reach: float,
    ) -> "Look":  # fmt: skip
        _, cards = known_ground(view, ground.poses, ground.side)
        barred = cards | drawn(view, shapely.union_all(others)) | np.asarray(~view.seen, np.uint8)
        rub = drawn(view, stroke.area) & (1 - np.asarray(barred > 0, np.uint8))
        if not rub.any():
            raise CraftError("That lies on a card, on another piece or outside the picture", "points")
        far = np.asarray(cv2.distanceTransform(1 - rub, cv2.DIST_L2, 5) * view.per, np.float32)
        soft = cv2.GaussianBlur(view.picture, (0, 0), max(0.4, 0.6 / view.per))
        return Look(
            view, drawn(view, own), np.asarray(barred > 0, np.uint8), rub, far, _colours(soft), _grains(view),
            _edges(soft), stroke, palette, reach,
            drawn(view, ground.ink.intersection(own)) & (1 - rub),
        )  # fmt: skip

    def cut(self) -> Mask:
        mask, free, held = self.own, self.stroke.free, self.stroke.held
        for k in range(ROUNDS):
            like = np.clip(self.likeness(mask), -4, 4)
            cost = like * self._tells(like, mask)
            if self.own.any():
                stays = STAYS_ANYHOW + STAYS * np.clip((self.far - free) / (held - free), 0, 1)
                cost = cost + np.where(self.own > 0, stays, -stays)
                cost[self.far > held] = np.where(self.own[self.far > held] > 0, CERTAIN, -CERTAIN)
            cost[self.ink > 0] = CERTAIN
            cost[self.rub > 0] = CERTAIN if self.stroke.piece else -CERTAIN
            cost[self.barred > 0] = -CERTAIN
            found = cheapest(np.asarray(cost, np.float32), self.edge, self.view.per, last=k == ROUNDS - 1)
            mask = found if self.own.any() else _hanging_on(found, self.rub)
        return mask if self.own.any() else self._one_piece(_without_specks(mask, self.view.per))

    def _one_piece(self, mask: Mask) -> Mask:
        """What was found about a stroke where nothing lay. Raises CraftError where it is the floor itself: it runs all
        over it, or is as ragged as no piece is."""
        if mask.sum() > MOST_OF_ALL * mask.size:
            raise all_over()
        return no_rags(mask)

    def closer(self) -> Mask:
        """What it was made about, with its rim drawn as finely as this view shows it."""
        like = np.clip(self.likeness(self.own), -4, 4)
        cost = like * self._tells(like, self.own)
        cost[cv2.erode(self.own, disc(RIM, self.view.per)) > 0] = CERTAIN
        cost[cv2.dilate(self.own, disc(RIM, self.view.per)) == 0] = -CERTAIN
        cost[self.ink > 0] = CERTAIN
        cost[self.rub > 0] = CERTAIN if self.stroke.piece else -CERTAIN
        cost[self.barred > 0] = -CERTAIN
        start = self.own.astype(np.float32)
        found = least_cut(np.asarray(cost, np.float32), self.edge, self.view.per, start, CLOSER)
        return no_rags(np.asarray(found > 0.5, np.uint8))

    def _tells(self, like: Light, mask: Mask) -> float:
        """How well colour and grain tell piece from floor here, 0 to 1: as often as they are right of what is known."""
        near = (self.far < self.reach) & (self.barred == 0)
        sides = [like[near & (mask > 0)] > 0, like[near & (mask == 0)] < 0]
        right = [float(s.mean()) for s in sides if s.size]
        return float(np.clip(2 * np.mean(right) - 1, 0, 1)) if len(right) == 2 else 1.0

    def likeness(self, mask: Mask, told: bool = True) -> Light:
        """(h, w) how much more each place is like the piece than like floor, by what a mask holds. told: by the stroke
        as well."""
        core = cv2.erode(mask, disc(2.0, self.view.per))
        out = 1 - np.asarray(cv2.dilate(mask, disc(2.0, self.view.per)))
        out &= 1 - self.barred
        near = np.asarray(self.far < self.reach, np.uint8)
        sides = [np.asarray(core, np.uint8) & near, out & near]
        if told:
            sides = [side & (1 - self.rub) for side in sides]
        total = np.zeros(mask.shape, np.float32)
        for seen, kinds in ((self.colour, KINDS), (self.grain, GRAINS)):
            like = [_shares(seen, side, kinds) for side in sides]
            own = _shares(seen, self.rub, kinds) if told and self.stroke.wide > THIN else None
            k = 0 if self.stroke.piece else 1
            if own is not None:
                there = like[k]
                like[k] = own if there is None else np.asarray(0.5 * (there + own), np.float32)
            piece, floor = like
            if piece is None or floor is None:
                continue
            total += np.log((piece + FEW) / (floor + FEW))[seen]
        return total

    def changed(self, mask: Mask) -> shapely.Geometry:
        """Where what is called piece is not what it was, and close by."""
        other = cv2.dilate(mask ^ self.own, disc(min(5.0, self.stroke.held / 3), self.view.per))
        found = area_of(np.asarray(other), self.view)
        if self.stroke.wide <= THIN:
            found = found.intersection(self.stroke.area.buffer(self.stroke.free))
        return shapely.union(found, self.stroke.area.buffer(1.0 + 0.3 * self.stroke.wide))


KINDS = 20 * 20 * 20
GRAINS = 12
FEW = 2e-4
"""Share of a colour that counts as none."""


def _colours(picture: NDArray[np.uint8]) -> NDArray[np.int32]:
    lab = cv2.cvtColor(picture, cv2.COLOR_RGB2LAB).astype(np.int32)
    light = np.minimum(lab[..., 0] // 13, 19)
    red, blue = (np.clip((lab[..., k] - 88) // 4, 0, 19) for k in (1, 2))
    return np.asarray((light * 20 + red) * 20 + blue, np.int32)


def _grains(view: FromAbove) -> NDArray[np.int32]:
    grey = cv2.cvtColor(view.picture, cv2.COLOR_RGB2GRAY).astype(np.float32)
    n = (round(7.0 / view.per) | 1,) * 2
    spread = np.sqrt(np.maximum(cv2.blur(grey**2, n) - cv2.blur(grey, n) ** 2, 0))
    return np.asarray(np.clip(np.log2(1 + spread) * 2, 0, GRAINS - 1), np.int32)


def _shares(seen: NDArray[np.int32], where: Mask, kinds: int) -> Light | None:
    """(kinds,) how often each is seen there; None where too little is."""
    picked = seen[where > 0]
    if len(picked) < 12:
        return None
    counts = np.bincount(picked, minlength=kinds).astype(np.float32) / len(picked)
    if kinds == KINDS:
        cube = counts.reshape(20, 20, 20)
        for axis in range(3):
            cube = 0.5 * cube + 0.25 * (np.roll(cube, 1, axis) + np.roll(cube, -1, axis))
        return np.asarray(cube.ravel(), np.float32)
    return np.asarray(0.5 * counts + 0.25 * (np.roll(counts, 1) + np.roll(counts, -1)), np.float32)


def _edges(picture: NDArray[np.uint8]) -> Light:
    """(h, w) what a rim costs, 0 to 1: little where light changes."""
    root = np.sqrt(linear_table()[picture] + 0.01)
    dx, dy = (cv2.Sobel(root, cv2.CV_32F, a, 1 - a, scale=0.125) for a in (1, 0))
    steep = np.sqrt((dx**2 + dy**2).sum(axis=2))
    return np.asarray(0.08 + 0.92 * np.exp(-((steep / 0.03) ** 2)), np.float32)


def _window(above: FromAbove, stroke: Stroke, everything: bool) -> FromAbove:
    if everything:
        return above.coarser(max(ALL_OVER, above.per))
    low, high = np.array(stroke.area.bounds).reshape(2, 2) + max(stroke.held, NEAR) * np.array([[-1], [1]])
    fine_enough = float(np.sqrt(np.prod(high - low) / MOST_PIXELS))
    return part_of(above, low, high).coarser(max(COARSE, above.per, fine_enough))


def part_of(above: FromAbove, low: Array, high: Array) -> FromAbove:
    a = np.maximum(0, np.floor(above.pixels(low))).astype(int)
    b = np.minimum(np.array(above.picture.shape[1::-1]), np.ceil(above.pixels(high)).astype(int) + 1)
    if (b - a < 8).any():
        raise CraftError("That lies outside the picture", "points")
    window = (slice(a[1], b[1]), slice(a[0], b[0]))
    return FromAbove(above.picture[window], above.seen[window], above.corner + a * above.per, above.per)


def drawn(view: FromAbove, area: shapely.Geometry) -> Mask:
    """(h, w) 1 where an area, mm, lies."""
    out = np.zeros(view.picture.shape[:2], np.uint8)
    for part in shapely.get_parts(area):
        if part.geom_type == "Polygon" and not part.is_empty:
            rings = [part.exterior, *part.interiors]
            # Sixteenths of a pixel: a rim is not moved by half of one.
            cv2.fillPoly(
                out, [np.round(view.pixels(np.array(r.coords)) * 16).astype(np.int32) for r in rings], 1, shift=4
            )
    return out


def area_of(mask: Mask, view: FromAbove) -> shapely.Geometry:
    """Where a mask lies, mm."""
    lines = find_contours(np.pad(mask.astype(np.float32), 1), 0.5)
    return area_in([view.mm(c[:, ::-1] - 1) for c in lines])


def area_in(rings: Sequence[Array]) -> shapely.Geometry:
    """What lies inside an odd number of closed lines."""
    areas = [shapely.Polygon(r).buffer(0) for r in rings if len(r) > 3]
    return reduce(shapely.symmetric_difference, sorted(areas, key=lambda a: -a.area), shapely.Polygon())


def _without_specks(mask: Mask, per: float) -> Mask:
    """Without thin holes."""
    count, label = cv2.connectedComponents(1 - mask, connectivity=4)
    wide = cv2.erode(1 - mask, disc(SPECK, per))
    kept = set(np.unique(label[wide > 0])) | set(
        np.unique(np.concatenate([label[0], label[-1], label[:, 0], label[:, -1]]))
    )
    gone = [k for k in range(1, count) if k not in kept]
    return np.asarray(mask | np.isin(label, gone), np.uint8)


def _hanging_on(mask: Mask, rub: Mask) -> Mask:
    _, label = cv2.connectedComponents(mask, connectivity=4)
    kept = np.isin(label, np.unique(label[(rub > 0) & (mask > 0)])) & (mask > 0)
    return np.asarray(kept, np.uint8)
