"""What holds a part back at this moment, from what it reads and what it is allowed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from trelvo.core.registry.quantities import Quantity

What = Literal[
    "power limit", "heat", "frame cap", "one busy thread", "something else in the rig", "the clock set", "not known"
]

# Controllers stay a little below their limit; within this share of it they are at it. Common practice.
NEAR_POWER = 0.97
NEAR_TEMP_C = 1.5
NEAR_CAP = 0.985
# A part busy for less than this share of the time waits for another. Common practice.
BUSY_PERCENT = 93.0
# A clock so far below what the part has reached before, busy all the while, is held down. Common practice: its steps are smaller.
FALLEN = 0.05
# So far below the limit of heat, heat is not what holds it.
COOL_C = 5.0
# A processor's load, counted in full threads, when just one is full and the system does a little besides. Common practice.
ONE_THREAD = (0.9, 1.4)


@dataclass(frozen=True)
class Limits:
    """What the part is allowed: power in W where it is read first, temperature in °C, frame cap in fps; None: not known.

    threads: how many threads the processor runs at once
    """

    power_w: float | None = None
    temp_c: float | None = None
    cap_fps: float | None = None
    threads: float | None = None


Reason = Literal[
    "no_reading", "at_temperature_limit", "at_power_limit", "at_frame_cap", "one_thread_full", "waits_for_the_rest",
    "load_not_read", "below_both_limits", "limits_not_known", "below_power_limit", "below_temperature_limit",
    "fallen_limits_not_known", "fallen_below_limits", "fallen_by_power_limit", "said_by_the_log",
]  # fmt: skip


@dataclass(frozen=True)
class Limiter:
    """What holds the part back, and the reason.

    reading, limit: of the quantity that decides, in its own unit; limit: threads, where one of them is full
    fallen: by what share the clock is below one that it reached before; under_c: how far below the limit of heat, °C
    """

    what: What
    code: Reason
    reading: float | None = None
    limit: float | None = None
    fallen: float | None = None
    under_c: float | None = None


def limiter_now(latest: Mapping[Quantity, float], limits: Limits, reached_mhz: float | None = None) -> Limiter:
    """The limiter by the latest reading of each quantity in its own unit (first channel), asked in the order of force.

    reached_mhz: the highest clock that the part has held before at the same setting, where that is known
    """
    if not latest:
        return Limiter("not known", "no_reading")
    temp, power, rate, load = (latest.get(q) for q in ("temperature", "power", "frame rate", "load"))
    if temp is not None and limits.temp_c is not None and temp >= limits.temp_c - NEAR_TEMP_C:
        return Limiter("heat", "at_temperature_limit", temp, limits.temp_c)
    if power is not None and limits.power_w and power >= NEAR_POWER * limits.power_w:
        return Limiter("power limit", "at_power_limit", power, limits.power_w)
    if rate is not None and limits.cap_fps and rate >= NEAR_CAP * limits.cap_fps:
        return Limiter("frame cap", "at_frame_cap", rate, limits.cap_fps)
    if load is not None and limits.threads and limits.threads >= 2 and _one_thread(load, limits.threads):
        return Limiter("one busy thread", "one_thread_full", load, limits.threads)
    if load is not None and load < BUSY_PERCENT:
        return Limiter("something else in the rig", "waits_for_the_rest", load)
    if load is None:
        return Limiter("not known", "load_not_read")
    clock = latest.get("core clock")
    if reached_mhz is not None and clock is not None and clock < (1 - FALLEN) * reached_mhz:
        return _fallen(1 - clock / reached_mhz, temp, power, limits)
    return Limiter("the clock set", _below(limits))


def _below(limits: Limits) -> Reason:
    """That nothing holds it back, as far as its limits are known."""
    if limits.power_w and limits.temp_c:
        return "below_both_limits"
    if limits.power_w:
        return "below_power_limit"
    return "below_temperature_limit" if limits.temp_c else "limits_not_known"


def _fallen(share: float, temp: float | None, power: float | None, limits: Limits) -> Limiter:
    """What holds a busy part below a clock that it has reached: a power limit that nobody told, where heat is far off."""
    if temp is None or limits.temp_c is None:
        return Limiter("not known", "fallen_limits_not_known", fallen=share)
    if temp > limits.temp_c - COOL_C or limits.power_w is not None:
        return Limiter("not known", "fallen_below_limits", fallen=share)
    return Limiter("power limit", "fallen_by_power_limit", power, fallen=share, under_c=limits.temp_c - temp)


def _one_thread(load: float, threads: float) -> bool:
    """Whether so much load (% of all threads) is one thread full and the others nearly idle."""
    return ONE_THREAD[0] <= load * threads / 100 <= ONE_THREAD[1]
