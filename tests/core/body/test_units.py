import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import BaseModel, ValidationError

from vellumcut.core.units import MM_PER_INCH, Length, format_length, parse_length


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("245", 245.0),
        ("24.5 cm", 245.0),
        ("24,5cm", 245.0),
        ("9 5/8 in", 9.625 * 25.4),
        ('9 5/8"', 9.625 * 25.4),
        ("9-5/8 in", 9.625 * 25.4),
        ("5/8 in", 0.625 * 25.4),
        ("0.9 m", 900.0),
        ("-3 mm", -3.0),
        ("  12 IN ", 12 * 25.4),
    ],
)
def test_lengths_as_makers_write_them(text, mm):
    assert parse_length(text) == pytest.approx(mm)


@pytest.mark.parametrize(
    "text", ["", "abc", "9 5/0 in", "9 5/8 ft", "1e5", "--3", "5/", "nan", "inf mm", "3 4 5", "9 5/8 5/8 in"]
)
def test_what_is_no_length_is_refused_in_words(text):
    with pytest.raises(ValueError, match=r"is not a length|divides by zero"):
        parse_length(text)


@given(st.integers(min_value=0, max_value=40_000))
def test_inch_fractions_survive_writing_and_reading(sixteenths):
    mm = sixteenths / 16 * MM_PER_INCH
    assert parse_length(format_length(mm, "in")) == pytest.approx(mm, abs=1e-9)


@given(st.floats(min_value=-20_000, max_value=20_000))
def test_written_millimetres_are_within_half_a_tenth(mm):
    assert parse_length(format_length(mm)) == pytest.approx(mm, abs=0.0501)


class Box(BaseModel):
    side: Length


@pytest.mark.parametrize("value", [math.nan, math.inf, True, 10**30, None, [], "wide"])
def test_a_length_field_takes_only_lengths(value):
    with pytest.raises(ValidationError):
        Box(side=value)
