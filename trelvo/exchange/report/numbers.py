"""Numbers as the screens write them (web/src/ui/words/format.ts): a true minus, signs on gains, a dash where there is none."""

from datetime import datetime

from trelvo.core.goal.measures import GoalMeasure

DASH = "–"


def number(value: float | None, decimals: int = 1) -> str:
    return DASH if value is None else f"{value:.{decimals}f}".replace("-", "−")


def plain(value: float | None) -> str:
    """As many decimals as a value of this size carries: 8421, 118.4, 93.68, 0.534."""
    if value is None:
        return DASH
    size = abs(value)
    return number(value, 0 if size >= 1000 else 1 if size >= 100 else 2 if size >= 1 else 3)


def signed(value: float, decimals: int = 0) -> str:
    text = f"{abs(value):.{decimals}f}"
    return f"±{text}" if float(text) == 0 else ("+" if value > 0 else "−") + text


def gain(ratio: float, decimals: int = 1) -> str:
    """A ratio as a signed percentage: 1.0412 is +4.1 %."""
    return f"{signed((ratio - 1) * 100, decimals)} %"


def gain_range(low: float | None, high: float | None) -> str:
    if low is None or high is None:
        return ""
    return f"{signed((low - 1) * 100, 1)} to {signed((high - 1) * 100, 1)} %"


def with_range(ratio: float, low: float | None, high: float | None) -> str:
    within = gain_range(low, high)
    return f"{gain(ratio)} ({within})" if within else gain(ratio)


def measure(one: GoalMeasure | None) -> str:
    """A setting in the goal's own measure, with its interval."""
    if one is None:
        return DASH
    if one.unit == "of":
        return f"{one.value:.0f} of {one.asked} workloads"
    if one.unit in ("°C", "dB(A)"):
        unit = "°C over room" if one.unit == "°C" else "dB(A)"
        within = (
            f" ({signed(one.low, 1)} to {signed(one.high, 1)})" if one.low is not None and one.high is not None else ""
        )
        return f"{signed(one.value, 1)} {unit}{within}"
    watts = f", {signed(one.watts)} W" if one.watts is not None else ""
    return with_range(one.value, one.low, one.high) + watts


def often(per_h: float | None) -> str:
    """A failure rate as people say it."""
    if per_h is None:
        return DASH
    if per_h >= 60:
        return "at once"
    if per_h >= 1:
        return f"{number(per_h)} an hour"
    return "less than once in 1000 h" if per_h < 1e-3 else f"once in {number(1 / per_h, 1 if per_h > 0.1 else 0)} h"


def day(at: datetime) -> str:
    return f"{at:%Y-%m-%d}"


def minute(at: datetime) -> str:
    return f"{at:%Y-%m-%d %H:%M} UTC"
