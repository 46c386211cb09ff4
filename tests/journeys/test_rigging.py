"""Straps, anchors, movement and magnets on the figure, by real clicks."""

import io
import time

import numpy as np
import pypdf
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.depth import long
from tests.formats.test_patterns_read_back import strokes
from tests.journeys.maker import Maker

BREASTPLATE, PAULDRONS, FAULDS, BELT = 5, 7, 8, 9


def rig(maker: Maker, piece: int) -> dict:
    return maker.server.get(f"/api/pieces/{piece}/rig")


def anchor(maker: Maker, piece: int, name: str) -> dict:
    return next(a for a in rig(maker, piece)["anchors"] if a["name"] == name and a["side"] == "left")


def cuisses(maker: Maker) -> dict:
    return next(p["design"] for p in maker.server.get("/api/builds")[0]["pieces"] if p["name"] == "Cuisses")


def drag(maker: Maker, name: str, by: tuple[int, int]) -> None:
    """Take an anchor where it is drawn on the figure and carry it."""
    row = maker.wait(
        lambda: maker.driver.find_elements(By.CSS_SELECTOR, f"[data-anchor='{name}'][data-side='left']"), 40
    )[0]
    canvas = maker.find(".figure canvas")
    box = canvas.size
    x, y = (int(row.get_attribute(f"data-{k}")) for k in "xy")
    at = (x - box["width"] // 2, y - box["height"] // 2)
    act = ActionChains(maker.driver, duration=250).move_to_element_with_offset(canvas, *at).click_and_hold()
    act.move_by_offset(*by).move_by_offset(0, 1).release().perform()


def on_paper(maker: Maker) -> list[np.ndarray]:
    """Every short cross stroke of the printed pattern, in mm: anchors' marks are 14 mm long."""
    file = maker.downloaded("*.pdf")
    found = []
    for page in pypdf.PdfReader(io.BytesIO(file.read_bytes())).pages:
        found += [np.array(s[1]) for s in strokes(page)[0] if len(s[1]) > 1]
    return found


@long
def test_breast_and_back_strapped_an_anchor_dragged_and_found_on_paper(demo):
    maker = demo
    maker.open(f"/build/1/rig?piece={BREASTPLATE}")
    maker.sees("It holds", 60)
    maker.sees("crossed")
    maker.press("+ Piece")
    maker.press("Backplate")
    maker.wait(lambda: any(p["name"] == "Backplate" for p in maker.server.get("/api/builds")[0]["pieces"]), 40)
    maker.open(f"/build/1/rig?piece={BREASTPLATE}")
    maker.sees("shoulder strap", 60)
    assert rig(maker, BREASTPLATE)["way"] == "shoulders and sides"
    before = anchor(maker, BREASTPLATE, "side, lower")
    maker.press("Near")
    time.sleep(1.5)
    drag(maker, "side, lower", (-14, -22))
    after = maker.wait(lambda: (a := anchor(maker, BREASTPLATE, "side, lower"))["moved"] and a, 40)
    assert after["at"][2] > before["at"][2] + 5
    maker.sees("Put back", 30)
    maker.press("Undo")
    maker.wait(lambda: not anchor(maker, BREASTPLATE, "side, lower")["moved"], 30)
    maker.press("Redo")
    maker.wait(lambda: anchor(maker, BREASTPLATE, "side, lower")["moved"], 30)
    maker.press("Openings")
    maker.choose("closing-edge", "side edge")
    maker.wait(
        lambda: (
            Select(maker.find("select[name='closing-other']")).select_by_visible_text("side edge of Backplate") or True
        )
    )
    maker.choose("closing-kind", "zip")
    maker.press("Close these edges")
    maker.sees("they face each other, on both sides", 60)
    (closed,) = rig(maker, BREASTPLATE)["facings"]
    assert closed["problem"] == ""
    assert closed["gap"] <= 20
    maker.press("Leave it open")
    maker.wait(lambda: not rig(maker, BREASTPLATE)["facings"], 30)
    told = [
        np.linalg.norm(np.diff(x["points"], axis=0), axis=1).sum()
        for p in maker.server.get(f"/api/pieces/{BREASTPLATE}/pattern.json")["panels"]
        for x in p["lines"]
        if x["name"].startswith("anchor side, lower") and not x["name"].endswith("bed")
    ]
    assert told
    maker.label("Cut")
    maker.sees("PDF", 60)
    maker.label("PDF")
    lengths = [np.linalg.norm(np.diff(s, axis=0), axis=1).sum() for s in on_paper(maker)]
    for length in told:
        assert min(abs(length - x) for x in lengths) < 0.2
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


def test_a_pauldron_is_hung_on_the_torso_and_the_helper_gets_a_card(demo):
    maker = demo
    maker.open(f"/build/1/rig?piece={PAULDRONS}")
    maker.sees("It holds", 60)
    maker.sees("webbing to the chest")
    front = next(s for s in rig(maker, PAULDRONS)["straps"] if s["key"].startswith("front|") and s["side"] == "left")
    assert front["longest"] > front["standing"]
    maker.sees(f"{round(front['cut'])} mm")
    maker.choose("piece", str(BREASTPLATE)) if maker.driver.find_elements(By.NAME, "piece") else None
    assert any(a["name"] == "pauldron: front" for a in rig(maker, BREASTPLATE)["anchors"])
    maker.label("Worn")
    maker.press("Getting dressed")
    maker.sees("Dressing order", 30)
    maker.sees("Helper")
    maker.label("Card for the helper")
    file = maker.downloaded("*ressing*.pdf")
    words = "".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(file.read_bytes())).pages)
    assert words.index("Greaves") < words.index("Breastplate") < words.index("Pauldrons")
    assert maker.browser.console_errors() == []


@long
def test_a_costume_that_cannot_sit_is_mended_by_one_press_and_undone_by_another(demo):
    maker = demo
    maker.open(f"/build/1/rig?piece={BREASTPLATE}")
    maker.sees("It holds", 60)
    maker.label("Worn")
    maker.press("sit")
    maker.sees("Cuisses and Faulds shelf meet at", 60)
    before = cuisses(maker)
    maker.press("off the upper edge of Cuisses")
    maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, "[data-bind='binds']"), 60)
    maker.wait(
        lambda: maker.driver.find_elements(By.CSS_SELECTOR, "[data-bind]") or "Nothing meets" in maker.text(), 60
    )
    left = maker.server.get("/api/builds/1/movements/left%20hip")["binds"]
    assert not [b for b in left if b["kind"] == "binds"]
    frames = int(maker.find(".figure canvas").get_attribute("data-frames") or 0)
    slider = maker.find("input[name='turn-bend']")
    ActionChains(maker.driver, duration=100).click_and_hold(slider).move_by_offset(-40, 0).move_by_offset(
        30, 0
    ).move_by_offset(-20, 0).release().perform()
    maker.wait(lambda: int(maker.find(".figure canvas").get_attribute("data-frames")) > frames + 3, 30)
    maker.press("Undo")
    maker.wait(lambda: cuisses(maker) == before, 30)
    assert maker.browser.console_errors() == []


@long
def test_magnets_for_a_belt_plate(demo):
    maker = demo
    maker.open(f"/build/1/rig?piece={BELT}")
    maker.sees("It holds", 60)
    maker.press("Magnets")
    maker.choose("magnet-edge", "upper edge")
    maker.press("Magnets along this line")
    maker.sees("couples along the upper edge", 40)
    maker.write("magnet-load-0", "2500")
    maker.wait(lambda: rig(maker, BELT)["magnets"][0]["note"]["values"][0]["amount"] == 2500, 40)
    few = rig(maker, BELT)["magnets"][0]
    maker.choose("magnet-seat-0", "back pocket")
    more = maker.wait(lambda: (m := rig(maker, BELT)["magnets"][0])["seat"] == "back pocket" and m, 40)
    assert more["couples"] > few["couples"]
    maker.sees(f"{more['couples']} couples along the upper edge", 30)
    made = maker.server.get(f"/api/pieces/{BELT}/pattern.json")
    poles = [x["name"] for p in made["panels"] for x in p["lines"] if x["name"].startswith("magnet")]
    assert len(poles) == more["couples"]
    maker.label("Bench")
    maker.sees("magnet", 60)
    assert maker.browser.console_errors() == []


@long
def test_a_seam_of_the_faulds_opens_on_snaps_and_is_glued_again(demo):
    maker = demo
    maker.open(f"/build/1/rig?piece={FAULDS}")
    maker.sees("It holds", 60)
    maker.press("Openings", ".tabs button")
    maker.press("Open this seam")
    maker.wait(lambda: rig(maker, FAULDS)["openings"], 40)
    maker.choose("opening-kind-0", "snaps")
    maker.write("opening-high-0", "60 mm")
    (made,) = maker.wait(lambda: (o := rig(maker, FAULDS)["openings"]) and o[0]["high"] == pytest.approx(60) and o, 40)
    assert made["kind"] == "snaps"
    maker.sees(f"{sum(p['count'] for p in made['parts'] if 'snaps' in p['name'])} × snaps", 30)
    drawn = maker.server.get(f"/api/pieces/{FAULDS}/pattern.json")["panels"]
    holes = [x for p in drawn for x in p["lines"] if x["name"].startswith("snaps")]
    assert len(holes) == 2 * len(made["at"])
    maker.press("Glue it again")
    maker.wait(lambda: not rig(maker, FAULDS)["openings"], 30)
    maker.press("Undo")
    maker.wait(lambda: rig(maker, FAULDS)["openings"], 30)
    assert maker.browser.console_errors() == []
