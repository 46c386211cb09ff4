"""A maker's morning with a tape measure: from an empty workshop to a worn bracer, by real clicks."""

import io
import re
import sqlite3
import time

import pypdf
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.formats.test_patterns_read_back import sides, strokes


def test_from_tape_measure_to_a_worn_bracer(maker):
    maker.open("/")
    start_a_build(maker)
    measure_the_forearm(maker)
    design_the_bracer(maker)
    print_it(maker)
    work_at_the_bench(maker)
    assert maker.browser.console_errors() == []
    maker.server.stop()
    time.sleep(2)
    maker.server.start()
    refused = [
        e
        for e in maker.browser.console_errors()
        if "ERR_CONNECTION_REFUSED" not in e and "ERR_CONNECTION_RESET" not in e
    ]
    assert refused == []
    after_the_restart(maker)
    rig_it(maker)
    fit_it(maker)
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


def start_a_build(maker):
    maker.sees("Your first build")
    maker.write("build-name", "Moth-knight of the Salt Road")
    maker.write("wearer-name", "Perrin Vale")
    maker.press("Start and measure")
    maker.sees("Nobody has been measured yet")


def measure_the_forearm(maker):
    maker.press("Start measuring today")
    maker.sees("Forearm: left and right alike")
    maker.write("both-wrist-girth", "16.4 cm")
    maker.wait(lambda: maker.value("both-wrist-girth") == "164")
    maker.write("both-belly-girth", "9 3/4 in")
    maker.wait(lambda: maker.value("both-belly-girth") == "247.7")
    maker.write("both-belly-at", "138")
    maker.write("both-elbow-girth", "9 m")
    maker.sees("very large")
    maker.press("Let me fix it")
    maker.write("both-elbow-girth", "25.6 cm")
    maker.write("both-elbow-at", "100")
    maker.sees("distances grow along the limb")
    maker.write("both-elbow-at", "236")
    maker.wait(lambda: maker.value("both-elbow-at") == "236" and "distances grow" not in maker.text())
    maker.write("both-gate", "224")
    maker.sees("Which piece comes first?")
    maker.press("+ Bracer")
    maker.sees("Lies flat")


def design_the_bracer(maker):
    narrow = maker.path()
    maker.write("ease", "5")
    maker.wait(lambda: maker.path() != narrow)
    maker.press("Back and sides")
    bare = maker.path()
    maker.choose("closure", "buckles")
    maker.wait(lambda: maker.value("gap") == "15" and maker.path() != bare)
    maker.press("Girths")
    before = maker.path()
    maker.write("girth-belly", "252")
    maker.wait(lambda: maker.path() != before)
    wide = maker.path()
    maker.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.CONTROL, "z")
    maker.wait(lambda: maker.path() == before)
    maker.press("Redo")
    maker.wait(lambda: maker.path() == wide)
    maker.press("Why the sheet is bigger than the skin")
    maker.sees("1.5 mm base layer + 5 mm ease + half of 6 mm foam = 9.5 mm")
    maker.press("Keep this version")
    maker.driver.find_element(By.CSS_SELECTOR, "form.keep input").send_keys("before any foam", Keys.ENTER)
    maker.wait(lambda: maker.server.get("/api/pieces/1/versions"), 30)
    maker.find("select#piece-picker")


def print_it(maker):
    maker.label("On to the foam")
    maker.press("Sheets")
    maker.write("armour-6-stretch", "5.4")
    maker.sees("your scrap")
    maker.label("On to cutting")
    maker.sees("Print at actual size")
    maker.press("Letter")
    maker.sees("pages of Letter")
    maker.write("square", "98")
    maker.sees("2.0 % too small")
    maker.press("Correct the next print")
    maker.sees("Prints are drawn at 102.04 %")
    maker.label("pages of Letter")
    reader = pypdf.PdfReader(io.BytesIO(maker.downloaded("*.pdf").read_bytes()))
    _, rectangles = strokes(reader.pages[0])
    assert any(sides(r) == pytest.approx([100 / 0.98] * 4, abs=0.02) for r in rectangles)
    assert re.search(r"page A1", "".join(p.extract_text() for p in reader.pages))
    maker.press("As drawn again")
    maker.label("SVG for a cutter")
    assert 'class="cut"' in maker.downloaded("*.svg").read_text()


def work_at_the_bench(maker):
    maker.label("Bench")
    maker.sees("Number the parts")
    for title in (
        "Number the parts, draw their marks",
        "Cut the pattern apart",
        "Warm the sheet flat",
        "Trace and label",
        "Cut out",
        "Put the pattern by",
        "Heat-seal both faces",
        "Ease the rim",
        "Form to the limb",
        "Dry fit with tape",
    ):
        maker.wait(lambda t=title: maker.find("article h2").text == t)
        maker.reads_cautions()
        maker.press("Why?")
        maker.does_the_step()
    maker.find("[data-step='close']").click()
    maker.wait(lambda: maker.find("article h2").text == "Fit the closure")
    maker.reads_cautions()
    maker.press("Both faces are coated: start")
    maker.sees("drying: do not press yet")
    maker.sees("touch-dry in")


def after_the_restart(maker):
    maker.driver.refresh()
    maker.find("[data-step='close']").click()
    maker.sees("drying: do not press yet")
    left = maker.find("footer .timer").text
    minutes, seconds = map(int, re.search(r"touch-dry in (\d+):(\d+)", left).groups())
    assert 8 * 60 < minutes * 60 + seconds < 9 * 60 + 58
    maker.press("Stop the timer")
    maker.sees("Nothing is drying")
    maker.press("Done, next step")
    maker.press("Yes")
    maker.sees("comes first")
    assert "✓" in maker.find("[data-step='dry-fit']").text
    assert "✓" not in maker.find("[data-step='close']").text


def rig_it(maker):
    maker.label("Rig")
    maker.sees("It holds", 30)
    maker.sees("webbing, across the opening")
    maker.sees("side-release buckles")
    maker.press("Strap 1 across")
    maker.sees("120 mm anchors, two ends + 60 mm turned over 2 × + 80 mm tail")
    maker.driver.find_element(By.TAG_NAME, "body").send_keys("/")
    maker.find("[role=dialog] input").send_keys("inches", Keys.ENTER)
    maker.wait(lambda: re.search(r"\d \d/\d+ in", maker.text()))
    maker.press("in")
    maker.wait(lambda: "mm" in maker.find(".choices").text)


def fit_it(maker):
    maker.label("Fit")
    maker.press("Write down a fitting")
    maker.find("[data-fit='wrist-good']").click()
    maker.find("[data-fit='belly-tight']").click()
    maker.write("fit-belly", "8")
    maker.press("Keep this fitting")
    maker.sees("belly tight by 8 mm")
    maker.press("Change the pattern by this")
    maker.sees("In version 3 of the pattern")
    maker.sees("farthest apart")
    new, old = maker.path("path.new"), maker.path("path.old")
    assert new != old
    maker.label("Logbook")
    maker.find("textarea[aria-label='New note']").send_keys("First dry fit: elbow free, belly was tight.")
    maker.press("Write it down")
    maker.sees("First dry fit: elbow free")
    maker.label("Flatten")
    maker.sees("Fitting changed: belly +1.3 mm")


@long
def test_the_bench_on_a_phone(demo):
    maker = demo
    maker.browser.size(390, 844)
    maker.open("/build/1/bench?piece=2")
    maker.sees("Put the pattern by")
    button = maker.wait(
        lambda: next(b for b in maker.driver.find_elements(By.TAG_NAME, "button") if "Done, next" in b.text)
    )
    assert button.size["height"] >= 56
    wide = maker.driver.execute_script("return document.documentElement.scrollWidth")
    assert wide <= 390
    maker.press("Done, next step")
    maker.wait(lambda: maker.find("article h2").text == "Heat-seal both faces")
    maker.reads_cautions()
    maker.does_the_step()
    maker.wait(lambda: maker.find("article h2").text == "Bring keel trim to its profile")
    maker.reads_cautions()
    maker.does_the_step()
    maker.wait(lambda: maker.find("article h2").text == "Ease the rim")
    for screen in ("wearer", "wrap", "flatten", "cut", "finish", "rig", "fit", "together", "worn", "logbook"):
        maker.open(f"/build/1/{screen}{'&' if '?' in screen else '?'}piece=2")
        maker.find("h2, h3")
        time.sleep(1)
    assert maker.browser.console_errors() == []


def test_the_timer_rings_until_it_is_heard(demo, tmp_path):
    """The window of a thin coat in a warm room is minutes long, so the clock in the database is moved instead."""
    maker = demo
    maker.open("/build/1/bench?piece=1")
    maker.find("[data-step='close']").click()
    maker.press("I have read this")
    maker.press("Both faces are coated: start")
    maker.sees("touch-dry in")
    for late, words in ((-601, "press now, open for"), (-1900, "press now: closes in"), (-2200, "window closed")):
        with sqlite3.connect(tmp_path / "demo" / "vellumcut.sqlite3", timeout=10) as raw:
            raw.execute("UPDATE timer SET started_at = ?", (time.time() + late,))
        raw.close()
        maker.sees(words)
        maker.find("footer.flash")
        maker.press("Heard")
        maker.wait(lambda: not maker.driver.find_elements(By.CSS_SELECTOR, "footer.flash"))
    assert maker.browser.console_errors() == []
