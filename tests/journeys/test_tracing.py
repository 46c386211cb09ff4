"""A maker photographs a cut-open cast and cuts paged panels of it; and fits a pattern that was drawn for somebody
else."""

import io
import re

import numpy as np
import pypdf
import shapely
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.api.test_laid_panels import pattern as bracer_pattern
from tests.bodies import bare, limb, measures
from tests.depth import deep, long
from tests.formats.habits import FRONT, SIDE, svg
from tests.formats.test_pattern_files import LAP, TILE, tiled
from tests.journeys.maker import Maker
from vellumcut.core.flatten.mesh import CUT_SIZE
from vellumcut.core.pattern.as_cut import as_cut
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.formats.pattern.drawn_panels import panels_of
from vellumcut.formats.pattern.read_pdf import read_pdf
from vellumcut.formats.pattern.svg import write_svg
from vellumcut.standins.camera import LaidCard, Scene, Shot, jpeg
from vellumcut.standins.casts import before_it_was_laid, cast_piece, demo_scene, on_newspaper

TRULY_APART = 287.694 - 281.699
"""mm between the two edges as the demo's cast is drawn."""


def send(maker: Maker, name: str, path) -> None:
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, f"input[name='{name}']"))
    maker.driver.find_element(By.CSS_SELECTOR, f"input[name='{name}']").send_keys(str(path))


def touch(maker: Maker, edge: str) -> None:
    """A real press on the line of an edge, a third of the way along it: its middle may carry a letter."""
    at = """
    const path = arguments[0], m = path.getScreenCTM(), p = path.getPointAtLength(path.getTotalLength() /
    3).matrixTransform(m);
    return [p.x, p.y];
    """
    x, y = maker.driver.execute_script(at, maker.find(f"path.hand[data-edge='{edge}']"))
    body = maker.find("body")
    size = body.size
    act = ActionChains(maker.driver).move_to_element_with_offset(
        body, round(x - size["width"] / 2), round(y - size["height"] / 2)
    )
    act.click().perform()


def flat(maker: Maker, piece: int) -> dict:
    return maker.server.get(f"/api/pieces/{piece}/flat")


@long
def test_from_a_photograph_to_paged_panels(demo, tmp_path):
    maker = demo
    photograph = tmp_path / "cast on the floor.jpg"
    photograph.write_bytes(jpeg(demo_scene(1)))
    maker.open("/build/1/trace")
    maker.sees("Nothing photographed yet", 40)
    send(maker, "photograph", photograph)
    maker.sees("2 pieces, 6 cards", 120)
    maker.sees("Off by no more than about")
    maker.choose("kind-0", "score")
    maker.write("shape-name", "front")
    maker.wait(lambda: maker.server.get("/api/traces/1")["shapes"][0]["name"] == "front", 30)
    assert maker.server.get("/api/traces/1")["shapes"][0]["lines"][0]["kind"] == "score"
    maker.write("traced-name", "Half breastplate")
    maker.press("Make 2 panels")
    maker.sees("Touch an edge, then the edge", 40)
    piece = int(maker.driver.current_url.rsplit("piece=", 1)[1])
    edges = {
        (p["number"], k): e for p in flat(maker, piece)["panels"] for k, e in enumerate(p["edges"]) if not e["dart"]
    }
    first, second = next(
        (a, b)
        for a in edges
        for b in edges
        if a[0] < b[0] and abs(edges[b]["came"] - edges[a]["came"] - 6) < 0.6 and edges[a]["came"] > 250
    )
    touch(maker, "{}-{}".format(*first))
    maker.sees("now touch the edge it is glued to")
    touch(maker, "{}-{}".format(*second))
    maker.sees("mm apart", 40)
    (told,) = re.findall(r"([\d.]+) mm apart", maker.text())
    assert abs(float(told) - TRULY_APART) < 0.2, "twice 0.1 mm, an edge's promised rightness"
    maker.sees("Made equal")
    (mate,) = flat(maker, piece)["mates"]
    assert abs(mate["now"][0] - mate["now"][1]) < 0.05
    maker.label("On to cutting")
    maker.sees("BP 1", 40)
    maker.label("PDF, ")
    content = maker.downloaded("*.pdf").read_bytes()
    assert "front" in "".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(content)).pages)
    one, two = (shapely.LinearRing(s.outline) for s in panels_of(read_pdf(content)).shapes)
    wanted = {p["number"]: np.vstack([e["points"][:-1] for e in p["edges"]]) for p in flat(maker, piece)["panels"]}
    for ring, number in ((one, 1), (two, 2)):
        truth = wanted[number] - wanted[number].min(0) + np.array(ring.bounds[:2])
        assert shapely.hausdorff_distance(ring, shapely.LinearRing(truth)) < 0.3
    maker.label("Bench")
    maker.sees("Step 1 of", 40)
    assert maker.browser.console_errors() == []


def touch_page(maker: Maker, page: int, x: float, y: float) -> None:
    """A real press on a page of a pattern that is being laid, mm from its lower left corner."""
    at = """
    const g = arguments[0].parentNode, p = new DOMPoint(arguments[1], -arguments[2]).matrixTransform(g.getScreenCTM());
    return [p.x, p.y];
    """
    x, y = maker.driver.execute_script(at, maker.find(f"rect[data-page='{page}']"), x, y)
    size = maker.find("body").size
    act = ActionChains(maker.driver).move_to_element_with_offset(
        maker.find("body"), round(x - size["width"] / 2), round(y - size["height"] / 2)
    )
    act.click().perform()


@deep
def test_what_is_larger_than_one_picture_or_page_is_put_together(demo, tmp_path):
    maker = demo
    outline = np.array([[20.0, 20.0], [320.0, 20.0], [320.0, 200.0], [174.0, 240.0], [20.0, 200.0]])
    pages = tmp_path / "two sheets.pdf"
    pages.write_bytes(tiled(outline, 2, 1, marks=False))
    maker.open("/build/1/trace")
    maker.choose("pattern-template", "faulds")
    send(maker, "pattern-file", pages)
    maker.sees("Touch a place that two pages show", 60)
    touch_page(maker, 1, 15 + 174 + 2, 15 + 240 - 2)
    maker.sees("Now touch the same place")
    touch_page(maker, 2, 15 + 174 - (TILE[0] - LAP) - 2, 15 + 240 + 1)
    maker.sees("They lie together")
    maker.press("Bring it in")
    maker.sees("Does it go round this wearer?", 60)
    (panel,) = flat(maker, int(maker.driver.current_url.rsplit("piece=", 1)[1]))["panels"]
    assert abs(panel["area"] - shapely.Polygon(outline).area) < 5

    piece = cast_piece(5, 700.0, 240.0, 2)
    spots = [(-380, -180), (-375, 180), (-50, -190), (10, 185), (60, -190), (-90, 195), (380, -180), (375, 185)]
    cards = [LaidCard(k, x, y, 0.7 * k) for k, (x, y) in enumerate(spots)]
    whole = Scene([piece], cards, "cloth", Shot(tilt=0.2, way=0.5, over=690.0, size=(2400, 1800)), seed=5)
    maker.open("/build/1/trace")
    for name, x in (("left", -200.0), ("right", 200.0)):
        file = tmp_path / f"{name}.jpg"
        file.write_bytes(jpeg(whole.with_shot(aim=(x, 0.0))))
        send(maker, "photograph", file)
        maker.sees(f"{name}.jpg, 1 piece", 120)
        maker.sees("It runs out of the picture")
    maker.press("Join with left.jpg")
    maker.sees("right.jpg + left.jpg, 1 piece", 180)
    (shape,) = maker.server.get("/api/traces/3")["shapes"]
    assert abs(shapely.Polygon(shape["outline"]).area - shapely.Polygon(piece.outline).area) < 300
    assert maker.browser.console_errors() == []


def test_a_pattern_of_another_body_is_made_to_fit(demo, tmp_path):
    maker = demo
    other = measures(limb("forearm", (0, 120, 210), (150, 215, 225), side="left"))
    drawn = as_cut(pattern_piece(other, bare(side="left"), "Theirs", "Old", CUT_SIZE))
    file = tmp_path / "borrowed bracer.svg"
    file.write_text(write_svg(drawn))
    maker.open("/build/1/trace")
    maker.choose("pattern-template", "bracer")
    send(maker, "pattern-file", file)
    maker.sees("Does it go round this wearer?", 60)
    piece = int(maker.driver.current_url.rsplit("piece=", 1)[1])
    before = shapely.Polygon([p for e in flat(maker, piece)["panels"][0]["edges"] for p in e["points"]])
    maker.press("Hold it against the body")
    maker.sees("wanted", 40)
    maker.press("Fit it to this wearer")
    maker.sees("It fits, within", 60)
    after = shapely.Polygon([p for e in flat(maker, piece)["panels"][0]["edges"] for p in e["points"]])
    assert after.area > before.area * 1.03
    design = next(p for b in maker.server.get("/api/builds") for p in b["pieces"] if p["id"] == piece)["design"]
    assert design["flat"]["source"] == "file"
    maker.press("Undo")
    maker.wait(
        lambda: (
            abs(
                shapely.Polygon([p for e in flat(maker, piece)["panels"][0]["edges"] for p in e["points"]]).area
                - before.area
            )
            < 1
        ),
        30,
    )
    assert maker.browser.console_errors() == []


def test_what_a_drawing_does_not_say_is_asked_and_what_is_left_out_is_told(demo, tmp_path):
    """A layer that no word explains, and the frame of a sheet: the answer is in the panel that is cut."""
    maker = demo
    cut = f'<g id="Cut"><path d="{FRONT}"/><path d="{SIDE}"/></g><g id="Venting"><circle cx="50" cy="50" r="8"/></g>'
    frame = '<g id="sheet frame"><rect width="299" height="199" fill="none" stroke="black"/></g>'
    file = tmp_path / "vented front.svg"
    file.write_bytes(svg(cut + frame))
    maker.open("/build/1/trace")
    send(maker, "pattern-file", file)
    maker.sees("“Venting” has a closed line inside panels", 60)
    maker.press("Cut out")
    maker.sees("Not in the panels: 1 line in “sheet frame”", 60)
    maker.sees("Does it go round this wearer?", 60)
    piece = int(maker.driver.current_url.rsplit("piece=", 1)[1])
    assert sorted(len(p["holes"]) for p in flat(maker, piece)["panels"]) == [0, 1]
    assert maker.browser.console_errors() == []


@long
def test_an_old_bracer_is_laid_on_another_arm(demo, tmp_path):
    """A pattern that was drawn elsewhere: glued edge to edge, laid on the body by two touches, turned by its arrow;
    then its folds, its rig and the panels on the cast are its own."""
    maker = demo
    file = tmp_path / "old bracer.svg"
    file.write_text(bracer_pattern(116, 158))
    maker.open("/build/1/trace?piece=1")
    maker.choose("pattern-template", "bracer")
    send(maker, "pattern-file", file)
    maker.sees("Not yet. Lay a panel down", 60)
    piece = int(maker.driver.current_url.rsplit("piece=", 1)[1])
    for edge in ("1-1", "2-3", "2-1", "1-3"):
        touch(maker, edge)
    maker.wait(lambda: len(flat(maker, piece)["mates"]) == 2, 30)
    maker.press("Lay it on the body")
    maker.sees("Touch a place on a panel that you know on the body")
    maker.find(".paper[data-panel='1']").click()
    maker.sees("Now touch the same place on the body: panel 1 goes there")
    maker.find(".cast canvas").click()
    maker.wait(lambda: "Touch an edge, then the edge" in maker.find("main").text, 60)
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".found"), 60)
    shown = maker.server.get(f"/api/pieces/{piece}/pattern")["panels"]
    assert {p["number"] for p in shown if p["verdict"]["state"] != "unknown"} == {1, 2}
    assert set(maker.server.get(f"/api/pieces/{piece}/cast")[0]["foam_panels"]) == {1, 2}
    head = maker.find('[aria-label="Which way is up on panel 1"]')
    ActionChains(maker.driver).drag_and_drop_by_offset(head, 30, 4).perform()
    maker.wait(lambda: 10 < laid_down(maker, piece)["up"] < 80, 30)
    maker.open(f"/build/1/foam?piece={piece}")
    maker.sees("Seam A", 60)
    assert "Its panels came flat" not in maker.find("main").text
    maker.open(f"/build/1/rig?piece={piece}")
    maker.sees("let a seam open across it", 60)
    assert maker.browser.console_errors() == []


def laid_down(maker: Maker, piece: int) -> dict:
    (own,) = [p for p in maker.server.get("/api/builds/1")["pieces"] if p["id"] == piece]
    return own["design"]["flat"]["lies"][0]


@long
def test_on_newspaper_the_floor_is_photographed_first(demo, tmp_path):
    """Two photographs by two real choices of a file, the pieces told apart from the print, and paged panels of them."""
    maker = demo
    scene = on_newspaper(1).with_shot(size=(2400, 1800))
    bare, cast = tmp_path / "floor.jpg", tmp_path / "cast on newspaper.jpg"
    bare.write_bytes(jpeg(before_it_was_laid(scene)))
    cast.write_bytes(jpeg(scene))
    maker.open("/build/1/trace")
    maker.sees("Nothing photographed yet", 40)
    send(maker, "floor-photograph", bare)
    maker.sees("The floor is kept. Now the pieces.", 120)
    send(maker, "over-photograph", cast)
    maker.sees("by the floor beneath", 200)
    maker.sees("I see 2 pieces. Is that all?")
    trace = maker.server.get("/api/traces/2")
    for shape, truth in zip(trace["shapes"], scene.pieces, strict=True):
        assert abs(shapely.Polygon(shape["outline"]).area / shapely.Polygon(truth.outline).area - 1) < 0.004
    maker.write("traced-name", "Half breastplate")
    maker.press("Make 2 panels")
    maker.sees("Touch an edge, then the edge", 40)
    maker.label("On to cutting")
    maker.sees("BP 1", 40)
    maker.label("PDF, ")
    assert len(panels_of(read_pdf(maker.downloaded("*.pdf").read_bytes())).shapes) == 2


def rub(maker: Maker, what: str, points: np.ndarray) -> None:
    """A stroke over the picture with the mouse. points: mm, y up."""
    maker.press(what, "[role=radio]")
    at = maker.driver.execute_script(
        """const m = document.querySelector("svg.ground g.table").getScreenCTM();
        const at = ([x, y]) => new DOMPoint(x, -y).matrixTransform(m);
        return arguments[0].map(at).map((p) => [p.x, p.y]);""",
        points.tolist(),
    )
    hand = ActionChains(maker.driver, duration=40)
    for k, (x, y) in enumerate(at):
        hand.w3c_actions.pointer_action.move_to_location(round(x), round(y))
        if k == 0:
            hand.w3c_actions.pointer_action.pointer_down()
    hand.w3c_actions.pointer_action.pointer_up()
    hand.perform()
    maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, "path.rubbed"), 30)


@long
def test_what_was_missed_and_run_together_is_put_right_by_three_strokes(demo, tmp_path):
    """One piece is not seen, and is rubbed in; both are made one, and parted again; a stroke that says nothing is
    answered in words; the outlines that leave lie where the pieces lie."""
    maker = demo
    scene = demo_scene(1).with_shot(size=(2400, 1800))
    photograph = tmp_path / "cast.jpg"
    photograph.write_bytes(jpeg(scene))
    maker.open("/build/1/trace")
    send(maker, "photograph", photograph)
    maker.sees("I see 2 pieces. Is that all?", 120)
    one, two = (np.array(s["outline"]) for s in maker.server.get("/api/traces/1")["shapes"])
    maker.press("Not a piece: leave it out")
    maker.sees("I see one piece. Is that all?")
    up = np.linspace(-60, 60, 7)[:, None] * (0.0, 1.0)
    rub(maker, "This is piece", one.mean(axis=0) + (20.0, 0.0) + up)
    maker.sees("I see 2 pieces. Is that all?", 30)
    rub(
        maker, "This is piece", one.mean(axis=0) + np.linspace(0, 1, 9)[:, None] * (two.mean(axis=0) - one.mean(axis=0))
    )
    maker.sees("I see one piece. Is that all?", 30)
    near = shapely.shortest_line(shapely.Polygon(one), shapely.Polygon(two))
    rub(maker, "This is floor", np.array(near.interpolate(0.5, normalized=True).coords[0]) + 2.2 * up)
    maker.sees("I see 2 pieces. Is that all?", 30)
    rub(maker, "This is floor", two.max(axis=0) + (40.0, 0.0) + 0.2 * up)
    maker.sees("No outline runs there")
    shapes = [shapely.Polygon(s["outline"]) for s in maker.server.get("/api/traces/1")["shapes"]]
    for truth in map(shapely.Polygon, (one, two)):
        apart = min(shapely.symmetric_difference(s, truth).area for s in shapes)
        assert apart < 0.01 * truth.area


def touch_rim(maker: Maker, shape: int, edge: int) -> None:
    """An edge in the picture, touched in its middle."""
    path = maker.find(f"path[data-shape='{shape}'][data-edge='{edge}']")
    x, y = maker.driver.execute_script(
        """const p = arguments[0], q = p.getPointAtLength(p.getTotalLength() / 2).matrixTransform(p.getScreenCTM());
        return [q.x, q.y];""",
        path,
    )
    hand = ActionChains(maker.driver)
    hand.w3c_actions.pointer_action.move_to_location(round(x), round(y)).click()
    hand.perform()


def grainy_png(photograph: bytes) -> bytes:
    """A photograph as a screenshot of it holds it, with the grain of a dim room: large, and all there."""
    picture = np.asarray(Image.open(io.BytesIO(photograph)).convert("RGB")).astype(float)
    grain = np.random.default_rng(8).normal(0, 3.5, picture.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(picture + grain, 0, 255).astype(np.uint8)).save(out, "PNG", compress_level=3)
    return out.getvalue()


@long
def test_a_traced_half_is_unfolded_about_its_middle(demo, tmp_path):
    """Half a breastplate on the floor, its edges bowed: that is said, the edge is drawn straight, and the other half is
    drawn on beyond it."""
    maker = demo
    photograph = tmp_path / "half.png"
    photograph.write_bytes(grainy_png(jpeg(demo_scene(1).with_shot(size=(2400, 1800)))))
    assert photograph.stat().st_size > 8e6

    def second() -> dict:
        return maker.server.get("/api/traces/1")["shapes"][1]

    maker.open("/build/1/trace")
    send(maker, "photograph", photograph)
    maker.sees("I see 2 pieces. Is that all?", 120)
    maker.sees("if the cards are printed to size: that is not checked yet")
    maker.press("It measures 100 mm")
    maker.sees("The cards' test square was measured: 100 mm")
    assert "not checked yet" not in maker.text()
    traced = second()
    touch_rim(maker, 2, 3)
    maker.press("Unfold about this edge")
    maker.sees("straighten it first")
    assert second() == traced
    maker.press("Straighten this edge")
    maker.wait(lambda: second() != traced, 40)
    half = second()
    maker.press("Unfold about this edge")
    maker.wait(lambda: second() != half, 40)
    twice = 2 * shapely.Polygon(half["outline"]).area
    assert abs(shapely.Polygon(second()["outline"]).area / twice - 1) < 0.01
    assert [x["kind"] for x in second()["lines"]].count("centre line") == 1
    maker.press("Cut 1 + 1 turned over")
    maker.wait(lambda: second()["mirrored"], 40)
    assert maker.browser.console_errors() == []
