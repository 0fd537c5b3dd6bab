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


@dataclass(frozen=True)
class Limiter:
    """The limiter and the reason in one sentence."""

    what: What
    why: str


def limiter_now(latest: Mapping[Quantity, float], limits: Limits, reached_mhz: float | None = None) -> Limiter:
    """The limiter by the latest reading of each quantity in its own unit (first channel), asked in the order of force.

    reached_mhz: the highest clock that the part has held before at the same setting, where that is known
    """
    if not latest:
        return Limiter("not known", "No reading yet.")
    temp, power, rate, load = (latest.get(q) for q in ("temperature", "power", "frame rate", "load"))
    if temp is not None and limits.temp_c is not None and temp >= limits.temp_c - NEAR_TEMP_C:
        return Limiter("heat", f"{temp:.0f} °C of {limits.temp_c:.0f} °C allowed.")
    if power is not None and limits.power_w and power >= NEAR_POWER * limits.power_w:
        return Limiter("power limit", f"{power:.0f} W of {limits.power_w:.0f} W allowed.")
    if rate is not None and limits.cap_fps and rate >= NEAR_CAP * limits.cap_fps:
        return Limiter("frame cap", f"{rate:.0f} fps, capped at {limits.cap_fps:.0f}.")
    if load is not None and limits.threads and limits.threads >= 2 and _one_thread(load, limits.threads):
        return Limiter(
            "one busy thread",
            f"Busy {load:.0f} % of {limits.threads:.0f} threads: one is full, and the work waits for it.",
        )
    if load is not None and load < BUSY_PERCENT:
        return Limiter("something else in the rig", f"Busy {load:.0f} % of the time; it waits for the rest.")
    if load is None:
        return Limiter("not known", "This bench does not read how busy the part is.")
    clock = latest.get("core clock")
    if reached_mhz is not None and clock is not None and clock < (1 - FALLEN) * reached_mhz:
        return _fallen(1 - clock / reached_mhz, temp, power, limits)
    return Limiter("the clock set", _below(limits))


def _below(limits: Limits) -> str:
    """That nothing holds it back, as far as its limits are known."""
    known = [name for name, limit in (("power", limits.power_w), ("heat", limits.temp_c)) if limit]
    if len(known) == 2:
        return "Busy, and below its limits of power and heat."
    if not known:
        return "Busy; its limits of power and heat are not known."
    other = "heat" if known == ["power"] else "power"
    return f"Busy, and below its limit of {known[0]}; that of {other} is not known."


def _fallen(share: float, temp: float | None, power: float | None, limits: Limits) -> Limiter:
    """What holds a busy part below a clock that it has reached: a power limit that nobody told, where heat is far off."""
    below = f"Busy, and {100 * share:.0f} % below the clock that it reached before"
    if temp is None or limits.temp_c is None:
        return Limiter("not known", f"{below}: power or heat holds it, and their limits are not known.")
    if temp > limits.temp_c - COOL_C or limits.power_w is not None:
        return Limiter("not known", f"{below}, but at none of its known limits.")
    at = f", at {power:.0f} W" if power is not None else ""
    return Limiter("power limit", f"{below}, {limits.temp_c - temp:.0f} °C under its limit of heat: a power limit{at}.")


def _one_thread(load: float, threads: float) -> bool:
    """Whether so much load (% of all threads) is one thread full and the others nearly idle."""
    return ONE_THREAD[0] <= load * threads / 100 <= ONE_THREAD[1]
