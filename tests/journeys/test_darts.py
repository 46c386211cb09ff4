"""A maker makes panels lie flat: planned darts on a full bust, one moved by hand, a saddle met and split."""

import re

import pypdf
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.journeys.maker import Maker
from tests.journeys.test_ink import begin, piece


def asked(maker: Maker) -> float:
    """The 95th percentile that the margin shows, per cent."""
    return float(maker.find(".p95").text.removesuffix(" %"))


def panels(maker: Maker) -> int:
    return len(maker.driver.find_elements(By.CSS_SELECTOR, "g.panel"))


def settled(maker: Maker) -> bool:
    """Whether the table shows the pattern as it is cut, not the one before or one on a coarse mesh."""
    said = maker.server.get(f"/api/pieces/{piece(maker)['id']}/pattern")["panels"]
    return panels(maker) == len(said) and abs(asked(maker) - max(p["p95"] for p in said)) <= 0.06


@long
def test_a_full_bust_is_darted_by_plan_then_by_hand(maker):
    begin(maker)
    maker.press("Start measuring today")
    maker.press("Torso")
    for name, girth in (("bust", "1080"), ("underbust", "820"), ("waist", "760"), ("hip", "1010"), ("neck", "360")):
        maker.write(f"torso-{name}", girth)
    maker.press("+ Breastplate")
    maker.sees("Ink on the cast", 40)
    maker.choose("choice-front", "centre ridge")
    maker.wait(lambda: piece(maker)["design"]["choices"].get("front") == "centre ridge")
    maker.label("Lay it flat")
    maker.wait(lambda: settled(maker), 30)
    before = asked(maker)
    assert before > 8
    draw_one_by_hand(maker)
    maker.press("Plan its darts")
    maker.sees("Cut it so", 40)
    said = [float(x) for x in re.findall(r"→ ([\d.]+) %", maker.text())]
    assert said
    assert max(said) < before
    maker.press("Cut it so")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".panel .dart"), 30)
    maker.wait(lambda: asked(maker) < 5.3, 30)
    darts = [c for c in piece(maker)["design"]["cuts"] if c["kind"] == "dart"]
    assert 1 <= len(darts) <= 2
    maker.choose("dart-edges", "bevelled")
    maker.sees("The other school")
    move_the_tip(maker, darts)
    maker.press("Take it out")
    maker.wait(lambda: len(piece(maker)["design"]["cuts"]) == len(darts) - 1)
    maker.press("Undo")
    maker.wait(lambda: len(piece(maker)["design"]["cuts"]) == len(darts))
    the_ridge_is_bevelled_with_its_reason(maker, len(darts))
    assert maker.browser.console_errors() == []


def the_ridge_is_bevelled_with_its_reason(maker: Maker, darts: int) -> None:
    maker.label("On to the foam")
    maker.sees("off the inner face of both edges", 30)
    joints = maker.server.get(f"/api/pieces/{piece(maker)['id']}/foam")["joints"]
    assert sorted(j["kind"] for j in joints) == ["dart"] * darts + ["seam"]
    ridge = next(j for j in joints if j["kind"] == "seam")
    assert ridge["words"] in maker.text()
    middle = ridge["stations"][round((len(ridge["stations"]) - 1) / 2)]
    assert all(abs(bevel - middle["fold"] / 2) < 0.02 for bevel in middle["bevel"])
    assert f"{middle['bevel'][0]:.0f}° off square" in maker.text()
    where = maker.find("input[aria-label='Where along the centre ridge']")
    where.send_keys(Keys.HOME)
    first = ridge["stations"][0]
    maker.sees(f"folds {first['fold']:.0f}°, 0 mm from its lower end")


def move_the_tip(maker: Maker, darts: list) -> None:
    """Drag it: the panel lies anew while it moves, and is kept where it is let go."""
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".dart .grip"))
    grip = maker.driver.find_element(By.CSS_SELECTOR, ".dart .grip")
    k = [d["key"] for d in darts].index(grip.get_attribute("data-dart"))
    shape = maker.path()
    # Back towards its own mouth, clear of the other dart.
    dx, dy = maker.driver.execute_script(
        """const mouth = arguments[0].parentNode.querySelector(".intake").transform.baseVal[0].matrix;
        const screen = arguments[0].getScreenCTM(), [x, y] = ["cx", "cy"].map((k) => arguments[0][k].baseVal.value);
        return [(mouth.e - x) * screen.a, (mouth.f - y) * screen.d];""",
        grip,
    )
    hand = ActionChains(maker.driver, duration=120).click_and_hold(grip)
    for _ in range(4):
        hand.move_by_offset(round(0.04 * dx), round(0.04 * dy))
    hand.perform()
    maker.wait(lambda: maker.path() != shape)
    assert re.fullmatch(r"[\d.]+ %, was [\d.]+ %", maker.driver.find_element(By.CSS_SELECTOR, ".table .pointer").text)
    ActionChains(maker.driver).release().perform()
    maker.wait(lambda: piece(maker)["design"]["cuts"][k]["points"] != darts[k]["points"])
    assert piece(maker)["design"]["cuts"][k]["points"][0] == darts[k]["points"][0]
    rows = maker.driver.find_elements(By.CSS_SELECTOR, ".seams tbody tr")
    maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, ".seams .bad"))
    assert any("dart" in r.text for r in rows)


def draw_one_by_hand(maker: Maker) -> None:
    """Begun beside the panel it opens on the nearest edge; one that is too short is refused in words and put back."""
    for steps, words in ((1, "shorter than 15 mm"), (9, "")):
        maker.press("Draw a dart")
        maker.sees("Draw it in from an edge")
        panel = maker.driver.find_element(By.CSS_SELECTOR, ".panel .cut")
        # From below the hem, upwards.
        x, y = maker.driver.execute_script(
            """const sheet = arguments[0], box = sheet.getBBox(), m = sheet.getScreenCTM(), n = sheet.getTotalLength();
            const points = Array.from({length: 400}, (_, k) => sheet.getPointAtLength((k / 400) * n));
            const middle = box.x + box.width * 0.6;
            const hem = points.filter((p) => Math.abs(p.x - middle) < 6).sort((a, b) => b.y - a.y)[0];
            return [m.a * hem.x + m.e, m.d * hem.y + m.f];""",
            panel,
        )
        table = maker.driver.find_element(By.CSS_SELECTOR, ".table svg")
        box = table.rect
        at = round(x - box["x"] - box["width"] / 2), round(y + 9 - box["y"] - box["height"] / 2)
        hand = ActionChains(maker.driver, duration=100).move_to_element_with_offset(table, *at).click_and_hold()
        for _ in range(steps):
            hand.move_by_offset(0, -10)
        hand.perform()
        maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".table .pointer"))
        ActionChains(maker.driver).release().perform()
        if words:
            maker.sees(words)
            maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, ".table .pointer.stop"))
    maker.wait(lambda: len(piece(maker)["design"]["cuts"]) == 1)
    maker.press("Undo")
    maker.wait(lambda: not piece(maker)["design"]["cuts"])
    maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, ".panel .dart"))


@long
def test_a_collar_is_a_saddle_and_is_split(maker):
    begin(maker)
    maker.press("Start measuring today")
    maker.press("Neck")
    maker.sees("neck base")
    maker.write("both-neck base-girth", "400")
    maker.press("+ Gorget")
    maker.sees("Ink on the cast", 40)
    maker.write("size-flare", "34")
    maker.wait(lambda: float(piece(maker)["design"]["sizes"].get("flare", 0)) == 34)
    maker.label("Lay it flat")
    maker.wait(lambda: panels(maker) == 1, 30)
    before = asked(maker)
    maker.press("Plan its darts")
    maker.sees("no dart will do", 40)
    assert "Cut it so" not in maker.text()
    maker.press("Split it here")
    maker.wait(lambda: panels(maker) == 2, 30)
    maker.wait(lambda: asked(maker) < before)
    maker.sees("split 1")
    maker.press("Undo")
    maker.wait(lambda: panels(maker) == 1, 30)
    assert maker.browser.console_errors() == []


@long
def test_two_years_later_a_strip_and_a_recut(demo):
    maker = demo
    maker.open("/build/1/wearer?piece=1")
    maker.sees("Since last time")
    maker.label("What still fits?")
    # The demo counts back from today, so its dates are read off it.
    newest, between, oldest = sorted(
        (s["readings"]["taken_on"] for s in maker.server.get("/api/wearers/1/measurement-sets")), reverse=True
    )
    assert newest > between > oldest
    maker.sees(f"Cut to the measures of {between}", 90)
    maker.choose("since", "1")
    maker.sees(f"Cut to the measures of {oldest}", 90)
    words = maker.text()
    assert "Glue a strip of" in words
    assert "Cut it again" in words
    assert "Still fits" in words
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "figure path.new"))
    maker.press("Glue a strip", "button.line")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "figure path.strip"))
    maker.label("Strips to cut")
    file = maker.downloaded("Strips*.pdf")
    assert " strip" in "".join(page.extract_text() for page in pypdf.PdfReader(file).pages)
    assert maker.browser.console_errors() == []
