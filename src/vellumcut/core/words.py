"""Names as makers give them: one line of signs that can be seen."""

import unicodedata
from typing import Any

from pydantic import BeforeValidator

_UNSEEN = ("Cc", "Cf", "Cs", "Co", "Cn")
"""Unicode's classes of signs that show nothing: controls, marks of direction, halves of pairs, and what is none."""
_JOINERS = ("\u200c", "\u200d")
"""Unseen, and part of how some scripts are written."""


def seen(text: Any) -> Any:
    """A text without the signs that cannot be seen, its gaps one space each; anything else as it is."""
    if not isinstance(text, str):
        return text
    spaced = "".join(" " if c.isspace() else c for c in text)
    kept = "".join(c for c in spaced if c in _JOINERS or unicodedata.category(c) not in _UNSEEN)
    return " ".join(kept.split())


SEEN = BeforeValidator(seen)
"""On a name that is shown in one line: on the screen, on paper, in a terminal. The last of its annotations."""
