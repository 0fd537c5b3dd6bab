"""Whether a number that is being typed is so far from what is known that the typist should be asked."""

from collections.abc import Mapping, Sequence

from trelvo.core.base.figures import FigureKey, name_of
from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import QUANTITIES, Quantity

# Common practice: settings of one part differ by less than half; a slip of the decimal point by a factor of ten.
FACTOR = 1.6
FEWEST = 2


# By how much a figure differs between settings of one part, so that more is asked about: as a factor, or for temperatures in K.
# Common practice: watts differ by the power limit, degrees by cooler and room.
FIGURE_FACTORS: Mapping[Quantity, float] = {
    "power": 3.0, "core clock": 1.6, "memory clock": 1.6, "voltage": 1.5, "noise": 1.6, "fan speed": 3.0, "frame rate": 2.0,
    "energy": 3.0, "current": 2.5,
}  # fmt: skip
FIGURE_APART_C = 30.0


def figure_far_off(key: FigureKey, value: float, known: Sequence[float]) -> Problem | None:
    """A question about a figure far from all that were read of it in the same workload; None where it is not.

    known: readings of the same figure, in its quantity's own unit; fewer than two say nothing
    """
    if len(known) < FEWEST:
        return None
    low, high = min(known), max(known)
    unit = QUANTITIES[key.quantity].unit
    if key.quantity == "temperature":
        if low - FIGURE_APART_C <= value <= high + FIGURE_APART_C:
            return None
        params = {"figure": name_of(key), "value": value, "unit": unit, "low": low, "high": high}
        return Problem("sure", "figure_far_off", params)
    factor = FIGURE_FACTORS.get(key.quantity)
    if factor is None or low <= 0:
        return None
    return far_off(value, known, factor, unit, name_of(key))


def far_off(
    value: float, known: Sequence[float], factor: float = FACTOR, unit: str = "", figure: str = ""
) -> Problem | None:
    """A question about a result far from all that the same workload gave here; None where it is not.

    value: above zero; known: results that count, of any setting of the rig; fewer than two say nothing
    factor: how far from the lowest and the highest of them is still usual; unit: of the numbers; figure: name, none for a result
    """
    if len(known) < FEWEST or value <= 0:
        return None
    low, high = min(known), max(known)
    if low / factor <= value <= high * factor:
        return None
    times = value / high if value > high else low / value
    moved = [value / power if value > high else value * power for power in (10, 100, 1000)]
    slips = [*_within(moved, low, high, 1.1), *_within(_one_digit_less(value), low, high, 1.1)]
    meant = slips or _within(moved, low, high, factor)
    params = {"figure": figure, "value": value, "unit": unit, "times": times, "low": low, "high": high}
    if meant:
        slip = "above_all_known_slip" if value > high else "below_all_known_slip"
        return Problem("sure", slip, {**params, "meant": meant[0]})
    return Problem("sure", "above_all_known" if value > high else "below_all_known", params)


def _within(values: Sequence[float], low: float, high: float, factor: float) -> list[float]:
    return [value for value in values if low / factor <= value <= high * factor]


def _one_digit_less(value: float) -> list[float]:
    """A whole number with one of its digits left out, or its first digit another: 1419 for 419."""
    digits = f"{value:g}"
    if not digits.isdigit():
        return []
    return [float(digits[:place] + digits[place + 1 :] or 0) for place in range(len(digits))]
