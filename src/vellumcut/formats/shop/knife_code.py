"""Knife code: a plain language of our own for a simulated cutter. One order a line, mm, absolute; docs/formats.md."""

from collections.abc import Iterator, Mapping

import numpy as np

from vellumcut.core.knife.path import Program, Run

FIRST = "; Vellumcut knife code 1"


def write_knife_code(title: str, program: Program, names: Mapping[str, str]) -> str:
    """names: of parts, by their keys: they stand as remarks before what is drawn and cut of each."""
    return "\n".join(_lines(title, program, names)) + "\n"


def _lines(title: str, program: Program, names: Mapping[str, str]) -> Iterator[str]:
    yield FIRST
    yield f"; {_plain(title)}"
    yield "UNIT MM"
    yield f"SHEET {_at(np.array(program.size))} {program.thickness:.2f}"
    tool = part = ""
    for run in program.runs:
        if run.tool != tool:
            if tool:
                yield f"PAUSE change to the {run.tool}"
            yield f"TOOL {run.tool.upper()}"
            tool, part = run.tool, ""
        if run.part != part:
            part = run.part
            yield f"; {_plain(names.get(part, part))}"
        yield from _run(run)
    yield "MOVE 0.000 0.000"
    yield "END"


def _run(run: Run) -> Iterator[str]:
    yield f"MOVE {_at(run.points[0])}"
    depth = None
    for to, held in zip(run.points[1:], run.depths, strict=True):
        if held != depth:
            yield f"DOWN {held:.2f}"
            depth = held
        yield f"LINE {_at(to)}"
    yield "UP"


def _at(point: np.ndarray) -> str:
    # Adding 0 keeps a rounded -0.000 from being written.
    return f"{round(float(point[0]), 3) + 0.0:.3f} {round(float(point[1]), 3) + 0.0:.3f}"


def _plain(words: str) -> str:
    return " ".join(words.split())
