"""How tightly each panel is bent, what that asks of its foam, and how to bend it: cold, warm, kerfed, in layers."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from vellumcut.core.cast.armour import ArmourSurface
from vellumcut.core.design.foam import BendWay, FoamKind, PanelWork
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.foam.sheets import CATALOGUE
from vellumcut.core.foam.stacks import PlacedLayer, asked_of_faces, layers_of
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.notes import Finding, Note, Value

Array = NDArray[np.float64]

BEND_COLD, BEND_WARM, BEND_LIMIT = 3.0, 10.0, 20.0
"""What the outer face takes cold, warm, and warm with spring-back allowed for, per cent (est.)."""
SPRING_BACK = 0.15
"""Share by which a bend opens again when the form is taken away, until a scrap test says otherwise (est.)."""
GRID = (10, 20)
"""Places along and around at which a panel's curve is read."""
TIGHT_SHARE = 97.0
"""Per cent of the places that bend less than the radius told: one odd place is pressed out by hand."""
ROUND_SHARE = 0.45
"""Curved both ways at least so alike, a panel is a dome and is formed over a ball (est.)."""
OVER_KNEE, BY_HAND = (45.0, 110.0), 115.0
"""Radii of a thigh or knee, and the one from which a panel is bent by hand alone, mm (est.)."""
KERF_DEPTH = 2 / 3
KERF_LAND = 3.0
"""Foam between two kerfs must be wider than this or it tears out, mm (est.)."""
GENTLE = 3.0
"""Layers cut alike and curved together may ask this much of their faces, per cent: more, and the ends shear (est.)."""


@dataclass(frozen=True)
class PanelBend:
    """One panel's curve. across, along: tightest radius of the middle of its foam round the body and up it, mm, below
    zero where it is hollow. tightest: of both principal curves, mm. other: radius the other way at that place, signed.
    turn: how far the panel turns round the body at half its height, radians. layers: its sheets.
    """

    panel: int
    across: float
    along: float
    tightest: float
    other: float
    turn: float
    layers: tuple[PlacedLayer, ...]
    alike: bool
    work: PanelWork | None

    @property
    def foam(self) -> float:
        """All layers, mm."""
        return self.layers[-1].high

    def middle_over(self, foam: float) -> float:
        """Radius to the middle of other foam round the same inner face, mm."""
        return max(abs(self.tightest) - self.foam / 2, 0.0) + foam / 2

    @property
    def strain(self) -> float:
        """What the worst face of its layers must give, per cent."""
        return asked_of_faces(self.layers, self.alike, abs(self.tightest))

    @property
    def advised(self) -> BendWay:
        """The mildest way that this foam takes this curve."""
        return way_for(self.strain, self.foam)

    @property
    def way(self) -> BendWay:
        """The maker's, or the advised one."""
        return (self.work.bend if self.work else None) or self.advised

    @property
    def kerfed(self) -> bool:
        """Whether the maker has it cut with kerfs."""
        return self.work is not None and self.work.bend == "kerf"

    @property
    def words(self) -> str:
        """What to do."""
        way, strain, radius = self.way, f"{self.strain:.1f} %", f"{abs(self.tightest):.0f} mm"
        if way == "cold":
            return f"Bends cold: its outer face gives {strain} round {radius}."
        if way == "warm":
            return f"Warm it through: its outer face gives {strain} round {radius}. Hold it till it is cold."
        if way == "past":
            form = abs(self.tightest) * (1 - SPRING_BACK)
            return (
                f"Warm it through and bend it past the curve, to {form:.0f} mm, for it springs back: its outer face "
                "gives "
                f"{strain} round {radius}."
            )
        if way == "kerf":
            return f"Cut kerfs in its inner face: whole, its outer face would have to give {strain} round {radius}."
        thin = split_of(self.foam, self.layers[-1].kind)
        sheets = " + ".join(f"{t:g}" for t in thin) + " mm" if thin else "thinner sheets"
        return (
            f"Glue {sheets} while bent, each cut to its own depth: in one, its face would give {strain} round {radius}."
        )

    @property
    def aid(self) -> str:
        """Over what to form it."""
        inner = self.middle_over(0.0)
        if abs(self.tightest) >= BY_HAND:
            return "Bend it by hand, over the edge of the table."
        if self.other * self.tightest > 0 and abs(self.tightest / self.other) >= ROUND_SHARE:
            return f"Press it over a ball of {2 * inner:.0f} mm across; stretch the middle, not the rim."
        if OVER_KNEE[0] <= inner <= OVER_KNEE[1]:
            return f"Bend it over the knee, or a tube of {2 * inner:.0f} mm across."
        hollow = ", from the outer face" if self.tightest < 0 else ""
        return f"Bend it over a tube or a bottle of {2 * inner:.0f} mm across{hollow}."

    @property
    def note(self) -> Note:
        """How the strain was made."""
        thickest = self.foam if self.alike else max(x.thickness for x in self.layers)
        return Note(
            title=f"Bend of panel {self.panel}",
            result=Value("its outer face must give", self.strain, "percent"),
            formula="{0} foam / (2 x {1} radius) x 100",
            values=(Value("foam", thickest), Value("radius", thickest / (2 * self.strain) * 100)),
            reason="The middle of a sheet keeps its length, so the outside of a bend is longer by half the foam over "
            "the radius.",
            change="Thinner foam, thin layers glued while bent, kerfs, or a wider curve.",
            about=f"bend.{self.panel}",
        )

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What to look at before it is cut."""
        place, told = f"bend.{self.panel}", (Value("outer face", self.strain, "percent"),)
        found = []
        if self.strain > BEND_LIMIT and not self.kerfed:
            found.append(Finding("look", "The foam is too thick for its tightest curve: its outer face would tear or "
                                         "spring "
                                 "open.", place, "See Foam for what to do instead, with its cost.", told))  # fmt: skip
        elif self.strain > BEND_LIMIT:
            found.append(Finding("say", self.words, place, "", told))
        elif self.strain > BEND_WARM:
            words = "The foam bends tightly here: form it warm, past the wanted curve, and hold it till cold."
            advice = "Thinner foam, or two thin layers, bends more easily."
            found.append(Finding("say", words, place, advice, told))
        if self.alike and len(self.layers) > 1 and self.strain > GENTLE:
            words = (
                f"Layers cut alike and curved together ask {self.strain:.1f} % of their faces here; that is for gentle "
                f"curves, up to {GENTLE:g} %."
            )
            found.append(Finding("look", words, place, "Cut each layer to its own depth and glue it on bent."))
        return tuple(found)


def way_for(strain: float, foam: float) -> BendWay:
    """The mildest way to bend foam whose outer face must give so much, per cent; in layers where it can be had in
    two."""
    if strain <= BEND_COLD:
        return "cold"
    if strain <= BEND_WARM:
        return "warm"
    if strain <= BEND_LIMIT:
        return "past"
    return "laminate" if strain / 2 <= BEND_LIMIT and split_of(foam, "armour") else "kerf"


def split_of(thickness: float, kind: FoamKind) -> tuple[float, ...]:
    """Two sheets, as alike as can be had, that make a thickness; nothing where none do."""
    sold = [s.thickness for s in CATALOGUE if kind in s.kinds or kind == "mat"]
    pairs = [(a, thickness - a) for a in sold if thickness - a in sold and a >= thickness - a]
    return min(pairs, key=lambda p: p[0] - p[1]) if pairs else ()


def panel_bends(piece: InkedPiece) -> list[PanelBend]:
    """How every panel of one side is bent."""
    return [_bend(piece.surface, panel, piece.design) for panel in piece.panels]


def _bend(surface: ArmourSurface, panel: PanelInk, design: PieceDesign) -> PanelBend:
    layers = layers_of(design, panel.number)
    sheet = surface.at_depth(layers[-1].high / 2)
    uv = _places(surface, panel, layers[-1].high)
    across, along, one, two = curvatures(sheet, uv, max(layers[-1].high, 5.0))
    steep = np.maximum(np.abs(one), np.abs(two))
    worst = int(np.argsort(steep)[int(TIGHT_SHARE / 100 * (len(steep) - 1))])
    k1, k2 = (one[worst], two[worst]) if abs(one[worst]) >= abs(two[worst]) else (two[worst], one[worst])
    turn = _turn(sheet, panel)
    alike, work = design.layered == "alike", design.foam_work.panel(panel.number)
    most = (_radius(_steepest(across)), _radius(_steepest(along)), _radius(k1), _radius(k2))
    return PanelBend(panel.number, *most, turn, layers, alike, work)


def _radius(curvature: float) -> float:
    return float(1 / curvature) if abs(curvature) > 1e-5 else float(np.copysign(1e5, curvature))


def _steepest(k: Array) -> float:
    return float(k[np.argsort(np.abs(k))[int(TIGHT_SHARE / 100 * (len(k) - 1))]])


def _outline(panel: PanelInk) -> Array:
    return np.vstack([line.uv[:-1] for line in panel.outline])


def _places(surface: ArmourSurface, panel: PanelInk, foam: float) -> Array:
    """Places on a panel, (n, 2) of (around, along), away from its rim and from lines that fold it: there its edges are
    bevelled or grooved, not bent."""
    girth, mm = float(np.mean(surface.tube.station_girths)), surface.tube.mm

    def flat(uv: Array) -> Array:
        return np.stack([uv[:, 0] * girth, mm(uv[:, 1])], axis=1)

    holes = [h.uv for h in panel.holes if len(h.uv) > 3 and np.allclose(h.uv[0], h.uv[-1])]
    shape = shapely.Polygon(flat(_outline(panel)), [flat(h) for h in holes])
    folds = shapely.MultiLineString([flat(x.uv) for x in panel.inside if x.kind in ("fold", "score")])
    for margin in (1.5 * foam, 0.5 * foam, 0.0):
        inner = shape.buffer(-margin).difference(folds.buffer(margin + 0.1))
        if inner.is_empty:
            continue
        low_x, low_y, high_x, high_y = inner.bounds
        y, x = (g.ravel() for g in np.meshgrid(
            np.linspace(low_y, high_y, GRID[0] + 2)[1:-1], np.linspace(low_x, high_x, GRID[1] + 2)[1:-1], indexing="ij"
        ))  # fmt: skip
        inside = shapely.contains_xy(inner, x, y)
        if inside.sum() >= 8:
            return np.stack([x[inside] / girth, surface.tube.along(y[inside])], axis=1)
    middle = shape.representative_point()
    return np.array([[middle.x / girth, float(surface.tube.along(middle.y))]])


def curvatures(surface: ArmourSurface, uv: Array, step: float) -> tuple[Array, Array, Array, Array]:
    """Curvature of the layer whose lengths count at (n, 2) of (around, along), 1/mm, (n,) each, above zero where it
    bulges: round the body, up it, and both principal ones.

    step: mm over which it is taken: foam feels no bend shorter than its own thickness. First and second fundamental
    forms by central differences (do Carmo, Differential Geometry of Curves and Surfaces, 3-2, 3-3).
    """
    at, tube = surface.points, surface.tube
    girth = float(np.mean(tube.station_girths))
    mm = tube.mm(uv[:, 1])

    ways = ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (1, -1), (-1, 1), (-1, -1))
    moved = [np.stack([uv[:, 0] + a * step / girth, tube.along(mm + b * step)], axis=1) for a, b in ways]
    here, east, west, north, south, *corners = np.split(at(np.vstack(moved)), len(ways))
    xu, xv = (east - west) / 2, (north - south) / 2
    xuu, xvv = east - 2 * here + west, north - 2 * here + south
    xuv = (corners[0] - corners[1] - corners[2] + corners[3]) / 4
    normal = np.cross(xu, xv)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    outward = tube.frame(uv[:, 0], uv[:, 1])[1]
    normal *= -np.sign((normal * outward).sum(axis=1, keepdims=True))  # inward, so that a bulge is above zero

    def dot(a: Array, b: Array) -> Array:
        return np.asarray((a * b).sum(axis=1))

    # Half chords and not the whole one: on an arc of any radius the quotient is then exact at every step.
    e, f, g = dot(xu, xu) + dot(xuu, xuu) / 4, dot(xu, xv), dot(xv, xv) + dot(xvv, xvv) / 4
    l, m, n = dot(xuu, normal), dot(xuv, normal), dot(xvv, normal)  # noqa: E741 (their names in the source)
    det = e * g - f * f
    mean, gauss = (e * n - 2 * f * m + g * l) / (2 * det), (l * n - m * m) / det
    apart = np.sqrt(np.maximum(mean * mean - gauss, 0.0))
    return l / e, n / g, mean + apart, mean - apart


def _middle_span(panel: PanelInk) -> tuple[float, float, float]:
    """``along`` at half a panel's height, and between which two ``around`` it lies there."""
    outline = _outline(panel)
    low, high = outline[:, 1].min(), outline[:, 1].max()
    v = float(low + high) / 2
    across = shapely.LineString([(outline[:, 0].min() - 1, v), (outline[:, 0].max() + 1, v)])
    seen = shapely.get_parts(shapely.intersection(across, shapely.Polygon(outline).buffer(0)))
    spans = [p.bounds for p in seen if p.geom_type == "LineString"]
    if not spans:
        return v, float(outline[:, 0].min()), float(outline[:, 0].max())
    widest = max(spans, key=lambda b: b[2] - b[0])
    return v, float(widest[0]), float(widest[2])


def _headings(surface: ArmourSurface, panel: PanelInk) -> tuple[float, Array, Array]:
    """``along`` at half height, ``around`` across the panel there, and how far it has turned up to each, radians."""
    v, left, right = _middle_span(panel)
    u = np.linspace(left, right, 181)
    points = surface.points(np.stack([u, np.full(len(u), v)], axis=1))
    way = np.diff(points, axis=0)[:, :2]
    heading = np.unwrap(np.arctan2(way[:, 1], way[:, 0]))
    turned = np.concatenate([[0.0], np.cumsum(np.maximum(np.diff(heading), 0.0))])
    return v, (u[1:] + u[:-1]) / 2, turned


def _turn(surface: ArmourSurface, panel: PanelInk) -> float:
    return float(_headings(surface, panel)[2][-1])


@dataclass(frozen=True)
class Kerfs:
    """Cuts in the inner face that let a panel bend. depth, width: of each, mm. turn: of all together, radians.
    spacing: least distance between two, mm. lines: (k, 2) of (around, along) each."""

    count: int
    depth: float
    width: float
    turn: float
    spacing: float
    lines: tuple[Array, ...]

    @property
    def closes(self) -> float:
        """Degrees that one kerf turns when its walls meet."""
        return float(np.degrees(self.turn) / self.count)

    @property
    def words(self) -> str:
        """For the maker."""
        return (
            f"{self.count} kerfs, {self.depth:.1f} mm deep and {self.width:.2f} mm wide, in the inner face from edge "
            "to edge: "
            f"each closes {self.closes:.1f}°, {np.degrees(self.turn):.0f}° together."
        )


def kerf_count(depth: float, width: float, turn: float) -> tuple[int, float]:
    """How many kerfs of about ``width`` mm close over ``turn`` radians, and their exact width: n w = depth x turn."""
    count = max(1, round(depth * turn / width))
    return count, depth * turn / count


def plan_kerfs(surface: ArmourSurface, panel: PanelInk, bend: PanelBend) -> Kerfs:
    """Kerfs that bend a panel round the body, each where its share of the turn is."""
    work = bend.work or PanelWork(panel=panel.number)
    depth = min(work.kerf_depth or KERF_DEPTH * bend.foam, bend.foam - 1.0) if bend.foam > 1.5 else bend.foam / 2
    count, width = kerf_count(depth, work.kerf_width, bend.turn)
    sheet = surface.at_depth(bend.foam / 2)
    v, u, turned = _headings(sheet, panel)
    at = np.interp((np.arange(count) + 0.5) / count * turned[-1], turned, u)
    outline = _outline(panel)
    up = np.linspace(outline[:, 1].min(), outline[:, 1].max(), 60)
    lines = tuple(np.stack([np.full(60, x), up], axis=1) for x in at)
    places = surface.at_depth(0.0).points(np.stack([at, np.full(count, v)], axis=1))
    gaps = np.linalg.norm(np.diff(places, axis=0), axis=1)
    return Kerfs(count, depth, width, bend.turn, float(gaps.min()) if len(gaps) else 1e3, lines)


def kerf_lines(piece: InkedPiece, panel: PanelInk) -> tuple[InkLine, ...]:
    """The kerfs of a panel that the maker has cut with them, as lines on it; none of any other."""
    work = piece.design.foam_work.panel(panel.number)
    if work is None or work.bend != "kerf":
        return ()
    kerfs = plan_kerfs(piece.surface, panel, _bend(piece.surface, panel, piece.design))
    return tuple(InkLine("kerf", f"kerf {k}", uv, key="kerf") for k, uv in enumerate(kerfs.lines, 1))


def kerf_findings(kerfs: Kerfs, panel: int) -> Sequence[Finding]:
    """What is wrong with a layout of kerfs."""
    if kerfs.spacing - kerfs.width >= KERF_LAND:
        return ()
    words = (
        f"Kerfs of panel {panel} leave only {kerfs.spacing - kerfs.width:.1f} mm of foam between them: it would "
        "tear out."
    )
    return (Finding("look", words, f"bend.{panel}", "Fewer, wider kerfs, or two thin layers glued while bent."),)
