"""What closes a piece, and what hangs on what: read off the ink, counted once, said only where it is so."""

import numpy as np
import pytest
import shapely

from tests.bodies import WEARER, bare
from tests.core.pieces_to_make import job_for, planned, rig_for, worn
from tests.depth import long
from vellumcut.core.cast.armour import INNER, MIDDLE
from vellumcut.core.cast.halves import worn_tube
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.finish.zones import bending
from vellumcut.core.flatten.panel import Seam
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.ink.templates import ink_sheet
from vellumcut.core.make.order import build_steps
from vellumcut.core.pattern.pattern import unequal_sides
from vellumcut.core.rig.closures.eyelets import EYELET, EYELET_INSET, eyelet_marks
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.lengths import TAIL, TURN_OVER
from vellumcut.core.rig.straps import straps_of_piece
from vellumcut.core.worn.donning import check_donning
from vellumcut.core.worn.dressing import dressing_order


def design(template: str, **change) -> PieceDesign:
    return PieceDesign.model_validate({**starter_design(template).model_dump(), **change})


def segmentize(line: np.ndarray, step: float) -> np.ndarray:
    """With a point every so many mm."""
    return shapely.get_coordinates(shapely.segmentize(shapely.LineString(line), step))


def laid(made: PieceDesign) -> LaidPiece:
    part = TEMPLATES[made.template].part
    return LaidPiece(ink_piece(worn_tube(WEARER, part, "left", made.halves, {}), made))


@pytest.mark.parametrize("gap", [15, 30, 60])
def test_the_gap_behind_is_read_off_the_piece(gap):
    open_shell = laid(bare(back="open", gap=gap))
    low, high, across = open_shell.gap_behind
    assert across == pytest.approx(gap, abs=0.06 * gap + 2.5), "one column of the ring is 0.7 mm"
    assert high - low > 0.9 * (open_shell.area.bounds[3] - open_shell.area.bounds[1])
    assert laid(bare(back="closed")).gap_behind is None


def test_a_closed_shell_that_was_inked_anew_gets_no_elastic_across_its_glued_back():
    closed = bare(back="closed")
    tube = worn_tube(WEARER, "forearm", "left", "usual", {})
    inked = closed.model_copy(update={"ink": ink_sheet(tube, closed)})
    for made in (closed, inked):
        plan = rig_for(made)
        assert not [p for p in plan.parts if "elastic" in p.name]
        assert not any("open behind" in words for words in plan.advice)
    opened = rig_for(bare(back="open"))
    assert [p for p in opened.parts if "elastic" in p.name]
    assert any("open behind" in words for words in opened.advice)


def test_a_lace_closes_a_drawn_piece_whose_edges_come_near():
    back = design("backplate", choices={"closure": "back"}, closure="lacing", sizes={"opening": 50})
    plan = rig_for(back)
    eyelets = next(p for p in plan.parts if p.name == "eyelets")
    lace = next(p for p in plan.parts if p.name == "lace")
    low, high, across = laid(back).gap_behind
    rows = eyelets.count // 2
    pitch = (high - low - 2 * EYELET_INSET) / (rows - 1)
    wide = across + 2 * EYELET_INSET
    assert 25 <= pitch + 0.01 <= 40
    assert lace.length == pytest.approx(2 * (rows - 1) * np.hypot(wide, pitch) + wide + 2 * 350, rel=1e-3)
    assert [p for p in plan.parts if p.name.startswith("webbing")], "its straps are there beside it"
    close = next(s for s in build_steps(job_for(back)) if s.key == "close")
    assert "eyelets" in close.how
    assert "3 coats of contact cement" in close.how
    far = rig_for(design("breastplate", closure="lacing"))
    assert not [p for p in far.parts if p.name in ("eyelets", "lace")]
    assert any("mm apart behind" in words for words in far.advice)


def test_a_zip_closes_only_edges_that_nearly_meet():
    near, far = (
        rig_for(design("backplate", choices={"closure": "back"}, closure="zip", sizes={"opening": gap}))
        for gap in (8, 80)
    )
    assert [p for p in near.parts if "zip" in p.name]
    assert not [p for p in far.parts if "zip" in p.name]
    assert any("zip was chosen" in words for words in far.advice)


@pytest.mark.parametrize(
    "made",
    [
        design("backplate", choices={"closure": "back"}, closure="lacing", sizes={"opening": 50}),
        design("belt", closure="lacing"),
        design("gorget", closure="lacing"),
        bare(back="open", closure="lacing"),
    ],
    ids=lambda d: d.template,
)
def test_every_eyelet_of_a_lace_is_marked_so_far_from_its_edge_and_round(made):
    piece = laid(made)
    plan = rig_for(made)
    count = next(p.count for p in plan.parts if p.name == "eyelets")
    marks = []
    for panel, twin in zip(piece.inked.panels, piece.inked.twins, strict=True):
        lines = [piece.plane.uv(segmentize(piece.plane.flat(x.uv), 1.0)) for x in panel.outline]
        edge = np.vstack([piece.inked.surface.points(uv, MIDDLE) for uv in lines])
        for mark in eyelet_marks(piece, panel):
            ring = piece.inked.surface.points(mark.uv)
            middle = piece.inked.surface.points(
                piece.plane.uv(piece.plane.flat(mark.uv)[:-1].mean(axis=0)[None]), MIDDLE
            )
            near = np.linalg.norm(edge - middle, axis=1).min()
            assert near == pytest.approx(EYELET_INSET, abs=0.4), mark.name
            assert np.linalg.norm(ring[:10] - ring[10:20], axis=1) == pytest.approx(EYELET, abs=0.15)
            marks += [mark.name] * (2 if twin else 1)
    assert len(marks) == count


def test_eyelets_in_bare_foam_have_no_strip_glue_or_clamp():
    laced = bare(closure="lacing", making={"schools": {"eyelets": "in bare foam"}})
    close = next(s for s in build_steps(job_for(laced)) if s.key == "close")
    assert close.wait == 0
    assert not close.materials
    assert "strip" not in close.how


@pytest.mark.parametrize(("front", "back"), [(88, 88), (0, 0), (120, 30)])
def test_the_hidden_belt_is_one_belt_all_round(front, back):
    made = design("faulds", sizes={"front gap": front, "back gap": back})
    (belt,) = (p for p in rig_for(made).parts if p.name.startswith("webbing"))
    assert belt.count == 1
    hips = laid(made)
    _, floor, _, roof = hips.area.bounds
    level = hips.inked.tube.along(np.array([floor + 0.85 * (roof - floor)]))
    beneath = float(hips.inked.surface.girth(level, INNER)[0])
    more = 0.03 * beneath + 2 * TURN_OVER + TAIL
    assert belt.length == pytest.approx(beneath + more, rel=0.06), "once round, a breath, its turn-overs and tail"


def test_a_plate_hangs_after_what_holds_it_and_swings_free():
    low = design("belt", sizes={"below waist": 90})
    costume = worn(design("tasset"), low, design("cuisse"))
    straps = {p.key: straps_of_piece(costume, p) for p in costume.pieces}
    donning = {p.key: [check_donning(WEARER, x, s) for s, x in p.laid.items()] for p in costume.pieces}
    names = [s.name for s in dressing_order(costume, straps, donning)]
    assert names.index("belt") < names.index("tasset")
    hung = [s for s in straps[1] if s.fastening == "ring"]
    assert all(s.longest == s.standing for s in hung), "it swings when the wearer sits"
    high = worn(design("tasset"), design("belt"))
    longer = [s for s in straps_of_piece(high, high.piece(1)) if s.fastening == "ring"]
    assert min(s.standing for s in longer) - max(s.standing for s in hung) > 60, "a belt on the hips is nearer"


def test_vinyl_is_skin_glued_by_its_area_after_heat_and_grinding_and_never_painted():
    skin = Making(details=(Detail(key="v", kind="vinyl cover", name="black vinyl"),))
    piece = planned(starter_design("belt").model_copy(update={"making": skin}))
    keys = [s.key for s in piece.ordered]
    at = keys.index("vinyl:v")
    for early in ("heat-seal", "form:1", "smooth", "reseal"):
        assert keys.index(early) < at
    assert not [k for k in keys if k.startswith(("coat-", "tabs", "dust-primer", "touch-up"))]
    area = job_for(starter_design("belt")).pattern.area / 1e6
    vinyl = piece.steps["vinyl:v"]
    assert next(m for m in vinyl.materials if m.name == "contact cement").amount == pytest.approx(
        2 * area / 4 * 1000, rel=0.6
    )
    assert next(m for m in vinyl.materials if "vinyl" in m.name).amount == pytest.approx(1.25 * area)
    assert vinyl.minutes > 2 * area / 0.012


def test_wax_comes_after_the_clear_coat():
    waxed = {"finishes": [{"stack": {"name": "bronze", "layers": [{"kind": "rubbery primer", "faces": "both"},
        {"kind": "metallic"}, {"kind": "satin clear"}], "weathering": ["dark edges", "wax points"]}}]}  # fmt: skip
    keys = [s.key for s in planned(design("bracer", making=waxed)).ordered]
    clear = next(k for k, key in enumerate(keys) if key.startswith("coat-clear"))
    assert keys.index("weather:rest.dark edges") < clear < keys.index("wax:rest.wax points") < keys.index("final-fit")


def test_shells_that_are_bent_open_are_known_however_they_close():
    segmented = job_for(design("segmented bracer")).pattern
    assert set(bending(segmented)) == {p.flat.number for p in segmented.panels}
    assert bending(job_for(bare(back="closed")).pattern) == {}
    assert bending(job_for(design("poleyn")).pattern) == {}


def test_edges_that_open_sit_askew_and_glued_ones_pucker():
    glued, opened = (unequal_sides(Seam("closing", 200.0, 200.0, 206.0, kind=k)) for k in ("seam", "opening"))
    assert "6.0 mm and will pucker" in glued
    assert "pucker" not in opened
    assert "6.0 mm" in opened


def test_what_a_lace_takes_the_place_of_is_not_said_any_more():
    """A belt's tab, elastics across an arm: laced, neither is there, nor is the piece called closed all round."""
    belt = rig_for(design("belt", closure="lacing"))
    assert [p for p in belt.parts if p.name == "lace"]
    assert not any("hook-and-loop" in x.lower() for x in belt.advice), belt.advice
    assert any(x.startswith("A lace") for x in belt.advice)
    arm = rig_for(design("segmented bracer", closure="lacing"))
    assert [p for p in arm.parts if p.name == "lace"]
    assert not any("all round" in x for x in arm.advice), arm.advice
    assert not any("webbing" in x for x in arm.advice), "it has none"


@long
def test_only_a_plate_that_hangs_free_is_told_to_hang_higher():
    for template in ("bandolier", "pauldron", "cuisse"):
        assert not any("Set the belt lower" in x for x in rig_for(design(template)).advice), template
    assert any("Set the belt lower" in x for x in rig_for(design("tasset")).advice)


def test_a_seam_that_its_maker_opens_is_closed_once():
    gorget = design("gorget", closure="lacing")
    whole = next(p for p in rig_for(gorget).parts if p.name == "eyelets").count
    seamed = design("greave", back="closed", closure="lacing")
    assert not [p for p in rig_for(seamed).parts if p.name == "eyelets"], "a closed shell is not laced"
    assert whole >= 4
    opened = design("faulds", closure="lacing", rig={"openings": [{"line": "joint-1", "kind": "zip"}]},
        sizes={"front gap": 0, "back gap": 0})  # fmt: skip
    parts = rig_for(opened).parts
    assert [p for p in parts if "zip" in p.name]
    assert not [p for p in parts if p.name in ("eyelets", "lace")], "the seam that opens is the zip's"


def test_a_lace_behind_the_back_wants_a_helper():
    costume = worn(design("belt", closure="lacing"))
    straps = {1: straps_of_piece(costume, costume.piece(1))}
    donning = {1: [check_donning(WEARER, x, s) for s, x in costume.piece(1).laid.items()]}
    (step,) = dressing_order(costume, straps, donning)
    assert step.who == "helper"
    assert "lace" in step.why
    tabbed = worn(design("belt"))
    straps = {1: straps_of_piece(tabbed, tabbed.piece(1))}
    (plain,) = dressing_order(tabbed, straps, donning)
    assert step.minutes > plain.minutes, "a lace takes longer than a tab"
