"""Columns in which a log itself says that a limit was reached: yes or no, second by second."""

import re
from typing import Literal

FlagOf = Literal["heat", "power limit"]
# Names that tools give such columns; several words for each. Common practice.
_HEAT = re.compile(r"therm|heat|temp|prochot|°c", re.IGNORECASE)
_POWER = re.compile(r"power|\bpl ?[12]\b|\btdp\b|\btdc\b|\bedc\b|\bppt\b|current|watt", re.IGNORECASE)
_FLAG = re.compile(r"throttl|limit|prochot|exceeded|capped|reason", re.IGNORECASE)


def limit_flag(header: str) -> FlagOf | None:
    """The limit that a column of yes and no is about, by its header; None where it names none, or both."""
    if not _FLAG.search(header):
        return None
    heat, power = bool(_HEAT.search(header)), bool(_POWER.search(header))
    return None if heat == power else "heat" if heat else "power limit"
