import numpy as np
import pytest

from trelvo.core.logs.figures import Channel, figures_of_frames, figures_of_telemetry
from trelvo.core.problems import Refused


def test_frames_give_the_value_only_where_a_frame_rate_is_measured():
    times = np.full(1000, 10.0)
    figures, summary = figures_of_frames(times, "frame rate")
    assert (figures.value, figures.duration_s, summary.frames) == (pytest.approx(100), pytest.approx(10), 1000)
    assert figures_of_frames(times, "score")[0].value is None


def test_the_first_channel_of_a_quantity_feeds_the_run():
    time_s = np.array([0.0, 1.0, 2.0])
    channels = [
        Channel("hot spot", "temperature", "°C", np.array([60.0, 70.0, 65.0])),
        Channel("memory", "temperature", "°C", np.array([80.0, 90.0, 85.0])),
        Channel("board", "power", "W", np.array([100.0, 200.0, 100.0])),
    ]
    figures, summaries = figures_of_telemetry(time_s, channels)
    read = {(other.key.quantity, other.key.statistic): other.value for other in figures.others}
    assert read == {
        ("temperature", "highest"): 70, ("temperature", "mean"): 66.25, ("temperature", "at start"): 60, ("power", "mean"): 150,
    }  # fmt: skip
    assert summaries["memory"].highest == 90


def test_two_instruments_in_one_log_make_two_figures():
    time_s, flat = np.array([0.0, 1.0, 2.0]), np.full(3, 100.0)
    channels = [
        Channel("card", "power", "W", flat, "graphics", 1),
        Channel("clamp", "power", "W", flat - 27, "graphics", 2),
        Channel("wall", "power", "W", flat * 2, "whole machine", None, "wall"),
    ]
    figures, _ = figures_of_telemetry(time_s, channels)
    assert [(other.key.part, other.instrument_id, other.point, other.value) for other in figures.others] == [
        ("graphics", 1, "unknown", 100), ("graphics", 2, "unknown", 73), ("whole machine", None, "wall", 200),
    ]  # fmt: skip


def test_a_log_that_covers_no_time():
    with pytest.raises(Refused, match="channel_covers_no_time"):
        figures_of_telemetry(np.array([3.0, 3.0]), [])
