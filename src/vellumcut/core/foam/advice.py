"""Which foam for which piece, and what to do instead where it is too thick for its curve, with what that costs."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vellumcut.core.design.foam import USUAL_KERF, BendWay, FoamKind, Layer, Role
from vellumcut.core.design.piece import TemplateName
from vellumcut.core.foam.bends import BEND_WARM, KERF_DEPTH, PanelBend, kerf_count, split_of, way_for
from vellumcut.core.foam.sheets import CATALOGUE
from vellumcut.core.foam.shelf import ShelfSheet, facts_of_sheet
from vellumcut.core.foam.stacks import asked_of_faces, placed

CEMENT_COVER = 4.0
"""m2 that one litre of contact cement coats once, on one face (est.)."""
LAMINATE_PACE, KERF_PACE = 0.01, 150.0
"""m2 coated and pressed, and mm of kerf cut, in a minute (est.)."""
LEAST_TURN = 0.35
"""A panel that turns less, radians, is not kerfed: its curve is in one place (est.)."""


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


def role_of(template: TemplateName | None, own: Role | None) -> Role:
    """The maker's own word, or the template's usual; None is a solid."""
    return own or (USUAL_ROLE.get(template, "base") if template else "structure")


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
    """Another way to get a panel round its curve. layers: foam it is made of then. strain: what its worst face gives,
    per cent. Costs over what stands now, for all copies: foam in m2, weight in g, cement in ml, work in minutes, money
    (None while the sheets have no price). words: what it means."""

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
    """Ways round a curve that one sheet does not take warm. area: of the panel over all copies, mm2. length: of a kerf,
    mm."""
    if bend.strain <= BEND_WARM:
        return []
    out, kind = [], bend.layers[-1].kind
    sold = [s.thickness for s in CATALOGUE if kind in s.kinds and s.thickness < bend.foam]
    thin = [
        t for t in sold if asked_of_faces(placed([(t, kind)], alike=False), False, bend.middle_over(t)) <= BEND_WARM
    ]
    if thin:
        words = f"One thinner sheet of {max(thin):g} mm: lighter, softer, and the pattern gets a little smaller."
        out.append(_costed("thinner", words, [(max(thin), kind)], "warm", bend, area, shelf))
    pair = split_of(bend.foam, kind)
    if pair and len(bend.layers) == 1:
        plain: FoamKind = "armour" if kind == "mat" else kind  # a texture between two layers helps nobody
        words = f"{pair[1]:g} + {pair[0]:g} mm glued while bent: it keeps the bend by itself and shows no cut."
        sheets: list[tuple[float, FoamKind]] = [(pair[1], plain), (pair[0], plain)]
        out.append(_costed("laminate", words, sheets, "laminate", bend, area, shelf))
    if bend.turn > LEAST_TURN:
        depth = KERF_DEPTH * bend.foam
        count, width = kerf_count(depth, USUAL_KERF, bend.turn)
        words = f"{count} kerfs of {width:.1f} mm in the inner face: no foam more, but the outside may show flats."
        kerfed = _costed("kerf", words, [(x.thickness, x.kind) for x in bend.layers], "kerf", bend, area, shelf)
        left = (bend.foam - depth) / (2 * abs(bend.tightest)) * 100
        out.append(replace(kerfed, minutes=count * length / KERF_PACE, strain=left))
    return out


Sheets = Sequence[tuple[float, FoamKind]]


def _costed(
    key: str, words: str, sheets: Sheets, way: BendWay, bend: PanelBend, area: float, shelf: Sequence[ShelfSheet]
) -> Instead:
    """sheets: thickness and kind of each, from the inner face out."""
    now: Sheets = [(x.thickness, x.kind) for x in bend.layers]
    stack = placed([(t, k) for t, k in sheets], alike=False)
    more = max(0, len(sheets) - len(now)) * area / 1e6
    costs = [[facts_of_sheet(k, t, shelf).cost(area) for t, k in rows] for rows in (sheets, now)]
    priced = [[c for c in row if c is not None] for row in costs]
    money = sum(priced[0]) - sum(priced[1]) if priced == costs else None
    return Instead(
        key,
        words,
        tuple(Layer(thickness=t, kind=k) for t, k in sheets),
        way,
        strain=asked_of_faces(stack, False, bend.middle_over(stack[-1].high)),
        foam=(len(sheets) - len(now)) * area / 1e6,
        grams=_grams(sheets, area, shelf) - _grams(now, area, shelf),
        cement=more * 2 / CEMENT_COVER * 1000,
        minutes=more / LAMINATE_PACE,
        money=money,
    )


def _grams(sheets: Sheets, area: float, shelf: Sequence[ShelfSheet]) -> float:
    return sum(facts_of_sheet(k, t, shelf).grams(area, t) for t, k in sheets)
