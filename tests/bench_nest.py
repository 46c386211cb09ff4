"""Rows of the benchmark on the nest: the first answer for few and for many parts, and a part dragged among hundreds."""

import time

import httpx

from tests.journeys.browser import Browser, Server

DRAG_SCRIPT = """
const done = arguments[0];
const part = [...document.querySelectorAll(".nest-sheet .part")].at(-40);
const svg = part.closest("svg");
svg.scrollIntoView({ block: "center" });
svg.setPointerCapture = () => {};
const box = part.getBoundingClientRect();
const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
const send = (to, kind, px, py) =>
  to.dispatchEvent(new PointerEvent(kind, { bubbles: true, clientX: px, clientY: py, buttons: 1, pointerId: 1 }));
send(part, "pointerdown", x, y);
let frames = 0, n = 0, warm = false, from = performance.now();
const move = () => {
  n++;
  send(svg, "pointermove", x + 20 * Math.sin(n / 5), y + 10 * Math.cos(n / 7));
  requestAnimationFrame(() => {
    frames++;
    const gone = performance.now() - from;
    if (!warm && gone > 2000) [warm, frames, from] = [true, 0, performance.now()];
    else if (gone > 5000) {
      send(svg, "pointercancel", x, y);
      return done((1000 * frames) / gone);
    }
    move();
  });
};
move();
"""
"""Moves a part once for every picture that is drawn, two seconds to make shaders and five that count."""


def nest_rows(server: Server) -> list[tuple[str, str, str]]:
    """Two made-up builds of spikes: 40 parts of ten sizes, and 504 of seven."""
    with httpx.Client(base_url=f"{server.address}/api", timeout=300) as ask:
        few, _ = _first_answer(ask, "Few", [(50 + 9 * k, 4) for k in range(10)])
        many, build = _first_answer(ask, "Many", [(50 + 8 * k, 72) for k in range(7)])
    browser = Browser()
    try:
        browser.driver.get(f"{server.address}/build/{build}/nest")
        deadline = time.monotonic() + 120
        while len(browser.driver.find_elements("css selector", ".nest-sheet .part")) < 504:
            assert time.monotonic() < deadline, "the sheets are not shown"
            time.sleep(0.5)
        browser.driver.set_script_timeout(60)
        rate = browser.driver.execute_async_script(DRAG_SCRIPT)
    finally:
        browser.close()
    return [
        ("Nest of 40 parts, press to first answer", f"{few:.1f} s", "2 s"),
        ("Nest of 504 parts, press to first answer", f"{many:.1f} s", ""),
        ("Dragging a part among 504, pictures a second", f"{rate:.0f}", "20"),
    ]


def _first_answer(ask: httpx.Client, name: str, spikes: list[tuple[int, int]]) -> tuple[float, int]:
    """spikes: height, mm, and how many. Seconds until a plan is shown, and the build."""
    wearer = ask.get("/wearers").json()[0]["id"]
    build = ask.post("/builds", json={"name": name, "wearer_id": wearer}).json()["id"]
    for high, count in spikes:
        solid = {"kind": "cone", "lower": high * 0.8, "upper": 0, "high": high, "count": count // 2, "mirrored": True}
        design = {"template": "belt", "layers": [{"thickness": 6}], "solid": solid}
        ask.post(f"/builds/{build}/pieces", json={"name": f"{name} {high}", "design": design}).raise_for_status()
    ask.get(f"/builds/{build}/nest").raise_for_status()
    start = time.perf_counter()
    job = ask.post(f"/builds/{build}/nest", json={"effort": "quick"}).json()["id"]
    first = 0.0
    while ask.get(f"/jobs/{job}").json()["state"] == "running":
        shown = ask.get(f"/nests/{job}")
        if not first and shown.status_code == 200 and any(m["sheets"] for m in shown.json()):
            first = time.perf_counter() - start
        time.sleep(0.05 if not first else 1.0)
    return first or time.perf_counter() - start, build
