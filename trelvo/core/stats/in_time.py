"""Two sides compared with their times: what drift, days and memory do to a difference, and to what is known of it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.base.runs import RunFacts, counts
from trelvo.core.message import Message, message
from trelvo.core.stats.comparison import (
    OWN_NOISE_RUNS,
    SHARED,
    Basis,
    Comparison,
    LogSide,
    Shared,
    compare,
    from_log,
    log_side,
    side_noise,
)
from trelvo.core.stats.noise import CONFIDENCE, PooledNoise
from trelvo.core.stats.time_series import (
    MOST_MEMORY,
    Array,
    BenchMemory,
    BenchTimes,
    Numbers,
    deviations_shrunk_by,
    effective_runs,
)

# A time term is taken in where it costs so little: the variance of the difference grows by no more than this.
CHEAP = 1.25
# More runs than this are not weighed one by one: their number is cut to what it tells, and each side's days are added.
MOST_WEIGHED = 240
# From so many runs of both sides together on, a time term can be told from chance.
FEWEST_FOR_TREND = 6


@dataclass(frozen=True)
class Timed:
    """Repeats of one side. values: in the workload's unit; hours: when each began, from any common moment"""

    values: tuple[float, ...]
    hours: tuple[float, ...]


@dataclass(frozen=True)
class InTime:
    """A comparison with its times. says: what was corrected or could not be

    day_variance: the part of the variance of ln(ratio) that days make, which all workloads share
    """

    comparison: Comparison
    says: tuple[Message, ...]
    day_variance: float = 0.0


def compare_in_time(
    reference: Timed,
    candidate: Timed,
    bench: BenchMemory,
    *,
    higher_is_better: bool,
    pooled: PooledNoise | None = None,
    pooled_candidate: PooledNoise | Shared | None = SHARED,
    confidence: float = CONFIDENCE,
) -> InTime:
    """Candidate against reference as in `compare`, with runs that remember, drift within a session, and days that differ.

    Method: generalised least squares on logarithms: a mean for each side; a straight line in time where the sides bracket each
    other or the bench is known to drift; the covariance of runs of one session that remember each other (first-order
    autoregression), and of a shift for each session. Where nothing of this applies it is the plain comparison.
    """
    if min(len(reference.values), len(candidate.values)) >= OWN_NOISE_RUNS:
        # both sides speak for themselves, whatever the others come to
        pooled = None
    return _in_time(
        reference,
        candidate,
        bench.for_comparing,
        pooled,
        pooled_candidate,
        confidence,
        higher_is_better=higher_is_better,
    )


def _in_time(
    reference: Timed,
    candidate: Timed,
    bench: BenchTimes,
    pooled: PooledNoise | None,
    pooled_candidate: PooledNoise | Shared | None,
    confidence: float,
    *,
    higher_is_better: bool,
) -> InTime:
    plain = compare(
        reference.values,
        candidate.values,
        higher_is_better=higher_is_better,
        pooled=pooled,
        pooled_candidate=pooled_candidate,
        confidence=confidence,
    )
    if plain.error_log is None or plain.df is None or plain.sd_log is None or pooled_candidate is not SHARED:
        return InTime(plain, ())
    if len(reference.values) + len(candidate.values) > MOST_WEIGHED:
        return _cut_short(plain, reference, candidate, bench)
    hours = np.array([*reference.hours, *candidate.hours])
    order = np.argsort(hours, kind="stable")
    hours = hours[order]
    second = np.array([0.0] * len(reference.values) + [1.0] * len(candidate.values))[order]
    session = bench.sessions(hours)
    # in order of time, so the first and the last tell whether there are several
    several = bool(session[0] != session[-1])
    with_time = not several and _takes_time(hours.tolist(), second.tolist(), bench)
    if not (with_time or several or bench.rho > 0):
        return InTime(plain, ())
    sides = (log_side(reference.values, "reference"), log_side(candidate.values, "candidate"))
    value = np.concatenate([side.logs for side in sides])[order]
    variances, freedoms = _noises(sides, pooled, plain.basis, bench.rho)
    covariance, runs_part = _covariance(variances[second.astype(int)], session, bench if several else None, bench.rho)
    columns = [1 - second, second]
    if with_time:
        columns.append(hours - hours.mean())
    design = np.stack(columns, axis=1)
    weighted = np.linalg.solve(covariance, design)
    spread = np.linalg.inv(design.T @ weighted)
    estimate = spread @ (weighted.T @ value)
    contrast = np.zeros(design.shape[1])
    contrast[0], contrast[1] = -1.0, 1.0
    difference = float(contrast @ estimate) * (1.0 if higher_is_better else -1.0)
    share = weighted @ spread @ contrast
    total = float(contrast @ spread @ contrast)
    unsure = 0.0
    if bench.rho_error:
        rho = min(bench.rho + bench.rho_error, MOST_MEMORY)
        other, _ = _noises(sides, pooled, plain.basis, rho)
        unsure = float(share @ (_covariance(other[second.astype(int)], session, None, rho)[1] - runs_part) @ share)
    df = _freedom(
        share=share,
        runs_part=runs_part,
        second=second,
        freedoms=freedoms,
        total=total,
        bench=bench,
        basis=plain.basis,
        unsure=unsure,
    )
    found = from_log(
        difference=difference,
        error=math.sqrt(total),
        df=df,
        sd=plain.sd_log,
        basis=plain.basis,
        n_ref=plain.n_reference,
        n_cand=plain.n_candidate,
        confidence=confidence,
    )
    if plain.wider_log is not None and plain.error_log > 0:
        wider = math.sqrt(total + (plain.wider_log**2 / plain.error_log**2 - 1) * float(share @ runs_part @ share))
        found = replace(found, wider_log=wider)
    days = max(total - float(share @ runs_part @ share), 0.0) if several else 0.0
    says = _says(bench, with_time, session, second)
    return InTime(found, tuple(says), days)


def timed(runs: Sequence[RunFacts]) -> Timed:
    """The runs that count, with their times."""
    kept = [run for run in runs if counts(run)]
    return Timed(tuple(run.value for run in kept if run.value is not None), tuple(run.started_h for run in kept))


def _cut_short(plain: Comparison, reference: Timed, candidate: Timed, bench: BenchTimes) -> InTime:
    """Very many runs: memory makes them as few as they tell, and each side's sessions share in the days' shift."""
    if plain.error_log is None or plain.df is None or plain.sd_log is None:
        return InTime(plain, ())
    runs = len(reference.values) + len(candidate.values)
    fewer = runs / bench.effective(runs)
    unsure = fewer * (bench.effective(runs) / effective_runs(runs, bench.rho + bench.rho_error) - 1)
    sessions = [np.unique(bench.sessions(np.sort(np.array(side.hours)))).size for side in (reference, candidate)]
    days = bench.day_sd**2 * sum(1 / count for count in sessions) if max(sessions) > 1 else 0.0
    error = math.sqrt(plain.error_log**2 * fewer + days)
    df = 1 / (1 / plain.df + (unsure * plain.error_log**2 / error**2) ** 2 / 2)
    found = from_log(
        difference=math.log(plain.ratio),
        error=error,
        df=df,
        sd=plain.sd_log,
        basis=plain.basis,
        n_ref=plain.n_reference,
        n_cand=plain.n_candidate,
        confidence=plain.confidence,
    )
    if plain.wider_log is not None:
        found = replace(found, wider_log=math.sqrt(plain.wider_log**2 * fewer + days))
    return InTime(found, (), days)


def _noises(
    sides: Sequence[LogSide], pooled: PooledNoise | None, basis: Basis, rho: float
) -> tuple[Array, list[float]]:
    """Each side's variance of single runs, with what memory hides of it, and its degrees of freedom: neighbours that resemble
    each other scatter less about their own mean.

    Source: degrees of freedom of a variance from a first-order autoregressive series, df (1 − ρ²) / (1 + ρ²), Bartlett 1946
    (from memory).
    """
    variances, freedoms = [], []
    for side in sides:
        variance, df = side_noise(side, pooled, basis)
        if rho:
            variance /= deviations_shrunk_by([max(side.runs, 2)], rho)
            df = max(df * (1 - rho**2) / (1 + rho**2), 1.5)
        variances.append(variance)
        freedoms.append(df)
    return np.array(variances), freedoms


def _takes_time(hours: Sequence[float], second: Sequence[float], bench: BenchTimes) -> bool:
    """Whether a straight line in time is fitted: where it costs little, or where the bench is known to drift.

    hours: of one session, ascending; second: 1 for runs of the candidate
    """
    if len(hours) < FEWEST_FOR_TREND or hours[-1] <= hours[0]:
        return False
    sides = [[hour for hour, one in zip(hours, second, strict=True) if one == side] for side in (0.0, 1.0)]
    means = [math.fsum(side) / len(side) for side in sides]
    inner = math.fsum((hour - mean) ** 2 for side, mean in zip(sides, means, strict=True) for hour in side)
    if inner <= 0:
        return False
    grows = 1 + (means[1] - means[0]) ** 2 / inner / sum(1 / len(side) for side in sides)
    return grows <= CHEAP or bench.drifts


def _covariance(variance: Array, session: Numbers, days: BenchTimes | None, rho: float) -> tuple[Array, Array]:
    """Covariance of all runs, and the part of it that single runs make."""
    place = np.arange(session.size)
    same = session[:, None] == session[None, :]
    spread = np.sqrt(variance)
    runs = np.outer(spread, spread) * np.where(same, rho ** np.abs(place[:, None] - place[None, :]), 0.0)
    runs += 1e-18 * np.eye(session.size)
    return (runs if days is None else runs + days.day_sd**2 * same), runs


def _freedom(
    share: Array,
    runs_part: Array,
    second: Array,
    freedoms: Sequence[float],
    total: float,
    bench: BenchTimes,
    basis: Basis,
    unsure: float,
) -> float:
    """Degrees of freedom after Satterthwaite: of each side's noise, and of a day's shift. Noise that both sides share is one.

    unsure: by how much the variance moves with one standard error of the bench's correlation; a chi-square of df degrees has
    the relative variance 2 / df, so this counts as 2 / (unsure / total)² of them
    """
    parts = []
    for side, df in enumerate(freedoms):
        mine = np.where(second == side, share, 0.0)
        parts.append((float(mine @ runs_part @ mine), df))
    if basis == "pooled noise":
        parts = [(sum(part for part, _ in parts), freedoms[0])]
    days = max(total - float(share @ runs_part @ share), 0.0)
    if days > 1e-9 * total:
        parts.append((days, float(max(bench.day_df, 4))))
    spread = sum(part**2 / df for part, df in parts if part > 0) + unsure**2 / 2
    return sum(part for part, _ in parts) ** 2 / spread


def _says(bench: BenchTimes, with_time: bool, session: Numbers, second: Array) -> list[Message]:
    says = []
    if bench.rho > 0.05:
        ten = effective_runs(10, bench.rho)
        says.append(message("runs_resemble", correlation=bench.rho, as_many=ten))
    if with_time:
        says.append(message("drift_taken_out"))
    if np.unique(session).size > 1:
        both = set(session[second == 0].tolist()) & set(session[second == 1].tolist())
        basis = message("day_shift_known" if bench.day_df else "day_shift_usual")
        says.append(message("several_days" if both else "different_days", percent=bench.day_sd * 100, basis=basis))
    return says


def interleaved(first: str, second: str, rounds: int) -> list[str]:
    """The order in which two settings are compared closely: A B B A, so that a straight drift falls out.

    rounds: runs of each, from one up. Common practice; also known as a counterbalanced order.
    """
    order: list[str] = []
    for number in range(rounds):
        order += [first, second] if number % 2 == 0 else [second, first]
    return order
