"""Failure rates against reference libraries; the edge's belief against a plain numerical integral."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate, stats

from trelvo.core.base.knobs import Knob
from trelvo.core.base.problems import Refused
from trelvo.core.climb.stability import EdgeModel, Trial, edge_posterior, failure_rate, fewer_than, passes

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1)
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1)


def test_nothing_failed_garwood():
    # Garwood: 0 failures in T give at most 3.689 / T, two-sided 95 %
    found = failure_rate(2.0, 0)
    assert (found.per_h, found.low) == (0, 0)
    assert found.high == pytest.approx(3.689 / 2, abs=0.001)


@given(st.integers(0, 30), st.floats(0.1, 500))
def test_exact_poisson_interval(failures, hours):
    found = failure_rate(hours, failures)
    # the ends are the rates at which so many, or so few, have a chance of 2.5 %
    assert stats.poisson.cdf(failures, found.high * hours) == pytest.approx(0.025, abs=1e-6)
    if failures:
        assert stats.poisson.sf(failures - 1, found.low * hours) == pytest.approx(0.025, abs=1e-6)
    assert found.low <= found.per_h <= found.high


def test_failures_over_time_is_the_censored_exponential_estimate():
    # scipy's own fit of an exponential to right-censored times
    times, failed = np.array([0.5, 1.0, 1.0, 0.2, 2.0]), np.array([True, False, False, True, False])
    data = stats.CensoredData(uncensored=times[failed], right=times[~failed])
    _, scale = stats.expon.fit(data, floc=0)
    assert failure_rate(float(times.sum()), 2).per_h == pytest.approx(1 / scale, rel=1e-3)


def test_rule_of_three_and_what_an_hour_proves():
    # Hanley and Lippman-Hand 1983, from memory: about 3 / n, exactly 2.996
    assert fewer_than(1.0) == pytest.approx(2.996, abs=0.001)
    # common practice: what fails once in five hours passes an hour four times out of five
    assert passes(1 / 5, 1.0) == pytest.approx(0.82, abs=0.005)


def test_nothing_run_and_nonsense():
    assert failure_rate(0.0, 0).per_h is None
    with pytest.raises(Refused, match="below zero"):
        failure_rate(-1.0, 0)


TRIALS = [Trial(90, 10, False), Trial(150, 3.0, True), Trial(120, 20, False), Trial(210, 0.0, True)]


def test_the_belief_is_bayes_rule_over_edge_and_decade():
    model = EdgeModel.of(CLOCK)
    belief = edge_posterior(model, TRIALS)

    def likelihood(log_decade, edge):
        decade = math.exp(log_decade)
        # stock has run for a hundred hours before; edges beyond the range have falling weight
        total = math.exp(-100 * 10 ** (-edge / decade)) * math.exp(-max(edge - 300, 0) / 18)
        for trial in TRIALS:
            rate = 10 ** min((trial.value - edge) / decade, 6.0)
            if not trial.failed:
                total *= math.exp(-rate * trial.minutes / 60)
            elif trial.minutes == 0:
                total *= -math.expm1(-rate / 3600)
            else:
                total *= rate * math.exp(-rate * trial.minutes / 60)
        return total

    def weighed(of):
        low, high = math.log(model.lowest_decade), math.log(model.highest_decade)
        return integrate.dblquad(lambda d, e: of(d, e) * likelihood(d, e), 0, 450, low, high, epsabs=1e-9, epsrel=1e-4)[
            0
        ]

    plain = weighed(lambda d, e: e) / weighed(lambda d, e: 1.0)
    assert float(belief.weight @ belief.edge) == pytest.approx(plain, rel=0.01)


@given(st.lists(st.tuples(st.integers(1, 20), st.floats(0.1, 60), st.booleans()), max_size=8))
def test_up_and_down_are_the_same_thing(trials):
    up = edge_posterior(EdgeModel.of(CLOCK), [Trial(k * 15, m, f) for k, m, f in trials])
    scaled = Knob("v", "Voltage", "mV", 0, 15, -300, 0, -1)
    down = edge_posterior(EdgeModel.of(scaled), [Trial(-k * 15, m, f) for k, m, f in trials])
    np.testing.assert_allclose(up.weight, down.weight)
    assert up.chance_within(60) == pytest.approx(down.chance_within(-60))


@given(st.integers(1, 19), st.floats(1, 60))
def test_surviving_raises_and_failing_at_once_lowers_the_chance_everywhere(k, minutes):
    none = edge_posterior(EdgeModel.of(CLOCK), [])
    held = edge_posterior(EdgeModel.of(CLOCK), [Trial(k * 15, minutes, False)])
    # one that failed after a while had held for that while, which is good news for values well below it
    fell = edge_posterior(EdgeModel.of(CLOCK), [Trial(k * 15, 0.0, True)])
    for value in (60, 150, 240):
        assert held.chance_to_hold(value, 60) >= none.chance_to_hold(value, 60) - 1e-12
        assert fell.chance_to_hold(value, 60) <= none.chance_to_hold(value, 60) + 1e-9


def test_rates_rise_along_the_way_with_their_interval():
    belief = edge_posterior(EdgeModel.of(VOLTAGE), [Trial(-60, 20, False), Trial(-100, 1, True)])
    rates = [belief.rate(value) for value in (0, -40, -80, -120)]
    assert [median for median, _, _ in rates] == sorted(median for median, _, _ in rates)
    assert all(low <= median <= high for median, low, high in rates)
    assert belief.tested_to == 100


def test_a_harder_workload_tells_more():
    easy = edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 10, False)])
    hard = edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 10, False, stress=30)])
    assert hard.chance_within(90) > easy.chance_within(90)
