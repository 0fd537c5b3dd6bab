"""Two instruments side by side in time, on made logs whose delay, offset and noise are known."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from trelvo.core.logs.paired_readings import MOST_BLOCKS, Readings, side_by_side
from trelvo.core.stats.agreement import agreement


def load(time_s):
    """A load that goes up and down, as a title's does, W."""
    return 200 + 30 * np.sign(np.sin(2 * np.pi * time_s / 47)) + 10 * np.sin(2 * np.pi * time_s / 13)


def logs(delay_s=0.0, offset=27.0, every=(1.0, 2.0), length_s=600, noise=1.0, seed=1):
    rng = np.random.default_rng(seed)
    t, u = (np.arange(0, length_s, step) for step in every)
    first = Readings(t, load(t) + offset + rng.normal(0, noise, t.size))
    return first, Readings(u, load(u - delay_s) + rng.normal(0, noise, u.size))


@pytest.mark.parametrize("delay_s", [0.0, 4.0, -6.0])
def test_a_delay_is_found_and_the_offset_is_the_true_one(delay_s):
    found = side_by_side(*logs(delay_s))
    assert found.lag_s == pytest.approx(delay_s, abs=2)
    told = agreement(found.first, found.second, "W")
    assert told.bias_low - 0.5 <= 27 <= told.bias_high + 0.5
    assert told.finding == "constant offset"


def test_a_steady_load_shows_no_delay():
    rng = np.random.default_rng(2)
    t = np.arange(0, 300.0)
    assert side_by_side(*(Readings(t, 200 + rng.normal(0, 1, t.size)) for _ in range(2))).lag_s == 0


def test_differences_that_resemble_each_other_make_longer_blocks():
    rng = np.random.default_rng(3)
    t = np.arange(0, 1800.0)
    slow = np.zeros(t.size)
    for i in range(1, t.size):
        slow[i] = 0.99 * slow[i - 1] + rng.normal(0, 0.3)
    quick = side_by_side(Readings(t, 200 + rng.normal(0, 1, t.size)), Readings(t, np.full(t.size, 180.0)))
    slowly = side_by_side(Readings(t, 200 + slow), Readings(t, np.full(t.size, 180.0)))
    assert slowly.block_s > quick.block_s == 8


def test_the_interval_holds_the_true_offset_as_often_as_it_says():
    held = 0
    for seed in range(60):
        found = side_by_side(*logs(3.0, seed=seed, length_s=300))
        told = agreement(found.first, found.second, "W")
        held += told.bias_low <= 27 <= told.bias_high
    # 95 % of 60 is 57; fewer than 52 would come by chance once in a hundred times
    assert held >= 52


def test_what_only_one_of_them_read_is_left_out():
    t = np.arange(0, 400.0)
    gap = load(t).copy()
    gap[100:200] = np.nan
    found = side_by_side(Readings(t, load(t) + 5), Readings(t, gap))
    assert np.allclose(np.array(found.first) - found.second, 5)
    assert not any(100 < at < 195 for at in found.at_s)


def test_too_little_shared_time_makes_no_pairs():
    t = np.arange(0, 10.0)
    assert side_by_side(Readings(t, load(t)), Readings(t, load(t))) is None
    assert side_by_side(Readings(t, load(t)), Readings(t + 5000, load(t))) is None
    assert side_by_side(Readings(t, load(t)), Readings(t, np.full(t.size, np.nan))) is None


def test_a_log_of_days_makes_no_more_pairs_than_tell():
    found = side_by_side(*logs(3.0, length_s=3 * 86_400, every=(2.0, 2.0)))
    assert 20 <= len(found.first) <= MOST_BLOCKS
    assert found.lag_s == pytest.approx(3, abs=2)
    assert np.mean(np.array(found.first) - found.second) == pytest.approx(27, abs=0.5)


def test_logs_that_differ_among_each_other_widen_the_interval():
    rng = np.random.default_rng(5)
    second = rng.normal(200, 20, 120)
    groups = np.repeat(np.arange(4), 30)
    first = second + 27 + np.array([-3.0, -1.0, 1.0, 3.0])[groups] + rng.normal(0, 0.5, 120)
    apart = agreement(first, second, "W", groups=groups.tolist())
    alone = agreement(first, second, "W")
    # by hand: the deviation of the four means is 2.58, so its error 1.29, times t of 3 degrees 3.18
    assert apart.bias_high - apart.bias == pytest.approx(4.1, abs=0.3)
    assert alone.bias_high - alone.bias < 0.6
    same = agreement(second + 27 + rng.normal(0, 0.5, 120), second, "W", groups=groups.tolist())
    assert same.bias_high - same.bias < 0.2


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.floats(0, 500, allow_nan=False), min_size=1, max_size=80),
    st.floats(0.1, 30),
    st.floats(-100, 100),
)
def test_any_readings_give_pairs_within_what_was_read_or_none(values, every, later):
    t = np.arange(len(values)) * every
    one = Readings(t, np.array(values))
    found = side_by_side(one, Readings(t + later, np.array(values)))
    if found is not None:
        assert min(values) - 1e-6 <= min(found.first) <= max(found.first) <= max(values) + 1e-6
        assert len(found.first) == len(found.second) == len(found.at_s)
