"""``make mutants``: small breaks planted in the core, seeded, and how many of them the core's own tests see.

A break is an operator turned, a comparison turned or a number moved, planted by a mutation library in a copy of the
package. Only the tests that run the broken line are asked, quickest first.
"""

import argparse
import compileall
import os
import queue
import random
import shutil
import subprocess
import sys
import tempfile
import time
import xml.etree.ElementTree as ET
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import coverage
from cosmic_ray.ast import get_ast_from_path
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src" / "vellumcut" / "core"
KINDS = ("ReplaceBinaryOperator", "ReplaceComparisonOperator", "NumberReplacer", "ReplaceUnaryOperator")
NO_BREAK = ("_Eq_Is", "_NotEq_IsNot")
"""Texts and small numbers that are equal are one object: nothing is broken by these."""
LONGEST = 240
"""A break that keeps its tests busy for longer, seconds, is one that they see: they would never end."""
ASKED_FOR = 150.0
"""Of the tests that run a broken line, the kept figures and then the quickest are asked, as many as take no longer
together, s."""


@dataclass(frozen=True)
class Break:
    file: Path
    operator: str
    occurrence: int
    line: int


def every_break(rooms: list[str]) -> list[Break]:
    """All places where one may be planted, annotations and empty texts left out by the library's operators. rooms:
    folders of the core to look in; none: all."""
    out = []
    names = [n for n in operator_names() if any(kind in n for kind in KINDS) and not n.endswith(NO_BREAK)]
    for file in sorted(CORE.rglob("*.py")):
        if rooms and file.relative_to(CORE).parts[0] not in rooms:
            continue
        tree = get_ast_from_path(file)
        nodes = list(_walk(tree))
        for name in names:
            operator, seen = get_operator(name)(), 0
            for node in nodes:
                for (line, _), _ in operator.mutation_positions(node):
                    out.append(Break(file, name, seen, line))
                    seen += 1
    return out


def _walk(node):
    yield node
    for child in getattr(node, "children", ()):
        yield from _walk(child)


def covering(folder: Path, within: str) -> tuple[list[coverage.CoverageData], dict[str, float]]:
    """Which tests run which lines, and how long each of them takes, s. folder: where that is written, or was written
    before. within: folder of the tests that are asked. Its files are shared by two processes."""
    files = sorted((ROOT / within).rglob("test_*.py"), key=lambda f: f.stat().st_size)
    shares = [files[k::2] for k in range(2)]
    if not (folder / "1" / "report.xml").exists():
        running = [subprocess.Popen(_watched(folder / str(k), share), cwd=ROOT) for k, share in enumerate(shares)]
        if {process.wait() for process in running} != {0}:
            raise SystemExit("The tests must pass before anything is broken")
    took: dict[str, float] = defaultdict(float)
    watched = []
    for k in range(2):
        for case in ET.parse(folder / str(k) / "report.xml").iter("testcase"):
            took[f"{case.get('classname')}.{case.get('name').split('[')[0]}"] += float(case.get("time"))
        data = coverage.CoverageData(str(folder / str(k) / "data"))
        data.read()
        if not any(Path(file).is_relative_to(CORE) for file in data.measured_files()):
            raise SystemExit(f"What is kept in {folder} was watched in another clone of the repository")
        watched.append(data)
    return watched, took


def _watched(folder: Path, files: list[Path]) -> list[str]:
    """The command that runs test files and writes to a folder which of them ran which lines."""
    folder.mkdir(parents=True)
    setup = folder / "coveragerc"
    setup.write_text(f"[run]\ndynamic_context = test_function\nsource = {CORE}\ndata_file = {folder / 'data'}\n")
    run = [sys.executable, "-m", "coverage", "run", f"--rcfile={setup}", "-m", "pytest", "-q"]
    return [*run, f"--junitxml={folder / 'report.xml'}", *map(str, files)]


def tests_of(found: Break, watched: list[coverage.CoverageData], took: dict[str, float]) -> list[str]:
    """The tests that run a line, quickest first; pytest's own names. A line that runs when its file is loaded, such as
    a constant, is asked after by the tests that run anything in the file."""
    by_line: dict[int, list[str]] = defaultdict(list)
    for data in watched:
        for line, names in data.contexts_by_lineno(str(found.file)).items():
            by_line[line] += [name for name in names if name in took]
    contexts = by_line[found.line] or [name for names in by_line.values() for name in names]
    # What is kept tells most: that is asked first, whatever it takes.
    quickest = sorted(set(contexts), key=lambda c: (".test_kept_" not in c, took[c]))
    names, left = [], ASKED_FOR
    for name in quickest:
        if took[name] <= left:
            names.append(name)
            left -= took[name]
    return [f"{n.rsplit('.', 1)[0].replace('.', '/')}.py::{n.rsplit('.', 1)[1]}" for n in names]


class Copies:
    """Copies of the package in which breaks are planted, each by one at a time. What a copy has compiled stays: only
    the broken file is compiled anew."""

    def __init__(self, folder: Path, count: int) -> None:
        self._free: queue.Queue[Path] = queue.Queue()
        for number in range(count):
            copy = folder / str(number)
            shutil.copytree(ROOT / "src" / "vellumcut", copy / "vellumcut")
            compileall.compile_dir(copy, quiet=1)
            self._free.put(copy)

    def is_seen(self, found: Break, tests: list[str]) -> bool:
        """Whether a test fails once the break is planted."""
        if not tests:
            return False
        code = mutate_code(found.file.read_text(encoding="utf-8"), get_operator(found.operator)(), found.occurrence)
        if code is None:
            return True
        copy = self._free.get()
        place = copy / found.file.relative_to(ROOT / "src")
        kept = place.with_suffix(".kept")
        place.rename(kept)  # with its time, by which what is compiled of it is known
        try:
            place.write_text(code, encoding="utf-8")
            return _fails(copy, tests)
        finally:
            kept.replace(place)
            self._free.put(copy)


def _fails(copy: Path, tests: list[str]) -> bool:
    environment = {**os.environ, "PYTHONPATH": str(copy), "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", *tests]
    try:
        done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, timeout=LONGEST, check=False)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--count", type=int, default=100, help="breaks in each room that is named, or in all together")
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--room", action="append", default=[], help="a folder of the core to break; may be repeated")
    asked.add_argument("--tests", default="tests/core", help="folder of the tests that are asked")
    asked.add_argument("--watched", help="folder that keeps which test runs which line, for the next time")
    wanted = asked.parse_args()
    with tempfile.TemporaryDirectory(prefix="vellumcut-mutants-") as folder:
        watched, took = covering(Path(wanted.watched or folder), wanted.tests)
        copies = Copies(Path(folder), 2)
        for room in wanted.room or [""]:
            chosen = random.Random(wanted.seed).sample(every_break([room] if room else []), wanted.count)
            _one_room(room, chosen, [tests_of(found, watched, took) for found in chosen], copies)


def _one_room(room: str, chosen: list[Break], tests: list[list[str]], copies: Copies) -> None:
    start = time.time()
    seen = []
    with ThreadPoolExecutor(2) as pool:
        for found, caught in zip(chosen, pool.map(copies.is_seen, chosen, tests), strict=True):
            seen.append(caught)
            if not caught:
                kind = f"{found.operator.removeprefix('core/')} {found.occurrence}"
                place = f"{found.file.relative_to(ROOT)}:{found.line}"
                print(f"not seen, of {len(seen)} so far: {place} {kind}", flush=True)
    where = room or "the core"
    print(f"{where}: {sum(seen)} of {len(seen)} breaks seen ({time.time() - start:.0f} s)", flush=True)


if __name__ == "__main__":
    main()
