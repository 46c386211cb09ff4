"""Several photographs of one ground joined where they share cards: one picture from above, which is traced like any
other.

Each is seen from above by its own cards; cards that two of them share tell how one lies on the other, moved and turned
but not stretched (Kabsch 1976). What is left over, such as a card that was pushed between two photographs, is refused
here or shows later as cards that do not agree.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from vellumcut.core.errors import CraftError
from vellumcut.core.trace.view.cards import SIDE
from vellumcut.core.trace.view.find import Light, light_of, linear_table, sightings
from vellumcut.core.trace.view.judge import judge_view
from vellumcut.core.trace.view.rectify import FINEST, MOST, Picture, box_of, places_of, resolution
from vellumcut.core.trace.view.rigid import STILL, Rigid, onto
from vellumcut.core.trace.view.solve import CORNERS, View, on_ground

Array = NDArray[np.float64]

FEWEST_SHARED = 2
"""Cards that two photographs share: one alone leaves the turn between them too loose."""
MOVED = 0.8
"""mm by which shared cards may miss each other: more, and one was moved. Prints and floors keep it under 0.2. (est.)"""
FEATHER = 0.2
"""Share of a photograph's height over which it fades into its neighbour."""
NOWHERE, BLACK = 0, 8
"""What no photograph shows is black; steps below which it is still, once it was packed as JPEG."""


@dataclass(frozen=True, eq=False)
class Placed:
    """A view, and how its ground lies on the common one."""

    view: View
    lies: Rigid

    def corners(self, side: float) -> dict[int, Array]:
        """(4, 2) mm for each card."""
        return {
            n: self.lies.place(on_ground(CORNERS, np.tile(p, (4, 1)), side))
            for n, p in zip(self.view.numbers, self.view.poses, strict=True)
        }

    def project(self, places: Array) -> Array:
        """(n, 2) pixels of (n, 2) places on the common ground, mm."""
        return self.view.lens.project(self.lies.back(places))


def joined(pictures: Sequence[Picture], side: float = SIDE) -> Picture:
    """One picture from above of what several photographs show, (h, w, 3), about as fine as they are.

    Raises CraftError for a photograph that cannot be used, shares too few cards, or in which a card was moved.
    """
    views = [_view_of(p, k, side) for k, p in enumerate(pictures, 1)]
    placed = placed_together(views, side)
    boxes = [_box(p) for p in placed]
    low, high = np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)
    finest = min(resolution(v.lens, v.poses) for v in views)
    per = max(FINEST, finest, float(np.sqrt(np.prod(high - low) / MOST)))
    size = np.ceil((high - low) / per).astype(int)
    return _blended([_Sheet(q, places_of(p.project, low, per, size)) for p, q in zip(placed, pictures, strict=True)])


def _view_of(picture: Picture, number: int, side: float) -> View:
    """What cannot be trusted alone is not made better by its neighbours."""
    judged = judge_view(light_of(picture), sightings(picture), side)
    stop = next((f for f in judged.findings if f.weight == "stop"), None)
    if stop:
        raise CraftError(f"Photograph {number}: {stop.words}", "photograph")
    return judged.view


def placed_together(views: Sequence[View], side: float) -> list[Placed]:
    """All views on the first one's ground. Raises CraftError."""
    found: dict[int, Placed] = {0: Placed(views[0], STILL)}
    while len(found) < len(views):
        known: dict[int, Array] = {}
        for there in found.values():
            known = {**there.corners(side), **known}
        rows = [(len(set(v.numbers) & known.keys()), k) for k, v in enumerate(views) if k not in found]
        shared, k = max(rows)
        if shared < FEWEST_SHARED:
            raise CraftError(
                f"Photograph {k + 1} shares {['no card', 'one card'][shared]} with the others, and two are needed. "
                "Let them "
                "overlap by two cards, and move nothing in between.",
                "photograph",
            )
        found[k] = _laid(views[k], known, side)
    return [found[k] for k in range(len(views))]


def _laid(view: View, known: dict[int, Array], side: float) -> Placed:
    own = Placed(view, STILL).corners(side)
    both = [n for n in own if n in known]
    a, b = (np.concatenate([where[n] for n in both]) for where in (own, known))
    out = Placed(view, onto(a, b))
    off = np.hypot(*(out.lies.place(a) - b).T).reshape(-1, 4).mean(axis=1)
    if off.max() > MOVED:
        names = " and ".join(str(n + 1) for n in both)
        raise CraftError(
            f"Cards {names} lie otherwise to each other in two of the photographs, by {off.max():.1f} mm: one was "
            "moved in "
            "between. Photograph again, and move nothing.",
            "photograph",
        )
    return out


def _box(placed: Placed) -> tuple[Array, Array]:
    low, high = box_of(placed.view.lens, placed.view.poses)
    corners = placed.lies.place(np.array([low, [high[0], low[1]], high, [low[0], high[1]]]))
    return corners.min(axis=0), corners.max(axis=0)


@dataclass(frozen=True, eq=False)
class _Sheet:
    """A photograph, and where each pixel of the common picture lies in it."""

    picture: Picture
    where: NDArray[np.float32]

    def weight(self) -> Light:
        """(h, w) 0 outside it, rising to 1 inward."""
        h, w = self.picture.shape[:2]
        x, y = self.where[..., 0], self.where[..., 1]
        inward = np.minimum(np.minimum(x - 1, w - 2 - x), np.minimum(y - 1, h - 2 - y))
        return np.asarray(np.clip(inward / (FEATHER * h), 0, 1) ** 2, np.float32)

    def light(self) -> Light:
        seen = cv2.remap(self.picture, self.where[..., 0], self.where[..., 1], cv2.INTER_LINEAR)
        return np.asarray(linear_table()[seen], np.float32)


def _blended(sheets: Sequence[_Sheet]) -> Picture:
    """Faded into each other in light, each made as bright as the ones before it where they overlap."""
    total, sum_of = sheets[0].weight(), sheets[0].light()
    sum_of *= total[..., None]
    for sheet in sheets[1:]:
        weight, light = sheet.weight(), sheet.light()
        over = (weight > 0) & (total > 0)
        if over.any():
            before = (sum_of[over] / total[over][:, None]).mean(axis=0)
            light *= np.clip(before / np.maximum(light[over].mean(axis=0), 1e-4), 0.3, 3.0).astype(np.float32)
        sum_of += light * weight[..., None]
        total += weight
    mean = sum_of / np.maximum(total, 1e-9)[..., None]
    steps = np.searchsorted(linear_table(), mean.clip(0, 1)).clip(1, 255)
    return np.asarray(np.where(total[..., None] > 0, steps, NOWHERE), np.uint8)


def shown(picture: Picture) -> NDArray[np.bool_]:
    """(h, w) where a joined picture shows ground: all but the black that runs in from its rim."""
    dark = np.asarray(picture.max(axis=2) < BLACK, np.uint8)
    _, label = cv2.connectedComponents(dark, connectivity=4)
    rim = np.unique(np.concatenate([label[0], label[-1], label[:, 0], label[:, -1]]))
    return np.asarray(~(np.isin(label, rim) & (dark > 0)))
