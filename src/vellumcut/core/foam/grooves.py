"""Folds and scores inside a panel: how each is worked, how deep and wide, from which face, and what is wrong with
it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from vellumcut.core.design.foam import Face, FoldWay, FoldWork, Walls
from vellumcut.core.flatten.panel import FlatLine, FlatPanel
from vellumcut.core.foam.bevels import SQUARE_BELOW
from vellumcut.core.foam.folds import Fold, read_fold
from vellumcut.core.foam.stacks import layers_of, thickness_of
from vellumcut.core.ink.lines import InkLine, PanelInk
from vellumcut.core.ink.stage import InkedPiece
from vellumcut.core.notes import Finding, Note, Value
from vellumcut.core.units import format_length

LEAST_HINGE = 1.0
"""Foam left under a groove; less tears as it closes, mm (est.)."""
LEAST_FOLD, SHALLOWEST = 1.0, 0.5
"""Degrees that a wedge can be cut for, and mm that a blade can be held to."""
USUAL_DEPTH = 0.6
"""Share of the foam: makers go half to two thirds deep."""
TOO_SHARP = 100.0
"""Past this a groove takes away more than it leaves: a seam is stronger, degrees (est.)."""
UPRIGHT_MOST = 75.0
"""With one wall upright the other lies at the whole fold: past this it would run along under the face, degrees."""
USUAL_ANGLE = 30.0
"""Taken where the body does not fold under the line and the maker has named no angle, degrees (est.)."""
CREASED = (2.0, 5.0)
"""Foam that a crease by heat alone holds in: thinner scorches, thicker stays round, mm."""
ON_CENTRE = 2.0
"""A line no farther from the centre line is the centre line, mm."""
LATE_SCORE = 1.5
"""Depth of a line that is cut after forming and only to be seen, mm (est.)."""

WORDS: dict[FoldWay, str] = {
    "groove": "V-groove",
    "crease": "crease by heat",
    "opened score": "score opened by heat",
    "late score": "shallow score after forming",
    "set back": "strip set back",
    "drum": "round groove ground with a drum",
}
WHY: dict[FoldWay, str] = {
    "groove": "It makes a crisp fold without a seam to sand.",
    "crease": "No cut at all: quick in thin foam, and nothing to fill.",
    "opened score": "Heat draws a half-deep cut open into a clean line, which is then cut out.",
    "late score": "Cut after forming it stays a line; cut before, the heat would open it.",
    "set back": "A recess of even depth with sharp rims, without a second layer.",
    "drum": "A rounded fold, kind to paint; the grinder is steadier than a blade on a curve.",
}


def groove_width(depth: float, fold: float, walls: Walls) -> float:
    """Width on the cut face of a wedge that closes tight, mm. depth: mm. fold: degrees, its sign does not matter.

    Closing turns both walls about the hinge until they touch: they stand apart by the fold, halved to both sides or all
    on one.
    """
    turn = np.radians(abs(fold))
    return float(2 * depth * np.tan(turn / 2)) if walls == "two sloping" else float(depth * np.tan(turn))


def drum_width(depth: float, diameter: float) -> float:
    """Width of the channel that a drum leaves at a depth, mm: the chord of its circle."""
    d = min(depth, diameter / 2)
    return float(2 * np.sqrt(d * (diameter - d)))


@dataclass(frozen=True)
class FoldCut:
    """One line inside a panel as it is worked. key, name: of its stroke. panel: its number. length: mm along it.
    body: how the armour folds there. foam: thickness of its panel, mm."""

    key: str
    name: str
    panel: int
    length: float
    body: Fold
    foam: float
    work: FoldWork

    @property
    def angle(self) -> float:
        """By how much it folds, degrees: the maker's own word, the armour's, or the usual."""
        if self.work.angle is not None:
            return self.work.angle
        return self.body.mean if abs(self.body.mean) >= SQUARE_BELOW else USUAL_ANGLE

    @property
    def told(self) -> str:
        """Where the angle comes from."""
        if self.work.angle is not None:
            return "as you say"
        if abs(self.body.mean) >= SQUARE_BELOW:
            return "as the armour folds there"
        return f"taken, since the armour folds only {abs(self.body.mean):.0f}° there: give your own"

    @property
    def face(self) -> Face:
        """The face it is worked from: a ridge from the inner one, a valley from the outer; what is seen, the outer."""
        if self.work.way in ("groove", "drum"):
            return "inner" if self.angle > 0 else "outer"
        return "outer"

    @property
    def depth(self) -> float:
        """mm; 0 for a crease, which is not cut."""
        if self.work.way == "crease":
            return 0.0
        if self.work.way == "set back":
            return self.work.gauge
        if self.work.depth is not None:
            return self.work.depth
        if self.work.way == "late score":
            return min(LATE_SCORE, self.foam / 3)
        if self.work.way == "opened score":
            return self.foam / 2
        return max(min(USUAL_DEPTH * self.foam, self.foam - LEAST_HINGE), 0.3 * self.foam)

    @property
    def hinge(self) -> float:
        """Foam that is left under it, mm."""
        return self.foam - self.depth

    @property
    def reach(self) -> tuple[float, float]:
        """How far to the left and to the right of the line the cut reaches on its face, mm."""
        way, extra = self.work.way, self.work.overcut
        if way == "groove" and self.work.walls == "one upright":
            return 0.0, groove_width(self.depth, self.angle, "one upright") + extra
        if way == "groove":
            half = (groove_width(self.depth, self.angle, "two sloping") + extra) / 2
            return half, half
        if way == "drum":
            half = drum_width(self.depth, self.work.drum) / 2
            return half, half
        return (self.work.width / 2, self.work.width / 2) if way == "set back" else (0.0, 0.0)

    @property
    def width(self) -> float:
        """On the face it is cut from, mm."""
        return sum(self.reach)

    @property
    def lines(self) -> int:
        """Of one stroke: itself, and those beside it."""
        return 1 + self.work.count

    @property
    def short(self) -> str:
        """For paper, beside the line."""
        if self.work.way == "crease":
            return f"crease {abs(self.angle):.0f}°, {'ridge' if self.angle > 0 else 'valley'}"
        wide = f", {format_length(self.width)} wide" if self.width else ""
        return f"{WORDS[self.work.way]} {format_length(self.depth)} deep{wide}, {self.face} face"

    @property
    def how(self) -> str:
        """What to do, in the order it is done."""
        return f"{self.cut_words} {self.close_words}".strip()

    @property
    def _ridge(self) -> str:
        return "a ridge" if self.angle > 0 else "a valley"

    @property
    def folds(self) -> bool:
        """Whether it folds at all: of less than a degree no wedge can be cut."""
        return self.work.way not in ("groove", "drum", "crease") or abs(self.angle) >= LEAST_FOLD

    @property
    def cut_words(self) -> str:
        """What is done while the foam is flat."""
        return self._cutting if self.folds else "It folds by nothing: leave it uncut."

    @property
    def _cutting(self) -> str:
        way, depth, width, hinge = self.work.way, *(format_length(x) for x in (self.depth, self.width, self.hinge))
        if way == "groove":
            walls = (
                f"two walls at {abs(self.angle) / 2:.0f}° each"
                if self.work.walls == "two sloping"
                else f"one wall upright on the line, the other at {abs(self.angle):.0f}°"
            )
            return f"Cut a wedge {depth} deep and {width} wide from the {self.face} face, {walls}, {hinge} left."
        if way == "crease":
            return "Warm the line only, from both faces."
        if way == "opened score":
            return f"Cut {depth} deep from the outer face, warm it till the cut gapes, then cut the line out clean."
        if way == "late score":
            return f"After forming, score {depth} deep from the outer face; no heat on it afterwards."
        if way == "set back":
            return (
                f"Cut the strip {width} wide right out, lay a sheet of {format_length(self.work.gauge)} under the "
                "foam on "
                f"both sides, press the strip down to the table and cement it there: it lies {depth} deeper."
            )
        drum = format_length(self.work.drum)
        return (
            f"Grind a channel {depth} deep and {width} wide from the {self.face} face with a drum of {drum}, "
            f"{hinge} left."
        )

    @property
    def close_words(self) -> str:
        """What is done when the panel has its curve; empty where nothing is."""
        way, fold = self.work.way, f"{abs(self.angle):.0f}°"
        if not self.folds:
            return ""
        if way == "groove" and self.work.overcut:
            over = format_length(self.work.overcut)
            return f"Over-cut by {over}: bend it to {fold} and fill it with hot glue; it is no gapless joint."
        if way == "groove":
            return f"Cement both walls and close it tight to {fold}, {self._ridge}."
        if way == "crease":
            return (
                f"Fold it hard to past {fold}, {self._ridge}, hold it till it is cold, and sharpen it with the "
                "edge of a tool."
            )
        return f"Warm it and bend it to {fold}, {self._ridge}." if way == "drum" else ""

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is wrong with it, and the way out."""
        place, found = f"fold.{self.key}", []
        if not self.folds:
            words = f"{self.name.capitalize()} folds by nothing: a groove of 0° cannot be cut."
            return (Finding("look", words, place, "Say by how much it shall fold, or make it a pencil line."),)
        if self.work.way != "crease" and self.hinge < LEAST_HINGE:
            most = self.foam - LEAST_HINGE
            least = (
                f"leave {LEAST_HINGE:g} mm or more: at most {most:g} mm deep in {self.foam:g} mm foam."
                if most >= SHALLOWEST
                else f"{self.foam:g} mm foam is too thin to be cut into. Fold it by heat alone."
            )
            word = "would be cut through" if self.hinge <= 0 else f"leaves only {self.hinge:.1f} mm"
            found.append(Finding("stop", f"{self.name.capitalize()} {word}: {least}", place))
        if self.work.way in ("groove", "crease", "drum") and abs(self.angle) > TOO_SHARP:
            words = f"{self.name.capitalize()} folds {abs(self.angle):.0f}°: over {TOO_SHARP:.0f}° make it a seam."
            found.append(Finding("look", words, place, "So wide a wedge leaves too little foam at the fold."))
        if self.work.way == "groove" and self.work.walls == "one upright" and abs(self.angle) > UPRIGHT_MOST:
            words = f"{self.name.capitalize()}: a single wall at {abs(self.angle):.0f}° runs along under the face."
            found.append(Finding("stop", words, place, "Take two sloping walls."))
        if self.work.way == "crease" and not CREASED[0] <= self.foam <= CREASED[1]:
            words = (
                f"{self.name.capitalize()}: a crease holds in {CREASED[0]:g} to {CREASED[1]:g} mm, not in "
                f"{self.foam:g} mm."
            )
            found.append(Finding("look", words, place, "Cut a V-groove instead."))
        return tuple(found)

    @property
    def note(self) -> Note | None:
        """How its width was made; None where it has none of its own making."""
        if self.work.way != "groove":
            return None
        two = self.work.walls == "two sloping"
        values = (
            Value("deep", self.depth),
            Value("fold", abs(self.angle), "degrees"),
            Value("over-cut", self.work.overcut),
        )
        return Note(
            title=f"Width of {self.name}",
            result=Value("wide on the cut face", self.width),
            formula="2 x {0} deep x tan(half of {1}) + {2} over-cut" if two else "{0} deep x tan({1}) + {2} over-cut",
            values=values,
            reason="Closing turns the walls about the hinge until they touch: the wedge is as wide as the fold opens "
            "it.",
            change="A shallower groove is narrower but leaves a thicker, stiffer hinge.",
            about=f"fold.{self.key}",
        )


def fold_lines(piece: InkedPiece) -> list[tuple[PanelInk, InkLine, FoldWork]]:
    """Every fold and score line on the panels of one side, and how it is worked: as the maker says, or as usual."""
    rows = {x.key: x for x in piece.design.foam_work.folds}
    out = []
    for panel in piece.panels:
        for line in panel.inside:
            if line.kind in ("fold", "score"):
                usual = FoldWork(key=line.key, way="groove" if line.kind == "fold" else "opened score")
                out.append((panel, line, rows.get(line.key, usual)))
    return out


def fold_cuts(piece: InkedPiece) -> list[FoldCut]:
    """The same with how the armour folds under each line."""
    out = []
    for panel, line, work in fold_lines(piece):
        body, thick = read_fold(piece.surface, line.uv), thickness_of(piece.design, panel.number)
        out.append(FoldCut(line.key, line.name, panel.number, float(body.at[-1]), body, thick, work))
    return out


def stack_findings(piece: InkedPiece, cuts: Sequence[FoldCut]) -> Iterator[Finding]:
    """Lines that do not go with the layers of their panel. cuts: of that side."""
    stacked = {p.number for p in piece.panels if len(layers_of(piece.design, p.number)) > 1}
    for panel in piece.panels:
        if panel.number not in stacked and any(x.kind == "layer cut" for x in panel.inside):
            words = f"Panel {panel.number} has one layer: a line that cuts only the outer layer wants a second one."
            yield Finding("look", words, "foam", "Give it layers on the Foam page, or make the line a score.")
    if piece.design.layered == "alike":
        return
    for cut in cuts:
        if cut.panel in stacked and cut.work.way in ("groove", "drum", "set back", "crease"):
            words = f"{cut.name.capitalize()} lies on layers that are glued while bent: no one fold takes them all."
            yield Finding(
                "look", words, f"fold.{cut.key}", "Make it a seam, or cut the layers alike and glue them flat."
            )


def worked_lines(flat: FlatPanel, cuts: Sequence[FoldCut]) -> tuple[list[FlatLine], list[Finding]]:
    """The lines of a panel with what their cutting adds: those beside them, and the rims of each cut.

    Lines beside one run away from the centre line; beside the centre line itself, to both sides. Also tells where two
    grooves cross.
    """
    known = {c.key: c for c in cuts}
    turn = 1.0 if shapely.LinearRing(flat.outline).is_ccw else -1.0  # a panel turned over has its left on the right
    out: list[FlatLine] = []
    drawn: list[tuple[FoldCut, shapely.LineString]] = []
    for line in flat.lines:
        cut = known.get(line.key) if line.kind in ("fold", "score") else None
        if cut is None:
            out.append(line)
            continue
        for k, part in enumerate(_beside(flat, line, cut)):
            name = line.name if cut.lines == 1 else f"{line.name} {k + 1}"
            out.append(FlatLine(line.kind, name, shapely.get_coordinates(part), line.key, cut.short if k == 0 else ""))
            drawn.append((cut, part))
            for off in (cut.reach[0], -cut.reach[1]) if cut.width else ():
                out += _clipped(flat, _offset(part, turn * off), "cut rim", name, line.key)
    return out, _crossings(drawn)


def _beside(flat: FlatPanel, line: FlatLine, cut: FoldCut) -> list[shapely.LineString]:
    here, middle = shapely.LineString(line.points), shapely.LineString(flat.centre)
    if cut.work.count == 0:
        return [here]
    steps = cut.work.step * np.arange(1, cut.work.count + 1)
    sides = (1.0, -1.0) if _on(here, middle) else (_side_away(here, middle),)
    ways = [step * side for step in steps for side in sides]
    parts = [here]
    for off in ways:
        parts += [shapely.LineString(x.points) for x in _clipped(flat, _offset(here, off), line.kind, "", "")]
    return parts


def _on(here: shapely.LineString, middle: shapely.LineString) -> bool:
    """Whether a line lies on the centre line from end to end."""
    return bool(np.max(shapely.distance(middle, shapely.points(shapely.get_coordinates(here)))) < ON_CENTRE)


def _side_away(here: shapely.LineString, middle: shapely.LineString) -> float:
    """On which side of a line, 1 left and -1 right, it is farther from the centre line."""
    left, right = (_offset(here, s * 1.0) for s in (1.0, -1.0))
    return 1.0 if left.centroid.distance(middle) >= right.centroid.distance(middle) else -1.0


def _offset(line: shapely.LineString, by: float) -> shapely.LineString:
    """by: mm, above zero to the left of the way it runs; 0 is the line itself."""
    return line if by == 0 else shapely.offset_curve(line, by, join_style="mitre")


def _clipped(flat: FlatPanel, line: shapely.Geometry, kind: str, name: str, key: str) -> list[FlatLine]:
    """What of a line lies on the panel."""
    seen = shapely.get_parts(shapely.line_merge(shapely.intersection(line, flat.shape)))
    return [FlatLine(kind, name, shapely.get_coordinates(p), key) for p in seen if p.geom_type == "LineString"]


def _crossings(drawn: list[tuple[FoldCut, shapely.LineString]]) -> list[Finding]:
    found: dict[str, Finding] = {}
    for k, (cut, line) in enumerate(drawn):
        for other, beside in drawn[:k]:
            if cut.width and other.width and line.crosses(beside):
                first, second = sorted((cut, other), key=lambda c: -c.depth)
                words = (
                    f"{first.name.capitalize()} crosses {second.name}: cut the deeper one first; where they cross "
                    "both are "
                    f"{first.depth:g} mm deep, and {min(first.hinge, second.hinge):g} mm is left."
                    if first.face == second.face
                    else f"{first.name.capitalize()} crosses {second.name} from the other face: together they take "
                    f"{first.depth + second.depth:g} of {first.foam:g} mm there."
                )
                through = first.face != second.face and first.depth + second.depth > first.foam - LEAST_HINGE
                found[words] = Finding("stop" if through else "say", words, f"fold.{cut.key}")
    return list(found.values())
