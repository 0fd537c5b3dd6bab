"""Gains against worked examples of the trade and published results."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.problems import Refused
from trelvo.core.stats import gains

positive = st.floats(min_value=1e-3, max_value=1e6, allow_nan=False)


def test_speed_and_time_saved_are_two_things():
    # common practice: 14 % less time is 16 % faster, not 14 %
    assert gains.speed_gained(0.14) == pytest.approx(1.1628, abs=5e-5)
    assert gains.time_saved(1.1628) == pytest.approx(0.14, abs=5e-5)


def test_amdahl():
    # Hennessy and Patterson, from memory: 40 % of the work ten times faster gives 1.5625
    after = 0.6 + 0.4 / 10
    assert gains.performance_ratio(1.0, after, higher_is_better=False) == pytest.approx(1.5625)


def test_a_seventh_more_is_14_3_percent():
    # common practice: guessed in the head as "about 10 %"
    assert gains.performance_ratio(7, 8, higher_is_better=True) == pytest.approx(1.142857, abs=1e-6)


def test_steps_compound_and_do_not_add():
    # 17.9 and 8.9 % in two steps are 28.4 %, not 26.8
    assert gains.compound([1.179, 1.089]) == pytest.approx(1.283931)


def test_geometric_mean_does_not_depend_on_the_reference():
    # Fleming and Wallace 1986 (from memory): the ranking by geometric mean does not depend on the reference,
    # while the arithmetic mean of ratios lets each of two machines win against the other
    a, b = [20.0, 40.0], [10.0, 80.0]
    forth = [x / y for x, y in zip(a, b, strict=True)]
    back = [y / x for x, y in zip(a, b, strict=True)]
    assert gains.geometric_mean(forth) * gains.geometric_mean(back) == pytest.approx(1)
    assert sum(forth) / 2 > 1
    assert sum(back) / 2 > 1


def test_power_follows_the_cube():
    # Hennessy and Patterson, from memory: 15 % less voltage and frequency leaves 0.61 of the dynamic power
    kept = gains.retained(0.85, 100, 100 * 0.85**3)
    assert kept.power == pytest.approx(0.614, abs=5e-4)
    assert kept.per_joule == pytest.approx(0.85 / 0.614125)


@pytest.mark.parametrize(
    ("value", "measure", "watts", "amount", "unit"),
    [
        (90, "frame rate", 180, 0.5, "frames/J"),
        (8400, "score", 200, 42, "points/W"),
        (118, "time", 150, 17700, "J/pass"),
    ],
)
def test_efficiency_in_the_unit_of_the_measure(value, measure, watts, amount, unit):
    assert gains.efficiency(value, measure, watts) == gains.Efficiency(amount, unit)


@pytest.mark.parametrize("bad", [0.0, -1.0, math.nan, math.inf])
def test_no_ratio_without_a_positive_value(bad):
    with pytest.raises(Refused, match="no_ratio"):
        gains.performance_ratio(bad, 1, higher_is_better=True)
    with pytest.raises(Refused):
        gains.geometric_mean([1.0, bad])


def test_nothing_saves_all_of_the_time():
    with pytest.raises(Refused, match="all_time_saved"):
        gains.speed_gained(1.0)


@given(positive, positive, st.booleans())
def test_swapping_sides_inverts_the_ratio(a, b, higher):
    there = gains.performance_ratio(a, b, higher_is_better=higher)
    back = gains.performance_ratio(b, a, higher_is_better=higher)
    assert there * back == pytest.approx(1)


@given(st.floats(min_value=0.01, max_value=100))
def test_time_saved_and_speed_gained_are_inverse(ratio):
    assert gains.speed_gained(gains.time_saved(ratio)) == pytest.approx(ratio)


@pytest.mark.parametrize(
    ("performance", "clock", "words"),
    [
        (1.24, 1.26, "proportional"),  # common practice: 26 % more clock for 24 % more frames
        (1.13, 1.19, "usual"),  # common practice: 19 for 13 is usual
        (1.05, 1.19, "something else limits"),  # common practice: 19 for 5
        (0.98, 1.05, "against the clock"),
        (1 / 1.24, 1 / 1.26, "proportional"),
    ],
)
def test_scaling_in_words(performance, clock, words):
    scale = gains.scaling(performance, clock)
    assert scale.words == words
    assert scale.elasticity == pytest.approx(math.log(performance) / math.log(clock))


def test_no_scaling_without_a_moved_clock():
    assert gains.scaling(1.04, 1.001) is None


def test_the_price_of_the_last_frame():
    # arithmetic: 330 for 110 frames is 3 a frame; 90 more than the 240 for 100 frames buys 10 frames, 9 each
    assert gains.value_for_money(330, 110, 240, 100) == gains.Value(3, 9)
    assert gains.value_for_money(200, 90, 240, 100) == gains.Value(pytest.approx(200 / 90), None)


def test_half_the_gap_closed():
    closed = gains.gap_closed(1.05, 1.10, None, None, (3, 3, 0))
    assert (closed.share, closed.low) == (pytest.approx(0.5), None)
    assert gains.gap_closed(1.05, 0.98, None, None, (3, 3, 0)) is None


def test_no_share_of_a_gap_inside_the_noise():
    assert gains.gap_closed(1.004, 1.006, 0.005, 2.2, (3, 3, 3)) is None
    assert gains.gap_closed(1.05, 1.10, 0.005, 2.2, (3, 3, 3)) is not None


def test_interval_of_a_gap_covers_the_truth():
    # Fieller's interval, by simulation: reference and candidate of 4 runs, target of 4, noise 1 %, known
    rng = np.random.default_rng(2)
    limit, hits = 1.959964, 0
    for _ in range(3000):
        ref, cand, target = (rng.normal(mean, mean * 0.01, 4).mean() for mean in (100, 106, 115))
        closed = gains.gap_closed(cand / ref, target / ref, 0.01, limit, (4, 4, 4))
        hits += closed.low <= 6 / 15 <= closed.high
    assert hits / 3000 == pytest.approx(0.95, abs=0.015)


@pytest.mark.parametrize(
    ("speed", "clock", "words"),
    [
        (1.24, 1.26, "proportional"),
        (0.9, 0.9, "proportional"),
        (0.97, 1.05, "against the clock"),
        (1.9, 1.1, "beyond the clock"),
    ],
)
def test_what_a_clock_explains(speed, clock, words):
    assert gains.scaling(speed, clock).words == words
