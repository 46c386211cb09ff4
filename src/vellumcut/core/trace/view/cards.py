"""Marker cards: squares of known size that lie round what is photographed. Which card it is and where its edges run.

A card is a square of six by six cells: a black rim and sixteen cells inside that say its number, from OpenCV's table of
four by four markers. White paper lies all round it, one cell wide and more.
"""

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

CELLS = 6
SIDE = 60.0
"""Side of the black square, mm: the trial of the geometry notes used 60 mm at four places and got 0.13 mm."""
CARD = 76.0
"""Side of the paper card it is cut out as, mm: eight millimetres of white all round."""
COUNT = 12
"""Cards there are: four on a page. Large pieces want more than one page of them."""
FEWEST = 4


@cache
def dictionary() -> "cv2.aruco.Dictionary":
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)


@cache
def cells(number: int) -> NDArray[np.bool_]:
    """(6, 6) cells of a card, true where white; rows from the top down."""
    return np.asarray(cv2.aruco.generateImageMarker(dictionary(), number, CELLS) > 127)


@dataclass(frozen=True, eq=False)
class Edges:
    """Places on a card where black meets white. points: (n, 2) in cell sides from the middle, x right, y down.
    normals: (n, 2), from black to white. cell: (n,) which stretch of one cell's length each lies on.
    """

    points: Array
    normals: Array
    stretch: NDArray[np.int64]


SAMPLES = (-0.24, -0.12, 0.0, 0.12, 0.24)
"""Where on each stretch it is looked at, in cell sides: away from its ends, where other cells blur in."""


@cache
def edges(number: int) -> Edges:
    """All edges of a card's cells, inside and along its rim.

    Those inside look both ways: what ink that spread, or a camera's curve of light, does to all edges alike shows as
    the difference between the two and is solved for.
    """
    padded = np.ones((CELLS + 2, CELLS + 2), bool)
    padded[1:-1, 1:-1] = cells(number)
    points, normals, stretch = [], [], []
    for axis, step in ((0, np.array([0.0, 1.0])), (1, np.array([1.0, 0.0]))):
        along = step[::-1]
        for i, j in np.argwhere(np.diff(padded, axis=axis)):
            here = np.array([j, i], float) - (CELLS + 1) / 2 + step / 2
            towards = -step if padded[i, j] else step
            for s in SAMPLES:
                points.append(here + s * along)
                normals.append(towards)
                stretch.append((len(points) - 1) // len(SAMPLES))
    return Edges(np.array(points), np.array(normals), np.array(stretch))
