"""What a heat forecast shows, in short: whether the temperature has settled, where, and for how long to go on."""

from dataclasses import dataclass
from typing import Literal

from trelvo.core.laws.heat import HeatForecast, Interval
from trelvo.core.problems import Problem, Refused

# A final temperature known this closely, °C either way, needs no more minutes.
CLOSE_ENOUGH_C = 1.0


@dataclass(frozen=True)
class HeatFinding:
    """settles_c: where the temperature will settle, and how far it may be off; more_min: until it is within `WITHIN_C` of that

    known: the end is known closely enough to stop; misfit_c: how far the readings are from any warming, where they do not fit
    problems: why the log tells nothing; power_w: at which power, None where it was not read
    """

    code: Literal["settled", "settles", "does_not_fit", "unreadable"]
    settles_c: float | None = None
    give_or_take_c: float | None = None
    power_w: float | None = None
    more_min: int = 0
    known: bool = False
    misfit_c: float = 0.0
    problems: tuple[Problem, ...] = ()


def give_or_take(one: Interval) -> float:
    """Half the width of an interval."""
    return (one.high - one.low) / 2


def can_stop(forecast: HeatForecast) -> bool:
    """Whether the run has told where the temperature settles, so that it may end as far as heat is concerned."""
    return forecast.fits and give_or_take(forecast.settles_c) <= CLOSE_ENOUGH_C


def heat_finding(forecast: HeatForecast | Refused) -> HeatFinding:
    """What a forecast shows, or why there is none."""
    if isinstance(forecast, Refused):
        return HeatFinding("unreadable", problems=forecast.problems)
    if not forecast.fits:
        return HeatFinding("does_not_fit", misfit_c=forecast.misfit_c)
    return HeatFinding(
        "settled" if forecast.more_s <= 0 else "settles",
        forecast.settles_c.value,
        give_or_take(forecast.settles_c),
        forecast.power_w,
        0 if forecast.more_s <= 0 else max(round(forecast.more_s / 60), 1),
        can_stop(forecast),
    )
