"""A step that something laid on a piece brings."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from vellumcut.core.design.making import Detail
from vellumcut.core.make.glue_choice import JointKind
from vellumcut.core.make.job import Facts
from vellumcut.core.make.step import Inspection, Stage
from vellumcut.core.paces import Work


@dataclass(frozen=True)
class DetailStep:
    """One step of a detail. ``{name}`` in title and how stands for the detail's. when: for which details of its kind.

    glue: the joint it is glued as; None where it is not glued. clamped: whether a loaded joint rests under its clamp
    before the next step. pace: of a slow task that is told by its length, or, of a face, by its area. laid: over the
    face of its panels, told by their area. motif: told by the length of its cut, or by what is painted through it.
    """

    kind: str
    title: str
    how: str
    reason: str
    stage: Stage
    glue: JointKind | None = None
    cautions: tuple[str, ...] = ()
    inspection: Inspection | None = None
    when: Callable[[Facts, Detail], bool] = lambda facts, detail: True
    wait: float = 0.0
    clamped: bool = True
    pace: Work | None = None
    laid: bool = False
    motif: Literal["cut", "painted", ""] = ""

    @property
    def tells(self) -> bool:
        """Whether it is where what is laid is counted out."""
        by_pace = self.pace in ("stitch", "raised stitch")
        return self.glue in ("trim", "small part") or by_pace or self.kind == "paint-damage"
