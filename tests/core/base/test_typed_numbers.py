"""Numbers as people type them."""

import pytest

from trelvo.core.base.typed_numbers import comma_readings, plain_number


@pytest.mark.parametrize(
    ("typed", "plain"),
    [
        ("93.4", "93.4"),
        ("93,4", "93.4"),
        ("−25", "-25"),
        ("–25", "-25"),
        ("8 421", "8421"),
        ("12'500", "12500"),
        ("1,234.5", "1234.5"),
        ("0,125", "0.125"),
    ],
)
def test_what_is_certain(typed, plain):
    assert plain_number(typed) == plain
    assert comma_readings(typed) is None


def test_one_comma_before_three_digits_has_two_readings():
    assert comma_readings(" 1,234 ") == ("1234", "1.234")
    assert comma_readings("−12,500") == ("-12500", "-12.500")
    for certain in ("1234,5", "1,23", "0,125", "1,234,567", "1.234"):
        assert comma_readings(certain) is None
