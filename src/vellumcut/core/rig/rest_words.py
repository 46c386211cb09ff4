"""What is said of how a piece rests on its wearer."""

import numpy as np

from vellumcut.core.notes import Finding
from vellumcut.core.rig.costume import Costume, Worn
from vellumcut.core.rig.loads import Rest


def rest_words(rest: Rest, piece: Worn) -> str:
    """How it hangs, in a sentence."""
    each = f"{rest.weight:.0f} g" + (" each" if piece.copies > 1 else "")
    more = f", and {rest.carried:.0f} g that hang on it" if rest.carried >= 1 else ""
    if not rest.holds:
        return f"{each}{more}. Nothing takes up {100 * min(rest.left, 1):.0f} % of it: it {_goes(rest)}."
    if rest.swings >= 1:
        return f"{each}{more}. It hangs free and swings {rest.swings:.0f}° from where it was cast."
    most = rest.hardest
    if most is None or most.grams < 0.5:
        return f"{each}{more}. It rests on the body by itself; the straps only keep it there."
    return f"{each}{more}. The hardest pull is {most.grams:.0f} g at {most.anchor}, {most.moving:.0f} g when you move."


def _goes(rest: Rest) -> str:
    """Where it goes: forces left over push it that way."""
    x, y, z = -rest.way
    k = int(np.argmax(np.abs([x, y, z])))
    return (("slides aside", "lifts off in front" if y < 0 else "pulls away behind", "sags" if z < 0 else "rides up"))[
        k
    ]


def rest_findings(rest: Rest, piece: Worn, costume: Costume) -> list[Finding]:
    """What to look at."""
    if rest.holds:
        return []
    words = f"{piece.name}: {rest_words(rest, piece)}"
    advice = (
        "One more anchor at the place marked on the figure would hold it."
        if rest.better
        else "Choose another way to hold it."
    )
    return [Finding("look", words, "rig", advice)]
