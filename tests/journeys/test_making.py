"""A maker makes it: a breastplate from cut parts to the clear coat, without a mask, and in mirror metal."""

import itertools

import pypdf
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.depth import long
from tests.formats.test_patterns_read_back import strokes
from tests.journeys.maker import Maker

BREASTPLATE = 5


def steps(maker: Maker) -> dict[str, dict]:
    return {s["key"]: s for s in maker.server.get(f"/api/pieces/{BREASTPLATE}/steps")["steps"]}


def with_cups(maker: Maker) -> None:
    maker.open(f"/build/1/ink?piece={BREASTPLATE}")
    maker.sees("Ink on the cast", 40)
    maker.choose("choice-front", "cups")
    maker.wait(lambda: "cup:cup" in steps(maker), 40)


def title(maker: Maker) -> str:
    return maker.find("article h2").text


@long
def test_a_breastplate_with_cups_and_collar_up_to_the_clear_coat(demo):
    maker = demo
    with_cups(maker)
    for key in ("number", "cut-paper", "warm-flat", "trace", "cut", "keep-pattern", "heat-seal"):
        maker.server.put(f"/api/pieces/{BREASTPLATE}/steps", {"key": key, "done": True, "answer": "yes"})
    maker.label("Bench")
    maker.press("How it is made")
    maker.choose("detail-kind", "collar")
    maker.write("detail-name", "standing collar")
    maker.choose("detail-edge", "neckline")
    maker.press("Put it on")
    maker.wait(lambda: "collar:standing-collar" in steps(maker), 40)
    maker.press("Reference")
    maker.find("input[name='reference-check']").send_keys("cups stand apart by a thumb", Keys.ENTER)
    maker.wait(lambda: len(steps(maker)["dry-fit"]["checks"]) == 3, 30)
    maker.press("This piece")
    asked_and_mended = False
    for _ in range(70):
        maker.find("article h2")
        now = title(maker)
        maker.reads_cautions()
        if now == "Set in the cup" and not asked_and_mended:
            asked_and_mended = a_cup_that_does_not_meet(maker)
        maker.does_the_step()
        if steps(maker)["coat-clear:rest.satin clear"]["state"] == "done":
            break
    done = [k for k, s in steps(maker).items() if s["state"] == "done"]
    assert asked_and_mended
    order = [
        "dry-fit",
        "dust-glue",
        "dart:cup dart 1",
        "cup:cup",
        "collar:standing-collar",
        "surplus",
        "smooth",
        "coat-primer:rest.rubbery primer",
    ]
    at = {k: steps(maker)[k]["done_at"] for k in order}
    assert sorted(order, key=lambda k: at[k]) == order
    assert "coat-clear:rest.satin clear" in done
    assert "apart-join:bell" not in done, "what is painted apart is joined after the clear"
    maker.press("The order")
    maker.sees("Thick edges: the longest way", 40)
    assert maker.driver.find_elements(By.CSS_SELECTOR, "g.chip.done")
    maker.label("All steps")
    maker.sees("In one go", 60)
    maker.press("All pieces in order")
    maker.sees("Thick edges: the longest way", 40)
    assert maker.driver.find_elements(By.CSS_SELECTOR, "g.chip.done")
    assert maker.browser.console_errors() == []


def a_cup_that_does_not_meet(maker: Maker) -> bool:
    maker.press("Done, next step")
    maker.sees("Do the marks meet")
    maker.find("article .ask .no").click()
    maker.sees("Mend it first")
    maker.sees("press it from the middle mark out")
    assert steps(maker)["cup:cup"]["state"] == "mend"
    assert steps(maker)["surplus"]["state"] == "blocked"
    maker.driver.refresh()
    maker.sees("Mend it first", 30)
    maker.press("Mended: look again")
    maker.wait(lambda: steps(maker)["cup:cup"]["answer"] == "", 30)
    maker.wait(lambda: "Mend it first" not in maker.text(), 30)
    return True


def test_the_maker_without_a_mask_gets_hot_glue_and_clay(demo):
    maker = demo
    maker.open(f"/build/1/bench?piece={BREASTPLATE}")
    maker.find("[data-step='seam:centre ridge']").click()
    maker.sees("contact cement on both faces")
    maker.label("Workshop")
    maker.press("✓ vapour mask")
    maker.wait(lambda: "vapour mask" not in maker.server.get("/api/owned")["protection"], 30)
    maker.label("Bench")
    maker.sees("Fill the gaps with foam clay", 30)
    maker.find("[data-step='seam:centre ridge']").click()
    maker.sees("Hot glue in thin lines", 30)
    maker.press("Why?")
    maker.sees("You have no vapour mask")
    assert not maker.driver.find_elements(By.CSS_SELECTOR, "[data-caution='solvents']")
    assert maker.browser.console_errors() == []


@long
def test_a_mirror_is_refused_its_clear_and_its_mask_is_printed(demo):
    maker = demo
    with_cups(maker)
    maker.open(f"/build/1/finish?piece={BREASTPLATE}")
    maker.sees("painted metal", 40)
    zones = list(dict.fromkeys(z["name"] for z in finish(maker)["zones"] if z["panel"] == 1))
    for zone in zones:
        maker.find(f"[data-zone='{zone}']").click()
    maker.sees(f"Zones {', '.join(zones)} chosen")
    maker.find("[data-recipe='mirror metal']").click()
    maker.wait(lambda: len(finish(maker)["finishes"]) == 2, 30)
    maker.press("mirror metal", "nav[aria-label='Finishes'] button")
    maker.sees("Nothing speaks against it", 30)
    maker.choose("layer-new", "gloss clear")
    maker.press("Lay it on")
    maker.sees("Any clear turns a mirror grey", 30)
    maker.sees("Leave it bare")
    maker.sees("One layer cannot stay so")
    maker.find("button[aria-label='Take out layer 5']").click()
    maker.sees("Nothing speaks against it", 30)
    assert "cannot stay so" not in maker.text()
    maker.sees(f"mirror metal, zone {zones[0]}")
    maker.label("PDF, full size")
    file = maker.downloaded("*.pdf")
    pages = pypdf.PdfReader(file).pages
    assert f"2 x mirror metal, zone {zones[0]}, 1 of them face down" in pages[0].extract_text()
    drawn = sum(length(points) for page in list(pages)[1:] for _, points in strokes(page)[0] if not box(points))
    pattern = maker.server.get(f"/api/pieces/{BREASTPLATE}/pattern.json")
    cup = next(p for p in pattern["panels"] if p["number"] == 1)
    assert drawn >= 0.97 * cup["outline_length"], "pages that overlap draw some of it twice"
    assert any(k == f"coat-metal:{zones[0]}.mirror chrome" for k in steps(maker))
    assert maker.browser.console_errors() == []


def finish(maker: Maker) -> dict:
    return maker.server.get(f"/api/pieces/{BREASTPLATE}/finish")


def length(points) -> float:
    return sum(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5 for a, b in itertools.pairwise(points))


def box(points) -> bool:
    """Whether it is a page's frame."""
    return len(points) <= 5
