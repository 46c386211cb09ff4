"""What is said of a solid: what it is called, how its measures are made, and what is to be looked at."""

from collections.abc import Iterator
from math import cos, hypot, pi, tan

from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.solids import (
    Box,
    Cone,
    Dome,
    Elbow,
    Fin,
    Finger,
    Gauntlet,
    Hand,
    Holder,
    Horn,
    Model,
    Pouch,
    Ring,
    Shelf,
    SoleEdge,
    Solid,
    SolidKind,
    Star,
    Tail,
    ToeCap,
)  # fmt: skip
from vellumcut.core.notes import Finding, Note, Value
from vellumcut.core.solids.domes import stands_off
from vellumcut.core.solids.plates import body_ring, opens_by
from vellumcut.core.solids.tubes import middle_line

WORDS: dict[SolidKind, tuple[str, str]] = {
    "cone": ("Cone, tube, prism or spike", "upright, slanted or cut aslant; round, oval or with flat sides"),
    "elbow": ("Elbow", "a tube that turns, in segments"),
    "dome": ("Dome or ball", "gores or rings"),
    "ring": ("Ring or rim", "a round tube that runs in a circle"),
    "horn": ("Horn or tooth", "a tapering tube that bends"),
    "tail": ("Tail, neck or hose", "along a line in space, as wide as you say"),
    "box": ("Box", "folded from one sheet, or a panel for each face"),
    "star": ("Star", "raised in the middle, from one sheet"),
    "pouch": ("Pouch", "round a thing, with a flap and loops for the belt"),
    "holder": ("Holster or sheath", "to a thing's own outline"),
    "gauntlet": ("Gauntlet cuff", "from half girths"),
    "hand": ("Hand plates", "a plate on every bone"),
    "toe cap": ("Toe cap", "a box over a shoe's toes"),
    "sole edge": ("Edge of a sole", "a strip round a shoe"),
    "shelf": ("Hip shelf", "a flat ring on fins"),
    "fin": ("Fin or blade", "two faces and a core"),
    "model": ("Model unfolded", "a mesh from a file, brought to the wearer's size and parted into panels"),
}
CODES: dict[SolidKind, str] = {
    "cone": "CN",
    "elbow": "EL",
    "dome": "DO",
    "ring": "RI",
    "horn": "HO",
    "tail": "TL",
    "box": "BX",
    "star": "ST",
    "pouch": "PU",
    "holder": "HL",
    "gauntlet": "GC",
    "hand": "HA",
    "toe cap": "TC",
    "sole edge": "SL",
    "shelf": "SF",
    "fin": "FN",
    "model": "MO",
}
"""What its panels are called, with their number."""
STARTERS: dict[SolidKind, Solid] = {
    s.kind: s
    for s in (
        Cone(), Elbow(), Dome(), Ring(), Horn(), Tail(), Box(), Star(), Pouch(), Holder(), Gauntlet(), Hand(), ToeCap(),
        SoleEdge(), Shelf(), Fin(), Model(),
    )
}  # fmt: skip


def solid_notes(design: PieceDesign) -> list[Note]:
    """How its main figures are made, each with its formula."""
    return [] if design.solid is None else [*_notes_of(design.solid, design.foam)]


def _notes_of(solid: Solid, foam: float) -> Iterator[Note]:
    way, t = (1 if solid.inside else -1), Value("foam", foam)
    if isinstance(solid, Cone):
        yield from _cone_notes(solid, t, way)
    elif isinstance(solid, Elbow | Ring | Horn):
        yield from _tube_notes(solid, t, way)
    elif isinstance(solid, Dome):
        yield _gore_note(solid, t, way) if solid.way == "gores" else _round(solid.wide, t, way, "Round its rim")
    elif isinstance(solid, Box):
        yield _box_note(solid, t, way)
    elif isinstance(solid, Star):
        yield _ridge_note(solid)
    elif isinstance(solid, Pouch):
        yield _pouch_note(solid)
    elif isinstance(solid, Gauntlet):
        yield _gauntlet_note(solid, t, way)
    elif isinstance(solid, Hand):
        yield from (_finger_note(f, solid.over, foam) for f in solid.fingers)
    elif isinstance(solid, Shelf):
        yield _shelf_note(solid)


def _cone_notes(solid: Cone, foam: Value, way: int) -> Iterator[Note]:
    if solid.lean or solid.slant:
        return
    if solid.sides:
        yield _side_note(solid)
    elif solid.deep == 1:
        yield _round(solid.lower, foam, way, "Round its lower end")
        yield from _slant(solid)


def _tube_notes(solid: Elbow | Ring | Horn, foam: Value, way: int) -> Iterator[Note]:
    if isinstance(solid, Ring):
        yield _round(solid.thick, foam, way, "Round the tube")
    elif isinstance(solid, Horn):
        yield _round(solid.base, foam, way, "Round its base")
    else:
        if not solid.sides and solid.wide == solid.deep:
            yield _round(solid.wide, foam, way, "Round the tube")
        yield _bend_note(solid)


def _bend_note(solid: Elbow) -> Note:
    step = solid.turn / (solid.segments - 1)
    return Note(
        "Bend at each seam", Value("every seam turns", step, "degrees"), "{0} in all / {1} seams",
        (Value("turn", solid.turn, "degrees"), Value("seams", solid.segments - 1, "count")),
        "The tube is cut off by the plane that halves each bend, so that both sides are one ellipse.",
        "More segments make it smoother, and more seams to glue.", about="solid.bend",
    )  # fmt: skip


def _side_note(solid: Cone) -> Note:
    wide = solid.lower * tan(pi / solid.sides)
    return Note(
        "Side at its foot", Value("each side is wide", wide), "{0} across x tan(180 / {1} sides)",
        (Value("across its flats", solid.lower), Value("sides", solid.sides, "count")),
        "Its width is measured from flat to flat; on the middle of the foam a side is wider or narrower by the bevel.",
        "More sides are narrower.", about="solid.side",
    )  # fmt: skip


def _gore_note(solid: Dome, foam: Value, way: int) -> Note:
    apothem = solid.wide / 2 * (1.0 if solid.inside else cos(pi / solid.parts))
    wide = 2 * (apothem + way * foam.amount / 2) * tan(pi / solid.parts)
    return Note(
        "Width of a gore", Value("at its widest", wide), "2 x {0} from the middle x tan(180 / {1} gores)",
        (Value("to the middle of the foam", apothem + way * foam.amount / 2), Value("gores", solid.parts, "count")),
        "A gore is bent along its length only: across it stays straight, so that nothing is stretched.",
        "More gores are narrower and rounder.", about="solid.gore",
    )  # fmt: skip


def _box_note(solid: Box, foam: Value, way: int) -> Note:
    return Note(
        "Across its outside", Value("wide", solid.wide + (2 * foam.amount if way > 0 else 0.0)),
        "{0} + 2 x {1}" if way > 0 else "{0}", (Value("width", solid.wide), foam),
        "Walls stand outside of what is measured inside; measured outside, they take their room within.",
        "Thinner foam.", about="solid.box",
    )  # fmt: skip


def _ridge_note(solid: Star) -> Note:
    return Note(
        "A ridge", Value("long", hypot(solid.outer, solid.high)), "root of ({0} out^2 + {1} high^2)",
        (Value("out", solid.outer), Value("high", solid.high)),
        "From its middle to a point the sheet rises: it is longer than it looks from above.", "A lower middle.",
        about="solid.ridge",
    )  # fmt: skip


def _gauntlet_note(solid: Gauntlet, foam: Value, way: int) -> Note:
    return Note(
        "Width at the wrist", Value("of each plate", solid.wrist + way * pi / 2 * foam.amount),
        "{0} half girth + 1.5708 x {1}" if way > 0 else "{0} half girth - 1.5708 x {1}",
        (Value("half girth", solid.wrist), foam),
        "A plate goes round half of the arm; its middle lies half the foam off, and half a turn takes pi times that.",
        "Thinner foam.", about="solid.wrist",
    )  # fmt: skip


def _shelf_note(solid: Shelf) -> Note:
    wide = float(body_ring(solid)[:, 0].max() * 2)
    return Note(
        "Hole for the body", Value("wide", wide), "an oval of {0} round, {1} as deep as wide",
        (Value("girth", solid.girth), Value("depth", solid.ratio, "ratio")),
        "A body is flatter than round; the ring lies on its widest place.", "Measure its depth and its width.",
        about="solid.hole",
    )  # fmt: skip


def _round(wide: float, foam: Value, way: int, title: str) -> Note:
    face = "inside" if way > 0 else "outside"
    return Note(
        title, Value("length of foam", pi * (wide + way * foam.amount)),
        "3.1416 x ({0} across + {1})" if way > 0 else "3.1416 x ({0} across - {1})",
        (Value(f"across, {face}", wide), foam),
        "The middle of a bent sheet keeps its length; it lies half the foam off the face that you measured, all round.",
        "Thinner foam.", about="solid.round",
    )  # fmt: skip


def _slant(solid: Cone) -> Iterator[Note]:
    if solid.lower == solid.upper:
        return
    off = abs(solid.lower - solid.upper) / 2
    yield Note(
        "Along its wall", Value("length of the wall", hypot(off, solid.high)), "root of ({0} high^2 + {1} in^2)",
        (Value("high", solid.high), Value("in", off)),
        "A cone's wall leans: it is longer than the cone is high.", "A steeper wall.", about="solid.slant",
    )  # fmt: skip


def _pouch_note(solid: Pouch) -> Note:
    return Note(
        "Room inside", Value("wide inside", solid.wide + 2 * solid.ease), "{0} wide + 2 x {1} ease",
        (Value("the thing", solid.wide), Value("ease", solid.ease)),
        "The thing goes in and comes out with its ease on every side; foam lies outside of it.", "Less ease holds it "
        "closer.", about="solid.room",
    )  # fmt: skip


def _finger_note(finger: Finger, over: float, foam: float) -> Note:
    opens = opens_by(finger, foam)
    return Note(
        f"Overlap, {finger.name}", Value("each plate reaches back by", opens + over),
        "({0} girth / 6.2832 + {1} foam / 2) x {2} bend x 0.01745 + {3} over",
        (Value("girth", finger.girth), Value("foam", foam), Value("bend", finger.bend, "degrees"), Value("over", over)),
        "A bent finger is longer over its back by the arc that the joint opens; less, and skin shows.",
        "Thinner foam, or a glove of the same colour.", about=f"solid.{finger.name}",
    )  # fmt: skip


def solid_findings(design: PieceDesign) -> Iterator[Finding]:
    """What is to be known before it is cut."""
    if any(p.bend == "kerf" for p in design.foam_work.panels):
        yield Finding("look", "Kerfs are not drawn on the panels of a shape yet.", "foam", "Lay them out by hand.")
    solid = design.solid
    if isinstance(solid, Dome):
        off = stands_off(solid)
        parts = "gores" if solid.way == "gores" else "rings"
        ball = "a ball of that width goes in" if solid.inside else "it goes into a ball of that width"
        told = "its edges stand off that ball" if solid.inside else "its flats lie inside that ball"
        words = f"Of {solid.parts} {parts} {ball}; {told} by {off:.1f} mm."
        yield Finding("say", words, "design.solid", f"More {parts} are rounder; edges can be sanded or eased warm.")
    if isinstance(solid, Tail):
        count = len(middle_line(solid)[0])
        if solid.way == "hoops":
            yield Finding("say", f"{count} hoops, every one square to the line there.", "design.solid",
                          "Thread them on tapes at the pitch, then draw the skin over.")  # fmt: skip
    if isinstance(solid, Box) and solid.folded and design.foam > 8:
        yield Finding("look", f"Folding {design.foam:g} mm foam by 90° leaves a thick, stiff hinge.", "design.solid",
                      "A panel for each face, bevelled, is crisper.")  # fmt: skip
    if isinstance(solid, Pouch) and solid.belt:
        yield Finding("say", f"Two loops for a belt of {solid.belt:g} mm, glued on with {solid.overlap:g} mm each.",
                      "design.solid")  # fmt: skip
    if isinstance(solid, Fin) and solid.rod:
        deep = solid.core if solid.core else design.foam
        if solid.rod > deep:
            words = f"A rod of {solid.rod:g} mm does not go into {deep:g} mm."
            yield Finding("look", words, "design.solid", "A thicker core, or a thinner rod.")
        else:
            yield Finding("say", f"A rod of {solid.rod:g} mm and {solid.long * 0.8:.0f} mm lies in it from the base.",
                          "design.solid")  # fmt: skip
