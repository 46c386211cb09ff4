"""Every refusal as clear sentences with the field they are about, whatever raised them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from vellumcut.core.errors import CraftError


@dataclass(frozen=True)
class Problem:
    field: str
    message: str


_SENTENCES = {
    "missing": "is missing",
    "extra_forbidden": "is not a field known here; take it out or check its spelling",
    "finite_number": "must be a finite number",
    "float_type": "must be a number or a length like 24.5 cm",
    "float_parsing": "must be a number or a length like 24.5 cm",
    "int_parsing": "must be a whole number",
    "string_type": "must be text",
    "string_pattern_mismatch": "holds signs that cannot be in a key or a file's name; use letters, digits, - and _",
    "bool_parsing": "must be true or false",
    "json_invalid": "is not valid JSON",
    "dict_type": "must be a group of fields in braces",
    "model_type": "must be a group of fields in braces",
    "model_attributes_type": "must be a group of fields in braces",
    "tuple_type": "must be a list in brackets",
    "list_type": "must be a list in brackets",
    "date_from_datetime_parsing": "must be a date like 2026-11-25",
    "date_parsing": "must be a date like 2026-11-25",
    "date_type": "must be a date like 2026-11-25",
}


def plain_problems(error: Exception) -> list[Problem]:
    """Turn a CraftError or a validation error into sentences a maker understands."""
    if isinstance(error, CraftError):
        return [Problem(error.field, error.message)]
    if isinstance(error, ValidationError):
        return list(dict.fromkeys(describe(e) for e in error.errors()))
    return [Problem("", str(error))]


def describe(item: Mapping[str, Any]) -> Problem:
    """One entry of a validation error's list. Fields read like ``pieces.0.gap``."""
    kind, context = item["type"], item.get("ctx", {})
    path = ".".join(str(p) for p in item["loc"] if p not in ("body", "query", "path", "function-wrap[_read_length()]"))
    name = path or "the file"
    if kind in _SENTENCES:
        return Problem(path, f"{name} {_SENTENCES[kind]}")
    if kind in ("greater_than_equal", "less_than_equal", "greater_than", "less_than"):
        words = {"ge": "at least", "le": "at most", "gt": "more than", "lt": "less than"}
        key, bound = next((k, v) for k, v in context.items() if k in words)
        return Problem(path, f"{name} must be {words[key]} {bound:g}")
    if kind == "literal_error":
        return Problem(path, f"{name} must be one of {context['expected']}")
    if kind == "value_error":
        return Problem(path, f"{name}: {context['error']}")
    return Problem(path, f"{name}: {item['msg'][0].lower()}{item['msg'][1:]}")
