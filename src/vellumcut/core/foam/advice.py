"""Which foam for which piece, and what to do instead where it is too thick for its curve, with what that costs."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vellumcut.core.foam.bends import BEND_LIMIT, PanelBend, kerf_count, split_of, way_for
from vellumcut.core.foam.sheets import CATALOGUE
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.ink.design import TemplateName
from vellumcut.core.ink.foamwork import BendWay, FoamKind, Layer, Role

CEMENT_COVER = 4.0
"""m2 that one litre of contact cement coats once, on one face (est.)."""
LAMINATE_PACE, KERF_PACE = 0.01, 150.0
"""m2 coated and pressed, and mm of kerf cut, in a minute (est.)."""


@dataclass(frozen=True)
class RoleAdvice:
    """What a role asks of foam. least, most: mm. kind: the usual one."""

    word: str
    least: float
    most: float
    kind: FoamKind
    reason: str


ROLES: dict[Role, RoleAdvice] = {
    "base": RoleAdvice("follows the body", 4, 6, "armour", "4 to 6 mm takes a curve and stays light."),
    "structure": RoleAdvice("holds a shape", 8, 12, "armour", "8 to 12 mm stands by itself and looks heavy."),
    "detail": RoleAdvice("lies on another part", 1, 2, "soft", "1 to 2 mm follows what it lies on."),
    "border": RoleAdvice("edges another part", 2, 4, "armour", "2 to 4 mm shows as a rim and still bends."),
}
USUAL_ROLE: dict[TemplateName, Role] = {"belt": "border", "bandolier": "border", "faulds": "structure"}
"""Of templates; all others follow the body. A loaded strap is never of bare 2 mm: it stretches and tears."""


def role_of(template: TemplateName, own: Role | None) -> Role:
    """The maker's own word, or the template's usual."""
    return own or USUAL_ROLE.get(template, "base")


@dataclass(frozen=True)
class SheetAdvice:
    """The sheet advised for a piece. thickness: mm. words: why this one."""

    thickness: float
    kind: FoamKind
    words: str


def advise_sheet(role: Role, radius: float, area: float, shelf: Sequence[ShelfSheet] = ()) -> SheetAdvice:
    """The thickest sheet of a role's span that its tightest curve takes warm without springing back; else the thinnest.

    radius: to the middle of the foam, mm. area: of all copies, mm2.
    """
    want = ROLES[role]
    sold = [s.thickness for s in CATALOGUE if want.least <= s.thickness <= want.most and want.kind in s.kinds]
    fits = [t for t in sold if way_for(t / (2 * radius) * 100, t) in ("cold", "warm")]
    best = max(fits) if fits else min(sold)
    strain = best / (2 * radius) * 100
    grams = facts_of_sheet(want.kind, best, shelf).grams(area, best)
    why = (
        f"the thickest that its tightest curve of {radius:.0f} mm takes warm, at {strain:.1f} %"
        if fits
        else f"the thinnest of its kind, since the curve of {radius:.0f} mm asks {strain:.1f} % even of it"
    )
    return SheetAdvice(best, want.kind, f"It {want.word}: {want.reason} {best:g} mm is {why}; it weighs {grams:.0f} g.")


@dataclass(frozen=True)
class Instead:
    """Another way to get a panel round its curve. layers: foam it is made of then. strain: what its worst face gives, per
    cent. Costs over what stands now, for all copies: foam in m2, weight in g, cement in ml, work in minutes, money (None
    while the sheets have no price). words: what it means."""

    key: str
    words: str
    layers: tuple[Layer, ...]
    bend: BendWay
    strain: float
    foam: float
    grams: float
    cement: float
    minutes: float
    money: float | None


def instead_of(bend: PanelBend, area: float, length: float, shelf: Sequence[ShelfSheet] = ()) -> list[Instead]:
    """Ways round a curve that one sheet does not take warm. area: of the panel over all copies, mm2. length: of a kerf, mm."""
    if bend.strain <= BEND_LIMIT / 2:
        return []
    out, kind, now = [], bend.layers[-1].kind, tuple(Layer(thickness=x.thickness, kind=x.kind) for x in bend.layers)
    radius = abs(bend.tightest)
    inner = radius - bend.foam / 2
    thin = [s.thickness for s in CATALOGUE if kind in s.kinds and s.thickness / (2 * (inner + s.thickness / 2)) <= 0.1]
    if thin and max(thin) < bend.foam:
        layers: tuple[Layer, ...] = (Layer(thickness=max(thin), kind=kind),)
        words = f"One thinner sheet of {max(thin):g} mm: lighter, softer, and the pattern gets a little smaller."
        out.append(_costed("thinner", words, layers, "warm", bend, area, shelf))
    pair = split_of(bend.foam, kind)
    if pair and len(bend.layers) == 1:
        plain: FoamKind = "armour" if kind == "mat" else kind  # a texture between two layers helps nobody
        layers = tuple(Layer(thickness=t, kind=plain) for t in reversed(pair))
        words = f"{pair[1]:g} + {pair[0]:g} mm glued while bent: it keeps the bend by itself and shows no cut."
        out.append(_costed("laminate", words, layers, "laminate", bend, area, shelf))
    if bend.turn > np.radians(20):
        depth = bend.foam * 2 / 3
        count, width = kerf_count(depth, 2.0, bend.turn)
        words = f"{count} kerfs of {width:.1f} mm in the inner face: no foam more, but the outside may show flats."
        kerfed = _costed("kerf", words, now, "kerf", bend, area, shelf)
        out.append(
            Instead(
                **{
                    **kerfed.__dict__,
                    "minutes": count * length / KERF_PACE,
                    "strain": (bend.foam - depth) / (2 * radius) * 100,
                }
            )
        )
    return out


def _costed(
    key: str,
    words: str,
    layers: tuple[Layer, ...],
    way: BendWay,
    bend: PanelBend,
    area: float,
    shelf: Sequence[ShelfSheet],
) -> Instead:
    inner = abs(bend.tightest) - bend.foam / 2
    low, strain = 0.0, 0.0
    for layer in layers:
        strain = max(strain, layer.thickness / (2 * (inner + low + layer.thickness / 2)) * 100)
        low += layer.thickness
    before, after = ([(x.thickness, x.kind) for x in rows] for rows in (bend.layers, layers))
    grams = [sum(facts_of_sheet(k, t, shelf).grams(area, t) for t, k in rows) for rows in (before, after)]
    prices = [[facts_of_sheet(k, t, shelf).cost(area) for t, k in rows] for rows in (before, after)]
    money = (
        None
        if any(p is None for row in prices for p in row)
        else sum(filter(None, prices[1])) - sum(filter(None, prices[0]))
    )
    glued = (len(layers) - 1) - (len(bend.layers) - 1)
    return Instead(
        key, words, layers, way, strain, (len(layers) - len(bend.layers)) * area / 1e6, grams[1] - grams[0],
        max(0, glued) * area / 1e6 * 2 / CEMENT_COVER * 1000, max(0, glued) * area / 1e6 / LAMINATE_PACE, money,
    )  # fmt: skip
