"""What a heat forecast says to the person at the bench."""

from trelvo.core.laws.heat import WITHIN_C, HeatForecast, Interval

# A final temperature known this closely, °C either way, needs no more minutes.
CLOSE_ENOUGH_C = 1.0


def give_or_take(one: Interval) -> float:
    """Half the width of an interval."""
    return (one.high - one.low) / 2


def can_stop(found: HeatForecast) -> bool:
    """Whether the run has told where the temperature settles, so that it may end as far as heat is concerned."""
    return found.fits and give_or_take(found.settles_c) <= CLOSE_ENOUGH_C


def heat_says(found: HeatForecast) -> str:
    """One sentence: where it settles, how surely, and how long that takes."""
    if not found.fits:
        return f"Where it settles cannot be told. {found.why}"
    settles = f"{found.settles_c.value:.1f} °C ± {give_or_take(found.settles_c):.1f}"
    at = f" at {found.power_w:.0f} W" if found.power_w is not None else ""
    if found.more_s <= 0:
        return f"Settled: it is within {WITHIN_C:g} °C of {settles}{at}."
    minutes = max(round(found.more_s / 60), 1)
    known = "The end is known closely enough to stop. " if can_stop(found) else ""
    if not at:
        at = ", if its power stays as it is (it was not read)"
    return f"{known}Settles at {settles}{at}; about {minutes} min more to be within {WITHIN_C:g} °C of that."
