"""Parts on sheets, by real clicks: laid, one taken by hand and kept, a sheet cut and taken back."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.journeys.maker import Maker


def six(maker: Maker) -> dict:
    made = maker.server.get("/api/builds/1/nest")["materials"]
    return next(m for m in made if m["key"] == "armour 6")


def middle_of(maker: Maker, key: str) -> tuple[int, int]:
    box = maker.driver.execute_script(
        "const p = document.querySelector(`.nest-sheet [data-part='${arguments[0]}'] path`);"
        "p.scrollIntoView({block: 'center'}); const r = p.getBoundingClientRect();"
        "return [r.left + r.width / 2, r.top + r.height / 2];", key
    )  # fmt: skip
    return round(box[0]), round(box[1])


def test_sheets_are_laid_moved_cut_and_taken_back(demo):
    maker = demo
    shelf = {"rows": [{"kind": "armour", "thickness": 6, "sheets": 1, "size": [2000, 1000], "offcuts": [[420, 300]]}]}
    maker.server.put("/api/foam-shelf", shelf)
    maker.open("/build/1/nest")
    maker.sees("parts to lay on sheets", 60)
    maker.choose("nest-effort", "quick")
    maker.press("Lay all parts on sheets", ".lay")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, ".nest-sheet .part"), 120)
    maker.wait(lambda: six(maker)["laid"] and maker.driver.find_elements(By.CSS_SELECTOR, ".lay"), 240)
    maker.sees("an offcut you have")
    laid = six(maker)
    assert not laid["left"]
    assert not laid["to_buy"]

    sheet = next(s for s in laid["sheets"] if not s["offcut"])
    part = max(sheet["parts"], key=lambda p: max(x for x, _ in p["outline"]))
    x, y = middle_of(maker, part["key"])
    hand = ActionChains(maker.driver, duration=30)
    hand.w3c_actions.pointer_action.move_to_location(x, y)
    hand.w3c_actions.pointer_action.pointer_down()
    for step in range(1, 6):
        hand.w3c_actions.pointer_action.move_to_location(x + 40 * step, y)
    hand.w3c_actions.pointer_action.pointer_up()
    hand.perform()

    def put() -> dict | None:
        now = next(p for s in six(maker)["sheets"] for p in s["parts"] if p["key"] == part["key"])
        return now if now["x"] > part["x"] + 100 else None

    moved = maker.wait(put, 30)
    assert moved["locked"]
    maker.sees("It stays here when the rest is laid anew.")
    maker.press("↺ 45°")
    maker.wait(lambda: abs(put()["turn"] - (part["turn"] + 45) % 360) < 1e-6, 30)

    maker.press("It is cut")
    maker.sees(", cut", 30)
    assert six(maker)["cut"]
    assert six(maker)["count"] < laid["count"]
    maker.press("Undo")
    maker.wait(lambda: not six(maker)["cut"], 30)
    assert maker.server.get("/api/foam-shelf")["rows"][0]["sheets"] == 1
