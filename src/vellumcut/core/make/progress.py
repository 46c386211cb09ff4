"""How far a piece is: what can be done now, what waits and until when, what is blocked by what, what has become
wrong."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from vellumcut.core.make.order import OLD_KEYS, RENAMED
from vellumcut.core.make.owned import Owned
from vellumcut.core.make.plan import CostumeLink, Link, PlannedPiece
from vellumcut.core.make.step import Step
from vellumcut.core.notes import Value

State = Literal["done", "ready", "waiting", "blocked", "mend"]
LONGER, SHARE = 2.0, 0.01
"""A length that changed by less than both, mm and share of it, is the hand's own doing."""


@dataclass(frozen=True)
class Tick:
    """What the maker did about a step. done_at, begun_at: seconds since 1970. answer: to its question. parts: when each
    coat and each check was ticked. took: minutes. figures: what it measured when it was done; empty in older builds.
    title: as it was called then.
    """

    key: str
    done_at: float | None = None
    answer: str = ""
    begun_at: float | None = None
    took: float | None = None
    note: str = ""
    title: str = ""
    figures: Mapping[str, float] = field(default_factory=dict)
    parts: Mapping[str, float] = field(default_factory=dict)

    @property
    def old(self) -> bool:
        """Whether an older program made it, whose steps were fewer."""
        return not self.title

    @property
    def blank(self) -> bool:
        """Whether nothing was ever said of the step: what undo leaves of a row that was new."""
        return self.old and self.done_at is None and not (self.answer or self.begun_at or self.note or self.parts)


@dataclass(frozen=True)
class StepState:
    """until: seconds till it can go on; 0 unless it waits. blocked_by: what has to be done first, hard ones first.
    coats_done: of its coats. lacks: tool, protection or place that is missing."""

    key: str
    state: State
    tick: Tick
    until: float = 0.0
    blocked_by: tuple[Link, ...] = ()
    coats_done: int = 0
    lacks: tuple[str, ...] = ()

    @property
    def done(self) -> bool:
        return self.state == "done"


def carried(keys: Iterable[str], ticks: Mapping[str, Tick]) -> dict[str, Tick]:
    """The tick of every step: its own, or what an older program's tick means for it."""
    out = {}
    for key in keys:
        kind, _, of = key.partition(":")
        own = ticks.get(key) or ticks.get(f"{RENAMED.get(kind, kind)}:{of}")
        if own is None or own.blank:
            was = OLD_KEYS.get(kind, ())
            before = next((ticks[k] for k in was if k in ticks and ticks[k].old and ticks[k].done_at), None)
            own = Tick(key, before.done_at) if before else Tick(key)
        out[key] = own
    return out


def states_of(piece: PlannedPiece, ticks: Mapping[str, Tick], owned: Owned, now: float) -> dict[str, StepState]:
    """Every step of a piece as it stands, in the order of work. now: seconds since 1970."""
    mine = carried(piece.steps, ticks)
    out: dict[str, StepState] = {}
    for step in piece.ordered:
        tick = mine[step.key]
        blocking = tuple(x for x in piece.needed(step.key) if mine[x.first].done_at is None)
        # Of all that comes before, not only what comes last: a primer dries on while a strip is laid inside.
        before = {x.first for x in piece.plan.before.get(step.key, ())}
        until = max((_wait_left(piece.steps[k], mine[k], now) for k in before), default=0.0)
        out[step.key] = _state(step, tick, blocking, until, owned, now)
    return out


def _state(step: Step, tick: Tick, blocking: tuple[Link, ...], until: float, owned: Owned, now: float) -> StepState:
    lacks = owned.lacks(step.tools, step.protection, step.place)
    coats = sum(1 for k in tick.parts if k.isdigit())
    if tick.done_at is not None:
        return StepState(step.key, "done", tick, coats_done=step.coats, lacks=lacks)
    if tick.answer == "no":
        return StepState(step.key, "mend", tick, coats_done=coats, lacks=lacks)
    if coats:
        until = max(until, _left(max(at for k, at in tick.parts.items() if k.isdigit()), step.between, now))
    state: State = "blocked" if blocking else "waiting" if until > 0 else "ready"
    return StepState(step.key, state, tick, until, blocking, coats, lacks)


def _wait_left(step: Step, tick: Tick, now: float) -> float:
    return _left(tick.done_at, step.wait, now) if tick.done_at is not None else 0.0


def _left(since: float, minutes: float, now: float) -> float:
    """Seconds left of a wait. A clock that was set back tells that nothing has passed: it never ends too early."""
    return max(0.0, minutes * 60 - max(0.0, now - since))


def became_wrong(piece: PlannedPiece, ticks: Mapping[str, Tick]) -> list[str]:
    """What was done and is not as it was done any more, in words."""
    out = []
    for key, tick in ticks.items():
        if tick.done_at is None or tick.old:
            continue
        if key not in piece.steps:
            out.append(f"“{tick.title}” was done; the design has no such step any more.")
            continue
        for value in piece.steps[key].measures:
            was = tick.figures.get(value.word)
            words = _changed(value, was) if was is not None else ""
            if words:
                out.append(f"“{tick.title}” was done; its {value.word} is {words} now.")
    return out


def _changed(value: Value, was: float) -> str:
    change = value.amount - was
    if value.kind == "count":
        return f"{value.amount:.0f} instead of {was:.0f}" if round(change) else ""
    if value.kind == "mm2":
        return (
            f"{abs(change) / was * 100:.0f} % {'larger' if change > 0 else 'smaller'}"
            if was and abs(change) / was > 2 * SHARE
            else ""
        )
    if abs(change) < max(LONGER, SHARE * was / 2):
        return ""
    return f"{abs(change):.0f} mm {'longer' if change > 0 else 'shorter'}"


@dataclass(frozen=True)
class Bound:
    """A step of a costume that another piece holds back. words: which step of which piece, and why."""

    piece: int
    key: str
    words: str


def held_back(
    links: Sequence[CostumeLink],
    names: Mapping[int, str],
    titles: Mapping[tuple[int, str], str],
    done: Mapping[tuple[int, str], bool],
) -> list[Bound]:
    """Steps that wait for a step of another piece. done: by piece and key; the costume is piece 0."""
    out = []
    for x in links:
        if not done.get((x.first_piece, x.first), True) and not done.get((x.then_piece, x.then), True):
            who = names.get(x.first_piece, "the costume")
            out.append(Bound(x.then_piece, x.then, f"{who}: {titles[x.first_piece, x.first]}. {x.reason}"))
    return out


@dataclass(frozen=True)
class Batch:
    """Steps of several pieces that go well in one go. items: piece and key. minutes: hands on."""

    title: str
    place: str
    items: tuple[tuple[int, str], ...]
    minutes: float


BATCHES: dict[str, str] = {
    "number": "Print and number",
    "trace": "Trace all",
    "cut": "Cut all parts",
    "heat-seal": "Seal all faces",
    "bevel": "Bevel all edges",
    "form": "Form all panels",
    "dart": "Close all darts",
    "seam": "Glue all seams",
    "smooth": "Grind all seams",
    "fill": "Fill all seams",
    "reseal": "Seal what was sanded",
    "rig": "Sew all straps",
    "dust-primer": "Dust off everything",
    "beds": "Open all beds",
    "close": "Fit all closures",
    "dam": "Line all joints",
}
"""Kinds that are done together, and what that is called."""


def batches_of(ready: Sequence[tuple[int, Step]]) -> list[Batch]:
    """What can be done now in one go for several parts. ready: piece and step, of all that nothing holds back."""
    groups: dict[str, list[tuple[int, Step]]] = {}
    for piece, step in ready:
        if step.kind.startswith("coat-"):
            sprayed = step.place == "outdoors"
            groups.setdefault("One spray session" if sprayed else f"One painting session, {step.place}", []).append(
                (piece, step)
            )
        elif step.kind in BATCHES:
            groups.setdefault(BATCHES[step.kind], []).append((piece, step))
    return [
        Batch(title, rows[0][1].place, tuple((p, s.key) for p, s in rows), _together([s for _, s in rows]))
        for title, rows in groups.items()
        if len(rows) > 1
    ]


def _together(steps: Sequence[Step]) -> float:
    """Minutes of steps done in one go: tools are got out and cleaned away once."""
    own = [s.setup * s.factor for s in steps]
    return sum(s.hands_on for s in steps) - sum(own) + max(own)
