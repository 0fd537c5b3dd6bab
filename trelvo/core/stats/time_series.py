"""Runs in the order they were made: do they remember each other, do they drift, does a day shift them all?

Everything works on natural logarithms of the measured values, about the mean of their own setting.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy import optimize, special

Array = npt.NDArray[np.float64]
Numbers = npt.NDArray[np.int64]

# Runs further apart than this belong to different sessions: the machine was off, the room another. Common practice.
SESSION_GAP_H = 4.0
# From so many neighbouring pairs on, what runs remember of each other is estimated; fewer say nothing.
FEWEST_PAIRS = 12
MOST_MEMORY = 0.8
# Over so small a step of the correlation its slope is taken.
SMALL = 1e-3
# A correlation counts from so many of its standard errors above zero on: below, it is most likely chance.
CLEAR_MEMORY = 1.0
# How far a day shifts all results where nothing has shown it (deviation, relative). Common practice: 0.3 % on a kept bench.
USUAL_DAY = 0.003
USUAL_DAYS = 4
# A trend or a step is told when chance alone would show it less often than this.
TOLD_BELOW = 0.01
# Runs on each side of a step at the least.
STEP_SIDE = 4
# A trend is read from runs of one setting that are at least so far apart: over minutes it would be stretched out of noise.
LEAST_SPAN_H = 0.25
# A run that began before this share of the one before it can have passed was written down later, all at once.
LEAST_PASSED = 0.5


@dataclass(frozen=True)
class Trend:
    """A straight drift within sessions: relative change an hour, its interval, and how unlikely chance alone is."""

    per_h: float
    low: float
    high: float
    p: float
    error: float
    df: int


@dataclass(frozen=True)
class Step:
    """A sudden change: it lies before the run at `place` (number in order); relative size with its interval."""

    place: int
    size: float
    low: float
    high: float
    p: float


@dataclass(frozen=True)
class BenchMemory:
    """What all repeats of a bench say of its time: how much a run resembles the one before, its drift, and a day's shift.

    rho: lag-one correlation of neighbouring repeats, 0 where too few are known, and its error; pairs: how many it rests on
    day_sd: deviation of what a day shifts (relative); day_df: degrees of freedom, 0 where only the usual one is taken
    begins: when each session of the bench began, in hours
    """

    rho: float = 0.0
    rho_error: float = 0.0
    pairs: int = 0
    trend: Trend | None = None
    day_sd: float = USUAL_DAY
    day_df: int = 0
    begins: tuple[float, ...] = ()

    def sessions(self, hours: Array) -> Numbers:
        """The number of each run's session. hours: ascending"""
        return self.for_comparing.sessions(hours)

    @cached_property
    def for_comparing(self) -> "BenchTimes":
        """What a comparison needs of it."""
        drifts = self.trend is not None and self.trend.p < TOLD_BELOW
        return BenchTimes(self.rho, self.rho_error, drifts, self.day_sd, self.day_df, self.begins)


NO_MEMORY = BenchMemory()


@dataclass(frozen=True)
class BenchTimes:
    """What a comparison needs of a bench's memory. rho_error: standard error of rho; drifts: whether a drift is known

    The others as above.
    """

    rho: float
    rho_error: float
    drifts: bool
    day_sd: float
    day_df: int
    begins: tuple[float, ...]

    def sessions(self, hours: Array) -> Numbers:
        """The number of each run's session: by what the whole bench ran, where that is known. hours: ascending"""
        if not self.begins:
            return sessions_of(hours)
        return np.asarray(np.searchsorted(self._begins, hours, side="right"), dtype=np.int64)

    @cached_property
    def _begins(self) -> Array:
        # hours that were computed another way differ in the last digit: the first run belongs to its own session
        return np.array(self.begins) - SESSION_GAP_H / 2

    def effective(self, runs: int) -> float:
        """How many runs that remember nothing tell as much as so many in a row that do."""
        return effective_runs(runs, self.rho)


def sessions_of(hours: Array) -> Numbers:
    """The number of each run's session. hours: when it began, ascending"""
    if hours.size == 0:
        return np.zeros(0, dtype=np.int64)
    return np.asarray(np.concatenate([[0], np.cumsum(np.diff(hours) > SESSION_GAP_H)]), dtype=np.int64)


def believable_hours(started_h: Array, lasted_h: Array) -> Array:
    """When runs began, as far as it can be: runs typed one after the other, faster than they can have lasted, share one time.

    started_h: in hours, ascending; lasted_h: how long each took, 0 where it is not known
    Where a run began before half of the one before it had passed, none of the two times is that of a run: both get the later one,
    so that nothing is read from the seconds between them.
    """
    if started_h.size < 2:
        return started_h
    together = np.diff(started_h) < LEAST_PASSED * lasted_h[:-1]
    group = np.concatenate([[0], np.cumsum(~together)])
    last = started_h[np.flatnonzero(np.concatenate([~together, [True]]))]
    return np.asarray(last[group])


def effective_runs(runs: int, rho: float) -> float:
    """Runs without memory that give the mean of so many neighbours with lag-one correlation rho.

    Source: variance of the mean of an autoregressive series of first order, any textbook on time series.
    """
    if runs < 2 or rho == 0:
        return float(runs)
    lags = np.arange(1, runs)
    return float(runs / (1 + 2 * np.sum((1 - lags / runs) * rho**lags)))


def lag_one(groups: Sequence[npt.ArrayLike]) -> tuple[float, float, int]:
    """Lag-one correlation pooled over groups of neighbouring repeats (ln values, in order), its error, and the pairs it rests on.

    Each group's own mean is taken off, which hides part of the memory; the estimate is the one whose expected ratio of
    neighbouring products to squares is that which was found. Negative ones count as none.
    Source: method of moments for a first-order autoregressive series in short groups; expectations of quadratic forms.
    """
    arrays = [np.asarray(group, dtype=np.float64) for group in groups]
    kept = [group for group in arrays if group.size >= 3]
    pairs = sum(group.size - 1 for group in kept)
    if pairs < FEWEST_PAIRS:
        return 0.0, 0.0, pairs
    flat = np.concatenate(kept)
    label = np.repeat(np.arange(len(kept)), [group.size for group in kept])
    about = flat - (np.bincount(label, flat) / np.bincount(label))[label]
    same = label[:-1] == label[1:]
    products, squares = float((about[:-1] * about[1:])[same].sum()), float(about @ about)
    if squares <= 0:
        return 0.0, 0.0, pairs
    sizes, counts = np.unique([group.size for group in kept], return_counts=True)

    def expected(rho: float) -> float:
        forms = [_forms(int(size), rho) for size in sizes]
        up = sum(count * form[0] for count, form in zip(counts, forms, strict=True))
        return float(up / sum(count * form[1] for count, form in zip(counts, forms, strict=True)))

    found = products / squares
    # the standard error of a lag-one correlation of white noise, from so many pairs
    if found <= expected(0.0) + CLEAR_MEMORY / math.sqrt(pairs):
        return 0.0, 0.0, pairs
    rho = MOST_MEMORY
    if found < expected(MOST_MEMORY):
        rho = float(optimize.brentq(lambda rho: expected(rho) - found, 0.0, MOST_MEMORY, xtol=1e-4))
    # the error of a lag-one correlation, through the slope at which what is found moves with what is there
    slope = (expected(rho) - expected(rho - SMALL)) / SMALL
    return rho, math.sqrt((1 - rho**2) / pairs) / slope, pairs


def _forms(size: int, rho: float) -> tuple[float, float]:
    """Expected sum of neighbouring products, and of squares, of a group about its own mean, for unit variance."""
    lags = np.abs(np.subtract.outer(np.arange(size), np.arange(size)))
    about = np.eye(size) - 1 / size
    spread = about @ (rho**lags) @ about
    return float(np.trace(spread, offset=1)), float(np.trace(spread))


def deviations_shrunk_by(sizes: Sequence[int], rho: float) -> float:
    """By what factor the variance within groups falls short of a single run's, since neighbours resemble each other."""
    squares = sum(_forms(size, rho)[1] for size in sizes if size > 1)
    df = sum(size - 1 for size in sizes if size > 1)
    return squares / df if df else 1.0


def memory_of(
    workloads: Numbers, settings: Numbers, hours: Array, logs: Array, every_hour: Array | None = None
) -> BenchMemory:
    """What all repeats of a bench under one build say of its time. Four arrays over its runs that count, in any order.

    workloads, settings: their numbers; hours: when each began, from any common moment; logs: ln of its value
    every_hour: when every run of the bench began, those that do not count too, so that none of them parts a session
    """
    order = np.argsort(hours, kind="stable")
    workloads, settings, hours, logs = workloads[order], settings[order], hours[order], logs[order]
    if logs.size == 0:
        return BenchMemory()
    every = np.sort(hours if every_hour is None else np.concatenate([hours, every_hour]))
    begins = tuple(every[np.concatenate([[True], np.diff(every) > SESSION_GAP_H])].tolist())
    session = BenchMemory(begins=begins).sessions(hours)
    which = workloads * (int(settings.max()) + 1) + settings
    place = np.unique(which * (int(session.max()) + 1) + session, return_inverse=True)[1]
    counts = np.bincount(place)
    about = logs - (np.bincount(place, logs) / counts)[place]
    ordered = np.argsort(place, kind="stable")
    ends, sorted_logs = np.cumsum(counts), about[ordered]
    groups = [sorted_logs[end - size : end] for end, size in zip(ends, counts, strict=True) if size > 2]
    rho, rho_error, pairs = lag_one(groups)
    trend = trend_of(hours, place, logs)
    df = int((counts[counts > 1] - 1).sum())
    sd = math.sqrt(float(about @ about) / df) if df else 0.0
    day_sd, day_df = day_shift(session, which, logs, sd)
    return BenchMemory(rho, rho_error, pairs, trend, day_sd, day_df, begins)


def _within(logs: Array, labels: Numbers, also: Array | None = None) -> tuple[Array, Array | None, int]:
    """Logs, and something else, about the mean of their own label; and how many labels there are."""
    _, index = np.unique(labels, return_inverse=True)
    counts = np.bincount(index)

    def about(numbers: Array) -> Array:
        return np.asarray(numbers - (np.bincount(index, numbers) / counts)[index])

    return about(logs), None if also is None else about(also), int(counts.size)


def trend_of(hours: Array, labels: Numbers, logs: Array) -> Trend | None:
    """The drift that all repeats share: a straight line through the runs of each setting within each session.

    labels: setting and session of each run; None where no setting was run at times far enough apart (`LEAST_SPAN_H`)
    Source: least squares with an own mean for each label, any textbook; checked against statsmodels' OLS.
    """
    about, when, groups = _within(logs, labels, hours)
    assert when is not None
    df = logs.size - groups - 1
    spread = float(when @ when)
    if df < 2 or spread <= 0 or float(np.ptp(when)) < LEAST_SPAN_H:
        return None
    slope = float(when @ about) / spread
    left = about - slope * when
    error = math.sqrt(max(float(left @ left), 1e-18) / df / spread)
    reach = float(special.stdtrit(df, 0.975)) * error
    p = float(2 * special.stdtr(df, -abs(slope) / error))
    return Trend(slope, slope - reach, slope + reach, p, error, df)


def step_of(logs: Array, labels: Numbers) -> Step | None:
    """A sudden change that all settings show: the split of the runs in order that explains most, if chance would not.

    Source: the largest two-sample t over all splits, its p times the number of splits (Bonferroni), which errs on the safe side.
    """
    best: Step | None = None
    splits = range(STEP_SIDE, logs.size - STEP_SIDE + 1)
    for place in splits:
        after = (np.arange(logs.size) >= place).astype(np.float64)
        about, side, groups = _within(logs, labels, after)
        assert side is not None
        spread, df = float(side @ side), logs.size - groups - 1
        if df < 3 or spread < 1:
            continue
        size = float(side @ about) / spread
        left = about - size * side
        error = math.sqrt(max(float(left @ left), 1e-18) / df / spread)
        p = min(1.0, len(splits) * float(2 * special.stdtr(df, -abs(size) / error)))
        if best is None or p < best.p:
            reach = float(special.stdtrit(df, 0.975)) * error
            best = Step(place, size, size - reach, size + reach, p)
    return best if best and best.p < TOLD_BELOW else None


def day_shift(session: Numbers, settings: Numbers, logs: Array, sd: float) -> tuple[float, int]:
    """How far a session shifts results, from settings that were run in several: deviation and degrees of freedom.

    sd: run-to-run deviation, which is taken off. The usual shift where no setting was run in two sessions.
    Source: one-way random effects, method of moments, with an inverse chi-square belief before; any textbook.
    """
    _, first = np.unique(settings, return_inverse=True)
    cells, place = np.unique(first * (int(session.max()) + 1) + session, return_inverse=True)
    counts = np.bincount(place)
    means = np.bincount(place, logs) / counts
    # of each cell (a setting in a session) which setting it is of, and in how many sessions that was run
    of = cells // (int(session.max()) + 1)
    often = np.bincount(of)
    about = means - (np.bincount(of, means) / often)[of]
    shared = often[of] > 1
    squares = float((about[shared] ** 2).sum())
    own = sd**2 * float(((1 / counts) * (1 - 1 / often[of]))[shared].sum())
    df = int((often[often > 1] - 1).sum())
    if df == 0:
        return USUAL_DAY, 0
    # few days say little: the usual shift counts as `USUAL_DAYS` of them, and the estimate falls short one time in ten only
    seen = max(squares - own, 0.0) + USUAL_DAYS * USUAL_DAY**2
    return math.sqrt(seen / float(special.chdtri(df + USUAL_DAYS, 0.9))), df
