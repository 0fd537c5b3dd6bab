"""Frame rates and lows against arithmetic and the reference percentiles."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats.mstats import mquantiles

from trelvo.core.logs import frames
from trelvo.core.problems import Refused

TIMES = np.random.default_rng(11).gamma(9, 1.2, 7200) + 4
some_times = st.lists(st.floats(min_value=0.1, max_value=500), min_size=1, max_size=300)


@pytest.mark.parametrize(("milliseconds", "rate"), [(1000 / 60, 60), (6.944444, 144), (16.666667, 60)])
def test_even_frames(milliseconds, rate):
    # arithmetic: 60 a second is 16.667 ms, 144 is 6.944 ms
    summary = frames.summarise_frames(np.full(500, milliseconds))
    assert summary.rate_fps == pytest.approx(rate, rel=1e-6)
    assert summary.low_1_fps == pytest.approx(rate, rel=1e-6)


def test_average_rate_is_frames_over_time_not_the_mean_of_rates():
    # one second at 10 ms a frame and one at 20 ms: 150 frames in 2 s; the mean of the momentary rates would say 83.3
    times = [10.0] * 100 + [20.0] * 50
    assert frames.average_rate_fps(times) == pytest.approx(75)
    assert np.mean(1000 / np.array(times)) == pytest.approx(83.33, abs=0.01)


@pytest.mark.parametrize("share", [0.05, 0.01, 0.001])
def test_percentile_lows_equal_the_reference_libraries(share):
    # Hyndman and Fan's definition 7: alphap = betap = 1 in scipy's mquantiles
    expected = 1000 / mquantiles(TIMES, [1 - share], alphap=1, betap=1)[0]
    assert frames.low_fps(TIMES, share) == pytest.approx(expected)


def test_slowest_share_is_frames_over_time_of_the_slowest():
    times = [10.0] * 990 + [50.0] * 10
    assert frames.slowest_share_fps(times, 0.01) == pytest.approx(20)
    assert frames.slowest_share_fps(times, 0.02) == pytest.approx(20 / (10 * 50 + 10 * 10) * 1000)


def test_two_minutes_leave_eight_frames_to_the_tenth_of_a_percent():
    # common practice: 0.1 % lows from two minutes of play rest on eight frames
    assert frames.tail_count(120 * 65, 0.001) == 8


@pytest.mark.parametrize("bad", [[], [0.0, 16.0], [16.0, -1.0], [float("nan")]])
def test_times_that_cannot_be(bad):
    with pytest.raises(Refused):
        frames.summarise_frames(bad)


@given(some_times)
def test_a_smaller_slowest_share_is_never_faster(times):
    summary = frames.summarise_frames(times)
    assert summary.slowest_01_fps <= summary.slowest_1_fps * (1 + 1e-9)
    assert summary.slowest_1_fps <= summary.rate_fps * (1 + 1e-9)
    assert summary.low_01_fps <= summary.low_1_fps * (1 + 1e-9)
    assert summary.longest_ms == max(times)


@given(some_times)
def test_order_of_frames_does_not_matter(times):
    assert frames.low_fps(times, 0.01) == pytest.approx(frames.low_fps(sorted(times), 0.01))
