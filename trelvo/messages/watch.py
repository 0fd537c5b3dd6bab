"""What holds a part back, and the way of its clock, in words."""

from collections.abc import Mapping, Sequence

from trelvo.core.watch.held_back import Level, first_pass
from trelvo.core.watch.limiter import Limiter, Reason

# Named by the fields of a limiter; fallen_percent and at: see `limiter_text`.
REASONS: Mapping[Reason, str] = {
    "no_reading": "No reading yet.",
    "at_temperature_limit": "{reading:.0f} °C of {limit:.0f} °C allowed.",
    "at_power_limit": "{reading:.0f} W of {limit:.0f} W allowed.",
    "at_frame_cap": "{reading:.0f} fps, capped at {limit:.0f}.",
    "one_thread_full": "Busy {reading:.0f} % of {limit:.0f} threads: one is full, and the work waits for it.",
    "waits_for_the_rest": "Busy {reading:.0f} % of the time; it waits for the rest.",
    "load_not_read": "This bench does not read how busy the part is.",
    "below_both_limits": "Busy, and below its limits of power and heat.",
    "limits_not_known": "Busy; its limits of power and heat are not known.",
    "below_power_limit": "Busy, and below its limit of power; that of heat is not known.",
    "below_temperature_limit": "Busy, and below its limit of heat; that of power is not known.",
    "fallen_limits_not_known": "Busy, and {fallen_percent:.0f} % below the clock that it reached before: power or heat holds it, and their limits are not known.",
    "fallen_below_limits": "Busy, and {fallen_percent:.0f} % below the clock that it reached before, but at none of its known limits.",
    "fallen_by_power_limit": "Busy, and {fallen_percent:.0f} % below the clock that it reached before, {under_c:.0f} °C under its limit of heat: a power limit{at}.",
    "said_by_the_log": "The log’s own column says so.",
}


def limiter_text(limiter: Limiter) -> str:
    """Why this is what holds the part back."""
    at = f", at {limiter.reading:.0f} W" if limiter.reading is not None else ""
    return REASONS[limiter.code].format(**vars(limiter), fallen_percent=100 * (limiter.fallen or 0.0), at=at)


def levels_text(levels: Sequence[Level]) -> str:
    """The clock's way: "2700 MHz for 28 s, then 1800 MHz: the start runs 50 % above what it holds". Empty for one level."""
    if len(levels) < 2:
        return ""
    shown = list(levels[:3])
    parts = [f"{level.mean:.0f} MHz for {_span(level.to_s - level.from_s)}" for level in shown[:-1]]
    last = shown[-1] if len(levels) <= 3 else levels[-1]
    way = ", then ".join([*parts, f"{last.mean:.0f} MHz" if len(levels) <= 3 else f"… {last.mean:.0f} MHz at the end"])
    first = first_pass(levels)
    if first is None:
        return f"{way}."
    return f"{way}: the start runs {100 * first.ahead:.0f} % above what it holds, so a short first pass flatters."


def _span(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 120 else f"{seconds / 60:.0f} min"
