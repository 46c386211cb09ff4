"""Names in files, and of files: what every common system takes, and no two alike."""

import re
import unicodedata
from collections.abc import Iterable

LONGEST = 120
"""Bytes of a name, so that an ending and a number still fit where 255 are the most."""
_DEVICES = {"con", "prn", "aux", "nul", *(f"{kind}{n}" for kind in ("com", "lpt") for n in range(1, 10))}


def plain(words: str) -> str:
    """Without control signs, halves of pairs and turns of direction, which no file or paper can show."""
    return "".join(c for c in words if unicodedata.category(c)[0] != "C" or c == "\u200d")


def safe_name(title: str) -> str:
    """A piece's title as a file name: signs that some system forbids become "_"; short enough; no device's name."""
    plain = unicodedata.normalize("NFC", title)
    name = re.sub(r"[^\w -]", "_", plain).strip(" _-")
    while len(name.encode()) > LONGEST:
        name = name[:-1]
    name = name.strip() or "piece"
    return f"{name} piece" if name.lower() in _DEVICES else name


def safe_names(titles: Iterable[str]) -> dict[str, str]:
    """A file name for each of several different titles, numbered where two would be one, in whatever case."""
    out: dict[str, str] = {}
    taken: set[str] = set()
    for title in titles:
        wanted, name, n = safe_name(title), safe_name(title), 1
        while name.casefold() in taken:
            n += 1
            name = f"{wanted} {n}"
        taken.add(name.casefold())
        out[title] = name
    return out
