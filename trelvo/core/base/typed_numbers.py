"""Numbers as people type them: decimal point or comma, marks between thousands, any minus sign."""

import re

_TWO_READINGS = re.compile(r"[+-]?[1-9]\d{0,2},\d{3}")
_SPACES = re.compile(r"[\s\u00a0\u2009\u202f']")


def plain_number(text: str) -> str:
    """The number with a decimal point and without marks between thousands. A lone comma is taken as a decimal comma."""
    bare = _SPACES.sub("", text).replace("−", "-").replace("–", "-")
    # with both marks the comma stands between thousands
    return bare.replace(",", "") if "." in bare else bare.replace(",", ".")


def comma_readings(text: str) -> tuple[str, str] | None:
    """What 1,234 may be: "1234" or "1.234"; None where a number has one reading only."""
    bare = _SPACES.sub("", text).replace("−", "-").replace("–", "-")
    return (bare.replace(",", ""), bare.replace(",", ".")) if _TWO_READINGS.fullmatch(bare) else None
