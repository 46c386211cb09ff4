"""How true traced photographs are: one hundred seeded scenes, one hundred that cannot be trusted, and other grounds.
Printed into docs/accuracy.md by ``make accuracy``; takes about half an hour on two cores."""

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from tests.casts import off_by, on_ground, picture_of
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.trace import trace_picture
from vellumcut.standins.camera import Scene
from vellumcut.standins.casts import scene

PAGE = Path(__file__).parents[1] / "docs" / "accuracy.md"
GROUNDS = [
    ("boards", "tape"),
    ("boards", "white"),
    ("pale", "white"),
    ("pale", "tape"),
    ("carpet", "white"),
    ("carpet", "grey"),
    ("cloth", "grey"),
]
SPOILED = (
    "three cards",
    "a bent card",
    "a card of another size",
    "one of another size among six",
    "blur",
    "out of view",
    "a shine",
)


@dataclass(frozen=True)
class Outcome:
    """kind: of scene. said: refused, stopped, flagged or nothing. figures in mm; 0 where there is no outline."""

    kind: str
    seed: int
    said: str
    rms: float = 0.0
    worst: float = 0.0
    told_rms: float = 0.0
    told_worst: float = 0.0
    seconds: float = 0.0

    @property
    def true_enough(self) -> bool:
        return self.told_rms > 0 and self.rms <= 0.5 and self.worst <= 1.5

    @property
    def honest(self) -> bool:
        """Whether what is told is at least half of what is true."""
        return self.rms <= 2 * self.told_rms and self.worst <= 2 * self.told_worst

    @property
    def silent_wrong(self) -> bool:
        return self.said == "nothing" and not self.honest


def spoiled(kind: str, seed: int) -> Scene:
    luck = np.random.default_rng(seed + 99)
    made = scene(seed, cards=6 if "six" in kind else 4)
    cards = list(made.cards)
    k = int(luck.integers(len(cards)))
    if kind == "three cards":
        cards = cards[:3]
    elif kind == "a bent card":
        cards[k] = replace(cards[k], lifted=float(luck.uniform(2, 8)))
    elif "size" in kind:
        cards[k] = replace(cards[k], size=float(luck.choice([0.9, 0.94, 0.97, 1.05])))
    elif kind == "blur":
        made = made.with_shot(blur=float(luck.uniform(3, 9)))
    elif kind == "out of view":
        piece = made.pieces[0]
        way = float(made.shot.over * 0.42 * luck.choice([-1, 1]))
        made = replace(made, pieces=[replace(piece, outline=piece.outline + (way, 0.0), ink=())])
    else:
        at = made.pieces[0].outline[int(luck.integers(len(made.pieces[0].outline)))]
        made = replace(made, glare=(float(at[0]), float(at[1]), float(luck.uniform(12, 40))))
    return replace(made, cards=cards)


def outcome(job: tuple[str, int]) -> Outcome:
    kind, seed = job
    if kind in SPOILED:
        made = spoiled(kind, seed)
    else:
        ground, colour = kind.split(", ")
        made = scene(seed, ground, colour, cards=4 + seed % 3)  # type: ignore[arg-type]
    picture = picture_of(made)
    began = time.perf_counter()
    try:
        trace = trace_picture(picture)
    except CraftError:
        return Outcome(kind, seed, "refused", seconds=time.perf_counter() - began)
    took = time.perf_counter() - began
    if not trace.pieces:
        return Outcome(kind, seed, "refused", seconds=took)
    piece = trace.pieces[0]
    found = [f.weight for f in (*trace.findings, *piece.findings)]
    said = "stopped" if "stop" in found else "flagged" if found else "nothing"
    rms, worst = off_by(piece.outline, on_ground(made, trace, made.pieces[0].outline))
    return Outcome(kind, seed, said, rms, worst, piece.sure.rms, piece.sure.worst, took)


def page(plain: list[Outcome], bad: list[Outcome], other: list[Outcome]) -> str:
    seen = [o for o in plain if o.told_rms > 0]
    lines = [
        "# How true traced photographs are",
        "",
        "Made by `make accuracy`: photographs of the simulated camera (12 MP, tilt to 35 degrees, bend of the lens "
        "to 8 %, 4 to 6",
        "cards, noise, uneven light, two darts, three inks), held against the truth they were rendered from, in mm.",
        "",
        f"## {len(plain)} seeded scenes on cloth",
        "",
        f"- Within 0.5 mm RMS and 1.5 mm worst: **{sum(o.true_enough for o in plain)} of {len(plain)}**.",
        f"- RMS: median {np.median([o.rms for o in seen]):.3f}, worst scene {max(o.rms for o in seen):.3f}; farthest "
        f"point: median {np.median([o.worst for o in seen]):.2f}, worst scene {max(o.worst for o in seen):.2f}.",
        f"- The printed estimate is at least half the true error in **{sum(o.honest for o in seen)} of {len(seen)}** "
        f"(estimate: median {np.median([o.told_rms for o in seen]):.3f} RMS, "
        f"{np.median([o.told_worst for o in seen]):.2f} anywhere).",
        f"- Seconds a picture, two at a time on two cores: median {np.median([o.seconds for o in plain]):.1f}, "
        f"longest {max(o.seconds for o in plain):.1f}.",
        "- Scenes beyond the limits: "
        f"{', '.join(f'{o.seed} ({o.rms:.2f}, {o.worst:.1f})' for o in plain if not o.true_enough) or 'none'}.",
        "",
        f"## {len(bad)} scenes that cannot be trusted",
        "",
        "| | scenes | refused | stopped | flagged | nothing said, and true | nothing said, and wrong |",
        "|---|---|---|---|---|---|---|",
    ]
    for kind in SPOILED:
        own = [o for o in bad if o.kind == kind]
        counts = [sum(o.said == s for o in own) for s in ("refused", "stopped", "flagged")]
        fine = sum(o.said == "nothing" and o.honest for o in own)
        lines.append(
            f"| {kind} | {len(own)} | {counts[0]} | {counts[1]} | {counts[2]} | {fine} | "
            f"{sum(o.silent_wrong for o in own)} |"
        )
    lines += [
        "",
        "## Other grounds and colours",
        "",
        "| ground, piece | scenes | found | within the limits | median RMS | honest or flagged |",
        "|---|---|---|---|---|---|",
    ]
    for ground, colour in GROUNDS:
        own = [o for o in other if o.kind == f"{ground}, {colour}"]
        found = [o for o in own if o.told_rms > 0]
        rms = f"{np.median([o.rms for o in found]):.3f}" if found else ""
        lines.append(
            f"| {ground}, {colour} | {len(own)} | {len(found)} | {sum(o.true_enough for o in own)} | {rms} | "
            f"{sum(not o.silent_wrong for o in own)} |"
        )
    return "\n".join(lines) + "\n"


def _told(o: Outcome) -> Outcome:
    print(f"{o.kind} {o.seed}: {o.said}, {o.rms:.3f} {o.worst:.2f} mm", flush=True)
    return o


def main(count: int) -> None:
    each = max(1, count // len(SPOILED) + (count % len(SPOILED) > 0))
    jobs = [
        [("cloth, tape", s) for s in range(count)],
        [(k, s) for k in SPOILED for s in range(each)],
        [(f"{g}, {c}", s) for g, c in GROUNDS for s in range(max(1, count // 20))],
    ]
    with ProcessPoolExecutor(2) as workers:
        plain, bad, other = ([_told(o) for o in workers.map(outcome, rows)] for rows in jobs)
    PAGE.write_text(page(plain, bad, other))
    print(PAGE.read_text())


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100)
