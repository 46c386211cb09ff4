"""``make bench``: the figures that must hold, measured on this machine and written to docs/benchmarks.md."""

import io
import math
import os
import platform
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path

import httpx
import numpy as np
from PIL import Image

from tests.bench_core import core_rows
from tests.bench_laid import laid_rate
from tests.bench_nest import nest_rows
from tests.bench_rows import foam_rows, making_rows, median_ms, restart_rows, rig_rows, suit, timed_job
from tests.journeys.browser import Browser, Server

PAGE = Path(__file__).parents[1] / "docs" / "benchmarks.md"

PAINTED = """
const painted = (then) => requestAnimationFrame(() => setTimeout(then));
const watch = (see, then) => {
  const look = new MutationObserver(() => {
    if (!see()) return;
    look.disconnect();
    painted(then);
  });
  look.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
  if (see()) (look.disconnect(), painted(then));
};
"""
"""Watches the page, and goes on once what it waits for has been drawn. It asks for no frame while nothing changes: a
browser without a window puts such a frame off, by seconds."""
EDIT_SCRIPT = (
    PAINTED
    + """
const [name, value, done] = arguments;
const field = document.querySelector(`input[name='${name}']`);
const before = document.querySelector("path.cut").getAttribute("d");
const start = performance.now();
const now = () => document.querySelector("path.cut")?.getAttribute("d") ?? before;
watch(() => now() !== before, () => done(performance.now() - start));
field.value = value;
field.dispatchEvent(new Event("input", { bubbles: true }));
field.dispatchEvent(new Event("change", { bubbles: true }));
"""
)


def first_views(server: Server) -> tuple[float, float]:
    """Address to first readable build list: a browser that has never been here, and one that has; ms, medians."""
    cold, warm = [], []
    for _ in range(3):
        browser = Browser()
        browser.driver.set_script_timeout(20)
        for n in range(4):
            browser.driver.get("about:blank")
            start = time.perf_counter()
            browser.driver.get(server.address)
            browser.driver.execute_async_script(
                PAINTED + "watch(() => document.querySelector('.build h2'), arguments[0])"
            )
            (warm if n else cold).append((time.perf_counter() - start) * 1000)
        browser.close()
    return statistics.median(cold), statistics.median(warm)


def girth_edits(server: Server, piece: int, station: str, girths: list[int]) -> list[float]:
    """Leaving the girth's field to the new outline painted, ms."""
    browser = Browser()
    browser.driver.set_script_timeout(30)
    browser.driver.get(f"{server.address}/build/1/flatten?piece={piece}")
    time.sleep(5)
    press = "[...document.querySelectorAll('.group .head')].find(b => b.textContent.includes('Girths')).click()"
    browser.driver.execute_script(press)
    time.sleep(0.5)
    taken = []
    for girth in girths:
        taken.append(float(browser.driver.execute_async_script(EDIT_SCRIPT, f"girth-{station}", str(girth))))
        time.sleep(1.2)
    browser.close()
    return taken


DRAG_SCRIPT = """
const [css, x, y, done] = arguments;
const on = document.querySelector(css);
const send = (kind, px, py, target) =>
  target.dispatchEvent(new PointerEvent(kind, { bubbles: true, clientX: px, clientY: py, buttons: 1, pointerId: 1,
  isPrimary: true, altKey: true }));
send("pointerdown", x, y, document.elementFromPoint(x, y));
let last = "", frames = 0, n = 0;
const from = performance.now();
const step = () => {
  const at = document.querySelector(".ink-sheet .dot.at")?.getAttribute("cy");
  if (at && at !== last) { frames++; last = at; }
  n++;
  send("pointermove", x + 6 * Math.sin(n / 7), y + 14 * Math.sin(n / 5), on);
  if (performance.now() - from < 6000) return requestAnimationFrame(step);
  send("pointerup", x, y, on);
  done((1000 * frames) / (performance.now() - from));
};
requestAnimationFrame(step);
"""
"""Moves the pointer once a frame for six seconds and counts the frames in which the point has followed."""


def posture_rate(server: Server) -> float:
    """Pictures a second of the whole costume while a joint is dragged."""
    browser = Browser()
    browser.driver.set_script_timeout(40)
    browser.driver.get(f"{server.address}/build/1/worn?piece=5")
    time.sleep(12)
    press = "[...document.querySelectorAll('button')].find(b => b.textContent.trim() === '{}').click()"
    browser.driver.execute_script(press.format("sit"))
    time.sleep(4)
    slide = "const r = document.querySelector(\"input[name='turn-bend']\").getBoundingClientRect();"
    left, wide, y = browser.driver.execute_script(slide + "return [r.x, r.width, r.y + r.height / 2]")
    drawn = "return Number(document.querySelector('.figure canvas').dataset.frames)"
    _mouse(browser, "mousePressed", left + wide / 2, y)
    before, begin, n = browser.driver.execute_script(drawn), time.perf_counter(), 0
    while (took := time.perf_counter() - begin) < 12:
        n += 1
        _mouse(browser, "mouseMoved", left + wide * (0.5 + 0.4 * math.sin(n / 9)), y)
    rate = (browser.driver.execute_script(drawn) - before) / took
    _mouse(browser, "mouseReleased", left + wide / 2, y)
    browser.close()
    return rate


def drag_rates(server: Server) -> tuple[float, float]:
    """Frames a second in which a dragged ink point moves: on the sheet, and when dragged on the cast."""
    browser = Browser()
    browser.driver.get(f"{server.address}/build/1/ink?piece=5")
    time.sleep(6)
    where = """const p = document.querySelector('.ink-sheet .grip[data-stroke="hem"]');
        const at = p.getPointAtLength(p.getTotalLength() * 0.4).matrixTransform(p.getScreenCTM()); return [at.x,
        at.y];"""
    _mouse(browser, "mousePressed", *browser.driver.execute_script(where))
    _mouse(browser, "mouseReleased", *browser.driver.execute_script(where))
    time.sleep(1)
    box = browser.driver.execute_script(
        "const r = document.querySelector('.ink-sheet .dot[data-point=\"1\"]').getBoundingClientRect(); return [r.x "
        "+ r.width / 2, r.y + r.height / 2];"
    )
    on_sheet = float(browser.driver.execute_async_script(DRAG_SCRIPT, ".ink-sheet", *box))
    on_cast = 0.0
    for _ in range(3):
        # The cast follows the sheet in its own time: a hand that finds nothing where the point was looks again.
        time.sleep(3)
        where_now = _red_ball(browser)
        if where_now is None:
            continue
        on_cast = float(browser.driver.execute_async_script(DRAG_SCRIPT, ".both canvas:not(.over)", *where_now))
        if on_cast >= 1:
            break
    rates = [on_sheet, on_cast]
    browser.close()
    if min(rates) < 1:
        raise RuntimeError(f"the hand missed its point: {rates}")
    return rates[0], rates[1]


TICK_SCRIPT = (
    PAINTED
    + """
const done = arguments[0];
const say = (word) => [...document.querySelectorAll("article button")].find((b) => b.textContent.trim() === word);
const title = () => document.querySelector("article h2").textContent;
const now = title();
say("Done, next step").click();
requestAnimationFrame(() => {
  const from = performance.now();
  say("Yes")?.click();
  watch(() => title() !== now, () => done(performance.now() - from));
});
"""
)
"""Presses Done, answers the question if there is one, and waits till the next step stands there."""


def ticks_on_screen(server: Server) -> list[float]:
    """ms from the press to the next step on the screen, for the first six steps of the breastplate."""
    browser = Browser()
    browser.driver.set_script_timeout(30)
    browser.driver.get(f"{server.address}/build/1/bench?piece=5")
    time.sleep(6)
    taken = []
    for _ in range(6):
        taken.append(float(browser.driver.execute_async_script(TICK_SCRIPT)))
        time.sleep(1)
    browser.close()
    return taken


DART_SCRIPT = """
const [x, y, done] = arguments;
const grip = document.elementFromPoint(x, y);
const send = (kind, px, py) =>
  grip.dispatchEvent(new PointerEvent(kind, { bubbles: true, clientX: px, clientY: py, buttons: 1, pointerId: 1,
  isPrimary: true }));
grip.parentNode.closest(".panel").setPointerCapture = () => {};
let last = "", frames = 0, n = 0, from = 0;
new MutationObserver(() => {
  const now = document.querySelector(".panel .cut").getAttribute("d");
  if (now === last) return;
  last = now;
  requestAnimationFrame(() => frames++);
}).observe(document.querySelector(".panel .cut").ownerSVGElement, { subtree: true, attributes: true });
const step = () => {
  n++;
  send("pointermove", x + 8 * Math.sin(n / 9), y + 12 * Math.sin(n / 7));
  if (performance.now() - from < 6000) return setTimeout(step, 16);
  send("pointerup", x, y);
  done((1000 * frames) / (performance.now() - from));
};
const press = () => {
  send("pointerdown", x, y);
  from = performance.now();
  step();
};
send("pointerenter", x, y);
setTimeout(press, 1000);
"""
"""Comes to a dart's tip, a second later moves it every 16 ms for six seconds. Counts the outlines that were laid anew
and drawn."""


def dart_rate(server: Server) -> float:
    """Panels laid anew and drawn a second while the tip of a planned dart on the breastplate is dragged."""
    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        _, job = timed_job(ask, "/pieces/5/panels/1/dart-plans", {})
        cuts = ask.get(f"/dart-plans/{job}").json()["plans"][0]["cuts"]
        design = next(p for p in ask.get("/builds/1").json()["pieces"] if p["id"] == 5)["design"]
        ask.patch("/pieces/5", json={"design": design | {"cuts": cuts}}).raise_for_status()
    browser = Browser()
    browser.driver.set_script_timeout(30)
    browser.driver.get(f"{server.address}/build/1/flatten?piece=5")
    time.sleep(6)
    where = (
        "const r = document.querySelector('.dart .grip').getBoundingClientRect(); return [r.x + r.width / 2, r.y "
        "+ r.height / 2];"
    )
    rate = float(browser.driver.execute_async_script(DART_SCRIPT, *browser.driver.execute_script(where)))
    browser.close()
    return rate


def _mouse(browser: Browser, kind: str, x: float, y: float) -> None:
    held = {"button": "left", "buttons": 1, "clickCount": 1}
    browser.driver.execute_cdp_cmd("Input.dispatchMouseEvent", {"type": kind, "x": x, "y": y, **held})


def _red_ball(browser: Browser) -> tuple[float, float] | None:
    """Where the cast shows a control point: the middle of the lowest red dot on its canvas, wider than a dart's
    line; None while it shows none."""
    picture = np.asarray(Image.open(io.BytesIO(browser.driver.get_screenshot_as_png())).convert("RGB")).astype(int)
    left = browser.driver.execute_script("return document.querySelector('.both canvas').getBoundingClientRect().x")
    red = (abs(picture - [192, 69, 47]).sum(axis=2) < 60) & (np.arange(picture.shape[1]) > left)[None, :]
    red[:, -310:] = False
    around = [np.roll(red, step, axis) for axis in (0, 1) for step in (-4, 4)]
    rows, columns = np.nonzero(red & np.logical_and.reduce(around))
    if not len(rows):
        return None
    low = rows > rows.max() - 6
    return float(columns[low].mean()), float(rows[low].mean()) - 1


Rows = list[tuple[str, str, str]]


def edit_rows(server: Server) -> Rows:
    rows = []
    for word, piece, station, start in (
        ("bracer", 1, "belly", 246),
        ("greave", 2, "calf", 360),
        ("breastplate", 5, "bust", 930),
    ):
        edits = girth_edits(server, piece, station, [start + k for k in range(13)])
        figure = f"{statistics.median(edits):.0f} ms (worst {max(edits):.0f})"
        what = f"Girth edited to new outline on screen, {word}, median of {len(edits)}"
        rows.append((what, figure, "250 ms median, 400 worst"))
    return rows


def view_rows(server: Server) -> Rows:
    cold, warm = first_views(server)
    return [
        ("First view on localhost, new browser", f"{cold:.0f} ms", "700 ms"),
        ("First view on localhost, again", f"{warm:.0f} ms", "400 ms"),
    ]


def tick_rows(server: Server) -> Rows:
    ticks = ticks_on_screen(server)
    figure = f"{statistics.median(ticks):.0f} ms (worst {max(ticks):.0f})"
    return [("A step ticked on the screen, press to next step, median of 6", figure, "150 ms")]


def help_rows() -> Rows:
    command = [sys.executable, "-c", "from vellumcut.cli import main; main()", "--help"]
    ms = median_ms(lambda: subprocess.run(command, capture_output=True, check=True), 7)
    return [("vellumcut --help", f"{ms:.0f} ms", "300 ms")]


def drag_rows(server: Server) -> Rows:
    on_sheet, on_cast = drag_rates(server)
    return [
        ("Dragging an ink point on the sheet, frames a second", f"{on_sheet:.0f}", "30"),
        ("Dragging an ink point on the cast, frames a second", f"{on_cast:.0f}", "20"),
    ]


def on_demos(folder: Path) -> list[tuple[str, Callable[[], Rows]]]:
    """What is measured on a demo of its own each, by its name."""

    def on(name: str, measure: Callable[[Server], Rows]) -> tuple[str, Callable[[], Rows]]:
        def run() -> Rows:
            server = Server(folder / name, demo=True)
            try:
                return measure(server)
            finally:
                server.stop()

        return name, run

    def joint_rate(server: Server) -> Rows:
        return [("Dragging a joint of the costume, pictures a second", f"{posture_rate(server):.0f}", "20")]

    def dart_rate_row(server: Server) -> Rows:
        return [("Dragging a dart's tip: panels laid anew and drawn a second", f"{dart_rate(server):.0f}", "10")]

    def laid_row(server: Server) -> Rows:
        rate, there, ms = laid_rate(server)
        what = f"Dragging a trim's inset among {there} rivets, scales and strips"
        return [(f"{what}, pictures a second", f"{rate:.0f}", "10"), (f"{what}, the server alone", f"{ms:.0f} ms", "")]

    return [
        on("first views", view_rows),
        on("edits", edit_rows),
        on("suit", suit),
        on("foam", foam_rows),
        on("making", lambda s: [*making_rows(s), *tick_rows(s)]),
        on("nest", nest_rows),
        on("rigs", lambda s: [*rig_rows(s), *joint_rate(s)]),
        ("restart", lambda: restart_rows(folder / "restart")),
        on("darts", dart_rate_row),
        on("laid", laid_row),
        on("ink", drag_rows),
    ]


def main() -> None:
    rows: Rows = []
    with tempfile.TemporaryDirectory() as folder:
        for name, measure in [*on_demos(Path(folder)), ("help", help_rows), ("core", core_rows)]:
            try:
                rows += measure()
            except Exception as error:  # one that fails must not take the others' figures with it
                rows.append((f"{name}: not measured", f"{type(error).__name__}: {str(error).splitlines()[0][:80]}", ""))
            print(*(" | ".join(row) for row in rows[-4:]), sep="\n", flush=True)
    lines = [f"| {what} | {figure} | {wanted} |" for what, figure, wanted in rows]
    machine = f"on {os.cpu_count()} cores, Python {platform.python_version()}, headless Chromium."
    head = f"Measured {date.today():%d %B %Y} by `make bench` {machine}"
    PAGE.write_text(
        "\n".join(["# Benchmarks", "", head, "", "| what | measured | wanted |", "|---|---|---|", *lines, ""]),
        encoding="utf-8",
    )
    print(PAGE.read_text(encoding="utf-8"))


if __name__ == "__main__":
    main()
