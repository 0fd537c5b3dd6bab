"""What the watts come to: joules a pass, kilowatt-hours and money a year."""

import math
from dataclasses import dataclass

from trelvo.core.problems import Problem, Refused

DAYS_A_YEAR = 365.0


@dataclass(frozen=True)
class Yearly:
    """kWh a year, and what they cost where a price is given.

    half_kwh: 95 % half width of what is not known of the correction of the instrument that read the watts; 0 where it is exact
    """

    kwh: float
    cost: float | None
    half_kwh: float = 0.0


def yearly(power_w: float, hours_a_day: float, price_per_kwh: float | None, half_w: float = 0.0) -> Yearly:
    """Energy of so many hours a day, all year. Refused for hours beyond a day, or negative numbers.

    half_w: how far the watts may be off by the instrument's correction
    """
    if not (math.isfinite(hours_a_day) and 0 <= hours_a_day <= 24):
        raise Refused(Problem("hours", "hours_a_day_out_of_range", {"hours_a_day": hours_a_day}))
    if price_per_kwh is not None and not (math.isfinite(price_per_kwh) and price_per_kwh >= 0):
        raise Refused(Problem("price", "price_impossible", {"price": price_per_kwh}))
    kwh_a_watt = hours_a_day * DAYS_A_YEAR / 1000
    kwh = power_w * kwh_a_watt
    return Yearly(kwh, None if price_per_kwh is None else kwh * price_per_kwh, half_w * kwh_a_watt)


def joules(power_w: float, seconds: float) -> float:
    """Energy of one pass."""
    return power_w * seconds
