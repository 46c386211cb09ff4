"""``make shots``: one current picture of each main view, from the demo, into docs/screenshots."""

import tempfile
import time
from pathlib import Path

from tests.journeys.browser import Browser, Server

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"
WAIT = "wait"
CLICK = "[...document.querySelectorAll('button')].find(b => b.textContent.includes('{}')).click()"
READ = "[...document.querySelectorAll('button')].filter(b => b.textContent.includes('I have read this'))\
.forEach(b => b.click())"
"""However many cautions are still to be read."""
VIEWS = (
    ("builds", "/", ()),
    ("trace", "/build/1/trace", (CLICK.format("Photograph a made-up cast"), *[WAIT] * 8)),
    ("wearer", "/build/1/wearer?piece=1", ()),
    ("ink", "/build/1/ink?piece=5", ()),
    ("laid", "/build/1/flatten?piece=5", (CLICK.format("Lay on"), *[WAIT] * 2)),
    (
        "shape",
        "/build/1/flatten?piece=5",
        (CLICK.format("+ Piece"), WAIT, "document.querySelector('[data-solid=horn]').click()", *[WAIT] * 4),
    ),
    (
        "flatten",
        "/build/1/flatten?piece=5",
        (CLICK.format("Plan its darts"), *[WAIT] * 6, CLICK.format("Cut it so"), WAIT),
    ),
    ("foam", "/build/1/foam?piece=5", ()),
    (
        "heat",
        "/build/1/heat?piece=8",
        (
            WAIT,
            READ,
            READ,
            WAIT,
            "const s = document.querySelector('select[name=pace]'); s.value = '5'; s.dispatchEvent(new "
            "Event('change'))",
            CLICK.format("Gun on: start"),
            WAIT,
        ),
    ),
    ("cut", "/build/1/cut?piece=2", ()),
    ("bench", "/build/1/bench?piece=2", (CLICK.format("Why?"),)),
    ("finish", "/build/1/finish?piece=5", ("document.querySelectorAll('.swatch')[2]?.click()",)),
    ("rig", "/build/1/rig?piece=7", (*[WAIT] * 3,)),
    ("fit", "/build/1/fit?piece=1", (CLICK.format("Change the pattern by this"), WAIT)),
    ("nest", "/build/1/nest", (WAIT, CLICK.format("Lay all parts"), *[WAIT] * 30)),
    ("cutter", "/build/1/cutter?material=armour%206&sheet=new%201", (*[WAIT] * 3,)),
    ("supplies", "/build/1/supplies", (*[WAIT] * 6, CLICK.format("Ask the shops"), *[WAIT] * 2)),
    (
        "night",
        "/build/1/worn?piece=5",
        (*[WAIT] * 3, CLICK.format("sit"), WAIT, CLICK.format("Night"), WAIT),
    ),
)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        server, browser = Server(Path(folder) / "demo", demo=True), Browser()
        for name, path, acts in VIEWS:
            browser.driver.get(server.address + path)
            time.sleep(4)
            for act in acts:
                if act == WAIT:
                    time.sleep(4)
                else:
                    browser.driver.execute_script(act)
                time.sleep(1.5)
            browser.driver.save_screenshot(str(FOLDER / f"{name}.png"))
        browser.driver.execute_script(CLICK.format("Day"))
        time.sleep(1)
        browser.size(390, 844)
        browser.driver.get(f"{server.address}/build/1/bench?piece=2")
        time.sleep(3)
        browser.driver.save_screenshot(str(FOLDER / "phone.png"))
        browser.close()
        server.stop()


if __name__ == "__main__":
    main()
