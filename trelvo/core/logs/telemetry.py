"""Telemetry: what a channel did during a run, and thinning it for display."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.problems import Problem, Refused

# Readings further apart than this many usual steps have a gap between them.
GAP_STEPS = 10.0


@dataclass(frozen=True)
class ChannelSummary:
    """One channel over one run, in its unit. The mean is weighted by time, so uneven sampling does no harm."""

    samples: int
    first: float
    mean: float
    lowest: float
    highest: float


def summarise_channel(time_s: npt.ArrayLike, values: npt.ArrayLike) -> ChannelSummary:
    """Time-weighted mean, lowest and highest of a channel.

    time_s: seconds, 1-D, not falling; values: same length, NaN where a reading is missing
    Source: trapezoidal rule between neighbouring readings; a single reading, or readings all at one time, give the
    plain mean. A gap in the log (longer than ten usual steps) is not bridged: nobody knows what was read there.
    """
    t, v = np.asarray(time_s, dtype=np.float64), np.asarray(values, dtype=np.float64)
    if t.shape != v.shape or t.ndim != 1:
        raise Refused(Problem("channel", "readings_do_not_match_times"))
    present = np.isfinite(v) & np.isfinite(t)
    t, v = t[present], v[present]
    if v.size == 0:
        raise Refused(Problem("channel", "no_readings"))
    if (np.diff(t) < 0).any():
        raise Refused(Problem("time", "time_runs_backwards"))
    steps = np.diff(t)
    usual = float(np.median(steps)) if steps.size else 0.0
    covered = np.where(steps > GAP_STEPS * usual, 0.0, steps) if usual > 0 else steps
    span = float(covered.sum())
    mean = float(((v[1:] + v[:-1]) / 2 * covered).sum() / span) if span > 0 else float(v.mean())
    lowest, highest = float(v.min()), float(v.max())
    # rounding must not carry a mean out of what was read
    return ChannelSummary(int(v.size), float(v[0]), min(max(mean, lowest), highest), lowest, highest)


def thin_keeping_extremes(values: npt.ArrayLike, most: int) -> npt.NDArray[np.intp]:
    """Indices of at most `most` points: first, last, and every stretch's lowest and highest reading.

    values: 1-D, NaN where missing (left out); most: at least 4
    Method: lowest-and-highest decimation over stretches of equally many samples.
    """
    v = np.asarray(values, dtype=np.float64)
    if most < 4:
        raise ValueError("thinning to fewer than four points keeps no shape")
    present = np.isfinite(v)
    if v.size <= most:
        return np.flatnonzero(present)
    stretches = (most - 2) // 2
    edges = np.linspace(0, v.size, stretches + 1).astype(np.intp)
    width = int(np.diff(edges).max())
    # one row a stretch; a shorter one is filled up with its own last index, which changes neither extreme
    rows = np.minimum(edges[:-1, None] + np.arange(width)[None, :], edges[1:, None] - 1)
    lows = np.where(present, v, np.inf)[rows].argmin(axis=1)
    highs = np.where(present, v, -np.inf)[rows].argmax(axis=1)
    each = np.arange(stretches)
    kept = np.unique(np.concatenate([[0, v.size - 1], rows[each, lows], rows[each, highs]]))
    return np.asarray(kept[present[kept]], dtype=np.intp)


def middle_step(time_s: npt.NDArray[np.float64]) -> float:
    """Seconds between two readings, the median over a log; 0 for fewer than two. time_s: n, not falling"""
    return float(np.median(np.diff(time_s))) if time_s.size > 1 else 0.0
