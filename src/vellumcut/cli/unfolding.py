"""Models unfolded into panels."""

from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError

from vellumcut.cli.patterns import PATTERN_FORMATS, write_pattern
from vellumcut.cli.words import clear_words, formats_in
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.design.solids import Model
from vellumcut.core.errors import CraftError
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pages import PaperName
from vellumcut.core.pattern.solid_pattern import solid_pattern
from vellumcut.core.solids.models.clean import unpack
from vellumcut.service.pattern.models import model_from_file


def unfold(mesh: Path, out: Path, asked: dict[str, Any], foam: float, format: str, paper: PaperName) -> None:
    with clear_words():
        wanted = formats_in(format, PATTERN_FORMATS)
        found, said = model_from_file(mesh, mesh.name)
        for words in said:
            print(f"say: {words}")
        try:
            given = found.model_dump() | asked
            if "tall" not in asked:
                vertices, _ = unpack(found.mesh)
                tall = float(np.ptp(vertices[:, "xyz".index(given["up"])]))
                given["tall"] = tall * (given["high"] - given["low"])
            solid = Model.model_validate(given)
            design = PieceDesign(template="breastplate", solid=solid, foam=foam)
        except ValidationError as error:
            first = error.errors()[0]
            raise CraftError(f"{'.'.join(map(str, first['loc']))}: {first['msg']}", "model") from None
        made = solid_pattern(design, mesh.stem[:120], "Unfolded")
        for panel in made.panels:
            if panel.flaws:
                raise CraftError(f"Panel {panel.label.code} cannot be cut: {panel.flaws[0].words}", "panels")
            print(f"{panel.label.code}: {panel.verdict.sentence}.")
        for path in write_pattern(as_cut(made), out / mesh.stem, wanted, paper):
            print(path)
