"""Gains: ratios against a reference, kept as ratios (1.077, never 7.7) until a screen formats them."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from trelvo.core.problems import Problem, Refused

Measure = Literal["frame rate", "score", "time"]


def _positive(number: float, where: str) -> float:
    if not (math.isfinite(number) and number > 0):
        raise Refused(Problem(where, f"{number:g} is not above zero, so no ratio exists.", "Type a value above zero."))
    return number


def performance_ratio(reference: float, candidate: float, *, higher_is_better: bool) -> float:
    """Candidate's performance over the reference's: above 1 is better, whichever way the measure runs.

    reference, candidate: same unit, above zero. For times the ratio is reference / candidate: the speed gained.
    """
    _positive(reference, "reference"), _positive(candidate, "candidate")
    return candidate / reference if higher_is_better else reference / candidate


def time_saved(speed_ratio: float) -> float:
    """Share of the time saved by a speed ratio: 1 - 1 / ratio. 14 % less time is a speed ratio of 1.163."""
    return 1 - 1 / _positive(speed_ratio, "speed ratio")


def speed_gained(time_saved_share: float) -> float:
    """Speed ratio that saves this share of the time (below 1): 1 / (1 - share). The inverse of `time_saved`."""
    if not (math.isfinite(time_saved_share) and time_saved_share < 1):
        raise Refused(Problem("time saved", "No more than all of the time can be saved.", "Type a share below 100 %."))
    return 1 / (1 - time_saved_share)


def compound(ratios: Iterable[float]) -> float:
    """Ratio of a chain of steps, each measured against the one before: the product, never a sum of percentages."""
    return math.prod(_positive(ratio, "step ratio") for ratio in ratios)


@dataclass(frozen=True)
class Retained:
    """What is left of speed and power against a reference (ratios), and work per joule as their quotient."""

    performance: float
    power: float
    per_joule: float


def retained(performance: float, power_reference_w: float, power_candidate_w: float) -> Retained:
    """Share of the performance kept and of the power drawn. Both powers in watts at the same measuring point.

    performance: performance ratio (above 1 is better)
    """
    power = _positive(power_candidate_w, "power") / _positive(power_reference_w, "reference power")
    return Retained(_positive(performance, "performance"), power, performance / power)


@dataclass(frozen=True)
class Efficiency:
    """Work for energy: `amount` in `unit`; for time it is energy for one pass, where less is better."""

    amount: float
    unit: Literal["frames/J", "points/W", "J/pass"]


def efficiency(value: float, measure: Measure, power_w: float) -> Efficiency:
    """Frames per joule of a frame rate, points per watt of a score, joules for one pass of a timed task.

    value: frames a second, points or seconds; power_w: mean power during the run
    """
    _positive(value, "value"), _positive(power_w, "power")
    if measure == "frame rate":
        return Efficiency(value / power_w, "frames/J")
    if measure == "score":
        return Efficiency(value / power_w, "points/W")
    return Efficiency(value * power_w, "J/pass")


def geometric_mean(ratios: Iterable[float]) -> float:
    """Mean of ratios that does not depend on which machine is the reference.

    Source: Fleming and Wallace, How not to lie with statistics, CACM 29(3), 1986 (from memory).
    """
    logs = [math.log(_positive(ratio, "ratio")) for ratio in ratios]
    if not logs:
        raise Refused(Problem("ratios", "There are none to average.", "Log runs of at least one workload."))
    return math.exp(sum(logs) / len(logs))
