"""Lines of single pixels as paths."""

import numpy as np
from numpy.typing import NDArray

Path = NDArray[np.int64]
ROUND = [(-1, -1), (0, -1), (1, -1), (1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0)]


def branches(thin: NDArray[np.bool_]) -> list[Path]:
    """Paths (n, 2) of x, y between ends and forks of a skeleton, closed ones from any pixel."""
    pixels = {(int(x), int(y)) for y, x in np.argwhere(thin)}

    def near(p: tuple[int, int]) -> list[tuple[int, int]]:
        return [q for dx, dy in ROUND if (q := (p[0] + dx, p[1] + dy)) in pixels]

    forks = {p for p in pixels if len(near(p)) != 2}
    seen: set[frozenset[tuple[int, int]]] = set()
    out: list[Path] = []

    def walk(start: tuple[int, int], then: tuple[int, int]) -> None:
        path, last, here = [start], start, then
        while True:
            seen.add(frozenset((last, here)))
            path.append(here)
            if here in forks or here == start:
                break
            onward = [q for q in near(here) if q != last]
            last, here = here, onward[0]
        out.append(np.array(path))

    for p in sorted(forks):
        for q in near(p):
            if frozenset((p, q)) not in seen:
                walk(p, q)
    for p in sorted(pixels - forks):
        rest = near(p)
        if rest and not any(frozenset((p, q)) in seen for q in rest):
            walk(p, rest[0])
    return out
