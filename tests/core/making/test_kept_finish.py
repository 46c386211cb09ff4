"""Finishes as they were looked at: what is said of stacks drawn by lot, all layers' figures, zones and masks are kept.

``python -m tests.core.making.test_kept_finish`` writes them anew after a change that is meant to move them.
"""

import random

import numpy as np
import pytest

from tests.bodies import WEARER
from tests.kept import comes_out_the_same, told, write
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.making import Detail, Making, MotifRing
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.finish.layers import LAYERS, coats_of
from vellumcut.core.finish.masks import cut_length, laid_out, mask_sheet
from vellumcut.core.finish.recipes import RECIPES, WEATHERINGS, scraps_to_prepare
from vellumcut.core.finish.rules import STACK_RULES, Place, judge_stack
from vellumcut.core.finish.zones import bending, painted_zones, zone_findings, zones_of
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.paces import Tempo
from vellumcut.core.parts.motif import motif_length, motif_of, motif_shape
from vellumcut.core.pattern.pattern import pattern_piece

PIECES = ("bracer", "breastplate", "greave", "gorget", "faulds", "belt", "segmented bracer", "pauldron", "bandolier")
PLACES = (
    Place(), Place(bends="it is bent open each time it is put on"), Place(magnets=True, sprays=False),
    Place(back_shows=True), Place(bends="it is pulled on over the hand", magnets=True, back_shows=True),
)  # fmt: skip
GROUNDS = ("sealed foam", "bare foam", "printed part", "thermoplastic")


def layered(luck: random.Random, count: int) -> Stack:
    """Layers by lot; half of the time in an order that a maker might think of."""
    kinds = [luck.choice(sorted(LAYERS)) for _ in range(count)]
    if luck.random() < 0.5:
        order = ("prepare", "primer", "smooth", "colour", "metal", "weather", "clear")
        kinds.sort(key=lambda k: order.index(LAYERS[k].group))
    if luck.random() < 0.25:
        kinds = ["hard sealer", "filler primer", "gloss black", "mirror chrome", *kinds[:2]]
    layers = tuple(
        FinishLayer(
            kind=k, name=luck.choice(("", "", "old gold", "rust")), coats=luck.choice((None, None, 1, 5, 9)),
            colour=luck.choice((None, None, "#E8D8A0", "#202020")),
            faces=luck.choice(("outside", "outside", "both", "inside")),
            taped=luck.random() < 0.2, before_next=luck.choice((None, None, None, 5.0, 900.0)),
            tested=luck.random() < 0.1, tool=luck.choice((None, None, "brush", "spray", "cloth")),
        )
        for k in kinds
    )  # fmt: skip
    return Stack(name="by lot", on=luck.choice(GROUNDS), layers=layers)


def judged() -> dict:
    luck, out = random.Random("stacks"), {}
    for k in range(240):
        stack = layered(luck, luck.randint(1, 6))
        found = judge_stack(stack, luck.choice(PLACES))
        words = " > ".join(f"{x.kind}{'' if x.coats is None else x.coats}" for x in stack.layers)
        out[f"{k} {words} on {stack.on}"] = [[f.rule, f.at, f.words[:48]] for f in found]
    out["rules"] = {r.key: [r.weight, r.reason, r.way_out] for r in STACK_RULES}
    out["scraps"] = scraps_to_prepare([layered(luck, 4) for _ in range(6)])
    return out


def layers() -> dict:
    luck = random.Random("layers")
    return {
        "layers": {k: told(kind) for k, kind in LAYERS.items()},
        "coats": [told(c) for _ in range(12) for c in coats_of(layered(luck, 4))],
        "recipes": told(list(RECIPES.values()) if isinstance(RECIPES, dict) else RECIPES),
        "weatherings": told(WEATHERINGS),
    }


def lined(template: str):
    """A piece with lines of paint across it, a ring on it, and more rings than letters of the alphabet on a bracer."""
    design = starter_design(template)
    made = pattern_piece(WEARER, design, "Piece", "Build", 14.0)
    sheet = ink_sheet(made.inked[made.panels[0].side].tube, design)
    uv = np.vstack([p.flat.uv for p in made.panels])
    (left, low), (right, high) = np.quantile(uv, 0.1, axis=0), np.quantile(uv, 0.9, axis=0)
    rows = 5 if template == "bracer" else 1
    wide, tall = 0.07 * (right - left), 0.05 * (high - low)
    turn = np.linspace(0, 2 * np.pi, 9)[:-1]
    spots = [
        (left + (right - left) * (i + 0.5) / 6, low + (high - low) * (j + 0.5) / (rows + 1))
        for i in range(6)
        for j in range(rows)
    ]
    rings = tuple(
        Stroke(key=f"ring{k}", kind="paint line", name=f"ring {k}", closed=True,
            points=tuple(zip(x + wide * np.sin(turn), y + tall * np.cos(turn), strict=True)))
        for k, (x, y) in enumerate(spots)
    )  # fmt: skip
    across = Stroke(key="band", kind="paint line", name="band", curve="straight",
        points=((left - 0.2, (low + high) / 2), (right + 0.2, (low + high) / 2)))  # fmt: skip
    inked = sheet.model_copy(update={"strokes": (*sheet.strokes, across, *rings)})
    return pattern_piece(WEARER, design.model_copy(update={"ink": inked}), "Piece", "Build", 14.0)


def painted(template: str) -> dict:
    """Zones, what is painted on them and how, and the mask sheet, figure by figure."""
    luck, pattern = random.Random(f"finish {template}"), lined(template)
    zones = zones_of(pattern)
    names = [z.name for z in zones]
    star = MotifRing(points=((0.0, 0.0), (30.0, 4.0), (22.0, 26.0), (3.0, 18.0)))
    making = Making(
        finishes=tuple(
            ZoneFinish(stack=layered(luck, 4).model_copy(update={"name": f"paint {k}"}), zones=tuple(names[k::3])[:4],
                by_hand=h)
            for k, h in ((0, None), (1, False))
        ),
        details=(Detail(key="r", kind="rivets", name="rivets", count=7, size=9.0),
            Detail(key="g", kind="gem", name="gem", size=21.0),
            Detail(key="s", kind="stencil", name="leaf", count=2, motif=(star,))),
    )  # fmt: skip
    plain = ZoneFinish(stack=layered(luck, 3))
    made = painted_zones(pattern, making, plain, Tempo())
    masks = mask_sheet(made, making, {})
    sheet = laid_out(masks, 420.0)
    return {
        "zones": {f"{z.name} {z.side}": told([z.area, z.copies, z.panel, list(z.bounds)]) for z in zones},
        "painted": [told(p, ("zones", "finish")) | {"zones": [z.name for z in p.zones]} for p in made],
        "findings": [f.message for f in zone_findings(pattern, making)],
        "bending": {str(k): v for k, v in bending(pattern).items()},
        "masks": [[m.name, m.count, m.turned, [told(r) for r in m.rings][:2]] for m in masks],
        "sheet": [[name, told(np.concatenate([rings[0].min(axis=0), rings[0].max(axis=0)]))] for name, rings in sheet],
        "cut": told(cut_length(masks)),
    }


def motifs() -> dict:
    square = np.array([[0, 0], [40, 0], [40, 30], [0, 30], [0, 0]], dtype=float)
    hole, speck, far = square * 0.5 + [8, 6], square * 0.002 + [5, 5], square + [70, 10]
    out = {}
    for name, lines, wide in (
        ("one", [square], 0.0),
        ("holed", [square, hole], 90.0),
        ("apart", [far, square, speck], 25.0),
    ):
        rings = motif_of(lines, wide)
        out[name] = [told(rings), told([motif_length(rings), motif_shape(rings).area, *motif_shape(rings).bounds])]
    return out


FIGURES = {
    "finish stacks": judged, "finish layers": layers, "finish motifs": motifs,
    **{f"finish {name}": (lambda n=name: painted(n)) for name in PIECES},
}  # fmt: skip


@pytest.mark.parametrize("name", FIGURES)
def test_kept_figures_of_the_finish_come_out_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
