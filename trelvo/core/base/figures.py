"""Figures: every part and statistic of a quantity that a run can hold, declared once.

Forms, tables, the quick line, CSV, log import, safety limits and benches take name, unit, range and decimals from here.
"""

import math
from dataclasses import dataclass
from typing import Literal, NamedTuple, get_args

from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import QUANTITIES, Quantity

Part = Literal["tuned part", "graphics", "processor", "memory", "board", "supply", "whole machine", "room"]
Statistic = Literal["mean", "highest", "lowest", "at start", "at end", "total", "1 % low", "0.1 % low"]
PARTS: tuple[Part, ...] = get_args(Part)
STATISTICS: tuple[Statistic, ...] = get_args(Statistic)


class FigureKey(NamedTuple):
    """What a figure is a figure of."""

    quantity: Quantity
    part: Part
    statistic: Statistic

    @property
    def word(self) -> str:
        """One word for files and addresses: the short one where the figure has one, else all three parts of the key."""
        return WORDS.get(self) or f"{self.quantity}.{self.part}.{self.statistic}".replace(" ", "_").replace("%", "pc")


@dataclass(frozen=True)
class FigureKind:
    """A figure with a name of its own: how it is shown, and what the quick line calls it (a word before, or a unit behind)."""

    word: str
    key: FigureKey
    name: str
    line_word: str = ""
    line_units: tuple[str, ...] = ()


def _kind(
    word: str,
    quantity: Quantity,
    part: Part,
    statistic: Statistic,
    name: str,
    line: str = "",
    units: tuple[str, ...] = (),
) -> FigureKind:
    return FigureKind(word, FigureKey(quantity, part, statistic), name, line, units)


# The figures that forms ask for and tables show, in this order. All others are named by quantity, part and statistic.
NAMED: tuple[FigureKind, ...] = (
    _kind("low_1_fps", "frame rate", "whole machine", "1 % low", "1 % low", "low"),
    _kind("low_01_fps", "frame rate", "whole machine", "0.1 % low", "0.1 % low", "low01"),
    _kind("min_fps", "frame rate", "whole machine", "lowest", "Lowest frame rate", "min"),
    _kind("max_fps", "frame rate", "whole machine", "highest", "Highest frame rate", "max"),
    _kind("power_w", "power", "tuned part", "mean", "Mean power", units=("w",)),
    _kind("temp_max_c", "temperature", "tuned part", "highest", "Highest temperature", units=("c", "°c")),
    _kind("temp_mean_c", "temperature", "tuned part", "mean", "Mean temperature"),
    _kind("temp_start_c", "temperature", "tuned part", "at start", "Temperature at start"),
    _kind("room_c", "temperature", "room", "mean", "Room", "room"),
    _kind("core_mhz", "core clock", "tuned part", "mean", "Core clock reached", units=("mhz",)),
    _kind("memory_mhz", "memory clock", "tuned part", "mean", "Memory clock reached", "memclock"),
    _kind("voltage_v", "voltage", "tuned part", "mean", "Voltage reached", units=("v",)),
    _kind("noise_dba", "noise", "whole machine", "mean", "Noise", "noise", ("db", "dba", "db(a)")),
    _kind("fan_percent", "fan", "tuned part", "mean", "Fan", "fan"),
    _kind("fan_rpm", "fan speed", "tuned part", "mean", "Fan speed", units=("rpm",)),
)
BY_WORD: dict[str, FigureKind] = {kind.word: kind for kind in NAMED}
BY_KEY: dict[FigureKey, FigureKind] = {kind.key: kind for kind in NAMED}
WORDS: dict[FigureKey, str] = {kind.key: kind.word for kind in NAMED}
_LONG_WORDS: dict[str, FigureKey] = {
    key.word: key
    for key in (FigureKey(q, p, s) for q in QUANTITIES for p in PARTS for s in STATISTICS)
    if key not in WORDS
}


def key_of(word: str) -> FigureKey:
    """Return the figure that a word names: the inverse of `FigureKey.word`. Raises KeyError for any other word."""
    return BY_WORD[word].key if word in BY_WORD else _LONG_WORDS[word]


def name_of(key: FigureKey) -> str:
    """How a figure is called: "Mean power", or "Processor, highest temperature" where it has no name of its own."""
    if kind := BY_KEY.get(key):
        return kind.name
    statistic = "" if key.statistic == "total" else f"{key.statistic} "
    part = "" if key.part == "tuned part" else f"{key.part[0].upper()}{key.part[1:]}, "
    words = f"{part}{statistic}{key.quantity}"
    return words[0].upper() + words[1:]


def check_figure(key: FigureKey, value: float, where: str) -> Problem | None:
    """Why a run cannot have this figure (in its quantity's own unit), or None when it can."""
    kind = QUANTITIES[key.quantity]
    if not math.isfinite(value):
        return Problem(where, "not_a_number")
    if value <= 0 and QUANTITIES[key.quantity].above_zero:
        return Problem(where, "not_above_zero", {"value": value})
    low, high = (-30.0, 60.0) if key.part == "room" and key.quantity == "temperature" else (kind.low, kind.high)
    if not low <= value <= high:
        return Problem(where, "figure_out_of_range", {"value": value, "unit": kind.unit, "low": low, "high": high})
    return None
