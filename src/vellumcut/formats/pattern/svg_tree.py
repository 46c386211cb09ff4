"""An SVG's own tree made plain: what it uses stands where it is used, and what only defines is gone."""

import copy
import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator

from vellumcut.core.errors import CraftError

SVG = "{http://www.w3.org/2000/svg}"
_HREF = ("href", "{http://www.w3.org/1999/xlink}href")
_ONLY_DEFINE = ("defs", "symbol", "clipPath", "mask", "pattern", "marker", "linearGradient", "radialGradient", "filter",
    "metadata", "script", "foreignObject", "title", "desc")  # fmt: skip
MOST_ELEMENTS = 60_000
"""Of a drawing, each use counted as what it uses."""
DEEPEST = 120
_OWN_PLACE = ("x", "y", "width", "height", "transform", "id", *_HREF)


def plain_tree(content: bytes) -> ET.Element:
    """Raises CraftError for what is no XML, is too deep, or unfolds to too much."""
    try:
        root = ET.fromstring(content)
    except (ET.ParseError, ValueError, LookupError):
        raise CraftError("The file is not an SVG drawing, or is broken", "file") from None
    _check_depth(root)
    named = {e.get("id"): e for e in root.iter() if e.get("id")}
    _Unfolding(named).unfold(root, (), 0)
    return root


def kind(element: ET.Element) -> str:
    """Its tag without the namespace; nothing for a comment."""
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def _check_depth(root: ET.Element) -> None:
    level = [root]
    for _ in range(DEEPEST):
        level = [child for element in level for child in element]
        if not level:
            return
    raise CraftError("The SVG file's groups lie too deep in each other; save it as plain SVG", "file")


class _Unfolding:
    """Puts what is used where it is used. named: elements by their id, as they were."""

    def __init__(self, named: dict[str | None, ET.Element]) -> None:
        self._named, self._count = named, 0

    def unfold(self, element: ET.Element, within: tuple[str, ...], depth: int) -> None:
        """within: ids that are being used here, so that none uses itself."""
        self._count += 1
        if self._count > MOST_ELEMENTS or depth > DEEPEST:
            raise CraftError(f"The SVG file unfolds to over {MOST_ELEMENTS:,} lines; save the pattern alone", "file")
        for place, child in enumerate(list(element)):
            what = kind(child)
            if what in _ONLY_DEFINE and not (what == "defs" and _styles(child)):
                element[place] = ET.Element(f"{SVG}g")
            elif what == "defs":
                for part in [p for p in child if kind(p) != "style"]:
                    child.remove(part)
            elif what == "use":
                used = next((child.get(h) for h in _HREF if child.get(h)), "") or ""
                element[place] = put = self._used(child, used, within)
                self.unfold(put, (*within, used), depth + 1)
            else:
                self.unfold(child, within, depth + 1)

    def _used(self, use: ET.Element, used: str, within: tuple[str, ...]) -> ET.Element:
        """A group in the place of a use; empty where it points at nothing in this file, or at itself."""
        kept = {key: value for key, value in use.attrib.items() if key not in _OWN_PLACE}
        x, y = (_number(use.get(k)) for k in "xy")
        group = ET.Element(f"{SVG}g", {**kept, "transform": f"{use.get('transform', '')} translate({x} {y})".strip()})
        target = self._named.get(used[1:]) if used.startswith("#") and used not in within else None
        if target is None:
            return group
        made = copy.deepcopy(target)
        if kind(target) == "symbol":
            made.tag = f"{SVG}g"
            if fit := _fit(target, use):
                made.set("transform", fit)
        group.append(made)
        return group


def _styles(defs: ET.Element) -> bool:
    return any(kind(part) == "style" for part in defs)


def _fit(symbol: ET.Element, use: ET.Element) -> str:
    """How a symbol's own window is laid into the size it is used at: whole, in the middle, as the standard has it."""
    window = [float(v) for v in re.findall(r"[-+0-9.eE]+", symbol.get("viewBox", ""))]
    if len(window) != 4 or min(window[2:]) <= 0:
        return ""
    wide, high = (_number(use.get(k) or symbol.get(k)) or own for k, own in (("width", window[2]), ("height",
        window[3])))  # fmt: skip
    scale = min(wide / window[2], high / window[3])
    x, y = (wide - scale * window[2]) / 2, (high - scale * window[3]) / 2
    return f"translate({x} {y}) scale({scale}) translate({-window[0]} {-window[1]})"


def _number(text: str | None) -> float:
    """A length in the drawing's own numbers; 0 for none, and for a share of the page."""
    found = re.fullmatch(r"\s*([-+]?[0-9.]+(?:[eE][-+]?[0-9]+)?)\s*(?:px)?\s*", text or "")
    return float(found[1]) if found else 0.0


def layers_of(root: ET.Element) -> Iterator[tuple[ET.Element, str]]:
    """Every element with the names that it stands under, outermost first, parted by line ends. A group's label, where
    an editor gave it one, is its name; else its id, or its class."""
    stack: list[tuple[ET.Element, str]] = [(root, "")]
    while stack:
        element, names = stack.pop()
        yield element, names
        own = label_of(element) or element.get("id") or element.get("class") or ""
        below = f"{names}\n{own}".strip("\n") if own and kind(element) == "g" else names
        stack += [(child, below) for child in reversed(list(element))]


def label_of(element: ET.Element) -> str:
    """The name that an editor gave an element beside its id."""
    rows = element.attrib.items()
    return next((v.strip() for k, v in rows if k.endswith("}label") or k in ("label", "data-name")), "")
