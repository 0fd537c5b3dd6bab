"""Noise: what repeats say, and whether two sets of repeats differ.

All comparisons are made on natural logarithms of the measured values, so that the answer is a ratio, its interval is
multiplicative, and swapping the two sides inverts the ratio exactly.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import stats

from trelvo.core.problems import Problem, Refused

CONFIDENCE = 0.95

# From this many runs on each side, the two sides' own deviations carry a comparison; below it, Welch's degrees of
# freedom are so few that noise pooled over all repeats of the workload is the better yardstick.
OWN_NOISE_RUNS = 5

Basis = Literal["own noise", "pooled noise", "no noise known"]


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
    """Run-to-run noise of a workload from all its repeats: sd of ln(value) (about the relative deviation), and df."""

    sd_log: float
    df: int


@dataclass(frozen=True)
class Comparison:
    """Ratio of candidate to reference (geometric means), oriented so that above 1 is better, with its interval.

    low, high: None when no noise is known (one run each and no repeats elsewhere)
    basis: which noise the interval rests on
    """

    ratio: float
    low: float | None
    high: float | None
    df: float | None
    basis: Basis
    n_reference: int
    n_candidate: int
    confidence: float


def _checked(values: Iterable[float], where: str) -> np.ndarray:
    array = np.asarray(list(values), dtype=float)
    if array.size == 0:
        raise Refused(Problem(where, "There are no runs here.", "Log at least one completed run."))
    if not np.isfinite(array).all():
        raise Refused(Problem(where, "A value is not a finite number.", "Correct or set aside that run."))
    return array


def summarise(values: Iterable[float], confidence: float = CONFIDENCE) -> Summary:
    """Mean, median, sample deviation (n - 1), relative deviation and t interval of repeats.

    values: in the workload's unit, any number from one up; confidence: two-sided, 0 to 1
    Raises Refused for no values or values that are not finite.
    Source: Student's t interval, NIST/SEMATECH e-Handbook of Statistical Methods 1.3.5.2 (from memory). The deviation
    is taken about the mean in a second pass, which keeps digits when the mean is large and the spread small.
    """
    array = _checked(values, "runs")
    n, mean = int(array.size), float(array.mean())
    median = float(np.median(array))
    if n == 1:
        return Summary(1, mean, median, None, None, None, None, confidence)
    residuals = array - mean
    # the second term takes out the rounding of the mean itself (corrected two-pass algorithm)
    variance = float(((residuals**2).sum() - residuals.sum() ** 2 / n) / (n - 1))
    sd = math.sqrt(max(variance, 0.0))
    half = float(stats.t.ppf(0.5 + confidence / 2, n - 1)) * sd / math.sqrt(n)
    return Summary(n, mean, median, sd, sd / abs(mean) if mean else None, mean - half, mean + half, confidence)


def _logs(values: Iterable[float], where: str) -> np.ndarray:
    array = _checked(values, where)
    if (array <= 0).any():
        raise Refused(
            Problem(where, "A value is zero or negative, so no ratio exists.", "Correct or set aside that run.")
        )
    return np.asarray(np.log(array), dtype=float)


def pool(groups: Iterable[Sequence[float]]) -> PooledNoise | None:
    """Noise of one workload pooled over groups of repeats (one group a setting), or None when nothing was repeated.

    groups: values in the workload's unit; groups of one carry no information on noise and are passed over
    Source: pooled variance, sum of squares within groups over the sum of (n - 1); any textbook.
    """
    squares, df = 0.0, 0
    for group in groups:
        if len(group) < 2:
            continue
        logs = _logs(group, "runs")
        squares += float(((logs - logs.mean()) ** 2).sum())
        df += len(group) - 1
    return PooledNoise(math.sqrt(squares / df), df) if df else None


def compare(
    reference: Sequence[float],
    candidate: Sequence[float],
    *,
    higher_is_better: bool,
    pooled: PooledNoise | None = None,
    confidence: float = CONFIDENCE,
) -> Comparison:
    """Candidate against reference as a ratio above 1 when the candidate is better, with a two-sided interval.

    reference, candidate: repeats in the workload's unit, all above zero
    pooled: noise of the workload from all its repeats, used while either side has fewer than five runs
    Raises Refused when a side is empty or a value is not above zero.
    Source: Welch 1947 on logarithms with own deviations; Student's two-sample t with the pooled deviation otherwise.
    """
    ref, cand = _logs(reference, "reference"), _logs(candidate, "candidate")
    sign = 1.0 if higher_is_better else -1.0
    difference = sign * float(cand.mean() - ref.mean())
    n_ref, n_cand = int(ref.size), int(cand.size)

    basis: Basis
    if min(n_ref, n_cand) >= OWN_NOISE_RUNS:
        v_ref, v_cand = float(ref.var(ddof=1)) / n_ref, float(cand.var(ddof=1)) / n_cand
        error, basis = math.sqrt(v_ref + v_cand), "own noise"
        spread = v_ref**2 / (n_ref - 1) + v_cand**2 / (n_cand - 1)
        df = (v_ref + v_cand) ** 2 / spread if spread > 0 else float(n_ref + n_cand - 2)
    elif pooled is not None:
        error, df, basis = pooled.sd_log * math.sqrt(1 / n_ref + 1 / n_cand), float(pooled.df), "pooled noise"
    else:
        return Comparison(math.exp(difference), None, None, None, "no noise known", n_ref, n_cand, confidence)

    half = float(stats.t.ppf(0.5 + confidence / 2, df)) * error
    return Comparison(
        math.exp(difference),
        math.exp(difference - half),
        math.exp(difference + half),
        df,
        basis,
        n_ref,
        n_cand,
        confidence,
    )
