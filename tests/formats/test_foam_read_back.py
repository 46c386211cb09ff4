"""Bevels, grooves, kerfs and layers as they stand in the files that leave: read back by other libraries and
measured."""

import io
import itertools
import json
import re

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
import svgelements
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import WEARER, bare, limb, measures, trunk
from tests.depth import long, often
from vellumcut.core.design.foam import EdgeWork, FoamWork, FoldWork, Layer, PanelWork, SeamWork
from vellumcut.core.design.sheet import Stroke
from vellumcut.core.errors import CraftError
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE, QUICK_SIZE
from vellumcut.core.foam.grooves import drum_width
from vellumcut.core.ink.library.table import TEMPLATES, starter_design
from vellumcut.core.pattern.as_cut import FULL_SIZE, as_cut
from vellumcut.core.pattern.fold import on_the_fold
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.formats.keeping.build_json import BuildFile, read_build, write_build
from vellumcut.formats.pattern.dxf import write_dxf
from vellumcut.formats.pattern.pattern_json import pattern_data
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.formats.pattern.svg import LAYERS, write_svg

RIDGE = {"choices": {"front": "centre ridge"}}


def made(template, size=CUT_SIZE, readings=WEARER, **changes):
    design = starter_design(template).model_copy(update=changes)
    return pattern_piece(readings, design, "P", "B", size)


def read_json(pattern):
    return json.loads(json.dumps(pattern_data(pattern)))


def svg_outline(pattern, panel):
    drawing = svgelements.SVG.parse(io.StringIO(write_svg(pattern)), ppi=25.4)
    paths = (p for p in drawing.elements() if isinstance(p, svgelements.Path))
    path = next(p for p in paths if p.values.get("id") == f"{panel.label.code} outline")
    points = np.array([path.point(t) for t in np.linspace(0, 1, 6000)])
    flipped = points * [1, -1]
    return flipped - flipped.min(axis=0)


@settings(max_examples=often(10, least=2), deadline=None)
@given(
    bust=st.floats(820.0, 1150.0), drop=st.floats(60.0, 190.0), foam=st.sampled_from([4.0, 6.0, 10.0]),
    height=st.floats(10.0, 30.0),
)  # fmt: skip
def test_the_cut_outline_lies_outside_the_middle_by_what_the_file_says(bust, drop, foam, height):
    """Over random bodies and ridges: every place of the seam's edge in the SVG, against the middle's outline."""
    body = WEARER.model_copy(
        update={"torso": trunk(bust=bust, underbust=bust - drop, waist=bust - drop, hip=bust, neck=370)}
    )
    middle = made("breastplate", readings=body, foam=foam, sizes={"ridge height": height}, **RIDGE)
    cut = as_cut(middle)
    (panel,), (before,) = cut.panels, middle.panels
    told = next(e["cut"] for e in read_json(cut)["panels"][0]["edges"] if e["name"] == "centre ridge")
    assert told["joint"] == "centre ridge"
    assert told["taken_off"] == "inner"
    for row in told["stations"]:
        assert row["bevel"] == pytest.approx(abs(row["fold"]) / 2 if abs(row["fold"]) >= 8 else 0.0, abs=0.01)
        assert row["move"] == pytest.approx(foam / 2 * np.tan(np.radians(row["bevel"])), abs=0.01)
    ring = shapely.LinearRing(svg_outline(cut, panel) + panel.flat.outline.min(axis=0))
    edge = before.flat.edge("centre ridge")
    at, move = (np.array([r[k] for r in told["stations"]]) for k in ("at", "move"))
    for place in np.linspace(0.15, 0.85, 15) * edge.body_length:
        point, _ = edge.place(float(place))
        assert ring.distance(shapely.Point(point)) == pytest.approx(np.interp(place, at, move), abs=0.08)
    free = before.flat.edge("armhole").points()[5:-5]
    assert np.quantile(shapely.distance(ring, shapely.points(free)), 0.8) < 0.02
    assert FULL_SIZE in panel.label.face


def test_paper_says_the_bevel_its_face_and_which_face_is_drawn():
    cut = as_cut(made("breastplate", **RIDGE))
    reader = pypdf.PdfReader(io.BytesIO(write_pdf(cut, "A4")))
    text = "\n".join(page.extract_text() for page in reader.pages)
    assert "off the inner face" in text
    assert FULL_SIZE in text
    drawing = write_svg(cut)
    assert "off the inner face" in drawing
    half = on_the_fold(as_cut(made("breastplate")))
    assert FULL_SIZE not in half.panels[0].label.face


def test_an_angle_of_the_makers_own_stands_for_the_body_and_a_valley_comes_off_the_outer_face():
    work = FoamWork(seams=(SeamWork(name="centre ridge", fold=-60.0),))
    cut = as_cut(made("breastplate", EDIT_SIZE, foam_work=work, **RIDGE))
    (joint,) = read_json(cut)["joints"]
    assert (joint["fold"], joint["asked"]) == (-60.0, True)
    assert [(s["bevel"], s["taken_off"]) for s in joint["sides"]] == [(30.0, "outer"), (30.0, "outer")]
    assert joint["sides"][0]["move"] == pytest.approx(3.0 * np.tan(np.radians(30.0)), abs=1e-3)
    lost = made("breastplate", EDIT_SIZE, foam_work=FoamWork(seams=(SeamWork(name="nowhere", fold=30.0),)))
    assert any('no seam or dart "nowhere"' in f.message for f in lost.findings)


def fold_key(template, **changes):
    """Key of the first fold line of a template on the test wearer."""
    design = starter_design(template).model_copy(update=changes)
    pattern = pattern_piece(WEARER, design, "P", "B", EDIT_SIZE)
    return next(x.key for ink in pattern.inked["left"].panels for x in ink.inside if x.kind == "fold")


def dxf_lines(pattern, layer):
    document = ezdxf.read(io.StringIO(write_dxf(pattern).decode()))
    found = document.modelspace().query(f'LWPOLYLINE[layer=="{layer}"]')
    return [shapely.LineString(list(x.vertices())) for x in found]


@pytest.mark.parametrize("way", ["groove", "drum", "set back", "crease"])
def test_a_worked_fold_leaves_with_its_rims_depth_and_face(way):
    key = fold_key("ridged greave", choices={"ridge": "fold"})
    work = FoldWork(key=key, way=way, depth=3.0, angle=50.0)
    cut = as_cut(made("ridged greave", side="left", choices={"ridge": "fold"}, foam_work=FoamWork(folds=(work,))))
    told = read_json(cut)["folds"][0]
    wide = {"groove": 2 * 3.0 * np.tan(np.radians(25.0)), "drum": drum_width(3.0, 12.0), "set back": 8.0, "crease": 0.0}
    assert told["width"] == pytest.approx(wide[way], abs=1e-3)
    assert told["face"] == ("inner" if way in ("groove", "drum") else "outer")
    rims, lines = dxf_lines(cut, "cut rim"), dxf_lines(cut, "fold")
    assert len(lines) == 1
    assert len(rims) == (0 if way == "crease" else 2)
    for rim in rims:
        away = shapely.distance(lines[0], shapely.points(shapely.get_coordinates(rim)[10:-10]))
        assert away == pytest.approx(np.full(len(away), wide[way] / 2), abs=0.05)
    document = ezdxf.read(io.StringIO(write_dxf(cut).decode()))
    words = [t.dxf.text for t in document.modelspace().query('TEXT[layer=="label"]')]
    assert any(
        ("crease 50°" if way == "crease" else "3 mm deep" if way != "set back" else "2 mm deep") in w for w in words
    )
    assert set(LAYERS) <= {layer.dxf.name for layer in document.layers}


def test_a_groove_with_one_wall_upright_keeps_its_side_on_the_twin():
    key = fold_key("ridged greave", choices={"ridge": "fold"})
    work = FoamWork(folds=(FoldWork(key=key, walls="one upright", angle=40.0, depth=3.0),))
    sides = {}
    for side in ("left", "right"):
        cut = as_cut(made("ridged greave", side=side, choices={"ridge": "fold"}, foam_work=work))
        (line,), rims = dxf_lines(cut, "fold"), dxf_lines(cut, "cut rim")
        far = max(rims, key=lambda r: r.centroid.distance(line.centroid))
        assert far.distance(line) == pytest.approx(3.0 * np.tan(np.radians(40.0)), abs=0.05)
        sides[side] = np.sign(far.centroid.x - line.centroid.x)
    assert sides["left"] == -sides["right"]


@pytest.mark.parametrize("layered", ["alike", "bent"])
def test_a_stack_is_bevelled_and_grooved_by_its_school(layered):
    """Glued flat it is cut as one: all outlines alike, the groove in the innermost sheet. Glued bent each has its
    own."""
    stack = {"layers": (Layer(thickness=4), Layer(thickness=3)), "foam": 7.0, "layered": layered}
    plate = as_cut(made("breastplate", EDIT_SIZE, **RIDGE, **stack))
    inner, outer = (p.edges["centre ridge"] for p in plate.panels)
    half = np.tan(np.radians(inner.lean))
    if layered == "alike":
        assert inner.move == pytest.approx(3.5 * half, abs=1e-6)
        assert plate.panels[0].flat.outline == pytest.approx(plate.panels[1].flat.outline, abs=0.01)
    else:
        assert (inner.move, outer.move) == (
            pytest.approx(2.0 * half, abs=1e-6),
            pytest.approx(1.5 * np.tan(np.radians(outer.lean)), abs=1e-6),
        )
    key = fold_key("ridged greave", choices={"ridge": "fold"})
    work = FoamWork(folds=(FoldWork(key=key, angle=40.0, depth=4.5),))
    folded = made("ridged greave", EDIT_SIZE, side="left", choices={"ridge": "fold"}, foam_work=work, **stack)
    assert any("no one fold takes them all" in f.message for f in folded.findings) == (layered == "bent")
    first, last = as_cut(folded).panels
    assert [x.kind for x in first.flat.lines].count("cut rim") == 2
    assert {x.kind for x in last.flat.lines} == {"mark"}
    assert "other face of the stack" in last.flat.lines[0].words


def test_lines_beside_a_fold_run_at_equal_steps_and_mirror_about_the_middle():
    key = fold_key("ridged greave", choices={"ridge": "fold"})
    work = FoamWork(folds=(FoldWork(key=key, count=2, step=9.0, angle=20.0),))
    cut = as_cut(made("ridged greave", side="left", choices={"ridge": "fold"}, foam_work=work))
    lines = dxf_lines(cut, "fold")
    assert len(lines) == 5  # the ridge lies on the middle: two more to each side
    middle = shapely.LineString(cut.panels[0].flat.centre)
    away = sorted(x.centroid.x - lines[0].centroid.x for x in lines)
    assert away[0] == pytest.approx(-away[-1], abs=1.5)
    apart = sorted(round(x.distance(lines[0]), 1) for x in lines)
    assert apart == pytest.approx([0.0, 9.0, 9.0, 18.0, 18.0], abs=0.2)
    assert middle.length > 0


def test_a_groove_that_would_go_through_or_is_too_sharp_is_told():
    key = fold_key("ridged greave", choices={"ridge": "fold"})
    for row, words in (
        (FoldWork(key=key, depth=5.5), "leaves only 0.5 mm"),
        (FoldWork(key=key, depth=7.0), "would be cut through"),
        (FoldWork(key=key, angle=120.0), "make it a seam"),
        (FoldWork(key=key, angle=80.0, walls="one upright"), "single wall"),
        (FoldWork(key=key, way="crease"), "a crease holds in"),
    ):
        found = made(
            "ridged greave",
            EDIT_SIZE,
            side="left",
            foam=6.0,
            choices={"ridge": "fold"},
            foam_work=FoamWork(folds=(row,)),
        ).findings
        assert any(words in f.message for f in found), row


def test_kerfs_and_windows_are_lines_of_their_own_layer():
    work = FoamWork(panels=(PanelWork(panel=1, bend="kerf"),))
    kerfed = as_cut(pattern_piece(WEARER, bare("bracer", side="left", foam=10.0, foam_work=work), "P", "B", CUT_SIZE))
    assert len(dxf_lines(kerfed, "kerf")) > 10
    window = Stroke(key="w", kind="layer cut", name="window", closed=True,
                    points=((0.04, 2.2), (0.10, 2.2), (0.10, 2.6), (0.04, 2.6)), curve="straight")  # fmt: skip
    design = starter_design("breastplate")
    body = pattern_piece(WEARER, design, "P", "B", EDIT_SIZE).inked["left"]
    sheet = body.sheet.model_copy(update={"strokes": (*body.sheet.strokes, window)})
    single = pattern_piece(WEARER, design.model_copy(update={"ink": sheet}), "P", "B", EDIT_SIZE)
    assert any("wants a second one" in f.message for f in single.findings)
    layers = (Layer(thickness=4), Layer(thickness=2))
    stacked = as_cut(
        pattern_piece(
            WEARER, design.model_copy(update={"ink": sheet, "layers": layers, "foam": 6.0}), "P", "B", CUT_SIZE
        )
    )
    inner, outer = stacked.panels
    assert {x.kind for x in inner.flat.lines} == {"mark"}
    assert {x.kind for x in outer.flat.lines} == {"layer cut"}
    assert (outer.layer.thickness, outer.label.code[-1]) == (2.0, "b")
    assert len(dxf_lines(stacked, "layer cut")) >= 1


def test_free_edges_are_told_in_every_format():
    work = FoamWork(
        edges=(EdgeWork(name="hem", shape="thinned", width=12.0, left=2.0), EdgeWork(name="armhole", shape="angled"))
    )
    cut = as_cut(made("breastplate", EDIT_SIZE, foam_work=work))
    cuts = {e["name"].split(", ")[0]: e["cut"] for e in read_json(cut)["panels"][0]["edges"]}
    assert cuts["hem"]["work"] == {"shape": "thinned", "angle": 45.0, "face": "inner", "width": 12.0, "left": 2.0}
    assert (cuts["armhole"]["bevel"], cuts["armhole"]["taken_off"]) == (45.0, "inner")
    assert "thinned to 2 mm over 12 mm" in write_svg(cut)


def test_a_build_file_carries_how_its_foam_is_worked():
    text = json.dumps({
        "name": "B", "wearer": {"measurements": WEARER.model_dump(mode="json")},
        "pieces": [{"template": "bracer", "layers": [{"thickness": "5 mm"}, {"thickness": 5, "kind": "soft"}],
                    "foam_work": {"edges": [{"name": "lower edge", "shape": "angled", "angle": 30}]}}],
    })  # fmt: skip
    build = read_build(text)
    assert build.pieces[0].foam == 10.0
    assert read_build(write_build(build)) == build
    with pytest.raises(ValueError, match="worked twice"):
        FoamWork(seams=(SeamWork(name="a", fold=1), SeamWork(name="a", fold=2)))
    with pytest.raises(ValueError, match="at most 25 mm"):
        BuildFile.model_validate(
            json.loads(text) | {"pieces": [{"template": "bracer", "layers": [{"thickness": 20}] * 2}]}
        )


WORKS = {
    "bevelled": {},
    "in layers": {"layers": (Layer(thickness=5), Layer(thickness=3)), "foam": 8.0},
    "kerfed": {"foam": 12.0, "foam_work": FoamWork(panels=(PanelWork(panel=1, bend="kerf"),))},
}


def someone(seed):
    """A random wearer, none of whose measures goes quite with another."""
    luck = np.random.default_rng(seed)
    size = luck.uniform(0.85, 1.25)

    def girths(*usual):
        return tuple(g * size * luck.uniform(0.96, 1.04) for g in usual)

    bust = 940 * size
    torso = trunk(bust=bust, underbust=bust - luck.uniform(40, 180), waist=760 * size, hip=980 * size, neck=370 * size)
    return measures(
        limb("forearm", (0, 138, 240), girths(168, 252, 262), (0.76, 0.93, 0.95)),
        limb("lower leg", (0, 200, 325), girths(225, 372, 352), (1.15, 1.06, 1.02)),
        limb("upper arm", (0, 110, 190), girths(268, 308, 335)),
        limb("thigh", (0, 130, 265), girths(405, 490, 570)),
    ).model_copy(update={"torso": torso})


@long
@pytest.mark.parametrize(("template", "way"), zip(TEMPLATES, itertools.cycle(WORKS), strict=False))
def test_every_template_leaves_with_every_edge_told_and_its_seams_as_long_as_before(template, way):
    """On a random body: each edge has its cut, what is joined moves by the same on both sides, no panel lies over
    itself."""
    seed = sum(map(ord, template + way))
    design = starter_design(template).model_copy(update=WORKS[way])
    pattern = pattern_piece(someone(seed), design, "P", "B", QUICK_SIZE, school="bevelled")
    cut = as_cut(pattern)
    for panel, before in zip(cut.panels, pattern.panels, strict=True):
        assert panel.flat.shape.is_valid
        assert set(panel.edges) == {e.name for e in (*panel.flat.edges, *panel.flat.holes)}
        for told in panel.edges.values():
            assert np.isfinite(told.move).all()
            assert (told.lean >= 0).all()
            assert told.joint or not told.move.any()
        grown = panel.flat.area - before.flat.area
        by_hand = sum(
            np.trapezoid(c.move, c.at) for n, c in panel.edges.items() if n in {e.name for e in panel.flat.edges}
        )
        assert grown == pytest.approx(by_hand, rel=0.25, abs=0.02 * abs(by_hand) + 60)
    told = read_json(cut)
    named = {e["cut"]["joint"] for p in told["panels"] for e in p["edges"]} - {""}
    assert named <= {j["name"] for j in told["joints"]}
    assert not re.search(r"\b(nan|inf)\b", write_svg(cut) + write_dxf(on_the_fold(cut)).decode())
    assert write_pdf(cut, "A4").startswith(b"%PDF")


def test_bevels_that_cannot_be_traced_leave_in_no_format():
    dart = Stroke(key="d", kind="dart", name="slit", points=((0.0, 2.0), (0.08, 2.1)))
    work = FoamWork(seams=(SeamWork(name="slit", fold=150.0),))
    design = starter_design("breastplate").model_copy(update={"foam": 12.0, "cuts": (dart,), "foam_work": work} | RIDGE)
    pattern = pattern_piece(WEARER, design, "P", "B", EDIT_SIZE, school="bevelled")
    with pytest.raises(CraftError, match="lie over itself once its edges are bevelled"):
        as_cut(pattern)
