"""What a job is held against: each of these looks into the files that left, and says what is missing."""

import re
from collections.abc import Callable
from typing import Any

from tests.jobs.workshop import TakenOut

Want = Callable[[TakenOut], str]


def _like(pattern: str, text: str) -> bool:
    return re.search(pattern, text, re.IGNORECASE) is not None


def _step_words(step: dict[str, Any]) -> str:
    materials = ", ".join(step["materials"])
    return f"{step['title']}. {step['how']} {step['why']} {step['question']} {step['if_no']} {materials}"


def step(key: str, says: str = "", piece: str = "") -> Want:
    """A step whose key begins so is there, and says so."""

    def look(out: TakenOut) -> str:
        rows = [s for s in out.steps_of(piece) if s["key"] == key or s["key"].startswith(f"{key}:")]
        if not rows:
            return f"no step “{key}”"
        if says and not any(_like(says, _step_words(s)) for s in rows):
            return f"“{key}” does not say “{says}”"
        return ""

    return look


def any_step(says: str, piece: str = "") -> Want:
    """Some step says so."""

    def look(out: TakenOut) -> str:
        return "" if any(_like(says, _step_words(s)) for s in out.steps_of(piece)) else f"no step tells of “{says}”"

    return look


def no_step(says: str, piece: str = "") -> Want:
    """No step says so."""

    def look(out: TakenOut) -> str:
        bad = [s["title"] for s in out.steps_of(piece) if _like(says, _step_words(s))]
        if not out.steps_of(piece):
            return "no steps"
        return f"“{bad[0]}” speaks of “{says}”" if bad else ""

    return look


def without(key: str, piece: str = "") -> Want:
    """There is no step of that kind, of what has steps."""

    def look(out: TakenOut) -> str:
        rows = out.steps_of(piece)
        bad = [s["title"] for s in rows if s["key"].startswith(key)]
        return f"“{bad[0]}” is a step" if bad else "" if rows else "no steps"

    return look


def order(first: str, then: str, piece: str = "") -> Want:
    """Every step whose key matches the first comes before all that match the second, in each piece that has both."""

    def look(out: TakenOut) -> str:
        seen = False
        for name, rows in out.steps.items():
            if piece and name != piece:
                continue
            early = [k for k, s in enumerate(rows) if re.match(first, s["key"])]
            late = [k for k, s in enumerate(rows) if re.match(then, s["key"])]
            if early and late:
                seen = True
                if max(early) > min(late):
                    return f"“{rows[min(late)]['title']}” comes before “{rows[max(early)]['title']}”"
        return "" if seen else f"no “{first}” before “{then}”"

    return look


def minutes(key: str, least: float, most: float, piece: str = "") -> Want:
    """All steps of that key together take so long."""

    def look(out: TakenOut) -> str:
        rows = [s["minutes"] for s in out.steps_of(piece) if s["key"] == key or s["key"].startswith(f"{key}:")]
        told = sum(rows)
        right = bool(rows) and least <= told <= most
        return "" if right else f"“{key}” is told as {told:.0f} min, not {least:g} to {most:g}"

    return look


def hours(piece: str, least: float, most: float) -> Want:
    def look(out: TakenOut) -> str:
        rows = [p["hours"]["minutes"] / 60 for p in out.order["pieces"] if p["name"] == piece]
        if not rows:
            return f"no hours of “{piece}”"
        return "" if least <= rows[0] <= most else f"{piece} is told as {rows[0]:.1f} h, not {least:g} to {most:g}"

    return look


def part(says: str, count: int = 1, piece: str = "") -> Want:
    """Something of the rig to cut or count, so many or more."""

    def look(out: TakenOut) -> str:
        rows = [x for p in out.rig["pieces"] if not piece or p["name"] == piece for x in p["parts"]]
        found = sum(x["count"] for x in rows if _like(says, x["name"]))
        return "" if found >= count else f"{found or 'no'} “{says}” in the rig, {count} wanted"

    return look


def no_part(says: str, piece: str = "") -> Want:
    def look(out: TakenOut) -> str:
        rows = [x for p in out.rig["pieces"] if not piece or p["name"] == piece for x in p["parts"]]
        bad = [x["name"] for x in rows if _like(says, x["name"])]
        return f"the rig has “{bad[0]}”" if bad else ""

    return look


def strap(says: str, least: float = 0.0, most: float = 1e9, piece: str = "") -> Want:
    """A strap whose words say so, its standing length within limits, mm."""

    def look(out: TakenOut) -> str:
        rows = [s for p in out.rig["pieces"] if not piece or p["name"] == piece for s in p["straps"]]
        found = [s for s in rows if _like(says, f"{s['words']} {s['material']} {s['fastening']}")]
        if not found:
            return f"no strap “{says}”"
        off = [s["standing"] for s in found if not least <= s["standing"] <= most]
        return f"“{says}” is {off[0]:.0f} mm standing, not {least:g} to {most:g}" if off else ""

    return look


def opening(kind: str, piece: str = "") -> Want:
    def look(out: TakenOut) -> str:
        rows = [o for p in out.rig["pieces"] if not piece or p["name"] == piece for o in p["openings"]]
        return "" if any(o["kind"] == kind for o in rows) else f"no opening by {kind}"

    return look


def magnets(count: int, seat: str = "") -> Want:
    def look(out: TakenOut) -> str:
        rows = [m for p in out.rig["pieces"] for m in p["magnets"] if not seat or m["seat"] == seat]
        found = sum(m["magnets"] for m in rows)
        return "" if found >= count else f"{found or 'no'} magnets{f' in a {seat}' if seat else ''}"

    return look


def panels(least: int, piece: str = "", thick: float | None = None) -> Want:
    """So many panels are cut, of that thickness where one is asked for."""

    def look(out: TakenOut) -> str:
        rows = [
            x
            for name, p in out.patterns.items()
            if not piece or name == piece
            for x in (*p.get("panels", []), *p.get("parts", []))
        ]
        rows = [x for x in rows if thick is None or abs(x["foam"] - thick) < 0.01]
        found = sum(2 if x["twin"] else 1 for x in rows)
        kind = f" of {thick:g} mm" if thick else ""
        return "" if found >= least else f"{found or 'no'} panels{kind}, {least} wanted"

    return look


def says(words: str) -> Want:
    """It is said somewhere in what leaves."""

    def look(out: TakenOut) -> str:
        return "" if _like(words, out.words) else f"nothing says “{words}”"

    return look


def silent(*words: str) -> Want:
    """None of these is said anywhere."""

    def look(out: TakenOut) -> str:
        bad = [w for w in words if _like(w, out.words)]
        return f"it says “{bad[0]}”" if bad else ""

    return look


def file(name: str) -> Want:
    """A file whose name matches has left."""

    def look(out: TakenOut) -> str:
        return "" if any(_like(name, f) for f in out.files) else f"no file “{name}”"

    return look


def dressing(says: str, who: str = "") -> Want:
    """The order of dressing says so, alone or with a helper."""

    def look(out: TakenOut) -> str:
        rows = [x for x in out.rig["dressing"] if _like(says, f"{x['piece']} {x['how']} {x['why']}")]
        if not rows:
            return f"the order of dressing has no “{says}”"
        return "" if not who or any(x["who"] == who for x in rows) else f"“{says}” is not told as {who}"

    return look


def put_on(first: str, then: str) -> Want:
    """One piece is put on before another."""

    def look(out: TakenOut) -> str:
        names = [x["piece"] for x in out.rig["dressing"]]
        if first not in names or then not in names:
            return f"{first} and {then} are not both dressed"
        return "" if names.index(first) < names.index(then) else f"{then} goes on before {first}"

    return look


def costume(says: str) -> Want:
    """A step of the whole costume says so."""

    def look(out: TakenOut) -> str:
        rows = out.order["costume"]
        found = any(_like(says, f"{s['title']} {s['how']} {s.get('question', '')}") for s in rows)
        return "" if found else f"no step of the costume tells of “{says}”"

    return look


def between(first: str, then: str) -> Want:
    """A piece waits for another."""

    def look(out: TakenOut) -> str:
        rows = out.order["between"]
        found = any(_like(first, " ".join(x["first"])) and _like(then, " ".join(x["then"])) for x in rows)
        return "" if found else f"“{then}” does not wait for “{first}”"

    return look


def nothing_refused(out: TakenOut) -> str:
    return out.trouble[0] if out.trouble else ""


NEVER = (
    r"thin coat[^.]{0,20} cement",
    r"at most 0 mm deep",
    "two walls at 0 degrees",
    "spreads by 0 mm",
    r"turn it over 1[0-9] times",
    r"under (-|–)",
    "closures hide at the back",
    "instant glue, a drop of hot glue",
    r"\bnan\b",
    r"\{\d\}",
    "None mm",
)
"""What was said once and may never be said again, of whatever piece."""


def nothing_silly(out: TakenOut) -> str:
    return silent(*NEVER)(out)
