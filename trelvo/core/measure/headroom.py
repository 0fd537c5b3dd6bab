"""Headroom at stock: is the part hot, power-starved or unsteady already, before anything is turned?"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

State = Literal["room", "close", "none", "unknown"]

# Within 2 % of its power limit a part is held by it; within a tenth it is near (common practice for loads that vary).
STARVED_SHARE, NEAR_SHARE = 0.98, 0.9
CLOSE_C = 8.0
STEADY_SHARE = 0.01


@dataclass(frozen=True)
class Card:
    """One kind of headroom. left: what remains, in `unit`; words: what that means for the climb."""

    name: str
    state: State
    reading: float | None
    limit: float | None
    left: float | None
    unit: str
    words: str


def headroom(
    temp_max_c: float | None,
    temp_limit_c: float | None,
    power_w: float | None,
    power_limit_w: float | None,
    clocks_mhz: Sequence[float],
) -> list[Card]:
    """Temperature to limit, power to limit, steadiness of the clock reached over the stock runs (MHz)."""
    return [_heat(temp_max_c, temp_limit_c), _power(power_w, power_limit_w), _clock(clocks_mhz)]


def _heat(reading: float | None, limit: float | None) -> Card:
    name = "Temperature to limit"
    if reading is None or limit is None:
        missing = "No temperature was logged." if reading is None else "No limit is set; type one to see what is left."
        return Card(name, "unknown", reading, limit, None, "°C", missing)
    left = limit - reading
    if left <= 0:
        return Card(
            name, "none", reading, limit, left, "°C", "Over the limit at stock: better cooling before any climb."
        )
    if left <= CLOSE_C:
        return Card(
            name, "close", reading, limit, left, "°C", "Close at stock: lower the voltage or cool better first."
        )
    return Card(name, "room", reading, limit, left, "°C", "Heat does not hold it at stock.")


def _power(reading: float | None, limit: float | None) -> Card:
    name = "Power to limit"
    if reading is None or limit is None or limit <= 0:
        missing = "No power was logged." if reading is None else "No limit is set; type one to see what is left."
        return Card(name, "unknown", reading, limit, None, "W", missing)
    left, share = limit - reading, reading / limit
    if share >= STARVED_SHARE:
        return Card(name, "none", reading, limit, left, "W", "Starved at stock: raise the power limit first.")
    if share >= NEAR_SHARE:
        return Card(name, "close", reading, limit, left, "W", "Near its limit: more clock will soon meet it.")
    return Card(name, "room", reading, limit, left, "W", "Power does not hold it at stock.")


def _clock(clocks: Sequence[float]) -> Card:
    name = "Clock steadiness"
    if len(clocks) < 2:
        return Card(name, "unknown", None, None, None, "MHz", "Needs the clock reached in two runs.")
    spread = max(clocks) - min(clocks)
    mean = sum(clocks) / len(clocks)
    if spread <= mean * STEADY_SHARE:
        return Card(name, "room", mean, None, spread, "MHz", "The same clock in every run.")
    return Card(name, "close", mean, None, spread, "MHz", "It moves between runs: look for heat or power as the cause.")
