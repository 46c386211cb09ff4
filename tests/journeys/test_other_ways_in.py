"""A maker who comes with a file, works in inches and measures both arms: other inputs than the demo's."""

import re
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.formats.test_build_file import EXAMPLE


@long
def test_a_build_file_a_closed_bracer_and_two_different_arms(maker, tmp_path: Path):
    bring_in_the_file(maker, tmp_path)
    open_what_cannot_be_put_on(maker)
    measure_the_arms_apart(maker)
    undo_and_go_on(maker)
    assert maker.browser.console_errors() == []
    assert maker.browser.hosts_asked() == {"127.0.0.1"}


def bring_in_the_file(maker, tmp_path):
    broken, good = tmp_path / "broken.json", tmp_path / "BUILD.json"
    broken.write_text("{")
    good.write_text(EXAMPLE, encoding="utf-8")
    maker.open("/")
    field = maker.wait(lambda: maker.driver.find_element(By.CSS_SELECTOR, "input[type=file]"))
    field.send_keys(str(broken))
    maker.sees("is not valid JSON")
    field.send_keys(str(good))
    maker.sees("is here, with 2 pieces")
    maker.press("mm")
    maker.label("Dress bracer, left")
    maker.sees("On the table")
    maker.wait(lambda: re.search(r"\d+ \d+/16 in|\d+ \d/\d in", maker.text()))


def open_what_cannot_be_put_on(maker):
    maker.label("Rig")
    maker.press("Getting in")
    maker.sees("passes: the narrowest inside")
    maker.label("Flatten")
    maker.write("ease", "1/8")
    maker.wait(lambda: maker.value("ease") == "1/8")
    maker.label("Rig")
    maker.sees("It cannot be put on")
    maker.press("Open the back, with lacing")
    maker.sees("eyelets")
    maker.press("Getting in")
    maker.sees("It goes on")


def measure_the_arms_apart(maker):
    maker.label("Wearer")
    maker.sees("Forearm: left and right alike")
    maker.find(".apart input").click()
    maker.sees("Forearm: right")
    maker.write("right-belly-girth", "10 1/2")
    maker.wait(lambda: maker.value("right-belly-girth") == "10 1/2")
    assert maker.value("left-belly-girth") == "9 3/4"
    maker.open("/build/1/flatten?piece=1")
    maker.wait(lambda: len(maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")) == 2)
    maker.sees("2 panels")
    codes = [e.get_attribute("data-panel") for e in maker.driver.find_elements(By.CSS_SELECTOR, "g.panel")]
    assert codes == ["BC 1 L", "BC 1 R"]


def undo_and_go_on(maker):
    maker.press("Undo")
    maker.wait(lambda: maker.server.get("/api/undo")["redo"]["words"] == "Change a measure")
    maker.driver.find_element(By.TAG_NAME, "body").send_keys("/")
    maker.find("[role=dialog] input").send_keys("day and night", Keys.ENTER)
    maker.wait(lambda: "night" in maker.driver.find_element(By.TAG_NAME, "html").get_attribute("class"))
    maker.driver.find_element(By.TAG_NAME, "body").send_keys("/")
    maker.find("[role=dialog] input").send_keys("try it on", Keys.ENTER)
    maker.sees("Fittings of Bracers")
