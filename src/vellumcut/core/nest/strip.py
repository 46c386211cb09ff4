"""The strip engine on sheets: all parts on one strip as wide as a sheet, which is then cut into sheets; what lies over
a cut finds room in the gaps, and what is left is laid on a strip again (shop rule book, section 7).

The engine knows no holes, locks or mirrors and cannot be stopped: it runs in a process of its own, which is ended.
"""

import threading
from collections.abc import Iterator, Sequence

import numpy as np
import shapely
import spyrrow

from vellumcut.core.nest.fill import Plan, Table, plan_of
from vellumcut.core.nest.search import Nest, first_order
from vellumcut.core.nest.shapes import Form, NestPart, Placed, grown, moved, turned

ENGINE_FINE = 0.5
"""mm by which outlines are rounded outward for the engine: with finer ones it is slow (trial)."""
LONGEST = 120
"""Seconds the engine may take for one strip: it is ended by counting its reports long before, unless it finds nothing
more to report."""
LOOKS_EVERY = 0.02
"""Seconds between two looks at what the engine reports."""
TALLER = 1.02
"""A part nearly as high as the strip makes the engine fail: these are left to the other way."""

LAID = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas, spyrrow.ReportType.Final)
"""Reports of a strip on which nothing lies on anything."""

Lying = tuple[NestPart, float, float, float]
"""Part, turn, x, y on the strip."""


def strips(nest: Nest, seed: int, reports: Sequence[int]) -> Iterator[Plan]:
    """A plan for each number of reports after which the engine's strips are cut into sheets."""
    for k, most in enumerate(reports if nest.parts else ()):
        yield _cut_up(nest, seed + k, most)


def _cut_up(nest: Nest, seed: int, most: int) -> Plan:
    tables = nest.tables()
    small = sorted(nest.parts, key=lambda p: (p.form.area, p.key))
    rest = {p.key: p for p in nest.parts}
    for table in (t for t in tables if t.sheet.offcut or t.placed):
        for part in reversed(small):
            if part.key in rest and table.lay(part):
                del rest[part.key]
    for table in (t for t in tables if not t.sheet.offcut and not t.placed):
        if not rest:
            break
        strip = _strip(list(rest.values()), table, seed, most)
        for part, turn, x, y in _window(strip, table):
            one = Placed(part, table.sheet.key, turn, x, y)
            if table.lies_free(one):
                table.put(one)
                del rest[part.key]
        for part in first_order(list(rest.values())):
            if table.lay(part):
                del rest[part.key]
    return plan_of(tables, list(rest.values()))


def _window(strip: Sequence[Lying], table: Table) -> list[Lying]:
    """What a sheet takes from one end of a strip, whichever holds more, moved onto it."""
    left, low, right, _ = table.room_bounds
    if not strip:
        return []
    half = table.rules.clearance / 2
    shapes = [moved(grown(part.form, turn, half), x, y) for part, turn, x, y in strip]
    bounds = np.array([s.bounds for s in shapes])
    start, end, long = bounds[:, 0].min(), bounds[:, 2].max(), right - left
    heads = [k for k in range(len(strip)) if bounds[k, 2] <= start + long]
    tails = [k for k in range(len(strip)) if bounds[k, 0] >= end - long]
    area = [part.form.area for part, *_ in strip]
    if end - start <= long or sum(area[k] for k in heads) >= sum(area[k] for k in tails):
        chosen, shift = heads, left - start
    else:
        chosen, shift = tails, left - (end - long)
    up = low - bounds[:, 1].min()
    return [(p, t, x + shift, y + up) for p, t, x, y in (strip[k] for k in chosen)]


def _strip(parts: Sequence[NestPart], table: Table, seed: int, most: int) -> list[Lying]:
    """Parts as the engine lays them on one strip, after so many reports; nothing of those too high for it."""
    _, low, _, high = table.room_bounds
    height = high - low
    half = table.rules.clearance / 2
    forms: dict[int, tuple[Form, list[NestPart]]] = {}
    for part in parts:
        forms.setdefault(id(part.form), (part.form, []))[1].append(part)
    items, known = [], {}
    for k, (form, own) in enumerate(forms.values()):
        shape = shapely.Polygon(
            shapely.Polygon(form.shape.exterior).buffer(half + ENGINE_FINE).simplify(ENGINE_FINE).exterior
        )
        turns = [t for t in form.turns if _height(shape, t) * TALLER < height]
        if turns:
            known[str(k)] = list(own)
            ring = [(float(x), float(y)) for x, y in shape.exterior.coords[:-1]]
            items.append(spyrrow.Item(str(k), ring, len(own), [float(t) for t in turns]))
    if not items:
        return []
    found = _solved(items, height, seed, most)
    return [(known[i].pop(), turn % 360, x, y) for i, turn, x, y in found]


def _height(shape: shapely.Polygon, turn: float) -> float:
    _, low, _, high = turned(shape, turn).bounds
    return float(high - low)


def _solved(
    items: Sequence[spyrrow.Item], height: float, seed: int, most: int
) -> list[tuple[str, float, float, float]]:
    """The engine's answer after so many reports: they come in the same order whatever the clock says. Nothing where it
    failed."""
    seen = spyrrow.ProgressQueue()
    config = spyrrow.StripPackingConfig(
        early_termination=False,
        total_computation_time=None,
        exploration_time=LONGEST,
        compression_time=1,
        num_workers=1,
        seed=seed,
    )
    engine = spyrrow.StripPackingInstance("strip", strip_height=height, items=list(items))
    solving = threading.Thread(target=lambda: engine.solve(config, progress=seen), daemon=True)
    solving.start()
    count, best, alive = 0, None, True
    while alive and (count < most or best is None):
        alive = solving.is_alive()  # asked before the reports are read, so that none of its last is missed
        for kind, answer in seen.drain():
            count += 1
            if kind in LAID:
                best = answer
            if count >= most and best is not None:
                break
        solving.join(LOOKS_EVERY)
    return [(p.id, p.rotation, *p.translation) for p in best.placed_items] if best else []
