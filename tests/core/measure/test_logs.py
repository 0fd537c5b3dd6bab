import numpy as np
import pytest

from trelvo.core.base.problems import Refused
from trelvo.core.measure.logs import Channel, figures_of_frames, figures_of_telemetry


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
    assert (figures.temp_max_c, figures.temp_mean_c, figures.power_w) == (70, 66.25, 150)
    assert figures.core_mhz is None
    assert summaries["memory"].highest == 90


def test_a_log_that_covers_no_time():
    with pytest.raises(Refused, match="covers no time"):
        figures_of_telemetry(np.array([3.0, 3.0]), [])
