"""What is said of a solid: what it is called, how its measures are made, and what is to be looked at."""

from collections.abc import Iterator
from math import hypot, pi

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
from vellumcut.core.solids.plates import opens_by
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
    solid, foam = design.solid, design.foam
    if solid is None:
        return []
    way = 1 if solid.inside else -1
    face = "inside" if solid.inside else "outside"
    t = Value("foam", foam)
    if isinstance(solid, Cone) and not solid.sides and solid.deep == 1 and not solid.lean and not solid.slant:
        return [_round(solid.lower, t, way, "Round its lower end", face), *_slant(solid, t, way)]
    if isinstance(solid, Elbow) and not solid.sides and solid.wide == solid.deep:
        step = solid.turn / (solid.segments - 1)
        note = Note(
            "Bend at each seam", Value("every seam turns", step, "degrees"), "{0} in all / {1} seams",
            (Value("turn", solid.turn, "degrees"), Value("seams", solid.segments - 1, "count")),
            "The tube is cut off by the plane that halves each bend, so that both sides are one ellipse.",
            "More segments make it smoother, and more seams to glue.", about="solid.bend",
        )  # fmt: skip
        return [_round(solid.wide, t, way, "Round the tube", face), note]
    if isinstance(solid, Ring):
        return [_round(solid.thick, t, way, "Round the tube", face)]
    if isinstance(solid, Horn):
        return [_round(solid.base, t, way, "Round its base", face)]
    if isinstance(solid, Pouch):
        return [_pouch_note(solid)]
    if isinstance(solid, Hand):
        return [_finger_note(f, solid.over, foam) for f in solid.fingers]
    return []


def _round(wide: float, foam: Value, way: int, title: str, face: str) -> Note:
    return Note(
        title, Value("length of foam", pi * (wide + way * foam.amount)),
        "3.1416 x ({0} across + {1})" if way > 0 else "3.1416 x ({0} across - {1})",
        (Value(f"across, {face}", wide), foam),
        "The middle of a bent sheet keeps its length; it lies half the foam off the face that you measured, all round.",
        "Thinner foam.", about="solid.round",
    )  # fmt: skip


def _slant(solid: Cone, foam: Value, way: int) -> Iterator[Note]:
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
