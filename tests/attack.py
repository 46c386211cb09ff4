"""``make attack``: what takes too long for the tests. Kills, a crowd, broken files, fuzzed requests; prints figures."""

import argparse
import contextlib
import json
import random
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

import httpx
import numpy as np

from tests.bodies import WEARER
from tests.fuzz import break_files, fuzz, most_memory
from tests.journeys.browser import Server
from tests.pictures import picture
from vellumcut.core.design.piece import PieceDesign
from vellumcut.service.body import scans, wearers
from vellumcut.service.errors import NotFound
from vellumcut.service.keeping import builds, logbook, settings
from vellumcut.service.making import bench
from vellumcut.service.pattern import pictures, versions
from vellumcut.standins.made_up_body import BodyShape, made_up_body
from vellumcut.store.database import Store
from vellumcut.store.files import ARRIVING


def write_for_ever(folder: Path, seed: int) -> None:
    """Change after change, each told on standard output once it is acknowledged."""
    store, luck = Store(folder), random.Random(seed)
    points, faces = made_up_body(BodyShape(), 40.0)
    wearer = wearers.add_wearer(store, f"Wearer {seed}").id
    build = builds.add_build(store, f"Build {seed}", wearer).id
    wearers.add_set(store, wearer, WEARER)
    piece = builds.add_piece(store, build, "", PieceDesign(template="bracer")).id
    acts = {
        "wearer": lambda: wearers.add_wearer(store, f"W{luck.random()}").id,
        "piece": lambda: builds.add_piece(store, build, "", PieceDesign(template="greave")).id,
        "log_entry": lambda: logbook.write_entry(store, build, "cut", piece).id,
        "piece_version": lambda: _kept(store, piece, luck),
        "scan": lambda: scans.keep_made(store, wearer, "s", points + luck.random(), faces).id,
        "reference_picture": lambda: pictures.keep_picture(store, piece, "p", picture()).id,
        "step_tick": lambda: (
            bench.mark_step(store, piece, "number", bench.Mark(done=luck.random() < 0.5, answer="yes")) or 0
        ),
        "undo": lambda: _undo(store),
    }
    print("ready", flush=True)
    while True:
        kind = luck.choice(list(acts))
        # Its own undo may have taken away what a change is about: then nothing is changed, and nothing acknowledged.
        with contextlib.suppress(NotFound):
            print(json.dumps([kind, acts[kind]()]), flush=True)


def _kept(store: Store, piece: int, luck: random.Random) -> int:
    builds.change_piece(store, piece, None, PieceDesign(template="bracer", ease=round(luck.uniform(0, 9), 2)))
    return versions.keep_now(store, piece, "v").id


def _undo(store: Store) -> int:
    with contextlib.suppress(NotFound):
        settings.step_history(store, True)
    return 0


def kill_often(times: int) -> str:
    """Kill a writing process again and again on one folder; everything acknowledged must be there each time."""
    luck, lost, acknowledged, undone = random.Random(1), 0, 0, 0
    with tempfile.TemporaryDirectory(prefix="vellumcut-kills-") as scratch:
        folder = Path(scratch) / "data"
        for n in range(times):
            command = [sys.executable, "-m", "tests.attack", "write", str(folder), str(n)]
            child = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
            assert child.stdout is not None
            assert child.stdout.readline() == "ready\n"
            threading.Timer(luck.uniform(0.05, 1.5), child.kill).start()
            told = [json.loads(line) for line in child.stdout if line.endswith("]\n")]
            child.wait()
            store = Store(folder)
            lost += _missing(store, told)
            acknowledged += len(told)
            undone += _undo_works(store)
            store.close()
    return f"{times} kills: {acknowledged} changes acknowledged, {lost} lost; undo worked after {undone} of {times}"


def _missing(store: Store, told: list[list]) -> int:
    missing = 0
    with store.read() as session:
        connection = session.connection()
        assert connection.exec_driver_sql("PRAGMA integrity_check").scalar() == "ok"
        for kind, number in told:
            if number:
                missing += connection.exec_driver_sql(f"SELECT 1 FROM {kind} WHERE id = {number}").first() is None
        for table, name in (("scan", "scans"), ("reference_picture", "pictures")):
            files = {r[0] for r in connection.exec_driver_sql(f"SELECT file FROM {table}")}
            there = {p.name for p in (store.folder / name).iterdir()}
            missing += len(files - there)
            assert not [f for f in there if f.startswith(ARRIVING)], "a file was left on its way"
            assert there <= files, f"files that no row names: {there - files}"
    return missing


def _undo_works(store: Store) -> bool:
    settings.step_history(store, True)
    settings.step_history(store, False)
    return True


def crowd(clients: int) -> str:
    """Many clients at once ask a server that has just begun for every pattern of the demo."""
    with tempfile.TemporaryDirectory(prefix="vellumcut-crowd-") as scratch:
        server = Server(Path(scratch) / "demo", demo=True)
        pieces = [p["id"] for p in server.get("/api/builds/1")["pieces"]]
        took: list[float] = []

        def ask(seed: int) -> None:
            with httpx.Client(base_url=server.address, timeout=120) as web:
                for piece in random.Random(seed).sample(pieces, len(pieces)):
                    start = time.perf_counter()
                    web.get(f"/api/pieces/{piece}/pattern").raise_for_status()
                    took.append(time.perf_counter() - start)

        threads = [threading.Thread(target=ask, args=(n,)) for n in range(clients)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        server.stop()
    return (
        f"{clients} clients, {len(took)} patterns asked of a cold server: median {np.median(took):.2f} s, p99 "
        f"{np.quantile(took, 0.99):.2f} s"
    )


def hostile(files: int, requests: int) -> str:
    """Broken files, then fuzzed requests, sent to one real server with the demo in it; what it held is read at the
    end."""
    with tempfile.TemporaryDirectory(prefix="vellumcut-hostile-") as scratch:
        server = Server(Path(scratch) / "demo", demo=True)
        try:
            told = [break_files(server, files), fuzz(server, requests), most_memory(server)]
        finally:
            server.stop()
    return "\n".join(told)


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("what", nargs="*", default=["kills", "crowd", "hostile"])
    asked.add_argument("--kills", type=int, default=200)
    asked.add_argument("--files", type=int, default=500)
    asked.add_argument("--requests", type=int, default=20_000)
    told = asked.parse_args()
    wanted = told.what
    if wanted[0] == "write":
        write_for_ever(Path(wanted[1]), int(wanted[2]))
    if "kills" in wanted:
        print(kill_often(told.kills), flush=True)
    if "crowd" in wanted:
        print(crowd(20), flush=True)
    if "hostile" in wanted:
        print(hostile(told.files, told.requests), flush=True)


if __name__ == "__main__":
    main()
