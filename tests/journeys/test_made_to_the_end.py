"""Two jobs by hand: a vinyl belt with a sliding plate and lacing, and a torso by hot glue without a mask."""

import pytest
from selenium.webdriver.common.by import By

from tests.depth import long
from tests.journeys.maker import Maker

BREASTPLATE = 5


def steps(maker: Maker, piece: int) -> dict[str, dict]:
    return {s["key"]: s for s in maker.server.get(f"/api/pieces/{piece}/steps")["steps"]}


def put_on(maker: Maker, piece: int, kind: str, name: str, step: str) -> None:
    maker.choose("detail-kind", kind)
    maker.write("detail-name", name)
    maker.press("Put it on")
    maker.wait(lambda: step in steps(maker, piece), 60)


def works_until(maker: Maker, piece: int, last: str) -> list[str]:
    """Do step after step as the card shows them; gives their keys in the order they were done."""
    for _ in range(70):
        maker.find("article h2")
        maker.reads_cautions()
        now = steps(maker, piece)
        if maker.find("article h2").text == now[last]["title"]:
            # After the last of all steps the card stays: it is done when the program says so.
            maker.press("Done, next step")
            maker.press("Yes")
            maker.wait(lambda: steps(maker, piece)[last]["state"] == "done", 60)
            now = steps(maker, piece)
            return sorted((k for k, s in now.items() if s["done_at"]), key=lambda k: now[k]["done_at"])
        maker.does_the_step()
    pytest.fail(f"{last} was not reached")


def test_a_drawing_of_ones_own_is_cut_as_a_stencil(demo, tmp_path):
    maker, drawing = demo, tmp_path / "sun.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">'
        '<g transform="translate(30 30)"><circle r="28"/><circle r="12"/></g></svg>'
    )
    maker.open(f"/build/1/bench?piece={BREASTPLATE}&tab=made")
    maker.choose("detail-kind", "stencil")
    maker.write("detail-name", "sun")
    maker.wait(lambda: maker.driver.find_element(By.NAME, "detail-motif").send_keys(str(drawing)) or True)
    maker.sees("its cut is 251", 30)
    maker.sees("56 mm × 56 mm")
    maker.press("Put it on")
    maker.wait(lambda: "stencil:sun" in steps(maker, BREASTPLATE), 60)
    maker.sees("cut by its drawing", 30)
    maker.open(f"/build/1/finish?piece={BREASTPLATE}")
    maker.sees("stencil: sun", 60)
    assert maker.browser.console_errors() == []


@long
def test_a_vinyl_belt_with_a_sliding_plate_and_lacing_from_cut_to_worn(demo):
    maker = demo
    maker.open("/build/1/bench?piece=1")
    maker.press("+ Piece")
    maker.find("button[data-template='belt']").click()
    maker.sees("Ink on the cast", 60)
    piece = max(p["id"] for p in maker.server.get("/api/builds")[0]["pieces"])
    maker.open(f"/build/1/rig?piece={piece}")
    maker.choose("closing", "lacing")
    maker.wait(lambda: any(p["name"] == "lace" for p in parts(maker, piece)), 60)
    assert not any("tab over" in p["name"] for p in parts(maker, piece)), "the lace takes the tab's place"
    maker.open(f"/build/1/bench?piece={piece}&tab=made")
    put_on(maker, piece, "vinyl cover", "black vinyl", "vinyl:black-vinyl")
    put_on(maker, piece, "sliding plate", "waist plate", "apart-join:waist-plate")
    maker.press("This piece")
    done = works_until(maker, piece, "final-fit")
    at = {key: n for n, key in enumerate(done)}
    assert not [k for k in done if k.startswith("coat-")], "vinyl is not painted"
    assert at["smooth"] < at["vinyl:black-vinyl"]
    assert at["reseal"] < at["vinyl:black-vinyl"]
    assert at["cut"] < at["vinyl:black-vinyl"] < at["close"] < at["final-fit"]
    assert at["shape-detail:waist-plate"] < at["apart-paint:waist-plate"] < at["apart-join:waist-plate"]
    close = steps(maker, piece)["close"]["how"]
    assert "eyelets" in close
    assert "corners only" in steps(maker, piece)["apart-join:waist-plate"]["how"]
    maker.label("Worn")
    maker.sees("Worn", 60)
    assert maker.browser.console_errors() == []


def parts(maker: Maker, piece: int) -> list[dict]:
    return [p for plan in maker.server.get(f"/api/pieces/{piece}/rig")["plans"] for p in plan["parts"]]


@long
def test_a_torso_by_hot_glue_without_a_mask_till_it_is_smooth(demo):
    maker = demo
    maker.open("/build/1/workshop")
    maker.press("✓ vapour mask")
    maker.wait(lambda: "vapour mask" not in maker.server.get("/api/owned")["protection"], 30)
    for key in ("number", "cut-paper", "warm-flat", "trace", "cut", "keep-pattern", "heat-seal"):
        maker.server.put(f"/api/pieces/{BREASTPLATE}/steps", {"key": key, "done": True, "answer": "yes"})
    maker.open(f"/build/1/bench?piece={BREASTPLATE}")
    done = works_until(maker, BREASTPLATE, "smooth")
    at = {key: n for n, key in enumerate(done)}
    assert at["dry-fit"] < at["seam:centre ridge"] < at["clay"] < at["smooth"]
    made = steps(maker, BREASTPLATE)
    assert "cover" not in made, "clay or a strip in a seam, never both"
    assert not any("contact cement" in " ".join([s["how"], *s["materials"]]) for s in made.values())
    maker.browser.driver.refresh()
    maker.sees("of work left", 60)
    assert maker.browser.console_errors() == []
