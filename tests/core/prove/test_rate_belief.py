import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb.trials import Trial
from trelvo.core.prove.rate_belief import LOG_RATES, RateBelief

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")


def test_hours_alone_follow_the_gamma_distribution():
    """Two failures in 40 h leave Gamma(3, 40), the conjugate posterior of a flat prior on the rate."""
    belief, exact = RateBelief.from_hours(40, 2), stats.gamma(3, scale=1 / 40)
    for per_h in (0.01, 0.05, 0.1):
        assert belief.chance_within(per_h) == pytest.approx(exact.cdf(per_h), abs=0.002)
    assert belief.at_most(0.95) == pytest.approx(exact.ppf(0.95), rel=0.01)


def test_hours_without_a_failure_say_what_the_rule_of_three_says():
    """Hanley and Lippman-Hand 1983, from memory: none in T excludes more than 2.996/T with 95 %."""
    assert RateBelief.from_hours(100, 0).at_most(0.95) == pytest.approx(2.996 / 100, rel=0.01)


def test_a_climb_and_its_kept_value_say_the_same():
    belief = edge_posterior(EdgeModel.of(CORE), [Trial(90, 60, False), Trial(120, 30, False), Trial(150, 4, True)])
    kept = RateBelief.from_edge(belief, 90)
    assert kept.chance_within(1 / 50) == pytest.approx(belief.chance_stable(90), abs=1e-9)
    # an hour more at the heaviest load is the same trial in both
    more = edge_posterior(EdgeModel.of(CORE), [*belief.trials, Trial(90, 300, False)])
    assert kept.after(5).chance_within(1 / 50) == pytest.approx(more.chance_stable(90), abs=0.15)


def test_light_use_says_less_than_the_heaviest_load():
    belief = RateBelief.from_hours(30, 0)
    heavy, light = belief.after(50), belief.after(50, lighter=-1.4)
    assert belief.chance_within(0.02) < light.chance_within(0.02) < heavy.chance_within(0.02)
    # a tenth of the rate for ten times as long is the same
    assert belief.after(100, lighter=-1).chance_within(0.02) == pytest.approx(belief.after(10).chance_within(0.02))


def test_a_change_spreads_and_a_check_brings_back():
    belief = RateBelief.from_hours(200, 0)
    changed = belief.moved(0.3, 0.0, 1.0)
    assert changed.chance_within(0.02) < belief.chance_within(0.02)
    sure = belief.chance_within(0.02)
    minutes = changed.minutes_to_believe(0.02, sure)
    assert 0 < minutes < math.inf
    assert changed.after(minutes / 60).chance_within(0.02) >= sure
    assert changed.after((minutes - 1) / 60).chance_within(0.02) < sure
    # a change for the worse by one power of ten moves the whole belief by it
    worse = belief.moved(1.0, 1.0, 0.0)
    assert worse.chance_within(0.2) == pytest.approx(belief.chance_within(0.02), abs=0.03)


@given(st.floats(0, 1000), st.integers(0, 5), st.floats(0, 1), st.floats(0, 2), st.floats(0, 2), st.floats(0.01, 500))
def test_a_belief_is_always_whole(hours, failures, chance, middle, deviation, more):
    belief = RateBelief.from_hours(hours, failures).moved(chance, middle, deviation).after(more)
    assert belief.array.sum() == pytest.approx(1)
    assert (belief.array >= 0).all()
    chances = [belief.chance_within(10.0**log) for log in LOG_RATES]
    assert np.all(np.diff(chances) >= -1e-12)
    # a change is never believed to be for the better, and time without a failure never makes it look worse
    assert belief.moved(chance, abs(middle), deviation).chance_within(0.02) <= belief.chance_within(0.02) + 1e-9
    assert belief.after(10).chance_within(0.02) >= belief.chance_within(0.02) - 1e-9
