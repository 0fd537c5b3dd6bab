"""Channel means against integration by scipy; thinning against what it promises."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp
from scipy.integrate import trapezoid

from trelvo.core.logs.telemetry import summarise_channel, thin_keeping_extremes
from trelvo.core.problems import Refused


def test_mean_is_weighted_by_time():
    # a reading every second for ten seconds at 200 W, then one eight seconds later at 100 W: the ramp weighs much
    time_s = np.array([0.0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 18])
    watts = np.array([200.0] * 11 + [100.0])
    summary = summarise_channel(time_s, watts)
    assert summary.mean == pytest.approx(trapezoid(watts, time_s) / 18)
    assert summary.mean < watts.mean()
    assert (summary.lowest, summary.highest, summary.samples) == (100, 200, 12)


def test_first_order_heating():
    # any textbook: 63.2 % of the rise after one time constant, 95.0 % after three
    seconds = np.linspace(0, 300, 3001)
    temp = 20 + 50 * (1 - np.exp(-seconds / 100))
    assert summarise_channel(seconds[:1001], temp[:1001]).highest == pytest.approx(20 + 0.632 * 50, abs=0.02)
    assert summarise_channel(seconds, temp).highest == pytest.approx(20 + 0.950 * 50, abs=0.02)


def test_missing_readings_are_left_out():
    summary = summarise_channel([0, 1, 2, 3], [10, np.nan, np.nan, 40])
    assert (summary.samples, summary.mean) == (2, 25)


def test_time_that_runs_backwards_is_refused():
    with pytest.raises(Refused, match="time_runs_backwards"):
        summarise_channel([0, 2, 1], [1, 2, 3])


def test_thinning_keeps_a_single_spike():
    values = np.zeros(216_000)
    values[123_456] = 97.5
    kept = thin_keeping_extremes(values, 1500)
    assert kept.size <= 1500
    assert 123_456 in kept


@given(hnp.arrays(float, st.integers(1, 400), elements=st.floats(-1e6, 1e6) | st.just(np.nan)), st.integers(4, 120))
def test_thinning_keeps_first_last_and_extremes(values, most):
    kept = thin_keeping_extremes(values, most)
    assert kept.size <= max(most, 4)
    assert (np.diff(kept) > 0).all()
    present = np.isfinite(values)
    assert present[kept].all()
    if present.any():
        assert values[kept].max() == values[present].max()
        assert values[kept].min() == values[present].min()


@given(st.floats(-1e6, 1e6), st.lists(st.floats(0.001, 1e4), min_size=1, max_size=40))
def test_a_mean_lies_within_lowest_and_highest(level, steps):
    time_s = np.concatenate([[0.0], np.cumsum(steps)])
    flat = summarise_channel(time_s, np.full(time_s.size, level))
    assert (flat.lowest, flat.mean, flat.highest) == (level, level, level)
    rising = summarise_channel(time_s, level + time_s)
    assert rising.lowest <= rising.mean <= rising.highest


def test_a_gap_in_a_log_is_not_bridged():
    """Ten seconds at 100, an hour missing, ten seconds at 200: the mean is 150, not that of a line through the hour."""
    time_s = np.array([*range(11), *range(3611, 3622)], dtype=float)
    values = np.array([100.0] * 11 + [200.0] * 11)
    assert summarise_channel(time_s, values).mean == pytest.approx(150)
    uneven = np.array([100.0] * 11 + [200.0] * 6)
    assert summarise_channel(np.array([*range(11), *range(3611, 3617)], dtype=float), uneven).mean == pytest.approx(
        (10 * 100 + 5 * 200) / 15
    )
