"""Foam as a maker decides on it: too thick for a wrist, a groove on a greave, minutes under the gun."""

import io
import re

import ezdxf
import numpy as np
import pytest
import shapely
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.journeys.maker import Maker
from tests.journeys.test_ink import begin, on_sheet, piece, press_at


def tab(maker: Maker, words: str) -> None:
    maker.press(words, ".tabs button")


@long
def test_twelve_mm_on_a_slim_wrist_becomes_a_laminate(maker):
    begin(maker)
    maker.press("Start measuring today")
    for name, girth in (("wrist", "122"), ("belly", "182"), ("elbow", "7 1/2 in")):
        maker.write(f"both-{name}-girth", girth)
    maker.write("both-wrist-ratio", "0.62")
    maker.wait(lambda: maker.value("both-wrist-ratio") == "0.62")
    maker.press("+ Bracer")
    maker.wait(lambda: "flatten?piece" in maker.driver.current_url)
    maker.label("Foam")
    tab(maker, "Layers")
    maker.choose("layer-1", "12")
    maker.sees("12 mm in all", 30)
    keep_a_shelf(maker)
    tab(maker, "Bends")
    maker.sees("What else, and what it costs", 30)
    maker.sees("by your prices")
    told = maker.server.get(f"/api/pieces/{piece(maker)['id']}/foam")["bends"][0]
    assert told["strain"] > 20
    maker.sees(f"{told['strain']:.1f} %")
    maker.sees("m² foam more")
    maker.label("Flatten")
    maker.sees("too thick for its tightest curve", 30)
    maker.label("Foam")
    tab(maker, "Bends")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "[data-take='laminate']"), 30)
    maker.find("[data-take='laminate']").click()
    maker.sees("over the bend the outer layer is", 30)
    after = maker.server.get(f"/api/pieces/{piece(maker)['id']}/foam")["bends"][0]
    assert after["strain"] < 0.6 * told["strain"]
    assert [x["thickness"] for x in after["layers"]] == [6, 6]
    assert after["slip"] == pytest.approx(np.radians(after["turn"]) * 6, abs=0.1)
    maker.label("Flatten")
    maker.wait(lambda: len(maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")) == 2, 30)
    codes = [e.get_attribute("data-panel") for e in maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")]
    assert sorted(c[3:5] for c in codes) == ["1a", "1b"]
    maker.label("Bench")
    maker.sees("Glue the layers while bent", 30)
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


def keep_a_shelf(maker: Maker) -> None:
    """Two figures typed one after the other are both kept; what is no area is said and put back."""
    for name, words in (("price-armour-12", "48"), ("offcuts-armour-12", "300 x 200; 12 cm x 9 cm")):
        maker.write(name, words)
    maker.wait(lambda: len(shelf(maker)) == 1 and shelf(maker)[0]["offcuts"], 30)
    assert shelf(maker)[0]["price"] == 48
    assert shelf(maker)[0]["offcuts"] == [[300.0, 200.0], [120.0, 90.0]]
    maker.sees("0.07 m² in hand", 30)
    maker.write("offcuts-armour-12", "a big one")
    maker.sees("Write width x length")
    maker.wait(lambda: maker.value("offcuts-armour-12") == "300 × 200; 120 × 90")
    # The sheets that it could be made of instead have a price too, or their cost could not be told.
    rows = [{"kind": "armour", "thickness": t, "price": 20 + t} for t in (1, 2, 3, 4, 5, 6)]
    maker.server.put("/api/foam-shelf", {"rows": [*shelf(maker), *rows]})
    maker.driver.refresh()


def shelf(maker: Maker) -> list:
    return maker.server.get("/api/foam-shelf")["rows"]


def greave(maker: Maker) -> dict:
    return next(p for p in maker.server.get("/api/builds")[0]["pieces"] if p["name"] == "Greaves")


def groove_depth(maker: Maker) -> float | None:
    folds = greave(maker)["design"]["foam_work"]["folds"]
    return folds[0]["depth"] if folds else None


def test_a_groove_on_a_greave_to_the_cutters_file(demo):
    maker = demo
    number = greave(maker)["id"]
    maker.open(f"/build/1/ink?piece={number}")
    maker.sees("Ink on the cast", 30)
    maker.press("fold")
    for station in (0.7, 1.2, 1.6):
        press_at(maker, *on_sheet(maker, 0.06, station))
    maker.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ENTER)
    maker.wait(lambda: greave(maker)["design"]["ink"] is not None, 30)
    maker.label("Foam")
    tab(maker, "Folds")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "[data-fold]"), 30)
    name = maker.find("[data-fold]").get_attribute("data-fold")
    maker.write(f"fold-angle-{name}", "50")
    maker.write(f"depth-{name}", "3 mm")
    maker.wait(lambda: groove_depth(maker) == 3.0, 30)
    maker.sees("3 mm deep", 30)
    wide = 2 * 3 * np.tan(np.radians(25))
    maker.sees(f"{wide:.1f} mm wide")
    maker.sees("two walls at 25° each")
    maker.write(f"depth-{name}", "4.8 mm")
    maker.wait(lambda: groove_depth(maker) == 4.8, 30)
    maker.sees("leaves only 0.2 mm", 30)
    maker.press("Undo")
    maker.wait(lambda: groove_depth(maker) == 3.0, 30)
    maker.sees("3 mm deep", 30)
    maker.label("On to cutting")
    maker.sees("DXF", 30)
    maker.label("DXF")
    file = maker.downloaded("*.dxf")
    drawing = ezdxf.read(io.StringIO(file.read_text())).modelspace()
    line, *_ = (shapely.LineString(list(x.vertices())) for x in drawing.query('LWPOLYLINE[layer=="fold"]'))
    rims = [shapely.LineString(list(x.vertices())) for x in drawing.query('LWPOLYLINE[layer=="cut rim"]')]
    near = [r for r in rims if r.distance(line) < 5]
    assert len(near) == 2
    for rim in near:
        assert line.distance(shapely.Point(rim.interpolate(0.5, normalized=True))) == pytest.approx(wide / 2, abs=0.05)
    words = [t.dxf.text for t in drawing.query('TEXT[layer=="label"]')]
    assert any("V-groove 3 mm deep" in w and "inner face" in w for w in words)
    maker.label("Bench")
    maker.sees("Cut the grooves", 30)
    assert maker.browser.console_errors() == []


@long
def test_minutes_under_the_gun_with_the_simulated_probe(demo):
    maker = demo
    maker.open("/build/1/bench?piece=1")
    maker.press("Form to the limb")
    maker.label("Open the heat coach")
    maker.sees("Heat guns and irons", 30)
    for title in ("Heat guns and irons", "Scorched or burning foam"):
        maker.press("I have read this")
        maker.sees(f"{title}: read ✓", 30)
    calibrate(maker)
    maker.choose("pace", "20")
    maker.press("Gun on: start")
    maker.sees("Keep the gun moving over the outer face", 30)
    count = maker.wait(lambda: re.fullmatch(r"\d+:\d\d", maker.find("[data-number]").text))
    assert count
    hottest = obey(maker)
    maker.sees("It keeps its shape: let go", 60)
    assert 100 < hottest < 150
    maker.press("Next patch")
    maker.sees("Gun on: start")
    assert maker.browser.console_errors() == []


def calibrate(maker: Maker) -> None:
    """Two scraps that took longer than estimated make every time longer."""
    before = maker.server.get("/api/pieces/1/heat")["sheets"][0]["seconds"]
    for thick, seconds in (("4", "26"), ("6", "27")):
        maker.write("scrap-thickness", thick)
        maker.write("scrap-seconds", seconds)
        maker.press("Keep it, at high")
        maker.sees(f"after {seconds} s", 30)
    maker.wait(lambda: maker.find("[data-factor]").text)
    after = maker.server.get("/api/pieces/1/heat")
    assert after["factor"] < 0.95
    assert after["sheets"][0]["seconds"] > before


def obey(maker: Maker) -> float:
    """Do what the coach says until it says that it is done; the hottest face seen."""
    hottest = 0.0
    for _ in range(600):
        text = maker.find(".coach").text
        seen = re.search(r"face (\d+) °C", text)
        hottest = max(hottest, float(seen.group(1)) if seen else 0.0)
        if "let go" in text:
            return hottest
        for words in ("It is turned over", "It is in shape"):
            maker.pressed(words)
        maker.driver.execute_async_script("setTimeout(arguments[0], 250)")
    return hottest
