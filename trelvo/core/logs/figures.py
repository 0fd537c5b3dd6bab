"""What a log says about its run: the figures that otherwise would be typed."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.base.figures import BY_WORD, FigureKey, Part, Statistic
from trelvo.core.base.instruments import Point
from trelvo.core.base.workloads import Measure
from trelvo.core.logs.frames import FrameSummary, summarise_frames
from trelvo.core.logs.telemetry import ChannelSummary, summarise_channel
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import Quantity


@dataclass(frozen=True)
class Channel:
    """A telemetry column in its quantity's own unit; NaN where missing.

    part: what it is a reading of; instrument_id: which of the rig's instruments read it, where that was said
    point: where power was read, for rigs whose instruments are not described
    tells: whether it gives the run's figure; one spot or one core of a part is only kept
    """

    name: str
    quantity: Quantity
    unit: str
    values: npt.NDArray[np.float64]
    part: Part = "tuned part"
    instrument_id: int | None = None
    point: Point = "unknown"
    tells: bool = True


@dataclass(frozen=True)
class LoggedFigure:
    """A figure that a log supplies, and which instrument or measuring point it comes from."""

    key: FigureKey
    value: float
    instrument_id: int | None = None
    point: Point = "unknown"


@dataclass(frozen=True)
class Figures:
    """Figures of a run that a log supplies; value and frames are None where it says nothing of them."""

    duration_s: float
    value: float | None = None
    frames: int | None = None
    others: tuple[LoggedFigure, ...] = ()


# What is told of a channel of each quantity; of every other quantity the mean.
TOLD: dict[Quantity, tuple[Statistic, ...]] = {
    "temperature": ("highest", "mean", "at start"),
    "noise": ("mean", "highest"),
}


def figures_of_frames(frame_times_ms: npt.ArrayLike, measure: Measure) -> tuple[Figures, FrameSummary]:
    """Average rate (as the run's value where the workload is measured as a frame rate) and lows from frame times."""
    frames = summarise_frames(frame_times_ms)
    value = frames.rate_fps if measure == "frame rate" else None
    lows = (("low_1_fps", frames.low_1_fps), ("low_01_fps", frames.low_01_fps))
    others = tuple(LoggedFigure(BY_WORD[word].key, low) for word, low in lows if low is not None)
    return Figures(frames.duration_s, value, frames.frames, others), frames


def figures_of_telemetry(
    time_s: npt.NDArray[np.float64], channels: Sequence[Channel]
) -> tuple[Figures, dict[str, ChannelSummary]]:
    """Means and highest readings; of channels that tell the same figure by the same instrument the first counts.

    time_s: seconds, not falling, spanning more than zero
    """
    span = float(time_s[-1] - time_s[0]) if time_s.size else 0.0
    if span <= 0:
        raise Refused(Problem("time", "channel_covers_no_time"))
    summaries = {channel.name: summarise_channel(time_s, channel.values) for channel in channels}
    found: dict[tuple[FigureKey, int | None, Point], float] = {}
    for channel in channels:
        # the run's own result and figures without a meaning are not told twice
        if not channel.tells or channel.quantity in ("other", "frame rate"):
            continue
        summary = summaries[channel.name]
        of = {"mean": summary.mean, "highest": summary.highest, "at start": summary.first}
        for statistic in TOLD.get(channel.quantity, ("mean",)):
            key = FigureKey(channel.quantity, channel.part, statistic)
            found.setdefault((key, channel.instrument_id, channel.point), of[statistic])
    others = tuple(LoggedFigure(key, value, by, point) for (key, by, point), value in found.items())
    return Figures(span, others=others), summaries


@dataclass(frozen=True)
class RowsBehind:
    """The rows of a channel that a figure rests on, from the first to the last (from 0), and how many readings are among them."""

    first: int
    last: int
    count: int


def rows_behind(values: npt.NDArray[np.float64], statistic: Statistic) -> RowsBehind | None:
    """Which rows a figure of a channel rests on; None without a reading. values: n, NaN where missing"""
    there = np.flatnonzero(np.isfinite(values))
    if not there.size:
        return None
    if statistic in ("highest", "lowest"):
        best = values[there].argmax() if statistic == "highest" else values[there].argmin()
        row = int(there[best])
        return RowsBehind(row, row, 1)
    if statistic in ("at start", "at end"):
        row = int(there[0] if statistic == "at start" else there[-1])
        return RowsBehind(row, row, 1)
    return RowsBehind(int(there[0]), int(there[-1]), int(there.size))
