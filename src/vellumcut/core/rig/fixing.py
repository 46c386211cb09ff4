"""How what holds a piece is fixed to its foam: glue, elastic and the time of it, as the maker's schools have it."""

from dataclasses import dataclass

from vellumcut.core.design.making import GlueName

CLOTH_COATS, BED_COATS = 3, 2
"""Coats of cement: cloth drinks the first, so webbing has two and better three; the bed in the foam two (rigging.md,
section 3)."""


@dataclass(frozen=True)
class Fixing:
    """glue: of anchors. under_strip: elastic is glued under a strip of foam, not sewn to webbing. masked: straps are
    fixed before paint and masked; else after the clear coat. backed: eyelets go through a strip that is glued
    inside."""

    glue: GlueName = "contact cement"
    under_strip: bool = False
    masked: bool = False
    backed: bool = True

    @property
    def how(self) -> str:
        """Gluing cloth to its bed, in a sentence without its end."""
        if self.glue == "contact cement":
            return (
                f"{CLOTH_COATS} coats of contact cement on the cloth, whose first soaks in, {BED_COATS} on its opened "
                "bed; dry to the touch, press, clamp overnight"
            )
        if self.glue == "hot glue":
            return "hot glue on a mesh of scores, pressed till it is cold; sewn or through slits where much pulls"
        return "sewn through or riveted: instant glue cracks where it is pulled at"

    @property
    def strip_how(self) -> str:
        """Elastic under a strip, in a sentence without its end."""
        return f"under a strip of 2 mm foam; {self.glue} beside the elastic, never on it"

    @property
    def when(self) -> str:
        """When it is fixed, and so pulled at for a test."""
        return "before paint" if self.masked else "when it is fixed, after the clear coat"
