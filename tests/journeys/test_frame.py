"""Every screen at three sizes, with the longest names: no scrollbar in the frame, nothing cut off, nothing covered."""

import time

import pytest

from tests.depth import deep, long, some

SIZES = {"desk": (1280, 800), "small laptop": (1024, 768), "phone": (390, 844)}
PIECE = ("wearer", "wrap", "trace", "ink", "flatten", "foam", "heat", "cut", "bench", "finish", "rig", "fit")
COSTUME = ("together", "cut-list", "worn", "workshop", "logbook")
LONGEST = "The Tide-Worn Ceremonial Breastplate of the Seventh Keeper of the Drowned Lantern, second try"

LOOK = """
const out = [];
const wide = innerWidth, page = document.documentElement;
if (page.scrollWidth > wide + 1) out.push(`the page is ${page.scrollWidth} wide`);
const phone = wide <= 760;
if (!phone && page.scrollHeight > innerHeight + 1) out.push(`the page is ${page.scrollHeight} high`);
for (const part of document.querySelectorAll(phone ? ".shop > header" : ".shop > nav, .shop > header, .shop > footer"))
  if (part.scrollHeight > part.clientHeight + 1 || part.scrollWidth > part.clientWidth + 1)
    out.push(`${part.tagName} scrolls: ${part.scrollWidth} x ${part.scrollHeight} in ${part.clientWidth} x
    ${part.clientHeight}`);
const name = (e) => `${e.tagName} "${(e.innerText || e.getAttribute("aria-label") || e.name || "").trim()}"`;
const seen = (e) => e.checkVisibility({ visibilityProperty: true, opacityProperty: true });
/** The part of an element that its scrolling and clipping parents leave. */
function shown(e) {
  let { left, top, right, bottom } = e.getBoundingClientRect();
  for (let p = e.parentElement; p; p = p.parentElement) {
    const style = getComputedStyle(p);
    if (style.overflowX === "visible" && style.overflowY === "visible") continue;
    const box = p.getBoundingClientRect();
    [left, top] = [Math.max(left, box.left), Math.max(top, box.top)];
    [right, bottom] = [Math.min(right, box.right), Math.min(bottom, box.bottom)];
  }
  return { left, top: Math.max(top, 0), right, bottom: Math.min(bottom, innerHeight) };
}
const hands = [...document.querySelectorAll("button, a, input, select, textarea")]
  .filter((e) => !e.closest("svg, dialog, .sr") && seen(e));
for (const e of hands) {
  const whole = e.getBoundingClientRect(), box = shown(e);
  if (!whole.width || !whole.height) continue;
  const scrolls = e.closest("[class*=scroll], .group, .tabs, .work, .margin, .bench, table, .picture, aside, main");
  if (!scrolls && (whole.left < -1 || whole.right > wide + 1)) out.push(`${name(e)} is cut off at the side`);
  if (e.tagName === "BUTTON" && e.scrollWidth > e.clientWidth + 3 && getComputedStyle(e).overflowX !== "visible")
    out.push(`the words of ${name(e)} are cut off`);
  if (box.right - box.left < 6 || box.bottom - box.top < 6) continue;
  const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const there = document.elementFromPoint(x, y);
  const mine = there && (e.contains(there) || there.contains(e) || there.closest("label")?.contains(e) ||
  there.closest("label")?.control === e);
  const bar = there?.closest("footer, .fold");
  if (there && !mine && !bar) out.push(`${name(e)} is covered by ${name(there)}`);
}
return [...new Set(out)];
"""


def problems(maker, screen: str, size: str) -> list[str]:
    found = maker.driver.execute_script(LOOK)
    return [f"{screen} at {size}: {words}" for words in found]


LEFT_TO = {"small laptop": deep, "phone": long, "desk": long}


@pytest.mark.parametrize("size", [pytest.param(s, marks=LEFT_TO.get(s, ())) for s in SIZES])
def test_every_screen_has_room_for_the_longest_names(demo, size):
    maker = demo
    piece = maker.server.get("/api/builds/1")["pieces"][4]
    build = maker.server.get("/api/builds/1")
    maker.server.patch(f"/api/pieces/{piece['id']}", {"name": LONGEST})
    maker.server.put("/api/builds/1", {"name": LONGEST[::-1], "wearer_id": build["wearer_id"], "event_name": LONGEST})
    maker.browser.size(*SIZES[size])
    found = []
    for screen in (*PIECE, *COSTUME):
        maker.open(f"/build/1/{screen}?piece={piece['id']}")
        maker.wait(lambda: maker.driver.find_elements("css selector", "main h2, main h3, main .tabs"), 60)
        maker.wait(lambda: "Laying" not in maker.find("main").text, 120)
        found += problems(maker, screen, size)
    for path in ("/", "/keeping"):
        maker.open(path)
        maker.wait(lambda: maker.driver.find_elements("css selector", "main h2"), 60)
        found += problems(maker, path, size)
    assert not found, "\n".join(found)
    wrong = maker.browser.console_errors()
    assert not wrong, "\n".join(wrong)


@long
@pytest.mark.parametrize("late_demo", some((4, 0, 1, 2, 3, 5)), indirect=True)
def test_no_screen_minds_the_order_in_which_its_answers_come(late_demo):
    maker = late_demo
    pieces = maker.server.get("/api/builds/1")["pieces"]
    for k, screen in enumerate((*PIECE, *COSTUME)):
        maker.open(f"/build/1/{screen}?piece={pieces[(4 + k) % len(pieces)]['id']}")
        maker.wait(lambda: maker.driver.find_elements("css selector", "main h2, main h3, main .tabs"), 60)
        time.sleep(1)
    wrong = maker.browser.console_errors()
    assert not wrong, "\n".join(wrong)
