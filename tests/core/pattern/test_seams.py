"""Seams of every template: both sides equally long, at a price in strain that is small and shared."""

import pytest

from tests.bodies import WEARER, trunk
from tests.core.pattern.test_darts import EXTREMES
from tests.depth import some
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import read_piece_ink
from vellumcut.core.pattern.pattern import pattern_piece

LIMBS = {"usual": 1.0, "full": 1.08, "heavy": 1.3, "slight": 0.8}
"""How full each body's limbs are beside the usual ones."""


def grown(wearer, share):
    def fuller(reading):
        return {n: r.model_copy(update={"girth": r.girth * share}) for n, r in reading.stations.items()}

    limbs = tuple(x.model_copy(update={"stations": fuller(x)}) for x in wearer.limbs)
    return wearer.model_copy(update={"limbs": limbs})


@pytest.mark.parametrize("body", some(EXTREMES))
def test_both_sides_of_every_seam_of_every_template_are_equally_long(body):
    wearer = grown(WEARER.model_copy(update={"torso": trunk(**EXTREMES[body])}), LIMBS[body])
    seen = 0
    for template, row in TEMPLATES.items():
        if row.lay is None:
            continue
        for choices in [{"front": f} for f in ("cups", "centre ridge")] if template == "breastplate" else [{}]:
            design = starter_design(template).model_copy(update={"choices": choices})
            pattern = pattern_piece(wearer, design, "P", "B", None)
            for p in pattern.panels:
                assert p.flat.summary.p95 - p.flat.free_p95 < 1.0, (template, p.flat.number)
                for seam in p.flat.seams:
                    seen += 1
                    assert seam.mismatch < 1.0, (template, seam)
                    assert seam.marks >= 1
    assert seen >= 8


@pytest.mark.parametrize(
    "girths",
    [
        {"bust": 777, "underbust": 609, "waist": 587, "hip": 779, "neck": 371},
        {"bust": 1237, "underbust": 1192, "waist": 1032, "hip": 1376, "neck": 374},
    ],
)
def test_truing_is_shared_between_a_cup_and_its_hole(girths):
    """Bodies where half way would ask 1.1 and 1.25 points more of the cup."""
    wearer = WEARER.model_copy(update={"torso": trunk(**girths)})
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})
    pattern = pattern_piece(wearer, design, "P", "B", None)
    more = [p.flat.summary.p95 - p.flat.free_p95 for p in pattern.panels]
    assert max(more) < 1.2
    assert all(s.mismatch < 1.0 for p in pattern.panels for s in p.flat.seams)


def test_cups_leave_holes_that_they_fit():
    design = starter_design("breastplate").model_copy(update={"choices": {"front": "cups"}})
    pattern = pattern_piece(WEARER, design, "P", "B", None)
    cup, front = pattern.panels
    assert len(front.flat.hole_rings) == 2
    whole = sum(x.area for x in read_piece_ink(build_tube(WEARER, "torso", "left"), design).regions)
    assert front.flat.area < 0.85 * (whole + cup.flat.area)
    (seam,) = [s for s in cup.flat.seams if s.name == "cup"]
    assert seam.on_body == pytest.approx(sum(e.body_length for e in front.flat.holes) / 2, rel=0.01)
