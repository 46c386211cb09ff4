"""Corrections of traced outlines: each one act that can be undone."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from vellumcut.core.design.flat import FlatKind, FlatShape
from vellumcut.core.errors import CraftError
from vellumcut.core.trace.hand import corrections as c
from vellumcut.service.body.traces import change_shapes, get_trace, shapes_of
from vellumcut.store.database import Store
from vellumcut.store.models import TracedPhotograph


@dataclass(frozen=True)
class What:
    """What a correction is about; see the act for which of it counts."""

    number: int
    at: tuple[float, float] = (0.0, 0.0)
    to: tuple[float, float] = (0.0, 0.0)
    edge: int = 0
    line: int = 0
    other: int = 1
    kind: FlatKind = "mark"
    degrees: float = 0.0
    words: str = ""


ON_ONE: dict[str, tuple[str, Callable[[FlatShape, What], FlatShape]]] = {
    "move": ("Move a corner", lambda s, w: c.move_corner(s, np.array(w.at), np.array(w.to))),
    "corner": ("Make or smooth a corner", lambda s, w: c.toggle_corner(s, np.array(w.at))),
    "straighten": ("Straighten an edge", lambda s, w: c.straighten(s, w.edge)),
    "smooth": ("Smooth an edge", lambda s, w: c.smooth(s, w.edge)),
    "symmetric": ("Make it symmetric", lambda s, w: c.symmetric(s, w.words or "left")),
    "unfold": ("Unfold a half", lambda s, w: c.unfold(s, w.edge)),
    "pair": ("Say how many are cut", lambda s, w: c.pair(s)),
    "kind": ("Name a line", lambda s, w: c.set_kind(s, w.line, w.kind)),
    "turn": ("Turn a shape", lambda s, w: c.turn(s, w.degrees)),
    "object": ("Say what is an object", lambda s, w: c.as_object(s)),
    "name": ("Name a shape", lambda s, w: s.model_copy(update={"name": w.words})),
}
"""Acts that change one shape: their words for undo, and what they do."""


def correct(store: Store, trace: int, act: str, what: What) -> TracedPhotograph:
    """Raises CraftError, NotFound."""
    shapes = {s.number: s for s in shapes_of(get_trace(store, trace))}
    if what.number not in shapes:
        raise CraftError(f"There is no shape {what.number} in this photograph any more", "number")
    shape, free = shapes[what.number], max(shapes) + 1
    if act in ON_ONE:
        words, change = ON_ONE[act]
        shapes[what.number] = change(shape, what)
    elif act == "cut":
        words = "Cut an outline in two"
        shapes[what.number], shapes[free] = c.cut(shape, np.array([what.at, what.to]), free)
    elif act == "join":
        words = "Join two outlines"
        if what.other not in shapes or what.other == what.number:
            raise CraftError("Choose another shape to join it with", "other")
        shapes[what.number] = c.join(shape, shapes.pop(what.other))
    elif act == "segments":
        words = "Part into segments"
        shapes |= {s.number: s for s in c.segments(shape, free)}
    else:
        words = "Take a shape away"
        del shapes[what.number]
    return change_shapes(store, trace, list(shapes.values()), words)
