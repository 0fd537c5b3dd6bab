"""Comparison: candidate against reference as a ratio with an interval, and the verdict it carries."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Literal

import numpy as np
import numpy.typing as npt
from scipy import optimize, special

from trelvo.core.base.what_counts import SMALLEST_GAIN
from trelvo.core.message import Message, message
from trelvo.core.stats.looks import level_at
from trelvo.core.stats.noise import CONFIDENCE, PooledNoise, logs, rounding_step

# From this many runs on each side, the two sides' own deviations carry a comparison; below it, Welch's degrees of
# freedom are so few that noise pooled over all repeats of the workload is the better yardstick.
OWN_NOISE_RUNS = 5
POWER = 0.8
# A side scatters more than the rest when chance would show it less often than this.
SCATTERS_MORE = 0.05
# Fewer runs than that hardly show a side's own scatter: its variance may be as large as they would show less often than this, and
# up to so many times the pooled one. A difference that would not stand then is asked to be confirmed.
HIDES_MORE, MOST_HIDDEN = 0.03, 5.0
MOST_RUNS = 1000
# A ratio known no closer than within a factor of a million is not known at all; such an interval is not told.
MOST_LOG = math.log(1e6)
# From here on a t distribution is the normal one.
MOST_DF = 1e6

Basis = Literal[
    "own noise", "pooled noise", "own noise of a side that scatters more", "each side's pooled noise", "no noise known",
]  # fmt: skip
VerdictWord = Literal["gain", "loss", "tie", "too few runs"]


class Shared:
    """Says that both sides share one noise."""


SHARED = Shared()


@dataclass(frozen=True)
class Comparison:
    """Ratio of candidate to reference (geometric means), oriented so that above 1 is better, with its interval.

    low, high, p, df, sd_log: None when no noise is known (one run each and no repeats elsewhere)
    error_log: standard error of ln(ratio); basis: which noise the interval rests on
    p: two-sided, for no difference
    unsure_log: the part of error_log that no further run takes away: what is not known of the instrument
    wider_log: what error_log would be if one side scattered as far as its few runs allow; None where each speaks for itself
    """

    ratio: float
    low: float | None
    high: float | None
    error_log: float | None
    df: float | None
    p: float | None
    sd_log: float | None
    basis: Basis
    n_reference: int
    n_candidate: int
    confidence: float
    unsure_log: float = 0.0
    wider_log: float | None = None

    @property
    def stands_if_wider(self) -> bool:
        """Whether the difference would be told even if one side scattered as far as its few runs allow."""
        if self.wider_log is None or self.df is None:
            return True
        limit = float(special.stdtrit(self.df, 0.5 + self.confidence / 2))
        return abs(math.log(self.ratio)) > limit * self.wider_log


@dataclass(frozen=True)
class Verdict:
    """What a comparison carries, and why in one sentence.

    more_runs: further runs on each side for an 80 % chance to settle it; 0 when settled, None when not to be told
    """

    word: VerdictWord
    reason: Message
    more_runs: int | None


def compare(
    reference: Sequence[float],
    candidate: Sequence[float],
    *,
    higher_is_better: bool,
    pooled: PooledNoise | None = None,
    pooled_candidate: PooledNoise | Shared | None = SHARED,
    confidence: float = CONFIDENCE,
) -> Comparison:
    """Candidate against reference as a ratio above 1 when the candidate is better, with a two-sided interval.

    reference, candidate: repeats in the workload's unit, all above zero
    pooled: noise of the workload from all its repeats, used while either side has fewer than five runs
    pooled_candidate: the candidate's own, where it was measured on another machine or under another build, so that the two
    sides do not share their noise; Welch's form then too
    Raises Refused when a side is empty or a value is not above zero.
    Source: Welch 1947 on logarithms with own deviations; Student's two-sample t with the pooled deviation otherwise.
    """
    if min(len(reference), len(candidate)) >= OWN_NOISE_RUNS:
        # both sides speak for themselves, whatever the others come to
        pooled, pooled_candidate = None, SHARED
    ref, cand = log_side(tuple(reference), "reference"), log_side(tuple(candidate), "candidate")
    sign = 1.0 if higher_is_better else -1.0
    difference = sign * (cand.mean - ref.mean)
    n_ref, n_cand = ref.runs, cand.runs

    basis: Basis
    wider = None
    if min(n_ref, n_cand) >= OWN_NOISE_RUNS:
        basis = "own noise"
        v_ref, v_cand = side_noise(ref, None, basis)[0] / n_ref, side_noise(cand, None, basis)[0] / n_cand
        error = math.sqrt(v_ref + v_cand)
        spread = v_ref**2 / (n_ref - 1) + v_cand**2 / (n_cand - 1)
        df = (v_ref + v_cand) ** 2 / spread if spread > 0 else float(n_ref + n_cand - 2)
        sd = math.sqrt((v_ref * n_ref + v_cand * n_cand) / 2)
    elif pooled_candidate is not SHARED:
        if pooled is None or not isinstance(pooled_candidate, PooledNoise):
            return _without_noise(difference, n_ref, n_cand, confidence)
        v_ref, v_cand = pooled.sd_log**2 / n_ref, pooled_candidate.sd_log**2 / n_cand
        error, basis = math.sqrt(v_ref + v_cand), "each side's pooled noise"
        wider = _wider((ref, v_ref, pooled), (cand, v_cand, pooled_candidate))
        spread = v_ref**2 / pooled.df + v_cand**2 / pooled_candidate.df
        df = (v_ref + v_cand) ** 2 / spread if spread > 0 else float(min(pooled.df, pooled_candidate.df))
        sd = math.sqrt((pooled.sd_log**2 + pooled_candidate.sd_log**2) / 2)
    elif pooled is not None:
        basis = "pooled noise"
        (s_ref, df_ref), (s_cand, df_cand) = (side_noise(side, pooled, basis) for side in (ref, cand))
        v_ref, v_cand = s_ref / n_ref, s_cand / n_cand
        error, sd, df = math.sqrt(v_ref + v_cand), math.sqrt((s_ref + s_cand) / 2), float(pooled.df)
        wider = _wider((ref, v_ref, pooled), (cand, v_cand, pooled))
        if (df_ref, df_cand) != (df, df):
            basis = "own noise of a side that scatters more"
            df = (v_ref + v_cand) ** 2 / (v_ref**2 / df_ref + v_cand**2 / df_cand)
    else:
        return _without_noise(difference, n_ref, n_cand, confidence)
    return replace(
        from_log(
            difference=difference,
            error=error,
            df=df,
            sd=sd,
            basis=basis,
            n_ref=n_ref,
            n_cand=n_cand,
            confidence=confidence,
        ),
        wider_log=wider,
    )


@dataclass(frozen=True)
class LogSide:
    """A side's repeats as logarithms. logs: n; mean and variance of them; rounding: the least variance that rounding makes"""

    logs: npt.NDArray[np.float64]
    mean: float
    variance: float

    @property
    def runs(self) -> int:
        return int(self.logs.size)

    @cached_property
    def rounding(self) -> float:
        return float((rounding_step(np.exp(self.logs)) / math.exp(self.mean)) ** 2 / 12)


# stock is compared with eighty settings, in speed, watts and degrees: without this a goal takes a fifth longer
@lru_cache(maxsize=4096)
def log_side(values: tuple[float, ...], where: str) -> LogSide:
    """A side's repeats (workload's unit). Raises Refused as `logs` does"""
    found = logs(values, where)
    return LogSide(found, float(found.mean()), float(found.var(ddof=1)) if found.size > 1 else 0.0)


def side_noise(side: LogSide, pooled: PooledNoise | None, basis: Basis) -> tuple[float, float]:
    """Variance of single runs of a side and its degrees of freedom, by the noise that a comparison rests on.

    The pooled noise counts for a side unless the side's own runs scatter so much more that chance would show it less than once
    in twenty times: what scatters more is not told by what scatters less. Never less than what rounding makes.
    Source: F test of one variance against another, any textbook.
    """
    own = side.variance
    if pooled is None or basis == "own noise":
        return max(own, side.rounding), float(max(side.runs - 1, 1))
    # two runs say too little of their own scatter to be compared with it
    limit = float(special.fdtri(side.runs - 1, pooled.df, 1 - SCATTERS_MORE)) if side.runs > 2 else math.inf
    if own > limit * pooled.sd_log**2:
        return own, float(side.runs - 1)
    return pooled.sd_log**2, float(pooled.df)


def _wider(*sides: tuple[LogSide, float, PooledNoise]) -> float:
    """The standard error if one of the sides scattered as far as its few runs allow: the side that adds most.

    sides: the runs, the variance of their mean as it is taken, and the pooled noise
    Source: one-sided upper bound of a variance, chi-square, any textbook.
    """
    taken = sum(variance for _, variance, _ in sides)
    most = taken
    for side, variance, pooled in sides:
        if side.runs >= OWN_NOISE_RUNS:
            continue
        allowed = MOST_HIDDEN * pooled.sd_log**2
        if side.runs > 1:
            allowed = min(
                allowed, (side.runs - 1) * side.variance / float(special.chdtri(side.runs - 1, 1 - HIDES_MORE))
            )
        most = max(most, taken - variance + max(allowed / side.runs, variance))
    return math.sqrt(most)


def from_log(
    difference: float, error: float, df: float, sd: float, basis: Basis, n_ref: int, n_cand: int, confidence: float
) -> Comparison:
    """A comparison from a difference of logarithms, its standard error and degrees of freedom."""
    half = float(special.stdtrit(df, 0.5 + confidence / 2)) * error
    if not half < MOST_LOG:
        return _without_noise(difference, n_ref, n_cand, confidence)
    if error > 0:
        p = float(2 * special.stdtr(df, -abs(difference) / error))
    else:
        p = 1.0 if difference == 0 else 0.0
    return Comparison(
        ratio=_ratio(difference),
        low=_ratio(difference - half),
        high=_ratio(difference + half),
        error_log=error,
        df=df,
        p=p,
        sd_log=sd,
        basis=basis,
        n_reference=n_ref,
        n_candidate=n_cand,
        confidence=confidence,
    )


def widened(comparison: Comparison, unsure_log: float) -> Comparison:
    """The same ratio with an error that more runs do not take away: its deviation of ln(ratio), known as it stands.

    Source: variances add; degrees of freedom after Satterthwaite.
    """
    c = comparison
    if not unsure_log or c.error_log is None or c.df is None or c.sd_log is None:
        return c
    variance = c.error_log**2 + unsure_log**2
    df = c.df * (variance / c.error_log**2) ** 2 if c.error_log else MOST_DF
    log, error = math.log(c.ratio), math.sqrt(variance)
    found = from_log(
        difference=log,
        error=error,
        df=min(df, MOST_DF),
        sd=c.sd_log,
        basis=c.basis,
        n_ref=c.n_reference,
        n_cand=c.n_candidate,
        confidence=c.confidence,
    )
    wider = None if c.wider_log is None else math.hypot(c.wider_log, unsure_log)
    return replace(found, unsure_log=math.hypot(c.unsure_log, unsure_log), wider_log=wider)


def _without_noise(difference: float, n_ref: int, n_cand: int, confidence: float) -> Comparison:
    """A ratio that nothing is known about but its size."""
    ratio = _ratio(difference)
    return Comparison(
        ratio=ratio,
        low=None,
        high=None,
        error_log=None,
        df=None,
        p=None,
        sd_log=None,
        basis="no noise known",
        n_reference=n_ref,
        n_candidate=n_cand,
        confidence=confidence,
    )


def _ratio(log: float) -> float:
    """exp(log), held within what a float and a screen can show."""
    return math.exp(min(max(log, -300.0), 300.0))


def holm(p_values: Sequence[float]) -> list[float]:
    """P values adjusted for being several at once, in the order given, each at most 1.

    Source: Holm's step-down method, 1979 (from memory).
    """
    count = len(p_values)
    order = sorted(range(count), key=lambda index: p_values[index])
    adjusted, running = [0.0] * count, 0.0
    for rank, index in enumerate(order):
        running = max(running, min(1.0, (count - rank) * p_values[index]))
        adjusted[index] = running
    return adjusted


def judge(
    comparison: Comparison,
    smallest_gain: float = SMALLEST_GAIN,
    adjusted_p: float | None = None,
    family: int = 1,
    look: int | None = None,
) -> Verdict:
    """Gain, loss, tie or too few runs.

    look: how often the result was looked at so far, this time included; None judges as if it were planned and seen once

    smallest_gain: the smallest relative difference that matters to the user (0.005 = 0.5 %)
    adjusted_p: p after a correction for several comparisons at once, `family` their number; None for no correction
    """
    c = comparison
    if c.low is None or c.high is None or c.p is None or c.sd_log is None or c.df is None:
        if min(c.n_reference, c.n_candidate) > 1:
            return Verdict("too few runs", message("scatter_too_widely"), None)
        return Verdict("too few runs", message("no_repeats"), None)
    if 1 / (1 + smallest_gain) <= c.low and c.high <= 1 + smallest_gain:
        return Verdict("tie", message("within_smallest_gain", percent=smallest_gain * 100), 0)
    p = c.p if adjusted_p is None else adjusted_p
    level = 1 - c.confidence if look is None else level_at(look)
    if p < level and not c.stands_if_wider:
        fewest = min(c.n_reference, c.n_candidate)
        reason = message("would_stand_by_the_rest", fewest=fewest, wanted=OWN_NOISE_RUNS)
        return Verdict("too few runs", reason, OWN_NOISE_RUNS - fewest)
    if p < level:
        word: VerdictWord = "gain" if c.ratio > 1 else "loss"
        return Verdict(word, message("interval_above" if c.ratio > 1 else "interval_below"), 0)
    effect = max(abs(math.log(c.ratio)), math.log1p(smallest_gain))
    needed = runs_needed(c.sd_log, effect)
    more = None if needed is None else max(1, needed - min(c.n_reference, c.n_candidate))
    if c.p < level:
        reason = message("alone_it_would_stand", comparisons=family)
    elif p < 1 - c.confidence:
        reason = message("seen_once_it_would_stand", look=look)
    else:
        reason = message("interval_holds_both")
    return Verdict("too few runs", reason, more)


def chance_to_find(shift: float, df: float) -> float:
    """Chance that a two-sided 5 % t test finds a difference of `shift` standard errors, `df` its degrees of freedom.

    Source: power by the noncentral t distribution; that of statsmodels' TTestIndPower.
    """
    limit = float(special.stdtrit(df, 0.5 + CONFIDENCE / 2))
    # the wrong-sided tail counts only where the difference drowns in noise
    wrong = _noncentral_t(df, shift, -limit) if shift < 2 else 0.0
    return 1 - _noncentral_t(df, shift, limit) + wrong


def _noncentral_t(df: float, shift: float, limit: float) -> float:
    """Distribution function of the noncentral t; the fast form, and the slow one where that gives up."""
    fast = float(special.nctdtr(df, shift, limit))
    if math.isfinite(fast):
        return fast
    # needed once in a blue moon, and half a second to load: no start waits for it
    from scipy import stats

    return float(stats.nct.cdf(limit, df, shift))


def detectable(sd_log: float, df: float, n_reference: int, n_candidate: int, power: float = POWER) -> float:
    """Smallest difference of ln(value) that a two-sided 5 % t test finds with this chance.

    sd_log, df: noise and its degrees of freedom; n_reference, n_candidate: runs on each side
    """
    error = sd_log * math.sqrt(1 / n_reference + 1 / n_candidate)
    limit = float(special.stdtrit(df, 0.5 + CONFIDENCE / 2))
    # at `limit` the chance is about a half, at three times as much and some it is near 1 for every df
    return error * float(
        optimize.brentq(lambda shift: chance_to_find(shift, df) - power, 0.0, limit * 3 + 3, xtol=1e-6)
    )


def runs_needed(sd_log: float, effect_log: float, power: float = POWER) -> int | None:
    """Runs on each side that find a difference of `effect_log` with this chance; None when over a thousand.

    Each side's own n - 1 degrees of freedom count. Starts from the normal approximation and walks to the exact answer.
    """
    normal = 2 * ((special.ndtri(0.5 + CONFIDENCE / 2) + special.ndtri(power)) * sd_log / effect_log) ** 2
    if normal > MOST_RUNS:
        return None
    runs = max(2, int(normal))
    while chance_to_find(effect_log / (sd_log or 1e-12) * math.sqrt(runs / 2), 2 * runs - 2) < power:
        runs += 1
    return runs


def overall(
    comparisons: Sequence[Comparison], weights: Sequence[float] | None = None, shared: Sequence[float] | None = None
) -> Comparison | None:
    """Weighted geometric mean of ratios over workloads, with its interval; None when there is nothing to average.

    weights: the user's own, not negative; all equal when left out
    shared: the part of each one's variance that all have in common (a day's shift), which no averaging takes away
    Source: weighted mean of ln(ratio); own variances add with squared weights, shared ones as deviations; degrees of freedom
    after Satterthwaite.
    """
    given = [1.0] * len(comparisons) if weights is None else list(weights)
    common = [0.0] * len(comparisons) if shared is None else list(shared)
    common = [part for part, weight in zip(common, given, strict=True) if weight > 0]
    kept = [(one, weight) for one, weight in zip(comparisons, given, strict=True) if weight > 0]
    if not kept:
        return None
    total = sum(weight for _, weight in kept)
    shares = [weight / total for _, weight in kept]
    difference = sum(share * math.log(one.ratio) for (one, _), share in zip(kept, shares, strict=True))
    n_ref, n_cand = min(one.n_reference for one, _ in kept), min(one.n_candidate for one, _ in kept)
    confidence = kept[0][0].confidence
    parts = [
        (share**2 * one.error_log**2, one.df)
        for (one, _), share in zip(kept, shares, strict=True)
        if one.error_log is not None and one.df is not None
    ]
    if len(parts) < len(kept):
        return _without_noise(difference, n_ref, n_cand, confidence)
    days = sum(share * math.sqrt(part) for share, part in zip(shares, common, strict=True)) ** 2
    variance = sum(part for part, _ in parts) + days
    variance -= sum(share**2 * part for share, part in zip(shares, common, strict=True))
    spread = sum(part**2 / df for part, df in parts)
    if days > 0:
        # a shared part is known no better than the least known of them
        spread = max(spread, variance**2 / min(df for _, df in parts))
    df = variance**2 / spread if spread > 0 else min(df for _, df in parts)
    basis: Basis = "own noise" if all(one.basis == "own noise" for one, _ in kept) else "pooled noise"
    sd = float(np.sqrt(np.mean([one.sd_log**2 for one, _ in kept if one.sd_log is not None])))
    found = from_log(
        difference=difference,
        error=math.sqrt(variance),
        df=df,
        sd=sd,
        basis=basis,
        n_ref=n_ref,
        n_cand=n_cand,
        confidence=confidence,
    )
    unsure = sum(share * one.unsure_log for (one, _), share in zip(kept, shares, strict=True))
    # several workloads show together how far a setting scatters
    wider = kept[0][0].wider_log if len(kept) == 1 else None
    return replace(found, unsure_log=unsure, wider_log=wider)
