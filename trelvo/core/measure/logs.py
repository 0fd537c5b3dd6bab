"""What a log says about its run: the figures that otherwise would be typed."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.base.figures import Quantity
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.workloads import Measure
from trelvo.core.measure.frames import FrameSummary, summarise_frames
from trelvo.core.measure.telemetry import ChannelSummary, summarise_channel


@dataclass(frozen=True)
class Channel:
    """A telemetry column in its quantity's own unit (MHz, V, W, °C, %, rpm, frames a second); NaN where missing."""

    name: str
    quantity: Quantity
    unit: str
    values: npt.NDArray[np.float64]


@dataclass(frozen=True)
class Figures:
    """Figures of a run that a log supplies; None where it says nothing."""

    duration_s: float
    value: float | None = None
    low_1_fps: float | None = None
    low_01_fps: float | None = None
    power_w: float | None = None
    temp_max_c: float | None = None
    temp_mean_c: float | None = None
    core_mhz: float | None = None
    memory_mhz: float | None = None
    voltage_v: float | None = None
    temp_start_c: float | None = None
    frames: int | None = None


def figures_of_frames(frame_times_ms: npt.ArrayLike, measure: Measure) -> tuple[Figures, FrameSummary]:
    """Average rate (as the run's value where the workload is measured as a frame rate) and lows from frame times."""
    frames = summarise_frames(frame_times_ms)
    value = frames.rate_fps if measure == "frame rate" else None
    figures = Figures(frames.duration_s, value, frames.low_1_fps, frames.low_01_fps, frames=frames.frames)
    return figures, frames


def figures_of_telemetry(
    time_s: npt.NDArray[np.float64], channels: Sequence[Channel]
) -> tuple[Figures, dict[str, ChannelSummary]]:
    """Means and highest readings; the first channel of each quantity feeds the run's figures.

    time_s: seconds, not falling, spanning more than zero
    """
    span = float(time_s[-1] - time_s[0]) if time_s.size else 0.0
    if span <= 0:
        raise Refused(
            Problem("time", "The log covers no time.", "Choose the column that holds the time of each reading.")
        )
    summaries = {channel.name: summarise_channel(time_s, channel.values) for channel in channels}
    first: dict[str, ChannelSummary] = {}
    for channel in channels:
        first.setdefault(channel.quantity, summaries[channel.name])

    def mean(quantity: Quantity) -> float | None:
        return first[quantity].mean if quantity in first else None

    figures = Figures(
        duration_s=span,
        power_w=mean("power"),
        temp_max_c=first["temperature"].highest if "temperature" in first else None,
        temp_mean_c=mean("temperature"),
        core_mhz=mean("core clock"),
        memory_mhz=mean("memory clock"),
        voltage_v=mean("voltage"),
        temp_start_c=first["temperature"].first if "temperature" in first else None,
    )
    return figures, summaries
