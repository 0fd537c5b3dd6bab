"""Settings not yet tried, predicted: how speed follows the clock reached, and which of them would beat all others."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from trelvo.core.laws.heat import SURE, Interval
from trelvo.core.laws.linear_model import Line, fit_line

# Percent of speed for a percent of clock, believed before any setting. Common practice: nearly so much where the part limits.
SCALING = (0.75, 0.2)
USUAL_SCATTER = 0.004
# Two predicted settings closer together in speed than this are one choice.
APART = 0.01
SURE_DEVIATIONS = float(special.ndtri((1 + SURE) / 2))


@dataclass(frozen=True)
class Untried:
    """A setting with what is predicted of it: mean power over the workloads, speed against stock as a ratio."""

    values: dict[str, float]
    power_w: Interval
    ratio: Interval

    def keeps(self, least_ratio: float, chance: float) -> bool:
        """Whether the speed is as much as asked for with a chance above a half."""
        spread = (self.ratio.value - self.ratio.low) / SURE_DEVIATIONS
        return self.ratio.value - float(special.ndtri(chance)) * spread >= least_ratio


def scaling(clocks: Sequence[float], speeds: Sequence[float]) -> Line:
    """How speed follows the clock, in logarithms through stock: one coefficient. Ratios against stock, one a setting."""
    logs = np.log(np.array(clocks, dtype=np.float64))
    return fit_line(
        logs.reshape(-1, 1),
        np.log(np.array(speeds, dtype=np.float64)),
        np.array([SCALING[0]]),
        np.array([SCALING[1]]),
        USUAL_SCATTER,
    )


def speed_at(line: Line, clock: Interval) -> Interval:
    """Speed against stock at a clock against stock; what is not known of either widens it."""
    log = math.log(clock.value)
    by_law = line.reading_at(np.array([log]))
    by_clock = line.coefficient(0).value * (clock.high - clock.low) / 2 / clock.value
    wide = math.hypot((by_law.high - by_law.low) / 2, by_clock)
    return Interval(math.exp(by_law.value), math.exp(by_law.value - wide), math.exp(by_law.value + wide))


def worth_trying(
    candidates: Sequence[Untried], measured: Sequence[tuple[float, float]], least_ratio: float, most: int
) -> list[Untried]:
    """Those that no other candidate and no measured setting beats in both watts and speed, at most so many.

    measured: (watts, ratio) of settings tried; least_ratio: speed that the goal keeps: the most efficient that keeps it comes
    first,
    then the others by watts
    """
    front: list[Untried] = []
    for candidate in sorted(candidates, key=lambda one: (one.power_w.value, -one.ratio.value)):
        if any(watts <= candidate.power_w.value and ratio >= candidate.ratio.value for watts, ratio in measured):
            continue
        if not front or candidate.ratio.value > front[-1].ratio.value + APART:
            front.append(candidate)
    keeps = [one for one in front if one.ratio.value >= least_ratio]
    ordered = keeps[:1] + [one for one in front if one not in keeps[:1]]
    return ordered[:most]
