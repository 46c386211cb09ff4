"""A maker draws on the cast: a breastplate from measures, a greave off a scan, an arm in segments."""

import re

import numpy as np
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.journeys.maker import Maker
from vellumcut.formats.body.mesh_files import write_mesh
from vellumcut.standins.made_up_body import BodyShape, made_up_body


def begin(maker: Maker) -> None:
    maker.open("/")
    maker.sees("Your first build")
    maker.write("build-name", "Keeper of the Tide Bell")
    maker.write("wearer-name", "Ilva Marrow")
    maker.press("Start and measure")
    maker.sees("Nobody has been measured yet")


def piece(maker: Maker) -> dict:
    return maker.server.get("/api/builds/1")["pieces"][-1]


def numbers(maker: Maker) -> list:
    return maker.driver.find_elements(By.CSS_SELECTOR, ".ink-sheet .number")


def press_line(maker: Maker, key: str) -> None:
    """Press a stroke where it runs: at the middle of its drawn length."""
    where = """const p = document.querySelector(`.ink-sheet .grip[data-stroke="${arguments[0]}"]`);
        const at = p.getPointAtLength(p.getTotalLength() * 0.37).matrixTransform(p.getScreenCTM());
        return [at.x, at.y];"""
    x, y = maker.driver.execute_script(where, key)
    press_at(maker, x, y)


def press_at(maker: Maker, x: float, y: float, times: int = 1) -> None:
    hand = ActionChains(maker.driver, duration=30)
    hand.w3c_actions.pointer_action.move_to_location(round(x), round(y))
    for _ in range(times):
        hand.w3c_actions.pointer_action.click()
    hand.perform()


def on_sheet(maker: Maker, around: float, station: float) -> tuple[float, float]:
    """Where a place of the body lies on the screen, by the drawn stations and the sheet's own outline."""
    script = """const svg = document.querySelector('.ink-sheet');
        const lines = [...svg.querySelectorAll('.grid line')].map((l) => [+l.getAttribute('y1'),
        +l.getAttribute('x2')]);
        const [k, u] = [arguments[1], arguments[0]];
        const i = Math.min(Math.floor(k), lines.length - 2);
        const y = lines[i][0] + (lines[i + 1][0] - lines[i][0]) * (k - i);
        const half = lines[i][1] + (lines[i + 1][1] - lines[i][1]) * (k - i);
        const at = new DOMPoint(u * 2 * half, y).matrixTransform(svg.getScreenCTM());
        return [at.x, at.y];"""
    x, y = maker.driver.execute_script(script, around, station)
    return x, y


def drag(maker: Maker, css: str, dx: int, dy: int) -> None:
    hand = ActionChains(maker.driver, duration=60)
    hand.click_and_hold(maker.find(css))
    for _ in range(5):
        hand.move_by_offset(dx // 5, dy // 5)
    hand.release().perform()


@long
def test_from_measures_to_an_inked_breastplate(maker):
    begin(maker)
    maker.press("Start measuring today")
    maker.press("Torso")
    maker.write("torso-bust", "96.8 cm")
    maker.write("torso-waist", "32 in")
    maker.wait(lambda: maker.value("torso-waist") == "812.8")
    guessed = maker.wait(lambda: maker.find("input[name='torso-hip']").get_attribute("placeholder"))
    assert 900 < int(guessed.strip("≈ ")) < 1080
    maker.sees("12 of 14 are guessed")
    maker.press("+ Breastplate")
    maker.sees("Ink on the cast")
    maker.wait(lambda: len(numbers(maker)) == 1)
    maker.choose("choice-front", "cups")
    maker.wait(lambda: len(numbers(maker)) == 3)
    draw_by_hand(maker)
    take_back(maker)
    maker.label("Lay it flat")
    maker.wait(lambda: len(maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")) == 2)
    maker.sees("Guessed by proportion")
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


def draw_by_hand(maker):
    press_line(maker, "hem")
    maker.wait(lambda: maker.find("h3").text == "hem")
    before = maker.wait(lambda: maker.find(".ink-sheet .dot[data-point='2']")).get_attribute("cy")
    drag(maker, ".ink-sheet .dot[data-point='2']", 0, 40)
    maker.wait(lambda: piece(maker)["design"]["ink"] is not None)
    dot = ".ink-sheet .dot[data-point='2']"
    maker.wait(lambda: float(maker.find(dot).get_attribute("cy")) > float(before) + 10)
    maker.choose("point-station", "1")
    maker.write("point-above", "-6 cm")
    hem = maker.wait(
        lambda: next((s for s in ink(maker) if s["key"] == "hem" and near(maker, s["points"][2][1], -60)), None)
    )
    maker.find(".ink-sheet").click()
    press_line(maker, "hem")
    drag(maker, ".ink-sheet .dot[data-point='2']", 0, -5)
    maker.wait(lambda: next(s for s in ink(maker) if s["key"] == "hem")["points"][2] != hem["points"][2])
    maker.wait(lambda: maker.value("point-above") != "-60")
    maker.press("Undo")
    maker.wait(lambda: next(s for s in ink(maker) if s["key"] == "hem")["points"] == hem["points"])
    maker.wait(lambda: maker.value("point-above") == "-60")
    maker.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ARROW_DOWN)
    maker.wait(lambda: near(maker, next(s for s in ink(maker) if s["key"] == "hem")["points"][2][1], -61))


def ink(maker) -> list[dict]:
    return piece(maker)["design"]["ink"]["strokes"]


def near(maker, along: float, mm_from_waist: float) -> bool:
    sheet = maker.server.get("/api/pieces/1/sheet")
    mm = float(np.interp(along, sheet["along"], sheet["levels"]))
    return abs(mm - sheet["stations"][1]["mm"] - mm_from_waist) < 0.6


def take_back(maker):
    """A line that does not close is pointed at, and undo takes it away again."""
    maker.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    strokes = len(ink(maker))
    maker.press("seam")
    for around, station in ((0.03, 1.5), (0.09, 1.6)):
        press_at(maker, *on_sheet(maker, around, station))
    maker.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ENTER)
    maker.wait(lambda: len(ink(maker)) == strokes + 1)
    maker.sees("does not close")
    assert maker.driver.find_elements(By.CSS_SELECTOR, ".ink-sheet .problem")
    maker.press("Undo")
    maker.wait(lambda: len(ink(maker)) == strokes)
    maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, ".ink-sheet .problem"))


@long
def test_from_a_scan_to_an_inked_greave(maker, tmp_path):
    points, faces = made_up_body(BodyShape(height=1760, girth=1.06, bust=20), 12.0)
    cos, sin = np.cos(np.radians(25)), np.sin(np.radians(25))
    points = points @ np.array([[cos, sin, 0], [-sin, cos, 0], [0, 0, 1]])
    metres = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1) / 1000
    scan, text = tmp_path / "visitor.ply", tmp_path / "notes.ply"
    scan.write_bytes(write_mesh(metres, faces, "ply"))
    text.write_text("girths: see the other page")
    begin(maker)
    maker.label("Begin with a scan")
    maker.sees("No scan of this wearer yet")
    field = maker.wait(lambda: maker.driver.find_element(By.CSS_SELECTOR, "input[name='scan-file']"))
    field.send_keys(str(text))
    maker.sees("not a PLY mesh, whatever its name says")
    field.send_keys(str(scan))
    maker.sees("Lower leg, left", 40)
    maker.sees("The tube follows the scan", 40)
    residual = float(re.search(r"95 % of it within\s+([\d.]+) mm", maker.text()).group(1))
    assert residual < 1.0
    # It stood turned; it is read as it stood, and that is said.
    maker.sees("The body stood turned by 25 degrees")
    assert maker.find("input[name='turned']").get_attribute("value") == "25"
    maker.press("+5")
    maker.sees("Moved by hand")
    maker.sees("The tube follows the scan", 40)
    maker.press("Use it for patterns")
    maker.press("Ink a ridged greave on it")
    maker.sees("Ink on the cast")
    maker.wait(lambda: len(numbers(maker)) == 2, 40)
    fitted = next(s["girth"] for s in maker.server.get("/api/pieces/1/sheet")["stations"] if s["name"] == "calf")
    assert 380 < fitted < 440
    maker.label("Lay it flat")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "g.panel"), 40)
    rows = maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".seams tbody tr"))
    assert any(r.text.startswith("shin ridge") for r in rows)
    assert maker.browser.console_errors() == []


def test_a_segmented_arm_is_numbered_from_the_wrist(maker):
    begin(maker)
    maker.press("Start measuring today")
    for name, girth in (("wrist", "164"), ("belly", "25 cm"), ("elbow", "262")):
        maker.write(f"both-{name}-girth", girth)
    maker.press("+ Segmented bracer")
    maker.wait(lambda: len(numbers(maker)) == 4)
    field = maker.find("input[name='size-segments']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("5", Keys.TAB)
    maker.wait(lambda: len(numbers(maker)) == 5)
    rows = sorted((float(n.rect["y"]), n.text) for n in numbers(maker))
    assert [word for _, word in rows] == ["5", "4", "3", "2", "1"]
    maker.label("Lay it flat")
    maker.wait(lambda: len(maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")) == 5)
    codes = {e.get_attribute("data-panel") for e in maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")}
    assert codes == {f"SB {n} L" for n in range(1, 6)}
    maker.browser.size(390, 780)
    maker.open("/build/1/ink?piece=1")
    maker.wait(lambda: len(numbers(maker)) == 5)
    assert maker.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    assert maker.browser.console_errors() == []
