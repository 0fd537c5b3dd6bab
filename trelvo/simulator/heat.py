"""Where the power goes: from the die into the cooler, from the cooler into the room, or first into a closed case that warms up
slowly; and the fan between."""

from dataclasses import dataclass
from typing import NamedTuple


@dataclass(frozen=True)
class Cooling:
    """Two nodes, die and cooler. Heat capacities in J/°C, resistances in °C/W.

    to_room_c_per_w: at full fan; the fan's share of it goes with speed to the power -0.6
    case_j_per_c, case_c_per_w: the case around it, and from there to the room; None: the cooler is in the open
    fan_curve: (°C at which the fan leaves its floor, % for each °C above), floor and top in %
    """

    die_j_per_c: float
    cooler_j_per_c: float
    to_cooler_c_per_w: float
    to_room_c_per_w: float
    fan_from_c: float = 45.0
    fan_percent_per_c: float = 1.6
    fan_floor_percent: float = 30.0
    fan_most_rpm: float = 2400.0
    fan_most_w: float = 4.0
    case_j_per_c: float | None = None
    case_c_per_w: float = 0.0


class Heat(NamedTuple):
    """Temperatures of die, cooler and what stands around it in °C, fan in % of its top speed."""

    die_c: float
    cooler_c: float
    fan_percent: float
    case_c: float = 0.0


def at_rest(cooling: Cooling, room_c: float) -> Heat:
    return Heat(room_c, room_c, cooling.fan_floor_percent, room_c)


def room_resistance(cooling: Cooling, fan_percent: float) -> float:
    """°C/W from cooler to room at a fan speed: more air, less resistance, with diminishing returns."""
    return float(cooling.to_room_c_per_w * (max(fan_percent, 5.0) / 100) ** -0.6)


def fan_for(cooling: Cooling, die_c: float) -> float:
    """Where the fan curve wants the fan, %."""
    wanted = cooling.fan_floor_percent + cooling.fan_percent_per_c * (die_c - cooling.fan_from_c)
    return min(max(wanted, cooling.fan_floor_percent), 100.0)


def fan_power_w(cooling: Cooling, fan_percent: float) -> float:
    """Fan law: power with the cube of speed."""
    return cooling.fan_most_w * (fan_percent / 100) ** 3


def step_heat(
    cooling: Cooling, heat: Heat, power_w: float, room_c: float, seconds: float, locked_fan_percent: float | None = None
) -> Heat:
    """The nodes `seconds` later: what flows in less what flows out, over the heat capacity; the fan follows in 4 s."""
    die_c, cooler_c, fan_percent, case_c = heat
    into_cooler = (die_c - cooler_c) / cooling.to_cooler_c_per_w
    around_c = room_c if cooling.case_j_per_c is None else case_c
    into_room = (cooler_c - around_c) / room_resistance(cooling, fan_percent)
    if cooling.case_j_per_c is not None:
        out = (around_c - room_c) / cooling.case_c_per_w
        around_c += seconds * (into_room - out) / cooling.case_j_per_c
    wanted = locked_fan_percent if locked_fan_percent is not None else fan_for(cooling, die_c)
    return Heat(
        die_c + seconds * (power_w - into_cooler) / cooling.die_j_per_c,
        cooler_c + seconds * (into_cooler - into_room) / cooling.cooler_j_per_c,
        fan_percent + min(seconds / 4, 1.0) * (wanted - fan_percent),
        around_c,
    )
