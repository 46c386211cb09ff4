"""A row of the benchmark on the table of what lies on a piece: a trim dragged among hundreds of rivets and scales."""

import time

import httpx

from tests.bench_rows import median_ms
from tests.journeys.browser import Browser, Server

LAID_SCRIPT = """
const done = arguments[0];
const part = () => document.querySelector("[data-part='dragged']");
const drawn = () => part() && part().querySelector("path") ? part().querySelector("path").getAttribute("d") : "";
const box = part().querySelector("path").getBoundingClientRect();
const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
const send = (kind, px, py) =>
  part().dispatchEvent(new PointerEvent(kind, { bubbles: true, clientX: px, clientY: py, buttons: 1, pointerId: 1 }));
let last = "", frames = 0, n = 0, from = 0, warm = false;
const move = () => {
  n++;
  send("pointermove", x, y - 20 + 20 * Math.sin(n / 9));
  if (performance.now() - from < 6000) return setTimeout(move, 16);
  if (!warm) {
    [warm, frames, from] = [true, 0, performance.now()];
    return setTimeout(move, 16);
  }
  send("pointerup", x, y);
  done((1000 * frames) / (performance.now() - from));
};
const seen = new MutationObserver(() => {
  if (!from || drawn() === last) return;
  last = drawn();
  requestAnimationFrame(() => frames++);
});
send("pointerdown", x, y);
setTimeout(() => {
  part().setPointerCapture = () => {};
  send("pointerdown", x, y);
  seen.observe(document.querySelector(".ground"), { subtree: true, childList: true, attributes: true });
  from = performance.now();
  move();
}, 2000);
"""
"""Takes a trim in the hand, two seconds later moves it every 16 ms for twelve seconds. Counts the trims that were
laid anew and drawn in the last six: a browser that draws without a graphics chip first makes its shaders, and puts off
a frame that shows nothing new, so none is waited for."""


def laid_rate(server: Server) -> tuple[float, int, float]:
    """Pictures a second while a trim's inset is dragged on a breastplate, how many rivets and scales lie there with it,
    and how many ms the server takes for one."""
    lines = ["neckline", "shoulder edge", "armhole", "side edge", "hem"]
    row = {"form": "row", "lines": lines, "inset": 6, "pitch": 2.8}
    scales = {"form": "scales", "lines": ["hem"], "inset": 40, "wide": 13, "high": 14, "rows": 20, "foam": 2}
    details = [
        {"key": "rivets", "kind": "rivets", "name": "rivets", "size": 2.4, "shape": row},
        {"key": "scales", "kind": "scales", "name": "scales", "shape": scales},
        {"key": "dragged", "kind": "trim", "name": "trim", "shape": {"form": "border", "lines": ["hem"], "inset": 8}},
    ]
    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        design = next(p for p in ask.get("/builds/1").json()["pieces"] if p["id"] == 5)["design"]
        making = design["making"] | {"details": details}
        ask.patch("/pieces/5", json={"design": design | {"making": making}}).raise_for_status()
        shown = ask.get("/pieces/5/laid").json()["rows"]
        tried = iter({"detail": details[2] | {"shape": details[2]["shape"] | {"inset": 8 + k}}} for k in range(12))
        ms = median_ms(lambda: ask.post("/pieces/5/laid/try", json=next(tried)).raise_for_status(), 12)
    on_table = sum(len(s["rings"]) for r in shown for s in r["shown"])
    browser = Browser()
    browser.driver.set_script_timeout(30)
    browser.driver.get(f"{server.address}/build/1/flatten?piece=5")
    time.sleep(6)
    browser.driver.execute_script("document.querySelector(\"[name='lay-on']\").click()")
    time.sleep(6)
    rate = float(browser.driver.execute_async_script(LAID_SCRIPT))
    browser.close()
    return rate, on_table, ms
