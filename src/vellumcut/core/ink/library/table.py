"""The table of templates: which part of the body each covers, how it is laid, and the sizes it asks for."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from vellumcut.core.body.segments import BodyPart
from vellumcut.core.cast.halves import WHOLE
from vellumcut.core.design.piece import PieceDesign, TemplateName
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.ink.library import limbs, trunk
from vellumcut.core.ink.library.board import Board, Choice, Size


@dataclass(frozen=True)
class Template:
    """part: of the body. lay: draws its ink; None for a plain shell, whose ends and opening are set instead.

    insets: usual distance of a plain shell's ends from their stations, mm, so the joints beyond stay free.
    symmetric: half is drawn. usual: the design a new piece starts from, where it differs.
    """

    name: TemplateName
    word: str
    code: str
    part: BodyPart
    insets: tuple[float, float] = (0.0, 0.0)
    lay: Callable[[Board], list[Stroke]] | None = None
    sizes: tuple[Size, ...] = ()
    choices: tuple[Choice, ...] = ()
    symmetric: bool = False


_CLOSURE = Choice("closure", ("side", "back", "shoulder"), "where it opens to get in")
_NECK = Size("neck clearance", 18, 0, 80, "free skin between the neck's side and the shoulder edge")
_INSET = Size("shoulder inset", 10, -20, 90, "from the shoulder point inwards")
_ARMHOLE = Size("armhole clearance", 18, 0, 90, "kept free in front of the arm, to reach forward")
_UNDERARM = Size("underarm drop", 25, 0, 120, "below the armpit")
_BELOW_WAIST = Size("below waist", 10, -120, 140, "of the hem under the waist; less than nothing ends above it")
_POINT = Size("hem point", 25, 0, 120, "how far the hem dips in the middle")
_RIDGE = Size("ridge height", 14, 0, 60, "how far a ridge stands off the body")
_FREE = (
    Size("free below", 20, -60, 200, "kept free at the hand's or foot's end"),
    Size("free above", 45, -60, 200, "kept free at the upper joint"),
)
_SEGMENTS = (
    Size("segments", 4, 2, 9, "how many", count=True),
    Size("point of interest", 0, 0, 250, "where the steps begin, from the lower edge; nothing: equal steps all along"),
    Size("tip", 14, -40, 60, "how far each edge rises in the middle"),
    Size("opening", 40, 0, 250, "left open at the back"),
    *_FREE,
)

TEMPLATES: dict[TemplateName, Template] = {
    t.name: t
    for t in (
        Template("breastplate", "Breastplate", "BP", "torso", lay=trunk.breastplate, symmetric=True,
            sizes=(Size("neckline drop", 35, 0, 200, "below the pit of the throat"), _NECK, _INSET, _ARMHOLE, _UNDERARM,
                   _BELOW_WAIST, _POINT, replace(_RIDGE, when=("front", ("centre ridge", "cross-fold"))),
                   Size("cup radius", 84, 40, 160, "from the bust point to the cup's seam; held clear of the middle",
                       when=("front", ("cups",)))),
            choices=(Choice("front", ("plain", "cups", "centre ridge", "cross-fold"), "how the front is shaped"),
                _CLOSURE)),
        Template("backplate", "Backplate", "BK", "torso", lay=trunk.backplate, symmetric=True,
            sizes=(Size("neckline drop", 30, 0, 200, "below the nape"), _NECK, _INSET, _ARMHOLE, _UNDERARM,
                _BELOW_WAIST,
                   Size("hem point", 0, 0, 120, "how far the hem dips in the middle"),
                   Size("opening", 40, 0, 250, "left open if it closes at the back", when=("closure", ("back",)))),
            choices=(_CLOSURE,)),
        Template("gorget", "Gorget", "GO", "neck", lay=limbs.gorget,
            sizes=(Size("height", 60, 20, 110, "above the neck base"),
                Size("below neck base", 15, 0, 60, "on to the shoulders"),
                   Size("front dip", 12, 0, 60, "so the chin can drop"),
                       Size("flare", 18, 0, 60, "of the lower edge off the body")),
            choices=(Choice("closure", ("back", "side"), "where it opens"),)),
        Template("pauldron", "Pauldron", "PD", "shoulder", lay=limbs.pauldron,
            sizes=(Size("lames", 3, 2, 5, "how many hang under the cap", count=True),
                Size("cap depth", 60, 30, 110, "of the cap below the shoulder's top"),
                   Size("over the top", 40, 0, 75, "of the cap towards the neck"),
                       Size("spread", 105, 50, 160, "degrees to each side of the outer arm", count=True),
                   Size("point", 15, 0, 60, "how far the lowest lame dips"), _RIDGE)),
        Template("shoulder extension", "Shoulder extension", "SE", "torso", lay=trunk.shoulder_extension,
            sizes=(_NECK, _INSET, _ARMHOLE, Size("above bust", 20, -60, 120, "of the lower edge over the bust"))),
        Template("rerebrace", "Rerebrace", "RB", "upper arm", (20, 25)),
        Template("segmented rerebrace", "Segmented rerebrace", "SR", "upper arm", lay=limbs.segmented_rerebrace,
            sizes=_SEGMENTS),
        Template("bracer", "Bracer", "BC", "forearm", (20, 50)),
        Template("segmented bracer", "Segmented bracer", "SB", "forearm", lay=limbs.segmented_bracer, sizes=_SEGMENTS),
        Template("faulds", "Faulds shelf", "FA", "torso", lay=trunk.faulds, symmetric=True,
            sizes=(_BELOW_WAIST, Size("depth", 110, 40, 260, "from upper to lower edge"),
                Size("plates", 3, 1, 6, "to each side", count=True),
                   Size("front gap", 60, 0, 300, "left open in front"),
                       Size("back gap", 60, 0, 300, "left open behind"),
                   Size("shelf", 20, 0, 80, "how far the lower edge stands off, for a plate to rest on"))),
        Template("belt", "Belt", "BE", "torso", lay=trunk.belt,
            sizes=(Size("width", 60, 25, 160, "of the band"), Size("front dip", 0, 0, 80, "lower in front"),
                Size("below waist", 0, -40, 140, "of the band's middle: low on the hips for what hangs on it")),
            choices=(Choice("closure", ("back", "left side"), "where it opens"),)),
        Template("bandolier", "Bandolier", "BD", "torso", lay=trunk.bandolier,
            sizes=(Size("width", 60, 25, 160, "of the band"),
                Size("below waist", 40, -80, 160, "where it ends at the right hip"))),
        Template("tasset", "Tasset", "TA", "thigh", lay=limbs.tasset,
            sizes=(Size("width", 170, 60, 320, "at the upper edge"), Size("length", 190, 60, 320, "without its point"),
                   Size("point", 45, 0, 120, "of the lower edge"),
                       Size("below the top", 20, -60, 150, "of the thigh's highest measure"))),
        Template("cuisse", "Cuisse", "CU", "thigh", (15, 40)),
        Template("poleyn", "Poleyn", "PO", "knee", lay=limbs.poleyn,
            sizes=(Size("width", 190, 80, 320, "round the front of the knee"),
                Size("height", 150, 60, 260, "from edge to edge"),
                   Size("fan", 40, 0, 120, "past the outer side"), _RIDGE)),
        Template("greave", "Greave", "GV", "lower leg", (20, 20)),
        Template("ridged greave", "Ridged greave", "RG", "lower leg", lay=limbs.ridged_greave, symmetric=True,
            sizes=(Size("free below", 25, -60, 200, "kept free above the ankle"),
                Size("free above", 30, -60, 200, "kept free below the knee"),
                   Size("coverage", 230, 90, 330, "degrees of the leg that are covered", count=True),
                       Size("knee point", 35, 0, 75, "of the upper edge over the knee"), _RIDGE),
            choices=(Choice("ridge", ("seam", "fold"), "two panels glued along it, or one creased"),)),
        Template("sabaton cap", "Sabaton cap", "SA", "foot", lay=limbs.sabaton_cap,
            sizes=(Size("plates", 3, 1, 6, "how many", count=True),
                Size("sole free", 130, 60, 220, "degrees left open under the foot", count=True),
                   Size("behind the toes", 15, -30, 80, "where it begins"),
                       Size("below the instep", 10, -40, 80, "where it ends"),
                   Size("toe point", 12, 0, 60, "how far the front plate reaches forward"))),
    )
}  # fmt: skip


def twinned(design: PieceDesign) -> bool:
    """Whether a left and a right one are cut, one of them the other turned over. Of a solid as many are cut as it
    says."""
    return design.side == "both" and design.solid is None and TEMPLATES[design.template].part not in WHOLE


def starter_design(template: TemplateName) -> PieceDesign:
    """The design a new piece of this template starts from."""
    closed = TEMPLATES[template].lay is not None
    return PieceDesign(
        template=template,
        closure="none" if closed else "lacing",
        back="closed" if closed else "open",
        foam=10.0 if template in ("faulds",) else 6.0,
        side="both",
    )
