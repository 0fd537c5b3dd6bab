"""Figures that the quick line names before their number: which one a word and the number's unit mean together."""

from dataclasses import dataclass

from trelvo.core.base.figures import BY_KEY, BY_WORD, NAMED, FigureKey, Statistic, name_of
from trelvo.core.registry.quantities import QUANTITIES, Quantity

# words before the result itself, where other figures stand beside it
AVERAGE = ("avg", "average", "mean")
# the share of the slowest frames, before "low" or alone
LOWS = {"1%": "low", "0.1%": "low01", "0,1%": "low01", "1%low": "low", "0.1%low": "low01", "0,1%low": "low01"}
OTHER_NAMES = {"minimum": "min", "maximum": "max", "peak": "max", "db": "noise", "dba": "noise"}
# A share above this is revolutions a minute.
MOST_FAN_PERCENT = 110
# before a number: the figure's word
BEFORE: dict[str, str] = {kind.line_word: kind.word for kind in NAMED if kind.line_word}
_STATISTICS: dict[str, Statistic] = {**dict.fromkeys(AVERAGE, "mean"), "min": "lowest", "max": "highest"}
_OTHER_SPELLINGS: dict[Quantity, tuple[str, ...]] = {"frame rate": ("frames", "f/s")}
# What a number's unit may be when it stands apart; "min" is also the lowest frame rate, so times are none of them.
UNITS_APART = frozenset(
    {"fps", "c", "°c", "f", "°f", "k", "w", "kw", "mhz", "ghz", "v", "mv", "db", "dba", "db(a)", "rpm", "%"},
)


@dataclass(frozen=True)
class NamedFigure:
    """A figure that was named before its number. value: in the unit of its quantity"""

    word: str
    name: str
    unit: str
    value: float


def named_figure(text: str, number: float, unit: str) -> NamedFigure | None:
    """Return the figure that a word and a number with its unit mean; None where the unit is of something else.

    text: a word of `BEFORE` or `AVERAGE`. unit: in lower case, empty where none was typed. With a unit "max 77c" is the highest
    temperature; without one "max 77" is a frame rate.
    """
    word = BEFORE.get(text)
    if word == "fan_percent" and (unit == "rpm" or (not unit and number > MOST_FAN_PERCENT)):
        word, unit = "fan_rpm", ""
    if word is not None:
        kind = BY_WORD[word]
        if (value := _converted(kind.key.quantity, number, unit)) is not None:
            return NamedFigure(word, kind.name.lower(), QUANTITIES[kind.key.quantity].unit, value)
    if text not in _STATISTICS or not unit:
        return None
    for kind in NAMED:
        if kind.line_units and (value := _converted(kind.key.quantity, number, unit)) is not None:
            key = FigureKey(kind.key.quantity, kind.key.part, _STATISTICS[text])
            shown = BY_KEY[key].name if key in BY_KEY else name_of(key)
            return NamedFigure(key.word, shown.lower(), QUANTITIES[key.quantity].unit, value)
    return None


def _converted(quantity: Quantity, number: float, unit: str) -> float | None:
    """The number in the quantity's own unit; None where the unit is of another quantity."""
    if not unit or unit in _OTHER_SPELLINGS.get(quantity, ()):
        return number
    if any(unit in kind.line_units for kind in NAMED if kind.key.quantity == quantity):
        return number
    for own, (factor, offset) in QUANTITIES[quantity].units().items():
        if unit.strip("°") == own.lower().strip("°"):
            return round(number * factor + offset, 6)
    return None
