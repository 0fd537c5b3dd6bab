"""Minutes with their spread; what fits into the time one has."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import EdgeModel, after_trial, edge_posterior
from trelvo.core.climb.planning import Activity, Minutes, added_up, fit, plan_climb, together, with_overheads
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.trials import Trial
from trelvo.core.registry.approaches import STRATEGIES

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1)


@pytest.mark.parametrize("strategy", STRATEGIES)
def test_a_climb_takes_longer_from_stock_than_from_near_its_end(strategy):
    policy = Policy(strategy, minutes_left=300)
    start = plan_climb(CLOCK, [], policy, np.random.default_rng(1))
    known = [Trial(15 * k, 5, False) for k in range(1, 11)]
    known += [Trial(15 * k, 1, True) for k in range(11, 15)] + [Trial(150, 60, False), Trial(90, 240, False)]
    late = plan_climb(CLOCK, known, policy, np.random.default_rng(1))
    assert start.minutes.low <= start.minutes.likely <= start.minutes.high <= 300 + 4 + 1
    assert late.minutes.likely < start.minutes.likely
    assert start.tests > late.tests


@pytest.mark.parametrize("strategy", ["fixed steps", "coarse then fine"])
def test_a_climb_without_failures_is_counted_exactly(strategy):
    """One step below the end has held for ages: one short test of the end, then an hour there, a minute each to set up."""
    plan = plan_climb(CLOCK, [Trial(285, 50_000, False)], Policy(strategy), np.random.default_rng(2), draws=4)
    assert (plan.minutes.low, plan.minutes.likely, plan.minutes.high) == (67, 67, 67)
    assert (plan.failures, plan.tests) == (0, 2)
    done = plan_climb(CLOCK, [Trial(300, 50_000, False)], Policy(strategy), np.random.default_rng(2), draws=4)
    assert done.minutes.likely == 0


def test_less_time_is_kept_to():
    plan = plan_climb(CLOCK, [], Policy("adaptive", minutes_left=30), np.random.default_rng(3))
    # a failure in the last test may add its restart
    assert plan.minutes.high <= 30 + 4 + 1


def test_a_test_that_fails_now_and_then_takes_longer():
    calm, shaky = with_overheads(120, 2, 0.0, 4), with_overheads(120, 2, 0.5, 4)
    # two hours and two times cooling down and setting up
    assert (calm.low, calm.likely, calm.high) == (132, 132, 132)
    # one failure expected: its restart and half a session
    assert shaky.likely == pytest.approx(132 + 4 + 30)
    assert shaky.high > shaky.likely


def test_spreads_add_as_squares():
    both = together([Minutes(60, 57, 64), Minutes(30, 26, 33)])
    assert (both.likely, both.low, both.high) == (90, 85, 95)


def item(key, minutes, teaches):
    return Activity(key, Minutes(minutes, minutes, minutes), teaches)


def test_what_teaches_least_for_its_time_goes_first():
    items = [item("a", 60, 6), item("b", 60, 1), item("c", 30, 2)]
    assert fit(items, 200).kept == ("a", "b", "c")
    found = fit(items, 100)
    assert (found.kept, found.dropped) == (("a", "c"), ("b",))
    assert fit(items, 10).kept == ()


@given(st.lists(st.tuples(st.floats(1, 200), st.floats(0, 10)), max_size=8), st.floats(0, 600))
def test_what_is_kept_fits_and_nothing_that_fits_is_left(drawn, minutes):
    items = [item(str(k), length, teaches) for k, (length, teaches) in enumerate(drawn)]
    found = fit(items, minutes)
    assert sorted((*found.kept, *found.dropped)) == sorted(one.key for one in items)
    assert found.minutes.likely <= minutes + 1e-9
    lengths = {one.key: one.minutes.likely for one in items}
    assert all(found.minutes.likely + lengths[key] > minutes for key in found.dropped)


TRIALS = st.lists(
    st.builds(
        Trial,
        st.integers(0, 20).map(lambda step: 15.0 * step),
        st.floats(0.5, 120),
        st.booleans(),
        st.sampled_from([0.0, 7.5]),
        st.sampled_from(["second", "minute", "run"]),
    ),
    max_size=12,
)


@settings(max_examples=25)
@given(TRIALS)
def test_trials_added_up_and_taken_one_by_one_tell_the_same(trials):
    model = EdgeModel.of(CLOCK)
    whole = edge_posterior(model, trials)
    step_by_step = edge_posterior(model, [])
    for trial in trials:
        step_by_step = after_trial(step_by_step, trial)
    if whole.fits:
        assert step_by_step.weight == pytest.approx(whole.weight, abs=1e-6)
    assert sum(trial.minutes for trial in added_up(trials)) == pytest.approx(sum(trial.minutes for trial in trials))
