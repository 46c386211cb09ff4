"""Minutes of work from geometry, with the formula that a maker can follow."""

from dataclasses import dataclass

from vellumcut.core.notes import Value
from vellumcut.core.paces import PACES, Tempo, Work


@dataclass(frozen=True)
class Spent:
    minutes: float
    formula: str
    values: tuple[Value, ...]


def spent(tempo: Tempo, *rows: tuple[str, Work, float]) -> Spent:
    """rows: words, class of work, and how much of it: mm, mm2 or pieces, as the pace counts. What it takes to get tools
    out and put them away is not in it: ``equip`` adds that, for all steps alike."""
    minutes = 0.0
    parts: list[str] = []
    values: list[Value] = []
    for words, work, amount in rows:
        if amount <= 0:
            continue
        minutes += tempo.minutes(work, amount)
        per, pace, at = PACES[work].per, tempo.pace(work), len(values)
        if per == "piece":
            parts.append(f"{{{at}}} {words} x {{{at + 1}}}")
            values += [Value(words, amount, "count"), Value("each", pace, "minutes")]
        else:
            parts.append(f"{{{at}}} {words} / {{{at + 1}}} a minute")
            area = per == "m2"
            values.append(Value(words, amount, "mm2" if area else "mm"))
            values.append(Value("pace", pace * 1e6 if area else pace, "mm2" if area else "mm"))
    return Spent(minutes, " + ".join(parts), tuple(values))
