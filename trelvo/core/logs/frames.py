"""Frame times: average rate and lows.

An average rate is frames over time, never the mean of momentary rates. Lows come in the two usual readings: the rate
at a percentile of the frame times, and the rate over the slowest share of frames.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.problems import Problem, Refused


@dataclass(frozen=True)
class FrameSummary:
    """One stretch of frames. Rates in frames a second, times in milliseconds.

    low_1_fps, low_01_fps: rate at the 99th and 99.9th percentile of the frame times
    slowest_1_fps, slowest_01_fps: frames over time of the slowest 1 and 0.1 % of frames (at least one frame)
    tail_1, tail_01: how many frames are in those slowest shares; below ten, few frames decide
    """

    frames: int
    duration_s: float
    rate_fps: float
    median_ms: float
    longest_ms: float
    low_1_fps: float
    low_01_fps: float
    slowest_1_fps: float
    slowest_01_fps: float
    tail_1: int
    tail_01: int


def average_rate_fps(frame_times_ms: npt.ArrayLike) -> float:
    """Frames over their summed time. frame_times_ms: 1-D, milliseconds, all above zero."""
    times = _checked(frame_times_ms)
    return float(times.size / times.sum() * 1000)


def low_fps(frame_times_ms: npt.ArrayLike, share: float) -> float:
    """Frame rate that all but the slowest `share` (0.01 for the 1 % low) of the frames reach.

    Source of the percentile: linear interpolation between order statistics, definition 7 of Hyndman and Fan 1996
    (numpy's "linear").
    """
    times = _checked(frame_times_ms)
    return float(1000 / np.quantile(times, 1 - share, method="linear"))


def slowest_share_fps(frame_times_ms: npt.ArrayLike, share: float) -> float:
    """Frames over time of the slowest `share` of the frames, at least one frame."""
    times = _checked(frame_times_ms)
    slowest = np.partition(times, times.size - tail_count(times.size, share))[-tail_count(times.size, share) :]
    return float(slowest.size / slowest.sum() * 1000)


def tail_count(frames: int, share: float) -> int:
    """How many of `frames` are in the slowest `share`: rounded to the nearest, at least one."""
    return max(1, round(frames * share))


def summarise_frames(frame_times_ms: npt.ArrayLike) -> FrameSummary:
    """Rates and lows of one stretch of frames. frame_times_ms: 1-D, milliseconds, all above zero."""
    times = _checked(frame_times_ms)
    return FrameSummary(
        frames=int(times.size),
        duration_s=float(times.sum() / 1000),
        rate_fps=average_rate_fps(times),
        median_ms=float(np.median(times)),
        longest_ms=float(times.max()),
        low_1_fps=low_fps(times, 0.01),
        low_01_fps=low_fps(times, 0.001),
        slowest_1_fps=slowest_share_fps(times, 0.01),
        slowest_01_fps=slowest_share_fps(times, 0.001),
        tail_1=tail_count(times.size, 0.01),
        tail_01=tail_count(times.size, 0.001),
    )


def _checked(frame_times_ms: npt.ArrayLike) -> npt.NDArray[np.float64]:
    times = np.asarray(frame_times_ms, dtype=np.float64)
    if times.ndim != 1 or times.size == 0:
        raise Refused(Problem("frame times", "no_frames"))
    if not np.isfinite(times).all() or (times <= 0).any():
        raise Refused(Problem("frame times", "frame_time_not_above_zero"))
    return times
