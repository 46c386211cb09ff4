"""Rows of the benchmark that ask a running server, by HTTP alone."""

import shutil
import statistics
import time
from collections.abc import Callable
from pathlib import Path

import httpx

from tests.journeys.browser import Server


def median_ms(act: Callable[[], object], times: int) -> float:
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        taken.append((time.perf_counter() - start) * 1000)
    return statistics.median(taken)


def suit(server: Server) -> list[tuple[str, str, str]]:
    """Rows on darts and on re-grading, asked of a running server as the pages ask it."""
    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        plan, job = timed_job(ask, "/pieces/5/panels/1/dart-plans", {})
        advice = ask.get(f"/dart-plans/{job}").json()
        cuts = {"cuts": advice["plans"][0]["cuts"]}
        moved = median_ms(lambda: ask.post("/pieces/5/panels/1/cuts/try", json=cuts).raise_for_status(), 9)
        more = {"templates": ["segmented rerebrace", "backplate", "ridged greave"]}
        ask.post("/builds/1/costume", json=more).raise_for_status()
        sets = ask.get("/wearers/1/measurement-sets").json()
        regrade, job = timed_job(ask, "/builds/1/regrades", {"since": sets[-1]["id"]})
        pieces = ask.get(f"/regrades/{job}").json()["pieces"]
    panels = sum(len(p["panels"]) for p in pieces)
    best = f"{advice['before']:.1f} to {advice['plans'][0]['p95']:.1f} %"
    return [
        (f"Dart plans for half a breastplate, p95 {best}", f"{plan:.1f} s", "10 s"),
        ("A dart's tip moved to the panel laid anew, server and transport", f"{moved:.0f} ms", "100 ms (10 a second)"),
        (
            f"Re-grade of the demo suit with three more pieces, {panels} drawn panels, both sets patterned",
            f"{regrade:.1f} s",
            "6 s for 20",
        ),
    ]


def foam_rows(server: Server) -> list[tuple[str, str, str]]:
    """Rows on folds and edges: the costume's table from nothing and again, and an ink point moved to panel and
    edges."""
    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        taken = []
        for _ in range(2):
            start = time.perf_counter()
            made = ask.get("/builds/1/folds").json()
            taken.append(time.perf_counter() - start)
        joints = sum(len(p["joints"]) for p in made)
        panels = sum(len(ask.get(f"/pieces/{p['piece']}/pattern").json()["panels"]) for p in made)
        rows = [
            (
                f"Fold table of the demo suit, {panels} drawn panels, {joints} joints, nothing laid yet",
                f"{taken[0]:.2f} s",
                "2 s for 12",
            ),
            ("The same again", f"{taken[1]:.2f} s", "2 s"),
        ]
        for piece, word in ((2, "greave"), (5, "breastplate, its panel over 6.5 %")):
            ms = statistics.median(_ink_moved(ask, piece, k) for k in range(1, 10))
            rows.append(
                (
                    f"Ink point moved to the new panel with its edges, {word}, server and transport",
                    f"{ms:.0f} ms",
                    "300 ms",
                )
            )
    return rows


def making_rows(server: Server) -> list[tuple[str, str, str]]:
    """Rows on the bench of a costume of 300 steps and more: opened, opened again, and one step ticked."""

    def took(ask: httpx.Client, path: str) -> float:
        start = time.perf_counter()
        ask.get(path).raise_for_status()
        return (time.perf_counter() - start) * 1000

    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        more = ["backplate", "tasset", "poleyn", "sabaton cap", "segmented rerebrace"]
        ask.post("/builds/1/costume", json={"templates": more}).raise_for_status()
        first = took(ask, "/pieces/5/steps")
        cold, warm = took(ask, "/builds/1/bench"), took(ask, "/builds/1/bench")
        costume = ask.get("/builds/1/bench").json()
        steps = sum(len(p["steps"]) for p in costume["pieces"]) + len(costume["own"])
        ticks = []
        for n in range(11):
            start = time.perf_counter()
            said = {"key": "number", "done": n % 2 == 0, "answer": "yes"}
            ask.put("/pieces/5/steps", json=said).raise_for_status()
            ticks.append((time.perf_counter() - start) * 1000)
        piece = took(ask, "/pieces/5/steps")
    return [
        ("Bench of the breastplate opened, its pattern not laid yet", f"{first:.0f} ms", "under 1000 ms"),
        (f"Bench of the whole costume, {steps} steps, its other patterns not laid yet", f"{cold:.0f} ms", ""),
        (f"Bench of the whole costume, {steps} steps, opened again", f"{warm:.0f} ms", "under 1000 ms"),
        ("Bench of the breastplate opened again", f"{piece:.0f} ms", "under 1000 ms"),
        ("A step ticked, and the bench as it then stands", f"{statistics.median(ticks):.0f} ms", "150 ms"),
    ]


def rig_rows(server: Server) -> list[tuple[str, str, str]]:
    """Rows on rigs and movement: the figure, a rig, and every joint of the costume, each from nothing."""

    def took(ask: httpx.Client, path: str) -> float:
        start = time.perf_counter()
        ask.get(path).raise_for_status()
        return time.perf_counter() - start

    with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
        figure = took(ask, "/builds/1/figure")
        rig, again = took(ask, "/pieces/5/rig"), took(ask, "/pieces/5/rig")
        joints = [j["key"] for j in ask.get("/builds/1/figure").json()["joints"]]
        times = {j: took(ask, f"/builds/1/movements/{j}") for j in joints}
        pieces = len(ask.get("/builds/1").json()["pieces"])
    slowest = max(times, key=lambda j: times[j])
    return [
        (f"Costume of {pieces} pieces seated on the figure with all straps, none known yet", f"{figure:.1f} s", ""),
        ("Rig of the breastplate with its loads, the costume's patterns laid", f"{rig:.2f} s", ""),
        ("The same again", f"{again:.2f} s", ""),
        (
            f"A joint turned with the costume on, the slowest of {len(joints)} ({slowest}), cuts proved",
            f"{times[slowest]:.1f} s",
            "3 s",
        ),
        ("The median joint", f"{statistics.median(times.values()):.2f} s", "3 s"),
    ]


def restart_rows(folder: Path) -> list[tuple[str, str, str]]:
    """Rows on a program that was ended and begun again: bench and figure of the costume, and a re-grading."""
    pages = {"Bench of the whole costume": "/builds/1/bench", "Figure with all straps": "/builds/1/figure"}

    def ask_all(server: Server) -> list[float]:
        with httpx.Client(base_url=f"{server.address}/api", timeout=120) as ask:
            out = []
            for path in pages.values():
                start = time.perf_counter()
                ask.get(path).raise_for_status()
                out.append(time.perf_counter() - start)
            since = ask.get("/wearers/1/measurement-sets").json()[-1]["id"]
            out.append(timed_job(ask, "/builds/1/regrades", {"since": since})[0])
        return out

    server = Server(folder, demo=True)
    ask_all(server)
    server.stop()
    times = []
    for forget in (False, True):
        if forget:
            shutil.rmtree(folder / "kept")
        server = Server(folder)
        times.append(ask_all(server))
        server.stop()
    words = [*pages, "Re-grade of the demo suit"]
    rows = [
        (f"{w} after a restart, nothing changed", f"{s:.2f} s", "1 s") for w, s in zip(words, times[0], strict=True)
    ]
    return rows + [
        (f"{w} after a restart, nothing kept", f"{s:.2f} s", "4 s") for w, s in zip(words, times[1], strict=True)
    ]


def _ink_moved(ask: httpx.Client, piece: int, step: int) -> float:
    """ms from a moved point of the first outline sent to panel and edges received."""
    sheet = ask.get(f"/pieces/{piece}/ink").json()["sheet"]
    design = next(p for p in ask.get("/builds/1").json()["pieces"] if p["id"] == piece)["design"]
    stroke = next(s for s in sheet["strokes"] if s["kind"] == "outline")
    stroke["points"][1][1] += 0.002 * step
    start = time.perf_counter()
    ask.patch(f"/pieces/{piece}", json={"design": design | {"ink": sheet}}).raise_for_status()
    ask.get(f"/pieces/{piece}/pattern?quick=true").raise_for_status()
    ask.get(f"/pieces/{piece}/foam").raise_for_status()
    return (time.perf_counter() - start) * 1000


def timed_job(ask: httpx.Client, path: str, body: dict[str, object]) -> tuple[float, int]:
    start = time.perf_counter()
    job = ask.post(path, json=body).json()
    while job["state"] == "running":
        time.sleep(0.1)
        job = ask.get(f"/jobs/{job['id']}").json()
    assert job["state"] == "done", job
    return time.perf_counter() - start, job["id"]
