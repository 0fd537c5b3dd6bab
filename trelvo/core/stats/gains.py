"""Gains: ratios against a reference, kept as ratios (1.077, never 7.7) until a screen formats them."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.workloads import Measure
from trelvo.core.problems import Problem, Refused


def _positive(number: float, where: str) -> float:
    if not (math.isfinite(number) and number > 0):
        raise Refused(Problem(where, "no_ratio", {"value": number}))
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
        raise Refused(Problem("time saved", "all_time_saved"))
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
        raise Refused(Problem("ratios", "nothing_to_average"))
    return math.exp(sum(logs) / len(logs))


@dataclass(frozen=True)
class Scaling:
    """How much of a clock's rise arrives as performance."""

    elasticity: float
    words: Literal["proportional", "usual", "something else limits", "against the clock", "beyond the clock"]


# 26 % more clock for 24 % more frames (0.93) is nearly proportional, 19 for 13 (0.70) usual, 19 for 5 (0.28) means that
# something else limits: common practice. The borders lie between these. A clock alone brings no more than its own rise; above
# BEYOND something else differs too (another part, another memory, a throttle that ended).
PROPORTIONAL, USUAL, BEYOND = 0.85, 0.5, 1.5


def scaling(performance_ratio: float, clock_ratio: float) -> Scaling | None:
    """Elasticity ln(performance ratio) / ln(clock ratio), with words; None while the clock has hardly moved (0.5 %)."""
    moved = math.log(_positive(clock_ratio, "clock ratio"))
    if abs(moved) < 0.005:
        return None
    elasticity = math.log(_positive(performance_ratio, "performance ratio")) / moved
    if elasticity > BEYOND:
        return Scaling(elasticity, "beyond the clock")
    if elasticity >= PROPORTIONAL:
        return Scaling(elasticity, "proportional")
    if elasticity >= USUAL:
        return Scaling(elasticity, "usual")
    return Scaling(elasticity, "something else limits" if elasticity > 0 else "against the clock")


@dataclass(frozen=True)
class Value:
    """Money for performance. per_unit: price of one unit of the better option; last_unit: price of each unit it adds."""

    per_unit: float
    last_unit: float | None


def value_for_money(price: float, performance: float, than_price: float, than_performance: float) -> Value:
    """Price per unit of performance, and the price of each unit gained over the alternative.

    performance, than_performance: in the same unit, higher is better (frames a second, points)
    last_unit is None where the dearer option is not the faster one.
    """
    per_unit = _positive(price, "price") / _positive(performance, "performance")
    more_money, more_units = price - than_price, performance - than_performance
    return Value(per_unit, more_money / more_units if more_money > 0 and more_units > 0 else None)


@dataclass(frozen=True)
class GapClosed:
    """Share of the gap between reference and target that a candidate closes (1 = reached), with its interval.

    gap: target over reference, as a performance ratio; low, high: None where no noise is known
    """

    share: float
    low: float | None
    high: float | None
    gap: float


def gap_closed(
    performance_ratio: float,
    target_ratio: float,
    sd: float | None,
    t_limit: float | None,
    runs: tuple[int, int, int],
) -> GapClosed | None:
    """How much of the gap to a target is closed; None when the gap itself lies inside the noise or leads downwards.

    performance_ratio, target_ratio: candidate and target over the reference, above 1 is better
    sd: relative run-to-run noise, None when unknown; t_limit: two-sided limit of t for its degrees of freedom
    runs: runs of reference, candidate and target; 0 for a target typed without repeats, which is taken as exact
    Source: share of a difference, with Fieller's interval for a ratio of two means that share the reference (Fieller 1954,
    from memory).
    """
    done, gap = performance_ratio - 1, target_ratio - 1
    if gap <= 0:
        return None
    if sd is None or t_limit is None:
        return GapClosed(done / gap, None, None, target_ratio)
    n_reference, n_candidate, n_target = runs
    shared = sd**2 / n_reference
    var_done = shared + (sd * performance_ratio) ** 2 / n_candidate
    var_gap = shared + ((sd * target_ratio) ** 2 / n_target if n_target else 0.0)
    a = gap**2 - t_limit**2 * var_gap
    if a <= 0:
        return None
    b = done * gap - t_limit**2 * shared
    c = done**2 - t_limit**2 * var_done
    half = math.sqrt(max(b**2 - a * c, 0.0))
    return GapClosed(done / gap, (b - half) / a, (b + half) / a, target_ratio)
