"""Lengths as makers write them: "245", "24.5 cm", "9 5/8 in", all kept in millimetres."""

import math
import re
from datetime import date
from fractions import Fraction
from typing import Annotated, Any

from pydantic import BeforeValidator, Field

MM_PER_INCH = 25.4
MM_PER_UNIT = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "inch": MM_PER_INCH, '"': MM_PER_INCH}
SMALLEST_INCH_FRACTION = 16

_NUMBER = r"(?P<whole>\d+(?:[.,]\d+)?)?(?:(?:(?<=\d)[ -]+|^)(?P<num>\d+)\s*/\s*(?P<den>\d+))?"
_LENGTH = re.compile(rf'^(?P<sign>-)?{_NUMBER}\s*(?P<unit>mm|cm|m|inch|in|")?$')
_LENGTH_FRACTION_ONLY = re.compile(r'^(?P<sign>-)?(?P<num>\d+)\s*/\s*(?P<den>\d+)\s*(?P<unit>mm|cm|m|inch|in|")?$')


def parse_length(text: str) -> float:
    """Read a length written by hand; a bare number is millimetres.

    Returns millimetres. Raises ValueError with a sentence when it is no length.

    >>> parse_length("9 5/8 in")
    244.475
    >>> parse_length("24.5 cm")
    245.0
    """
    tidy = re.sub(r"\s+", " ", text.strip().lower()).replace("”", '"').replace("″", '"')
    found = _LENGTH_FRACTION_ONLY.match(tidy) or _LENGTH.match(tidy)
    parts = found.groupdict() if found else {}
    if not parts.get("whole") and not parts.get("num"):
        raise ValueError(f'"{text.strip()[:40]}" is not a length; write it like 245, 24.5 cm or 9 5/8 in')
    if parts.get("den") is not None and int(parts["den"]) == 0:
        raise ValueError(f'"{text.strip()[:40]}" divides by zero')
    whole = float((parts.get("whole") or "0").replace(",", "."))
    part = Fraction(int(parts["num"]), int(parts["den"])) if parts.get("num") else Fraction(0)
    sign = -1.0 if parts.get("sign") else 1.0
    return sign * (whole + float(part)) * MM_PER_UNIT[parts.get("unit") or "mm"]


def format_length(mm: float, unit: str = "mm") -> str:
    """Write a length in mm (one decimal) or in inches to the nearest sixteenth.

    >>> format_length(244.475, "in")
    '9 5/8 in'
    """
    if unit != "in":
        return f"{mm:.1f}".removesuffix(".0") + " mm"
    sixteenths = round(abs(mm) / MM_PER_INCH * SMALLEST_INCH_FRACTION)
    whole, rest = divmod(sixteenths, SMALLEST_INCH_FRACTION)
    part = str(Fraction(rest, SMALLEST_INCH_FRACTION)) if rest else ""
    sign = "-" if mm < 0 and sixteenths else ""
    return sign + (" ".join(filter(None, [str(whole) if whole or not part else "", part]))) + " in"


def _read_length(value: Any) -> Any:
    if isinstance(value, bool):
        raise ValueError("a length is wanted, not yes or no")
    if isinstance(value, str):
        return parse_length(value)
    if isinstance(value, int) and abs(value) > 10**9:
        raise ValueError("is far too large for a length")
    if isinstance(value, float) and not math.isfinite(value):
        raise ValueError("is not a finite number")
    return value


def _read_day(value: Any) -> Any:
    if isinstance(value, (int, float)):
        raise ValueError("must be a date like 2026-11-25")
    return value


def _read_number(value: Any) -> Any:
    if isinstance(value, (bool, str)):
        raise ValueError("a number is wanted")
    return value


Number = Annotated[float, BeforeValidator(_read_number, json_schema_input_type=float), Field(allow_inf_nan=False)]
"""A finite number, written as one."""

Day = Annotated[date, BeforeValidator(_read_day, json_schema_input_type=date)]
"""A date; never a count of seconds."""

Length = Annotated[float, BeforeValidator(_read_length, json_schema_input_type=float | str), Field(allow_inf_nan=False)]
"""A length in millimetres; input may be a number or text in any unit makers use."""
