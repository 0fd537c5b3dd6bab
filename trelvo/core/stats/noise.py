"""Noise: what repeats say about themselves, and the noise of a workload pooled over all its repeats.

Everything but the summary of repeats works on natural logarithms of the measured values: noise grows with the value,
so a deviation of ln(value) is a relative deviation, and it is the same in every unit.
"""

import math
import statistics
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt
from scipy import special

from trelvo.core.problems import Problem, Refused

CONFIDENCE = 0.95

# A first run is called out of family when the others would produce it less than once in a hundred times.
FAMILY_CONFIDENCE = 0.99
FAMILY_RUNS = 3

# What the noise of the neighbours weighs beside a workload's own, as if it were this many degrees of freedom.
NEIGHBOUR_DF = 2.0

# A run is far off where it differs from the middle of the others by this much, and by so many times as much as most of them do.
# Common practice: repeats of one setting differ by a few percent at most; a hitch costs a third and more.
FAR_OFF_LOG, FAR_OFF_TIMES = 0.2, 8.0
FAR_OFF_RUNS = 3

# Three repeats are the usual number (common practice); the deviation of two has one degree of freedom: no guide.
BASELINE_RUNS = 3


@dataclass(frozen=True)
class Summary:
    """Repeats of one workload at one setting. Values in the workload's unit; interval = Student t on the mean.

    sd, cv, low, high are None for a single run: one run says nothing about noise.
    """

    n: int
    mean: float
    median: float
    sd: float | None
    cv: float | None
    low: float | None
    high: float | None
    confidence: float


@dataclass(frozen=True)
class PooledNoise:
    """Run-to-run noise of a workload: sd of ln(value) (about the relative deviation), and its degrees of freedom.

    drawn: whether it was drawn up towards its neighbours, so that it moves a little with every run of theirs
    """

    sd_log: float
    df: int
    drawn: bool = field(default=False, compare=False)


def _checked(values: Iterable[float], where: str) -> npt.NDArray[np.float64]:
    array = np.asarray(list(values), dtype=np.float64)
    if array.size == 0:
        raise Refused(Problem(where, "no_runs"))
    if not np.isfinite(array).all():
        raise Refused(Problem(where, "value_not_finite"))
    return array


def logs(values: Iterable[float], where: str) -> npt.NDArray[np.float64]:
    """Natural logarithms of values above zero. Raises Refused, naming `where`, for anything else or for nothing."""
    array = _checked(values, where)
    if (array <= 0).any():
        raise Refused(Problem(where, "value_without_ratio"))
    return np.asarray(np.log(array), dtype=np.float64)


def summarise(values: Iterable[float], confidence: float = CONFIDENCE) -> Summary:
    """Mean, median, sample deviation (n - 1), relative deviation and t interval of repeats.

    values: in the workload's unit, any number from one up; confidence: two-sided, 0 to 1
    Raises Refused for no values or values that are not finite.
    Source: Student's t interval, NIST/SEMATECH e-Handbook of Statistical Methods 1.3.5.2 (from memory). The deviation
    is taken about the mean in a second pass, which keeps digits when the mean is large and the spread small.
    """
    array = _checked(values, "runs")
    n, mean = int(array.size), float(array.mean())
    median = statistics.median(array.tolist())
    if n == 1:
        return Summary(n=1, mean=mean, median=median, sd=None, cv=None, low=None, high=None, confidence=confidence)
    residuals = array - mean
    # the second term takes out the rounding of the mean itself (corrected two-pass algorithm)
    variance = float(((residuals**2).sum() - residuals.sum() ** 2 / n) / (n - 1))
    sd = math.sqrt(max(variance, 0.0))
    half = float(special.stdtrit(n - 1, 0.5 + confidence / 2)) * sd / math.sqrt(n)
    return Summary(
        n=n,
        mean=mean,
        median=median,
        sd=sd,
        cv=sd / abs(mean) if mean else None,
        low=mean - half,
        high=mean + half,
        confidence=confidence,
    )


_POWERS_OF_TEN = 10.0 ** np.arange(7)[:, np.newaxis]


def rounding_step(values: Iterable[float]) -> float:
    """Smallest decimal step on which all values lie (0.1 for 93.6 and 94): how finely the workload shows its result."""
    array = np.asarray(list(values), dtype=np.float64)
    scaled = array * _POWERS_OF_TEN
    off = np.abs(scaled - np.round(scaled)) >= 1e-6 * np.maximum(1, np.abs(scaled))
    on_step = np.flatnonzero(~off.any(axis=1))
    return float(1 / _POWERS_OF_TEN[on_step[0], 0]) if on_step.size else 0.0


def pool(groups: Iterable[Sequence[float]]) -> PooledNoise | None:
    """Noise of one workload pooled over groups of repeats (one group a setting), or None when nothing was repeated.

    groups: values in the workload's unit; groups of one carry no information on noise and are passed over
    """
    flat = [(label, value) for label, group in enumerate(groups) for value in group]
    return pool_labelled([value for _, value in flat], [label for label, _ in flat]) if flat else None


def pool_labelled(values: npt.ArrayLike, labels: npt.ArrayLike) -> PooledNoise | None:
    """The same as `pool` for one flat array of values and the setting that each belongs to.

    Never less than what rounding alone makes: two runs that both show 93.6 are not known to be equal.
    Source: pooled variance, sum of squares within groups over the sum of (n - 1), any textbook; rounding to a step
    has the variance step^2 / 12 (rectangular distribution, JCGM 100:2008 4.3.7, from memory).
    """
    array = np.asarray(values, dtype=np.float64)
    _, index = np.unique(np.asarray(labels), return_inverse=True)
    counts = np.bincount(index)
    repeated = counts[index] > 1
    df = int(counts[counts > 1].sum() - (counts > 1).sum())
    if df == 0:
        return None
    log = logs(array[repeated], "runs")
    within = index[repeated]
    means = np.bincount(within, log, counts.size) / np.maximum(counts, 1)
    squares = float(((log - means[within]) ** 2).sum())
    rounding = rounding_step(array[repeated]) / math.sqrt(12) / float(array[repeated].mean())
    return PooledNoise(max(math.sqrt(squares / df), rounding), df)


def noise_by_workload(
    values: npt.ArrayLike, settings: npt.ArrayLike, workloads: npt.ArrayLike, measures: Mapping[int, str]
) -> dict[int, PooledNoise | None]:
    """Noise of every workload of one build, each drawn up towards its neighbours of the same measure (see `shrink`).

    values, settings, workloads: of all runs that count, in three flat arrays; measures: what each workload measures
    """
    value, setting, workload = np.asarray(values, dtype=np.float64), np.asarray(settings), np.asarray(workloads)
    own = {}
    for workload_id in measures:
        mine = workload == workload_id
        own[workload_id] = pool_labelled(value[mine], setting[mine]) if mine.any() else None
    found = {}
    for workload_id, measure in measures.items():
        alike = [one for other, one in own.items() if one and other != workload_id and measures[other] == measure]
        found[workload_id] = shrink(own[workload_id], alike)
    return found


def shrink(noise: PooledNoise | None, neighbours: Sequence[PooledNoise]) -> PooledNoise | None:
    """A workload's noise drawn up towards that of its neighbours: workloads of the same measure, rig and build.

    Few repeats are sometimes alike by luck; the neighbours keep such luck from passing for precision. They weigh as much
    as two degrees of freedom, so with many repeats of its own a workload speaks for itself. The noise is only drawn up,
    never down, and no degrees of freedom are borrowed: so no verdict is said more often than its own repeats allow,
    however unlike the neighbours are. Without repeats of its own a workload gets no noise at all.
    Source: variances averaged with their degrees of freedom as weights, any textbook; of the neighbours the weighted median, so
    that one with a hitch in it spoils none of the others.
    """
    if noise is None or not neighbours:
        return noise
    prior = _weighted_median([(neighbour.sd_log**2, neighbour.df) for neighbour in neighbours])
    variance = (NEIGHBOUR_DF * prior + noise.df * noise.sd_log**2) / (NEIGHBOUR_DF + noise.df)
    return PooledNoise(max(noise.sd_log, math.sqrt(variance)), noise.df, variance > noise.sd_log**2)


def _weighted_median(pairs: Sequence[tuple[float, float]]) -> float:
    """The value at which half of the weight is reached; between two values where it is reached exactly there."""
    ordered = sorted(pairs)
    half, reached = sum(weight for _, weight in ordered) / 2, 0.0
    for place, (value, weight) in enumerate(ordered):
        reached += weight
        if math.isclose(reached, half) and place + 1 < len(ordered):
            return (value + ordered[place + 1][0]) / 2
        if reached > half:
            return value
    return ordered[-1][0]


def far_off(values: Sequence[float]) -> list[int]:
    """Places of repeats that are far from all the others: a hitch, a slip of the hand, not noise.

    values: above zero, of one workload at one setting; fewer than three accuse nobody
    The worst first, for as long as two thirds of them agree.
    Source: deviation from the median in units of the others' own, as in Hampel's identifier (1974, from memory).
    """
    left = [(math.log(value), place) for place, value in enumerate(values) if value > 0]
    found: list[int] = []
    while len(left) >= FAR_OFF_RUNS and len(left) - 1 >= 2 / 3 * len(values) - 1e-9:
        middle = statistics.median(log for log, _ in left)
        worst = max(left, key=lambda one: abs(one[0] - middle))
        others = [log for log, place in left if place != worst[1]]
        centre = statistics.median(others)
        spread = sorted(abs(log - centre) for log in others)[math.ceil(0.75 * len(others)) - 1]
        if abs(worst[0] - centre) <= max(FAR_OFF_LOG, FAR_OFF_TIMES * spread):
            break
        found.append(worst[1])
        left = [one for one in left if one[1] != worst[1]]
    logs_of = {place: math.log(value) for place, value in enumerate(values) if value > 0}
    centre = statistics.median(log for log, _ in left) if left else 0.0
    # one that has company is no accident
    return [place for place in found if not any(abs(log - logs_of[place]) < abs(log - centre) for log, _ in left)]


def first_out_of_family(values: Sequence[float], pooled: PooledNoise | None = None) -> bool:
    """Whether the first of some repeats differs from the others more than noise does: a warm-up suspect.

    values: in the order they were run; at least three others are needed, or two with noise known from elsewhere
    pooled: noise of the workload from its other settings (this group left out)
    Source: prediction interval for one further value from the others, 99 %; any textbook.
    """
    if len(values) < FAMILY_RUNS + (0 if pooled else 1):
        return False
    first, others = float(logs(values[:1], "runs")[0]), logs(values[1:], "runs")
    squares, df = float(((others - others.mean()) ** 2).sum()), float(others.size - 1)
    if pooled:
        squares, df = squares + pooled.sd_log**2 * pooled.df, df + pooled.df
    if squares == 0:
        return first != float(others[0])
    reach = float(special.stdtrit(df, 0.5 + FAMILY_CONFIDENCE / 2)) * math.sqrt(squares / df * (1 + 1 / others.size))
    return abs(first - float(others.mean())) > reach
