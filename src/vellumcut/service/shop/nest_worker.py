"""A process that lays parts on sheets: it reads the nest, and says each plan that is better than the one before.

The strip engine cannot be stopped: its process is ended instead.
"""

import os
import pickle
import struct
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from queue import Empty, SimpleQueue
from typing import IO, cast

from vellumcut.core.nest.fill import Plan
from vellumcut.core.nest.plans import Candidate, Effort, better, by_orders, by_strip
from vellumcut.core.nest.search import Nest
from vellumcut.core.nest.shapes import Placed
from vellumcut.formats.limits import environment, limit

MEMORY, SECONDS = 1_000_000_000, 3600
"""Bytes and seconds of computing a search may take."""
_LENGTH = struct.Struct("<I")
_WAYS = {"orders": by_orders, "strip": by_strip}

Told = tuple[tuple[tuple[str, str, float, float, float], ...], dict[str, float], tuple[str, ...], str, float]
"""A plan without the outlines, which both sides know: places, what is used, what is left, way, share."""


@dataclass
class Searching:
    """Searches at work. heard: what each said, None when one ended."""

    heard: "SimpleQueue[tuple[str, Told | None]]"
    running: int

    def next(self, seconds: float) -> tuple[str, Told | None] | None:
        """What was said next, if anything was within so many seconds."""
        try:
            way, told = self.heard.get(timeout=seconds)
        except Empty:
            return None
        self.running -= told is None
        return way, told


@contextmanager
def searching(nest: Nest, seed: int, effort: Effort) -> Iterator[Searching]:
    """Both searches, a process each; ended with the block."""
    heard: SimpleQueue[tuple[str, Told | None]] = SimpleQueue()
    job = pickle.dumps((nest, seed, effort))
    processes = [_started(way, job, heard) for way in _WAYS]
    try:
        yield Searching(heard, len(processes))
    finally:
        for process in processes:
            process.kill()
            process.wait()


def _started(way: str, job: bytes, heard: "SimpleQueue[tuple[str, Told | None]]") -> "subprocess.Popen[bytes]":
    command = [sys.executable, "-m", "vellumcut.service.shop.nest_worker", way]
    process = subprocess.Popen(
        command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=environment()
    )

    def listen() -> None:
        try:
            if process.stdin is not None:
                process.stdin.write(job)
                process.stdin.close()
            while process.stdout is not None and (told := _read(process.stdout)) is not None:
                heard.put((way, told))
        except OSError:
            pass
        heard.put((way, None))

    threading.Thread(target=listen, daemon=True).start()
    return process


def _read(pipe: IO[bytes]) -> Told | None:
    head = pipe.read(_LENGTH.size)
    if len(head) < _LENGTH.size:
        return None
    body = pipe.read(_LENGTH.unpack(head)[0])
    return cast(Told, pickle.loads(body))


def told_of(candidate: Candidate) -> Told:
    plan = candidate.plan
    places = tuple((p.part.key, p.sheet, p.turn, p.x, p.y) for p in plan.placed if not p.locked)
    return places, dict(plan.used), tuple(p.key for p in plan.left), candidate.way, candidate.share


def plan_told(nest: Nest, told: Told) -> Candidate:
    """What a search said, with the outlines again and what is locked."""
    parts = {p.key: p for p in nest.parts}
    places, used, left, way, share = told
    placed = tuple(Placed(parts[k], sheet, turn, x, y) for k, sheet, turn, x, y in places)
    plan = Plan((*nest.held, *placed), used, tuple(parts[k] for k in left))
    return Candidate(plan, way, share)  # type: ignore[arg-type]


def main(way: str) -> None:
    limit(SECONDS, MEMORY)
    nest, seed, effort = pickle.loads(sys.stdin.buffer.read())
    best = None
    for candidate in _WAYS[way](nest, seed, effort):
        if better(nest, candidate.plan, best):
            best = candidate.plan
        body = pickle.dumps(told_of(Candidate(best or candidate.plan, candidate.way, candidate.share)))
        sys.stdout.buffer.write(_LENGTH.pack(len(body)) + body)
        sys.stdout.buffer.flush()
    os._exit(0)


if __name__ == "__main__":
    main(sys.argv[1])
