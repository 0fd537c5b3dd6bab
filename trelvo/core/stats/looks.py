"""How strict a verdict must be when runs are added until it is settled, or when the best of many is picked."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy import special

from trelvo.core.stats.noise import CONFIDENCE

# A look at a result is one burst of runs; a pause of so many hours ends it. Common practice: no one waits that long mid-series.
PAUSE_H = 0.5
# Runs on each side before which nothing is looked at: with fewer, only what lies far outside the noise is told.
FIRST_LOOK_RUNS = 5
# Levels that are spent: most of the 5 % at the first look, little at each later one, less and less. Calibrated by simulation
# (studies/test_verdict.py): adding a run to each side until settled, from 3 to 20, claims falsely less than 6 times in 100.
FIRST_LEVEL, LATER_LEVEL = 0.04, 0.03
# Fewer candidates than this are no choice of the best among many.
MANY = 3


def level_at(look: int) -> float:
    """The level at which a difference is told at this look, the first being 1."""
    return FIRST_LEVEL if look <= 1 else LATER_LEVEL / look


def looks_of(reference_hours: Sequence[float], candidate_hours: Sequence[float]) -> int:
    """How often a result could have been looked at: bursts of runs since both sides had enough for a first look.

    hours: when each run began, from any common moment
    """
    first, second = sorted(reference_hours), sorted(candidate_hours)
    if min(len(first), len(second)) < FIRST_LOOK_RUNS:
        return 1
    ready = max(first[FIRST_LOOK_RUNS - 1], second[FIRST_LOOK_RUNS - 1])
    later = [ready, *(hour for hour in sorted((*first, *second)) if hour > ready)]
    return 1 + sum(later[k + 1] - later[k] > PAUSE_H for k in range(len(later) - 1))


@dataclass(frozen=True)
class Drawn:
    """The best of many, drawn towards the rest: its ratio with the interval, and of how many it was picked."""

    ratio: float
    low: float
    high: float
    of: int


def best_drawn(ratios: Sequence[float], errors: Sequence[float], picked: int) -> Drawn | None:
    """What the one picked as best is worth, once it is counted that it was picked: luck helped it to the top.

    ratios: all candidates against the same reference; errors: standard errors of ln(ratio), without the reference's own
    None for fewer than three candidates, or where an error is not known
    Source: empirical Bayes for normal means; spread between candidates by the method of moments (DerSimonian and Laird 1986,
    from memory).
    """
    if len(ratios) < MANY or any(error <= 0 for error in errors):
        return None
    logs, weights = [math.log(ratio) for ratio in ratios], [1 / error**2 for error in errors]
    total = sum(weights)
    mean = sum(w * x for w, x in zip(weights, logs, strict=True)) / total
    scatter = sum(w * (x - mean) ** 2 for w, x in zip(weights, logs, strict=True))
    spread = max((scatter - (len(logs) - 1)) / (total - sum(w**2 for w in weights) / total), 0.0)
    own = errors[picked] ** 2
    share = spread / (spread + own)
    value = mean + share * (logs[picked] - mean)
    # what is left to doubt: its own part, and the mean's where it leans on it
    deviation = math.sqrt(share * own + (1 - share) ** 2 / total)
    reach = float(special.ndtri(0.5 + CONFIDENCE / 2)) * deviation
    return Drawn(math.exp(value), math.exp(value - reach), math.exp(value + reach), len(ratios))
