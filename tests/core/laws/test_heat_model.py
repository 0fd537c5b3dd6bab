"""The two heat stores against a solver of differential equations, and the belief against plain least squares."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from trelvo.core.laws.heat_fit import Belief, weigh
from trelvo.core.laws.heat_model import COLUMNS, Grid, air_of, columns_of, edges_of, in_bins, regress


def bins_of(power, fan=None, minutes=10, temp=None):
    t = np.arange(0, minutes * 60, 1.0)
    watts = np.array([power(one) for one in t])
    fans = None if fan is None else np.array([fan(one) for one in t])
    return t, in_bins(t + 0.5, np.zeros(t.size) if temp is None else temp, watts, fans)


def test_the_stores_are_those_of_the_differential_equation():
    # checked against scipy.integrate.solve_ivp: tau dg/dt = p - g a
    def power(t):
        return 1.5 if t < 120 else 0.7

    def fan(t):
        return 40.0 if t < 300 else 75.0

    _, bins = bins_of(power, fan)
    columns = columns_of(bins, Grid(np.array([6.0]), np.array([240.0])))[0]
    middle = bins.start_s + bins.width_s / 2
    fast = solve_ivp(lambda t, g: (power(t) - g) / 6.0, (0, 600), [0.0], t_eval=middle, max_step=0.5).y[0]
    slow = solve_ivp(
        lambda t, g: (power(t) - g * float(air_of(fan(t)))) / 240.0, (0, 600), [0.0], t_eval=middle, max_step=0.5
    ).y[0]
    assert columns[:, 2] == pytest.approx(slow, abs=0.02)
    # a stretch's mean is its middle where little happens within it
    late = bins.start_s > 200
    assert columns[late, 1] == pytest.approx(fast[late], abs=0.01)


def test_what_was_warm_at_the_start_cools_by_its_time_constant():
    _, bins = bins_of(lambda t: 0.0)
    columns = columns_of(bins, Grid(np.array([5.0]), np.array([200.0])))[0]
    middle = bins.start_s + bins.width_s / 2
    assert columns[:, 4] == pytest.approx(np.exp(-middle / 200.0), abs=2e-3)
    assert columns.shape == (bins.power.size, COLUMNS)
    assert (columns[:, 0] == 1).all()


def test_stretches_are_short_at_the_start_and_cover_the_log():
    edges = edges_of(2400.0)
    widths = np.diff(edges)
    assert edges[0] == 0
    assert edges[-1] == 2400
    assert widths[0] == 2
    assert widths.max() == 60
    assert (np.diff(widths[:-1]) >= 0).all()
    assert edges_of(61.0)[-1] == 61


def test_gaps_have_no_readings_but_keep_their_power():
    t = np.arange(0, 300, 1.0)
    temp = np.where((t > 100) & (t < 200), np.nan, 50.0)
    watts = np.where((t > 100) & (t < 200), np.nan, 2.0)
    bins = in_bins(t, temp, watts, None)
    inside = (bins.start_s > 105) & (bins.start_s < 190)
    assert (bins.readings[inside] == 0).all()
    assert bins.power[inside] == pytest.approx(2.0)
    assert (bins.air == 1).all()


def test_more_fan_cools_better_and_a_still_one_not_without_end():
    assert float(air_of(50.0)) == 1.0
    assert float(air_of(100.0)) == pytest.approx(2**0.6)
    assert 0 < float(air_of(0.0)) < 0.2


def test_with_a_wide_belief_the_coefficients_are_least_squares():
    # checked against numpy.linalg.lstsq
    rng = np.random.default_rng(1)
    columns = rng.normal(0, 1, (1, 60, COLUMNS))
    temps = columns[0] @ np.array([22.0, 10.0, 30.0, 2.0, 3.0]) + rng.normal(0, 0.3, 60)
    found = regress(columns, temps, np.full(60, 0.09), np.zeros(1), np.zeros((1, COLUMNS)), np.eye(COLUMNS)[None] * 1e8)
    expected, *_ = np.linalg.lstsq(columns[0], temps, rcond=None)
    assert found.means[0] == pytest.approx(expected, abs=1e-4)
    assert found.weights == pytest.approx([1.0])


def test_the_pair_that_explains_the_readings_gets_the_weight():
    t = np.arange(0, 1200, 1.0)
    temps = 23 + 12 * (1 - np.exp(-t / 6)) + 30 * (1 - np.exp(-t / 250))
    bins = in_bins(t + 0.5, temps, None, None)
    weighed = weigh(bins, np.full(bins.power.size, 0.01), 23.0, None, 1.0)
    slow = weighed.grid.marginals(weighed.fitted.weights)[1]
    assert float(slow @ weighed.grid.slow_s) == pytest.approx(250, rel=0.02)
    assert weighed.strayed < 1.2


@given(slow=st.floats(100, 700), spread=st.floats(0.01, 0.3))
def test_what_earlier_runs_taught_is_where_it_begins(slow, spread):
    belief = Belief(np.array([np.log(6.0), np.log(slow), 0.06, 0.15]), np.diag([0.04, spread**2, 1e-4, 1e-4]))
    # a log too short to say anything of the cooler
    t = np.arange(0, 61, 1.0)
    temps = 23 + 200 * (0.06 * (1 - np.exp(-t / 6)) + 0.15 * (1 - np.exp(-t / slow)))
    bins = in_bins(t + 0.5, temps, np.ones(t.size), None)
    weighed = weigh(bins, np.full(bins.power.size, 0.2), 23.0, belief, 200.0)
    slow_weights = weighed.grid.marginals(weighed.fitted.weights)[1]
    middle = float(np.exp(slow_weights @ np.log(weighed.grid.slow_s)))
    assert abs(np.log(middle / slow)) <= 3 * np.hypot(spread, 0.02)
