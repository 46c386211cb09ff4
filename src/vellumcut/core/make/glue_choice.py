"""Which glue for which joint: by load, flex, heat, working time, and by what the maker owns."""

from dataclasses import dataclass
from typing import Literal

from vellumcut.core.design.making import GlueName, Schools
from vellumcut.core.foam.advice import CEMENT_COVER
from vellumcut.core.make.glue import CementRoom, cement_window
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.quantities import Material, coating
from vellumcut.core.rig.fixing import CLOTH_COATS, Fixing

JointKind = Literal[
    "butt seam", "dart", "cup", "layers", "groove", "anchor", "trim", "small part", "magnet", "liner", "vinyl", "strip"
]
Surface = Literal["foam", "sealed foam", "cloth", "vinyl", "plastic"]

COATS: dict[Surface, int] = {"foam": 1, "sealed foam": 1, "cloth": CLOTH_COATS, "vinyl": 1, "plastic": 1}
"""Coats of cement on each face; see ``rig.fixing`` for cloth and its bed."""
LONGER: dict[Surface, float] = {"foam": 1.0, "sealed foam": 1.3, "cloth": 1.0, "vinyl": 2.0, "plastic": 1.5}
"""How much longer a coat dries on it (est.): vinyl about double."""
LOADED: tuple[JointKind, ...] = ("anchor",)
"""Clamped overnight; a plain seam is pressed and done."""
CLAMP = 12 * 60.0
_NO_CEMENT = ("magnet", "contact cement")
"""No cement holds a magnet, whatever the school: it has nothing to fill the pocket with."""


@dataclass(frozen=True)
class GlueChoice:
    """coats: of it. ready: minutes to wait before pressing; 0: pressed at once. clamp: minutes it is held after.

    fill: the joint shows gaps that foam clay must fill. slower: how much longer it dries than on foam. reason: why this
    one. warning: what it does not bear.
    """

    glue: GlueName
    coats: int
    ready: float
    clamp: float
    fill: bool
    reason: str
    warning: str = ""
    slower: float = 1.0

    @property
    def timer(self) -> str:
        """Which window runs while it dries."""
        return "cement" if self.ready else ""

    @property
    def caution(self) -> str:
        return "hot glue" if self.glue == "hot glue" else "solvents"

    @property
    def how(self) -> str:
        """What to do with it, in a sentence."""
        if self.glue == "contact cement":
            coats = f"{self.coats} coats" if self.coats > 1 else "One coat"
            return f"{coats} of contact cement on both faces; wait till they are dry to the touch."
        if self.glue == "hot glue":
            return "Hot glue in thin lines, a hand's length at a time; hold each till it is cold."
        return "Instant glue, one hand's length at a time."

    def material(self, area: float, length: float) -> Material:
        """What it uses up. area: mm2 of one coat on all faces. length: of the joint, mm."""
        if self.glue == "contact cement":
            return coating("contact cement", area, self.coats, CEMENT_COVER)
        return Material(self.glue, max(1.0, length / 1000 * LINE_GRAMS[self.glue]), "g")


LINE_GRAMS: dict[GlueName, float] = {"contact cement": 0.0, "hot glue": 14.0, "instant glue": 3.0}
"""Of a line, grams a metre (est.)."""

_REASONS: dict[JointKind, str] = {
    "butt seam": "A butt seam flexes with the piece: cement gives with it and holds at once.",
    "dart": "A dart pulls while it is closed: cement holds at once.",
    "cup": "A cup is set in mark by mark: cement holds each place as it is pressed.",
    "layers": "A whole face: cement in an even coat does not show.",
    "groove": "A groove is held shut while it sets: a thin line of hot glue also does; cement needs no holding.",
    "anchor": "It is pulled at: cement on an opened bed, three coats on cloth, overnight under a clamp.",
    "trim": "A long thin strip: cement takes it without a lump.",
    "magnet": "Hot glue floods the scored pocket and grips over the rim; instant glue cracks when the magnet pulls.",
    "small part": "A dot of instant glue holds small rigid things at once.",
    "liner": "Cloth over a seam: spray adhesive or cement, thin.",
    "vinyl": "Vinyl wants cement on both faces and twice the time.",
    "strip": "A strip inside a seam bends with it.",
}
_CRACKS: tuple[JointKind, ...] = ("butt seam", "dart", "cup", "groove", "anchor", "vinyl", "strip", "liner")
HOT_CLOTH = "Hot glue holds poorly on cloth: sew it, or cut slits and pass the strap through."


def choose_glue(
    kind: JointKind,
    surface: Surface,
    schools: Schools,
    owned: Owned,
    room: CementRoom,
    own: GlueName | None = None,
) -> GlueChoice:
    """The glue for one joint. own: what the maker has set for it."""
    school = None if schools.glue == "by joint" or (kind, schools.glue) == _NO_CEMENT else schools.glue
    wanted: GlueName = own or school or _usual(kind)
    reason = "You chose it for this joint." if own else _REASONS[kind]
    if school and own is None:
        reason = f"This build is glued with {wanted}."
    if wanted == "contact cement" and not owned.cements:
        wanted, reason = _instead(kind, owned), f"{_lack(owned)}, so no contact cement. {_WITHOUT}"
    if wanted == "contact cement":
        ready = cement_window(room).ready / 60 * LONGER[surface]
        clamp = CLAMP if kind in LOADED else 0.0
        return GlueChoice(wanted, COATS[surface], ready, clamp, False, reason, slower=LONGER[surface])
    cracks = wanted == "instant glue" and kind in _CRACKS
    warning = HOT_CLOTH if wanted == "hot glue" and surface == "cloth" else ""
    if cracks:
        warning = "Instant glue is brittle: it cracks where the foam flexes."
    fill = wanted == "hot glue" and kind in ("butt seam", "dart", "cup")
    return GlueChoice(wanted, 1, 0.0, 30.0 if kind in LOADED else 0.0, fill, reason, warning)


_WITHOUT = "Hot glue in thin lines holds; its seams gape a little and are filled with foam clay."


def _usual(kind: JointKind) -> GlueName:
    if kind == "small part":
        return "instant glue"
    if kind == "magnet":
        return "hot glue"
    return "contact cement"


def _lack(owned: Owned) -> str:
    if "contact cement" not in owned.kit:
        return "There is none in the workshop"
    if "vapour mask" not in owned.protection:
        return "You have no vapour mask"
    return "You have no ventilated place"


def _instead(kind: JointKind, owned: Owned) -> GlueName:
    """What is left: hot glue, or instant glue for one who has no gun."""
    if "hot-glue gun" in owned.kit or "instant glue" not in owned.kit:
        return "hot glue"
    return "instant glue"


def fixing_for(schools: Schools, owned: Owned) -> Fixing:
    """How straps are fixed to a piece, by its schools and what the maker owns."""
    glue = choose_glue("anchor", "cloth", schools, owned, CementRoom()).glue
    return Fixing(
        glue,
        under_strip=schools.elastic == "glued under a strip",
        masked=schools.rigging == "before paint, masked",
        backed=schools.eyelets == "backed",
    )
