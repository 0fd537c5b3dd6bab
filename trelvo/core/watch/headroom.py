"""Headroom at stock: is the part hot, power-starved or unsteady already, before anything is turned?"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.message import Message, message

Kind = Literal["temperature", "power", "clock"]
State = Literal["room", "close", "none", "unknown"]

# Within 2 % of its power limit a part is held by it; within a tenth it is near (common practice for loads that vary).
STARVED_SHARE, NEAR_SHARE = 0.98, 0.9
CLOSE_C = 8.0
STEADY_SHARE = 0.01


@dataclass(frozen=True)
class Card:
    """One kind of headroom. left: what remains, in `unit`; says: what that means for the climb."""

    kind: Kind
    state: State
    reading: float | None
    limit: float | None
    left: float | None
    unit: str
    says: Message


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
    if reading is None or limit is None:
        missing = message("no_temperature_logged") if reading is None else message("no_limit_set")
        return Card("temperature", "unknown", reading, limit, None, "°C", missing)
    left = limit - reading
    if left <= 0:
        return Card("temperature", "none", reading, limit, left, "°C", message("over_limit_at_stock"))
    if left <= CLOSE_C:
        return Card("temperature", "close", reading, limit, left, "°C", message("close_to_heat_limit"))
    return Card("temperature", "room", reading, limit, left, "°C", message("heat_does_not_hold"))


def _power(reading: float | None, limit: float | None) -> Card:
    if reading is None or limit is None or limit <= 0:
        missing = message("no_power_logged") if reading is None else message("no_limit_set")
        return Card("power", "unknown", reading, limit, None, "W", missing)
    left, share = limit - reading, reading / limit
    if share >= STARVED_SHARE:
        return Card("power", "none", reading, limit, left, "W", message("starved_at_stock"))
    if share >= NEAR_SHARE:
        return Card("power", "close", reading, limit, left, "W", message("near_power_limit"))
    return Card("power", "room", reading, limit, left, "W", message("power_does_not_hold"))


def _clock(clocks: Sequence[float]) -> Card:
    if len(clocks) < 2:
        return Card("clock", "unknown", None, None, None, "MHz", message("needs_two_clocks"))
    spread = max(clocks) - min(clocks)
    mean = sum(clocks) / len(clocks)
    if spread <= mean * STEADY_SHARE:
        return Card("clock", "room", mean, None, spread, "MHz", message("same_clock"))
    return Card("clock", "close", mean, None, spread, "MHz", message("clock_moves"))
