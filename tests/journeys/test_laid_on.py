"""What lies on a piece, by real clicks: a trim dragged in, a crest of three layers, scales in packs; all of it on the
cut list and in the files."""

import csv
import io
import re

import ezdxf
import httpx
import pypdf
import pytest
import shapely
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.depth import long
from tests.journeys.maker import Maker
from tests.journeys.test_foam import tab

STAR = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50">'
    '<path d="M25 0 L32 18 L50 25 L32 32 L25 50 L18 32 L0 25 L18 18 Z"/></svg>'
)


def lay_on(maker: Maker, piece: int) -> None:
    maker.open(f"/build/1/flatten?piece={piece}")
    maker.press("Lay on")
    maker.sees("What lies on it", 30)


def raw(maker: Maker, path: str) -> str:
    return httpx.get(maker.server.address + path, timeout=60).raise_for_status().text


def rows(maker: Maker, piece: int) -> dict[str, dict]:
    return {r["name"]: r for r in maker.server.get(f"/api/pieces/{piece}/laid")["rows"]}


def begin(maker: Maker, line: str, kind: str) -> None:
    """Press a line on the table, then what goes along it."""
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, f"[data-line='{line}'] .reach"), 30)
    path = maker.driver.find_element(By.CSS_SELECTOR, f"[data-line='{line}'] .reach")
    x, y = maker.driver.execute_script(
        "const p = arguments[0], at = p.getPointAtLength(p.getTotalLength() * 0.55)"
        ".matrixTransform(p.getScreenCTM()); return [at.x, at.y];", path
    )  # fmt: skip
    hand = ActionChains(maker.driver, duration=30)
    hand.w3c_actions.pointer_action.move_to_location(round(x), round(y))
    hand.w3c_actions.pointer_action.click()
    hand.perform()
    maker.sees(f"Along the {line}")
    maker.find(f"[name='lay-{kind}']").click()
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "[role=status].told"), 30)


def test_a_trim_and_rivets_from_the_table_to_the_cut_list(demo):
    maker = demo
    lay_on(maker, 5)
    begin(maker, "side edge", "trim")
    maker.write("laid-name", "side trim")
    maker.write("laid-width", "16")
    maker.write("laid-inset", "1/2 in")
    maker.wait(lambda: maker.value("laid-inset") == "12.7")
    part = maker.find("[data-part].held path")
    ActionChains(maker.driver, duration=80).click_and_hold(part).move_by_offset(-14, 0).move_by_offset(-6, 0).perform()
    maker.wait(lambda: float(maker.value("laid-inset")) > 15)
    ActionChains(maker.driver).release().perform()
    inset = float(maker.value("laid-inset"))
    maker.press("Put it on")
    maker.wait(lambda: "side trim" in rows(maker, 5), 30)
    design = next(p for b in maker.server.get("/api/builds") for p in b["pieces"] if p["id"] == 5)["design"]
    shape = next(d for d in design["making"]["details"] if d["name"] == "side trim")["shape"]
    assert (shape["inset"], shape["width"], shape["lines"]) == (inset, 16, ["side edge"])
    own = rows(maker, 5)["side trim"]
    maker.label("Cut list")
    maker.sees("parts to cut", 120)
    maker.sees("side trim")
    tab(maker, "By sheet")
    maker.sees("Breastplate: side trim")
    table = list(csv.DictReader(io.StringIO(raw(maker, "/api/builds/1/cut-list.csv"))))
    (row,) = [r for r in table if r["part"] == "Breastplate: side trim"]
    assert int(row["as drawn"]) + int(row["turned over"]) == 2
    drawing = ezdxf.read(io.StringIO(raw(maker, "/api/pieces/5/pattern.dxf")))
    assert row["label"] in {t.dxf.text for t in drawing.modelspace().query("TEXT")}
    cut = float(row["area cm2"]) * 100 * 2
    assert cut == pytest.approx(own["length"] * 16, rel=0.03)
    maker.label("Bench")
    step = next(s for s in maker.server.get("/api/pieces/5/steps")["steps"] if s["key"].startswith("trim:trim-side"))
    assert next(v["amount"] for v in step["values"] if v["word"] == "of strip") == pytest.approx(own["length"], abs=0.1)
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


@long
def test_a_crest_of_the_makers_own_and_scales_in_packs(demo, tmp_path):
    maker = demo
    star = tmp_path / "star.svg"
    star.write_text(STAR)
    lay_on(maker, 1)
    paper = maker.find("path.paper")
    ActionChains(maker.driver).move_to_element(paper).click().perform()
    maker.find("input[name='plate-name']").send_keys("star of the deep")
    maker.driver.find_element(By.CSS_SELECTOR, "input[name='detail-motif']").send_keys(str(star))
    maker.wait(lambda: maker.find("[name='lay-plate']").is_enabled(), 30)
    maker.find("[name='lay-plate']").click()
    maker.write("laid-wide", "40")
    maker.write("laid-layers", "3")
    maker.write("laid-step", "1.5")
    maker.sees("each of 3 layers", 30)
    maker.press("Put it on")
    maker.wait(lambda: "star of the deep" in rows(maker, 1), 60)
    svg = raw(maker, "/api/pieces/1/pattern.svg")
    drawn = [shapely.Polygon(_points(d)).area for d in re.findall(r'T1\.\d+[^"]* outline" d="([^"]+)"', svg)]
    whole = shapely.Polygon([(25, 0), (32, 18), (50, 25), (32, 32), (25, 50), (18, 32), (0, 25), (18, 18)])
    wanted = [shapely.affinity.scale(whole, 0.8, 0.8).buffer(-1.5 * k, join_style="mitre").area for k in range(3)]
    assert drawn == pytest.approx(wanted, rel=0.01)
    lay_on(maker, 1)
    maker.press("Change")
    paper = maker.find("a[href$='sizes.pdf']")
    assert paper.text == "Three sizes on paper"
    pages = pypdf.PdfReader(io.BytesIO(httpx.get(paper.get_attribute("href"), timeout=60).content)).pages
    told = " ".join(page.extract_text() for page in pages)
    assert all(f"{wide} mm across" in told for wide in (32, 40, 50))
    lay_on(maker, 4)
    begin(maker, "lower edge", "scales")
    maker.write("laid-wide", "28")
    maker.write("laid-pack", "50")
    maker.sees("packs of 50", 30)
    maker.press("Put it on")
    maker.wait(lambda: any("scales" in r for r in rows(maker, 4)), 60)
    own = next(r for n, r in rows(maker, 4).items() if "scales" in n)
    assert own["packs"] == -(-(own["count"] + round(own["count"] / 10)) // 50)
    assert f"{own['count']} scales" in own["words"]
    assert maker.browser.console_errors() == []


def problems(maker: Maker) -> bool:
    return bool(maker.driver.find_elements(By.CSS_SELECTOR, "[role=status].told .stop"))


@long
def test_rivets_on_eyelets_are_mended_by_one_press_and_plates_lie_on_their_base(demo):
    maker = demo
    lay_on(maker, 1)
    begin(maker, "upper edge", "rivets")
    maker.wait(lambda: problems(maker), 30)
    maker.sees("eyelets are under")
    assert maker.driver.find_elements(By.CSS_SELECTOR, ".wrong path"), "it is marked where it is"
    maker.find("[name='laid-mend']").click()
    maker.wait(lambda: not problems(maker), 60)
    maker.press("Put it on")
    maker.wait(lambda: "rivets along the upper edge" in rows(maker, 1), 60)
    assert rows(maker, 1)["rivets along the upper edge"]["problems"] == []
    lay_on(maker, 1)
    begin(maker, "lower edge", "segments")
    maker.write("laid-name", "arm plates")
    maker.write("laid-count", "4")
    maker.write("laid-overlap", "6")
    maker.sees("each 6 mm over the one before it", 30)
    maker.press("Put it on")
    maker.wait(lambda: "arm plates" in rows(maker, 1), 60)
    assert rows(maker, 1)["arm plates"]["count"] == 8
    svg = raw(maker, "/api/pieces/1/pattern.svg")
    assert len(set(re.findall(r"T2\.\d+", svg))) == 4
    steps = {s["key"]: s for s in maker.server.get("/api/pieces/1/steps")["steps"]}
    taped = next(s for k, s in steps.items() if k.startswith("tape-segments"))
    assert "8 plates" in " ".join(s["how"] for k, s in steps.items() if k.endswith(taped["key"].partition(":")[2]))
    assert maker.browser.console_errors() == []


@long
def test_a_mitred_hem_a_collar_and_a_stone_in_its_rim_to_the_masks(demo, tmp_path):
    """A border round the hem's corner, what goes on from the neckline, and what is set in after paint."""
    maker = demo
    lay_on(maker, 5)
    begin(maker, "hem", "trim")
    maker.write("laid-name", "mitred hem")
    maker.find("[data-line='side edge'] .reach")
    next(b for b in maker.driver.find_elements(By.CSS_SELECTOR, "button.chip") if b.text == "side edge").click()
    maker.write("laid-inset", "22")
    maker.wait(lambda: maker.value("laid-inset") == "22")
    maker.press("Put it on")
    maker.wait(lambda: "mitred hem" in rows(maker, 5), 60)
    own = rows(maker, 5)["mitred hem"]
    begin(maker, "neckline", "collar")
    maker.write("laid-name", "standing collar")
    maker.write("laid-flare", "35")
    maker.sees("to cut, 40 mm high", 30)
    maker.press("Put it on")
    maker.wait(lambda: "standing collar" in rows(maker, 5), 60)
    svg = raw(maker, "/api/pieces/5/pattern.svg")
    numbered = {n: k for k, n in enumerate(rows(maker, 5), 1)}
    strips, collar = (
        [shapely.Polygon(_points(d)).buffer(0).area for d in re.findall(rf'T{k}\.\d+[^"]* outline" d="([^"]+)"', svg)]
        for k in (numbered["mitred hem"], numbered["standing collar"])
    )
    assert len(strips) >= 2, "parted where the hem turns into the side"
    assert sum(strips) * 2 == pytest.approx(own["length"] * own["width"], rel=0.04)
    along = 40 * rows(maker, 5)["standing collar"]["length"]
    assert 0.85 * along < 2 * sum(collar) < along, "round a hollow edge what stands out is the shorter side"
    lay_on(maker, 4)
    star = tmp_path / "star.svg"
    star.write_text(STAR)
    ActionChains(maker.driver).move_to_element(maker.find("path.paper")).click().perform()
    maker.find("input[name='plate-name']").send_keys("sea stone")
    maker.driver.find_element(By.CSS_SELECTOR, "input[name='detail-motif']").send_keys(str(star))
    maker.wait(lambda: maker.find("[name='lay-plate']").is_enabled(), 30)
    maker.find("[name='lay-plate']").click()
    maker.choose("laid-kind", "gem")
    maker.write("laid-wide", "36")
    maker.sees("round a seat for what is 36 mm across", 30)
    maker.press("Put it on")
    maker.wait(lambda: "sea stone" in rows(maker, 4), 60)
    told = maker.server.get("/api/pieces/4/finish")
    assert any("seat of sea stone" in m for m in told["masks"])
    steps = [
        s["key"].partition(":")[0] for s in maker.server.get("/api/pieces/4/steps")["steps"] if "stone" in s["key"]
    ]
    assert steps.index("prop") < steps.index("lay-on") < steps.index("mask-seat") < steps.index("apart-join")
    assert maker.browser.console_errors() == []


def _points(path: str) -> list[tuple[float, float]]:
    """Corners of a path of straight pieces and curves that run straight."""
    numbers = [float(x) for x in re.findall(r"-?\d+\.?\d*", path)]
    return list(zip(numbers[::2], numbers[1::2], strict=True))
