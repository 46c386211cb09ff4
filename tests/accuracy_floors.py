"""How true photographs of pieces on floors of every kind are, alone and over a photograph of the bare floor: scenes by
the renderer in `tests.floors`, which shares nothing with the camera stand-in. Printed into docs/accuracy-floors.md by
``make accuracy``."""

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

from tests.floors.hand import mended
from tests.floors.score import LEAST_ANGLE, TIP, Scored, score
from tests.floors.stuff import PLAIN
from tests.floors.taken import Wanted, take
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.trace import trace_picture

PAGE = Path(__file__).parents[1] / "docs" / "accuracy-floors.md"
WIDTH = 2400
"""Pixels of the pictures: a telephone's have 4000, which makes all of it truer and five times as long to draw."""
TOUCHING = 8
"""One scene in so many has a pair that touches."""


@dataclass(frozen=True)
class Tried:
    """One way to look at a scene. told: None where it was refused, with why."""

    floor: str
    count: int
    told: Scored | None
    refused: str
    seconds: float


def tried(seed: int) -> tuple[Tried, Tried, Tried]:
    """A scene looked at alone, and over its floor; and alone with a few strokes, where it was not right."""
    scene = take(Wanted(seed, width=WIDTH, touching=seed % TOUCHING == TOUCHING - 1))
    out = []
    for bare in (None, scene.ground):
        start = time.monotonic()
        trace = None
        try:
            trace = trace_picture(scene.picture, bare=bare)
            told, why = score(scene, trace), ""
        except CraftError as error:
            told, why = None, error.message
        out.append(Tried(scene.floor, len(scene.cuts), told, why, time.monotonic() - start))
        if bare is None:
            rubbed = score(scene, mended(scene, trace)) if trace and told and not told.right else told
            by_hand = replace(out[0], told=rubbed)
    return out[0], out[1], by_hand


def right(rows: list[Tried]) -> int:
    return sum(1 for r in rows if r.told and r.told.right)


def silent(rows: list[Tried]) -> int:
    return sum(1 for r in rows if r.told and r.told.silent)


def right_or_said(rows: list[Tried]) -> int:
    return sum(1 for r in rows if r.refused or (r.told and (r.told.right or (r.told.said and not r.told.silent))))


def tips(rows: list[Tried]) -> str:
    seen = [t for r in rows if r.told for t in r.told.tips if t[1] >= LEAST_ANGLE]
    near = sum(1 for off, _, _ in seen if off <= TIP)
    return f"{near} of {len(seen)}"


def summary(name: str, rows: list[Tried]) -> str:
    worst = sorted(max(r.told.worst, default=0.0) for r in rows if r.told)
    return (
        f"| {name} | {len(rows)} | {right(rows)} | {right_or_said(rows)} | {silent(rows)} | {tips(rows)} | "
        f"{worst[len(worst) // 2]:.2f} | {sorted(r.seconds for r in rows)[len(rows) // 2]:.0f} |"
    )


def page(alone: list[Tried], over: list[Tried], by_hand: list[Tried]) -> str:
    head = [
        "# How true photographs on any floor are",
        "",
        "Made by `make accuracy`: 12 floors, 8 tapes and papers, 1 to 30 pieces, slits from 1 to 30 degrees, ink, "
        f"moved shadows, another exposure and white balance, cameras some cm apart; pictures of {WIDTH} pixels by a "
        "renderer that shares nothing with the camera stand-in. Right: every piece found, none "
        "invented, all within 0.5 mm RMS "
        "and 1.5 mm worst outside the tips of slits. Silent: a piece missing, invented or off by more than twice its "
        "printed estimate, without a word about it. Tips: within 2 mm, of slits from 1.5 degrees up.",
        "",
        "| | scenes | right | right or said | silent | tips | worst, median, mm | s a picture, two at a time |",
        "|---|---|---|---|---|---|---|---|",
    ]
    plain = [r.floor in PLAIN for r in alone]
    parts = [
        ("over its floor, all", over),
        ("over its floor, plain floors", [r for r, p in zip(over, plain, strict=True) if p]),
        ("over its floor, patterned floors", [r for r, p in zip(over, plain, strict=True) if not p]),
        ("alone, plain floors", [r for r, p in zip(alone, plain, strict=True) if p]),
        ("alone, patterned floors", [r for r, p in zip(alone, plain, strict=True) if not p]),
    ]
    parts += [
        ("alone with at most three strokes a piece, plain", [r for r, p in zip(by_hand, plain, strict=True) if p]),
        ("the same, patterned floors", [r for r, p in zip(by_hand, plain, strict=True) if not p]),
    ]
    rows = [summary(name, part) for name, part in parts]
    floors = ["", "| floor | scenes | right over its floor | right alone |", "|---|---|---|---|"]
    for floor in sorted({r.floor for r in over}):
        both = [[r for r in rows_of if r.floor == floor] for rows_of in (over, alone)]
        floors.append(f"| {floor.replace('_', ' ')} | {len(both[0])} | {right(both[0])} | {right(both[1])} |")
    return "\n".join([*head, *rows, *floors, ""])


def main(count: int) -> None:
    with ProcessPoolExecutor(2) as workers:
        done = list(workers.map(tried, range(1000, 1000 + count)))
    PAGE.write_text(page(*(list(rows) for rows in zip(*done, strict=True))))
    print(PAGE.read_text())


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
