"""Photographs of known truth: where a piece is known to lie, and how far what was traced is off."""

from functools import cache

import cv2
import numpy as np
import shapely

from vellumcut.core.trace.trace import Trace, trace_picture
from vellumcut.core.trace.view.rigid import onto
from vellumcut.standins.camera import Scene, jpeg


def picture_of(scene: Scene) -> np.ndarray:
    """As a telephone hands it over, packed and unpacked."""
    return np.ascontiguousarray(cv2.imdecode(np.frombuffer(jpeg(scene), np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1])


@cache
def traced(seed_scene: "Kept") -> Trace:
    return trace_picture(picture_of(seed_scene.scene))


class Kept:
    """A scene that is photographed and traced once for all tests of it."""

    def __init__(self, scene: Scene) -> None:
        self.scene = scene

    @property
    def trace(self) -> Trace:
        return traced(self)


def on_ground(scene: Scene, trace: Trace, places: np.ndarray) -> np.ndarray:
    """Places of a scene in the trace's mm, by where its cards lie; nothing is stretched."""
    true = np.array([[c.x, c.y] for n in trace.view.numbers for c in scene.cards if c.number == n])
    seen = trace.view.poses[:, :2]
    return onto(true, seen).place(places)


def off_by(outline: np.ndarray, truth: np.ndarray) -> tuple[float, float]:
    """Root mean square and worst distance between two outlines, both ways, mm, laid on each other without
    stretching."""
    ring = shapely.LinearRing(truth)
    for _ in range(8):
        near = shapely.get_coordinates(
            shapely.line_interpolate_point(ring, shapely.line_locate_point(ring, shapely.points(outline)))
        )
        far = np.hypot(*(outline - near).T)
        good = far <= max(0.3, float(np.quantile(far, 0.9)))
        outline = onto(outline[good], near[good]).place(outline)
    mine = shapely.LinearRing(outline)
    both = [
        shapely.distance(shapely.points(shapely.get_coordinates(shapely.segmentize(x, 0.5))), y)
        for x, y in ((mine, ring), (ring, mine))
    ]
    every = np.concatenate(both)
    return float(np.sqrt((every**2).mean())), float(every.max())
