"""Two instruments that read at the same time: their readings put side by side, second by second, as pairs that tell something."""

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Numbers = npt.NDArray[np.float64]

# How far one clock may be behind the other, and on what steps that is looked for.
MOST_LAG_S, STEP_S = 30.0, 0.5
# A shift of the clocks is believed once it takes away this much of the differences' variance.
LAG_PAYS = 0.3
# The first two hours of a log tell the delay; so many pairs of one log say all that it has to say.
SEARCHED_S, MOST_BLOCKS = 7200.0, 240
FIRST_BLOCK_S = 5.0
# Differences of neighbouring blocks that resemble each other more than this are no pairs of their own.
ALIKE = 0.2
FEWEST_BLOCKS = 4
# Of a block's seconds so many have to be read by both.
COVERED = 0.5


@dataclass(frozen=True)
class Readings:
    """One instrument's readings: time_s (seconds, not falling) and values (its unit), n each, NaN where missing."""

    time_s: Numbers
    values: Numbers


@dataclass(frozen=True)
class SideBySide:
    """Pairs of means over blocks of one log. at_s: where each block begins, by the first's clock; first, second: as many

    block_s: how long the blocks are; lag_s: how far the second's clock or reading was behind the first's
    """

    at_s: list[float]
    first: list[float]
    second: list[float]
    block_s: float
    lag_s: float


def side_by_side(first: Readings, second: Readings) -> SideBySide | None:
    """Both instruments' means over the same blocks of time; None where they share too little time.

    A delay between the two is taken out where the readings show one. Blocks are made longer until the differences of
    neighbouring ones hardly resemble each other, so that each counts as a pair.
    Source: delay by the least variance of the differences; blocking against autocorrelation, common practice.
    """
    lag = _lag(first, second)
    start, end = _shared(first, second, lag)
    block = max(FIRST_BLOCK_S, math.ceil((end - start) / MOST_BLOCKS))
    found = _blocks(first, second, lag, block)
    while found is not None and _alike(found) > ALIKE:
        block *= 2
        found = _blocks(first, second, lag, block)
    return found


def _grid(one: Readings, start: float, end: float, step: float, lag: float) -> Numbers:
    """Means over steps of time from start to end; NaN where a step holds no reading."""
    there = np.isfinite(one.values)
    place = np.floor((one.time_s[there] - lag - start) / step).astype(np.int64)
    size = max(int((end - start) / step), 0)
    inside = (place >= 0) & (place < size)
    sums = np.bincount(place[inside], one.values[there][inside], size)
    counts = np.bincount(place[inside], minlength=size)
    return np.where(counts > 0, sums / np.maximum(counts, 1), np.nan)


def _shared(first: Readings, second: Readings, lag: float) -> tuple[float, float]:
    spans = []
    for one, behind in ((first, 0.0), (second, lag)):
        times = one.time_s[np.isfinite(one.values)] - behind
        if not times.size:
            return 0.0, 0.0
        spans.append((float(times[0]), float(times[-1])))
    return max(start for start, _ in spans), min(end for _, end in spans)


def _lag(first: Readings, second: Readings) -> float:
    """How far the second's readings are behind, s; 0 unless shifting them pays clearly."""
    start, end = _shared(first, second, 0.0)
    end = min(end, start + SEARCHED_S)
    step = max(STEP_S, _every(first), _every(second))
    a, b = (_grid(one, start, end, step, 0.0) for one in (first, second))
    most = int(min(MOST_LAG_S, (end - start) / 4) / step)
    apart: dict[int, float] = {}
    for shift in range(-most, most + 1):
        left, right = (a[: a.size - shift], b[shift:]) if shift >= 0 else (a[-shift:], b[:shift])
        difference = left - right
        difference = difference[np.isfinite(difference)]
        if difference.size >= 10:
            apart[shift] = float(difference.var())
    if not apart or 0 not in apart:
        return 0.0
    best = min(apart, key=lambda shift: (apart[shift], abs(shift)))
    return best * step if apart[best] < (1 - LAG_PAYS) * apart[0] else 0.0


def _every(one: Readings) -> float:
    times = one.time_s[np.isfinite(one.values)]
    return float(np.median(np.diff(times))) if times.size > 1 else 0.0


def _blocks(first: Readings, second: Readings, lag: float, block: float) -> SideBySide | None:
    start, end = _shared(first, second, lag)
    count = int((end - start) / block)
    if count < FEWEST_BLOCKS:
        return None
    step = max(1.0, _every(first), _every(second))
    per_block = max(round(block / step), 1)
    a, b = (
        _grid(one, start, start + count * per_block * step, step, behind)
        for one, behind in ((first, 0.0), (second, lag))
    )
    # only what both have read counts, or a gap of the one would be compared with the other's change
    both = np.isfinite(a) & np.isfinite(b)
    a, b = (np.where(both, one, 0.0).reshape(-1, per_block).sum(axis=1) for one in (a, b))
    read = both.reshape(-1, per_block).sum(axis=1)
    kept = read >= max(COVERED * per_block, 1)
    if kept.sum() < FEWEST_BLOCKS:
        return None
    at = start + np.arange(read.size)[kept] * per_block * step
    means = [(one[kept] / read[kept]).tolist() for one in (a, b)]
    return SideBySide(at.tolist(), means[0], means[1], per_block * step, lag)


def _alike(found: SideBySide) -> float:
    """How much differences of neighbouring blocks resemble each other: the correlation at a lag of one block."""
    difference = np.array(found.first) - np.array(found.second)
    difference = difference - difference.mean()
    scatter = float((difference**2).sum())
    return float((difference[1:] * difference[:-1]).sum()) / scatter if scatter > 1e-12 else 0.0
