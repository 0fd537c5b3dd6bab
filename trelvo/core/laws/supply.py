"""Where watts are measured: wall against direct current, system less the rest, rails and cables."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from trelvo.core.base.deviations import Z
from trelvo.core.laws.heat import Interval
from trelvo.core.problems import Problem, Refused

Rating = Literal["Bronze", "Gold", "Platinum", "Titanium"]
# Efficiency at shares of the rated load, 115 V. 80 PLUS programme, from memory.
RATINGS: dict[Rating, tuple[tuple[float, float], ...]] = {
    "Bronze": ((0.2, 0.82), (0.5, 0.85), (1.0, 0.82)),
    "Gold": ((0.2, 0.87), (0.5, 0.90), (1.0, 0.87)),
    "Platinum": ((0.2, 0.90), (0.5, 0.92), (1.0, 0.89)),
    "Titanium": ((0.1, 0.90), (0.2, 0.92), (0.5, 0.94), (1.0, 0.90)),
}
# A specimen meets its rating's points give or take so much; below the lowest point efficiency falls off. Common practice.
RATING_SD, BELOW_LOWEST = 0.01, 0.75
# What the slot delivers to a card's fan and logic, and never shows on its cables: 2.4 A on 12 V. Common practice.
SLOT_W = 28.8


@dataclass(frozen=True)
class Delivered:
    """Watts that leave the supply, its efficiency there, and what it turns to heat itself."""

    dc_w: Interval
    efficiency: float
    lost_w: float


def check_points(points: Sequence[tuple[float, float]]) -> list[Problem]:
    """What is wrong with an efficiency curve of (share of the rated load, efficiency); empty when it can be used."""
    problems = []
    if len(points) < 2:
        problems.append(Problem("points", "supply_curve_too_short"))
    for i, (share, efficiency) in enumerate(points):
        if not (math.isfinite(share) and 0 < share <= 1.5):
            problems.append(Problem(f"points.{i}", "load_share_impossible", {"share": share}))
        if not (math.isfinite(efficiency) and 0.2 <= efficiency < 1):
            problems.append(Problem(f"points.{i}", "efficiency_impossible", {"efficiency": efficiency}))
    if not problems and len({share for share, _ in points}) < len(points):
        problems.append(Problem("points", "points_at_one_load"))
    return problems


def efficiency_at(points: Sequence[tuple[float, float]], share: float) -> float:
    """Efficiency at a share of the rated load: straight lines between the points, falling off below the lowest."""
    ordered = sorted(points)
    loads, values = [one for one, _ in ordered], [one for _, one in ordered]
    if share < loads[0]:
        # from nothing at no load to the first point
        fall = BELOW_LOWEST * values[0]
        return float(fall + (values[0] - fall) * max(share, 0.0) / loads[0])
    return float(np.interp(share, loads, values))


def from_the_wall(wall_w: float, rated_w: float, points: Sequence[tuple[float, float]]) -> Delivered:
    """Direct current behind a supply, from a reading at the wall.

    wall_w: meter at the wall, W; rated_w: what the supply is rated to deliver, W; points: its efficiency (`RATINGS`, or typed)
    Method: the output whose losses give the input, by repeated insertion. Refused for a reading or rating of nothing.
    """
    if not (math.isfinite(wall_w) and wall_w > 0):
        raise Refused(Problem("wall_w", "wall_power_impossible", {"wall_w": wall_w}))
    if not (math.isfinite(rated_w) and rated_w > 0):
        raise Refused(Problem("rated_w", "supply_size_impossible", {"rated_w": rated_w}))
    if problems := check_points(points):
        raise Refused(*problems)
    efficiency = efficiency_at(points, 0.5)
    for _ in range(50):
        efficiency = efficiency_at(points, wall_w * efficiency / rated_w)
    dc = wall_w * efficiency
    wide = Z * RATING_SD * wall_w
    return Delivered(Interval(dc, dc - wide, dc + wide), efficiency, wall_w - dc)


def less_the_rest(system_w: Interval, rest_w: float, rest_give_or_take_w: float = 0.0) -> Interval:
    """A part's watts as the system's less those of everything else, W; both uncertainties stay in it."""
    value = system_w.value - rest_w
    wide = math.hypot((system_w.high - system_w.low) / 2, rest_give_or_take_w)
    return Interval(value, value - wide, value + wide)


def rail_w(volts: float, amperes: float) -> float:
    """Power on a rail or a cable: Ohm's law."""
    return volts * amperes


def load_line_mohm(idle_v: float, load_v: float, amperes: float) -> float:
    """Resistance of the load line in mOhm from the droop under a current; negative where the voltage rises."""
    if not (math.isfinite(idle_v) and math.isfinite(load_v)):
        raise Refused(Problem("idle_v", "voltage_not_a_number"))
    if not (math.isfinite(amperes) and amperes > 0):
        raise Refused(Problem("amperes", "current_without_droop", {"amperes": amperes}))
    return 1000 * (idle_v - load_v) / amperes
