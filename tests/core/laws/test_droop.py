import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from hypothesis import given, settings
from hypothesis import strategies as st

from trelvo.core.laws.droop import DroopPoint, learn_droop, read_current, steady_points, voltage_step
from trelvo.core.problems import Refused

GRID = 25.0


def points(rng, ohm_by_level, clocks=(3900.0, 3000.0), each=6, noise=0.0005):
    return [
        DroopPoint(level, clock, 0.5 + clock / 6000 - ohm * current + rng.normal(0, noise), current)
        for level, ohm in ohm_by_level.items()
        for clock in clocks
        for current in rng.uniform(8, 60, each)
    ]


def test_one_milliohm_at_a_hundred_amperes_is_a_hundred_millivolts():
    # Ohm's law; the values of the shared list of checks
    made = [DroopPoint(100, 3000, 1.2 - 0.001 * amperes, amperes) for amperes in (1, 20, 50, 80, 100)]
    found = learn_droop(made, GRID)
    assert found.lines[0].mohm.value == pytest.approx(1.0)
    assert found.lines[0].lost_v.value == pytest.approx(0.1)
    assert (found.lines[0].no_load_v, found.lines[0].clock_mhz, found.current_a) == pytest.approx((1.2, 3000, 100))
    assert found.falls
    assert found.fits


def test_same_as_least_squares_with_dummies():
    """Against statsmodels' OLS, which has a column for each clock and each setting's current."""
    made = points(np.random.default_rng(3), {100.0: 0.0016, 50.0: 0.0008}, noise=0.002)
    table = pd.DataFrame([vars(one) for one in made])
    other = smf.ols("volt ~ 0 + C(clock_mhz):C(level) + C(level):current_a", table).fit()
    low, high = other.conf_int(alpha=0.05).T.to_numpy()
    place = {name: k for k, name in enumerate(other.params.index)}
    for line in learn_droop(made, GRID).lines:
        k = place[f"C(level)[{line.level}]:current_a"]
        expected = -1000 * np.array([other.params.iloc[k], high[k], low[k]])
        assert (line.mohm.value, line.mohm.low, line.mohm.high) == pytest.approx(tuple(expected), rel=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.floats(0.0002, 0.003), st.floats(0.2, 0.9), st.integers(0, 10_000))
def test_the_interval_holds_the_truth_and_says_which_setting_keeps_more(ohm, share, seed):
    found = learn_droop(points(np.random.default_rng(seed), {100.0: ohm, 50.0: share * ohm}), GRID)
    kept = {line.level: line for line in found.lines}
    wide = 3 * (kept[100].mohm.high - kept[100].mohm.low) / 2
    assert abs(kept[100].mohm.value - 1000 * ohm) <= wide
    assert abs(kept[50].mohm.value - 1000 * share * ohm) <= wide


def test_a_clock_that_follows_the_load_says_nothing():
    """Held by its power limit, a part has one current at each clock: the curve cannot be told from the droop."""
    made = [DroopPoint(100, clock, 0.5 + clock / 6000, 40.0 - clock / 200) for clock in (2800, 3000, 3200, 3400, 3600)]
    with pytest.raises(Refused) as refused:
        learn_droop(made, GRID)
    assert refused.value.problems[0].code == "droop_needs_different_loads"
    with pytest.raises(Refused):
        learn_droop([], GRID)


def test_a_readout_of_what_was_asked_for_does_not_fall():
    rng = np.random.default_rng(5)
    found = learn_droop(points(rng, {100.0: 0.0}), GRID)
    assert not found.falls


def test_a_clock_readout_that_stays_behind_is_left_out():
    rng = np.random.default_rng(8)
    made = points(rng, {100.0: 0.0016})
    # the clock reads 3900 still while the part has gone down by its limit
    behind = [DroopPoint(100, 3900, 0.95, 30.0), DroopPoint(100, 3900, 0.9, 27.0)]
    found = learn_droop([*made, *behind], GRID)
    assert found.lines[0].mohm.low < 1.6 < found.lines[0].mohm.high
    assert found.fits
    # where it is half of all that was read, nothing is left to go by
    rest = [DroopPoint(100, 3900, rng.uniform(0.8, 1.2), rng.uniform(10, 60)) for _ in range(12)]
    assert not learn_droop([*made, *rest], GRID).fits


def test_something_else_that_moves_the_voltage_is_noticed():
    rng = np.random.default_rng(6)
    found = learn_droop(points(rng, {100.0: 0.0004}, noise=0.03), GRID)
    assert not found.fits


def log(current, clock=3900.0, seconds=60, ohm=0.0016, every=0.2, seed=1):
    rng = np.random.default_rng(seed)
    time = np.arange(0, seconds, every)
    volt = 1.18 - ohm * current + rng.normal(0, 0.0015, time.size)
    return time, clock + rng.normal(0, 2, time.size), volt, np.full(time.size, current) * rng.normal(1, 0.01, time.size)


def test_logs_are_taken_in_stretches_at_a_steady_clock():
    light = steady_points(*log(15.0), 100, GRID)
    heavy = steady_points(*log(50.0, seed=2), 100, GRID)
    assert len(light) == len(heavy) == 3
    found = learn_droop(light + heavy, GRID)
    line = found.lines[0]
    assert line.mohm.low < 1.6 < line.mohm.high
    assert line.mohm.high - line.mohm.low < 0.4
    # at the beginning the readout may still show the clock before
    behind = log(50.0)
    behind[1][: 12 * 5] = 2400
    assert {round(one.clock_mhz / 100) for one in steady_points(*behind, 100, GRID)} == {39}
    # while it walks down by its limit no stretch is steady
    time, clock, volt, current = log(50.0)
    assert steady_points(time, clock - 60 * time, volt, current, 100, GRID) == []
    # gaps and a dead channel say nothing
    volt[:] = np.nan
    assert steady_points(time, clock, volt, current, 100, GRID) == []


def test_a_current_on_a_cable_is_not_the_parts():
    volt, power = np.full(5, 1.05), np.full(5, 210.0)
    own = read_current(volt, power, np.full(5, 190.0))
    assert own.read
    assert own.current_a.tolist() == [190.0] * 5
    # 17.5 A at 12 V are the same 210 W
    cable = read_current(volt, power, np.full(5, 17.5))
    assert not cable.read
    assert cable.current_a == pytest.approx(np.full(5, 200.0))
    assert read_current(volt, np.full(5, np.nan), np.full(5, 150.0)).read
    assert np.isnan(read_current(np.zeros(5), power, np.full(5, np.nan)).current_a).all()


def test_coarse_readings_widen_the_interval():
    made = [DroopPoint(100, 3000, 1.2 - 0.001 * amperes, amperes) for amperes in (10, 30, 50, 60)]
    plain, coarse = (learn_droop(made, GRID, step).lines[0].mohm for step in (0.0, 0.00625))
    # 6.25 mV at each end: a deviation of 2.55 mV over 50 A
    assert (coarse.high - coarse.low) / 2 == pytest.approx(
        np.hypot((plain.high - plain.low) / 2, 1.96 * 2.5516 / 50), rel=1e-3
    )
    assert voltage_step(np.array([1.1, 1.1125, 1.10625, np.nan])) == pytest.approx(0.00625)
    assert voltage_step(np.array([1.1, 1.1])) == 0
