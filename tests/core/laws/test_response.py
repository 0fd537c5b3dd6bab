import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import isotonic_regression

from trelvo.core.laws.response import ResponsePlace, at_equal_speed, at_equal_x, response


def places(xs, ratios, deviation=0.003):
    return [ResponsePlace(i, f"s{i}", x, ratio, deviation) for i, (x, ratio) in enumerate(zip(xs, ratios, strict=True))]


def curve_of(xs, ratios, deviation=0.003):
    return response(places(xs, ratios, deviation), np.random.default_rng(1))


def test_the_curve_goes_through_the_isotonic_fit():
    # checked against scipy.optimize.isotonic_regression
    xs, ratios = [100, 120, 140, 160, 180], [0.86, 0.93, 0.925, 0.98, 1.0]
    pooled = isotonic_regression(ratios).x
    found = curve_of(xs, ratios)
    for x, ratio in zip(xs, pooled, strict=True):
        assert found.at(x).ratio == pytest.approx(ratio, abs=2e-3)


def test_the_knee_stands_where_more_power_brings_little():
    xs = np.linspace(80, 200, 13)
    # speed as the square root of power up to 140 W, nothing beyond
    ratios = np.minimum(xs, 140) ** 0.8 / 140**0.8
    found = curve_of(xs, ratios)
    assert found.knee_x == pytest.approx(140, abs=8)
    assert curve_of(xs, xs / 200).knee_x is None
    # nowhere worth it: the least that was tried
    assert curve_of(xs, (xs / 200) ** 0.2).knee_x == pytest.approx(80)


def test_equal_speed_and_equal_power():
    cap = curve_of([100, 140, 180], [0.86, 0.95, 1.0])
    volts = places([165, 160], [1.01, 1.015])
    speed = {one.ratio: one for one in at_equal_speed(cap, volts, [0.95, 1.0, 1.1])}
    assert speed[0.95].first_x == pytest.approx(140, abs=1)
    assert speed[0.95].second_x == 160
    assert 1.1 not in speed
    power = {one.x: one for one in at_equal_x(cap, volts, [160, 150, 50])}
    assert power[160].second.value == 1.015
    assert power[150].second is None
    assert 50 not in power


def test_too_few_places_are_no_curve():
    assert curve_of([100, 100, 140], [0.9, 0.91, 0.95]) is None
    assert curve_of([float("nan"), 0, 100], [1, 1, 1]) is None


@given(seed=st.integers(0, 300), n=st.integers(3, 9))
def test_it_never_falls_and_lies_in_its_band(seed, n):
    rng = np.random.default_rng(seed)
    xs = np.sort(rng.uniform(50, 300, n))
    found = curve_of(xs, rng.uniform(0.7, 1.1, n), 0.01)
    if found is None:
        return
    ratios = [one.ratio for one in found.curve]
    assert (np.diff(ratios) >= -1e-9).all()
    assert all(one.low <= one.ratio <= one.high for one in found.curve)


def test_the_interval_holds_the_truth_as_often_as_it_says():
    rng, held = np.random.default_rng(5), 0
    xs = np.linspace(100, 180, 6)
    for i in range(120):
        found = response(places(xs, (xs / 180) ** 0.4 * (1 + rng.normal(0, 0.004, 6)), 0.004), np.random.default_rng(i))
        truth = (150 / 180) ** 0.4
        held += found.at(150).low <= truth <= found.at(150).high
    assert held >= 105
