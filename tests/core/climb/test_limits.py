"""What no climb may do, whatever the strategy: pass a limit, hold what was never run, climb on a machine that is not healthy."""

from dataclasses import replace

import numpy as np
import pytest

from tests.core.climb.specimens import CLOCK
from tests.said import codes
from trelvo.core.base.knobs import MOST_STEPS, Knob, check_knob
from trelvo.core.climb.planning import plan_climb
from trelvo.core.climb.policy import Policy, values_of
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.trials import Trial
from trelvo.core.problems import Refused
from trelvo.core.registry.approaches import STRATEGIES

VOLTAGE = Knob("voltage", "Voltage", "V", 1.05, 0.01, 0.8, 1.3, 1)
LONG = Knob("core", "Core clock", "MHz", 0, 15, 0, 1800, 1)


@pytest.mark.parametrize("strategy", STRATEGIES)
def test_a_limit_on_the_wrong_side_of_stock_is_kept(strategy):
    assert values_of(VOLTAGE, Policy(limit=1.0)) == [1.0]
    advice = advise(VOLTAGE, [], Policy(strategy=strategy, limit=1.0))
    assert (advice.act, advice.value) == ("test", 1.0)
    assert (advice.reason.code, advice.reason.params["stock"]) == ("stock_beyond_limit", "1.05\u00a0V")
    assert advise(VOLTAGE, [Trial(1.0, 60, False)], Policy(strategy=strategy, limit=1.0)).act == "hold"
    failed = advise(VOLTAGE, [Trial(1.0, 2, True)], Policy(strategy=strategy, limit=1.0))
    assert (failed.act, failed.value) == ("hold", 1.0)
    assert "nearest_within_failed" in codes(failed.reason)


def test_a_limit_that_leaves_nothing_is_said():
    with pytest.raises(Refused, match="limit_leaves_no_range"):
        values_of(VOLTAGE, Policy(limit=0.7))


def test_a_limit_downwards_is_kept_too():
    down = Knob("voltage", "Voltage", "mV", 0, 5, -150, 50, -1)
    assert values_of(down, Policy(limit=20)) == [20]
    assert values_of(down, Policy(limit=-10)) == [0, -5, -10]


@pytest.mark.parametrize("left", [0.0, 120.0, float("inf")])
def test_nothing_is_held_beyond_what_survived(left):
    for trials in ([], [Trial(60, 1, False)], [Trial(60, 30, False), Trial(300, 1, True)]):
        advice = advise(LONG, trials, Policy(minutes_left=left, most_at_once=0.01))
        survived = max((trial.value for trial in trials if not trial.failed), default=0)
        assert advice.act == "test" or advice.value <= survived
    none_left = advise(LONG, [], Policy(minutes_left=0))
    assert (none_left.act, none_left.value) == ("hold", 0)
    assert "sure_from_all_trials" not in codes(none_left.reason)
    assert none_left.reason.code == "nothing_tested"


def test_what_is_held_without_proof_is_said_to_be_unproved():
    advice = advise(
        CLOCK, [Trial(0, 1, False), Trial(15, 5, True), Trial(15, 5, True)], Policy(minutes_left=0, sure=0.99)
    )
    assert advice.act == "hold"
    assert (advice.reason.code, advice.reason.params["sure_percent"]) == ("nothing_past_stock", 99)


@pytest.mark.parametrize("strategy", STRATEGIES)
def test_a_failure_at_stock_comes_first(strategy):
    failed = Trial(0, 3, True)
    ask = advise(CLOCK, [failed], Policy(strategy=strategy))
    assert (ask.act, ask.value, ask.minutes) == ("test", 0, 60)
    assert ask.reason.code == "stock_failed_once"
    assert advise(CLOCK, [failed, Trial(0, 25, False)], Policy(strategy=strategy)).minutes == 35
    twice = advise(CLOCK, [failed, Trial(0, 20, True)], Policy(strategy=strategy))
    assert (twice.act, twice.value) == ("hold", 0)
    assert advise(CLOCK, [failed, Trial(0, 60, False)], Policy(strategy=strategy)).value != 0


@pytest.mark.parametrize(("low", "high"), [(0, 170), (-500, 500)])
def test_a_plan_on_an_ordinary_fine_grid(low, high):
    knob = Knob("core", "Core clock", "MHz", 0, 1, low, high, 1)
    plan = plan_climb(knob, [], Policy(minutes_left=60), np.random.default_rng(1), draws=4)
    assert 0 < plan.minutes.likely <= 70
    assert plan.tests > 0


def test_a_knob_of_a_thousand_million_steps_is_refused():
    problems = check_knob(Knob("core", "Core clock", "MHz", 0, 1, 0, 1e9, 1), "knobs.0")
    assert [problem.where for problem in problems] == ["knobs.0.step"]
    assert (problems[0].code, problems[0].params["most"]) == ("knob_too_many_steps", MOST_STEPS)
    assert check_knob(Knob("core", "Core clock", "MHz", 0, 1, 0, MOST_STEPS, 1), "knobs.0") == []


def test_on_a_long_grid_the_best_test_is_found_near_the_one_found_on_all_of_it():
    knob = Knob("core", "Core clock", "MHz", 0, 1, 0, 600, 1, "core clock")
    trials = [Trial(60, 5, False), Trial(120, 5, False), Trial(180, 2, True)]
    thinned, whole = (advise(knob, trials, Policy(minutes_left=120, candidates=n)) for n in (16, 10_000))
    assert abs(thinned.value - whole.value) <= 15


def test_a_ceiling_that_stock_is_above_is_kept_on_the_way_down():
    """Stock 1.05 V, ceiling 1.00 V, turned down: nothing above the ceiling, and the first test is the ceiling itself."""
    down = Knob("voltage", "Voltage", "V", 1.05, 0.01, 0.8, 1.3, -1, "voltage")
    policy = Policy(begin=1.0)
    assert values_of(down, policy)[0] == 1.0
    for strategy in STRATEGIES:
        first = advise(down, [], replace(policy, strategy=strategy))
        assert (first.act, first.value) == ("test", 1.0)
        assert first.reason.code == "stock_beyond_limit"
        assert advise(down, [Trial(1.0, 30, False)], replace(policy, strategy=strategy)).value <= 1.0
    # nothing is called proved that is only the nearest value within the limit
    unproved = advise(down, [Trial(1.0, 5, False)], replace(policy, minutes_left=0))
    assert (unproved.act, unproved.value) == ("hold", 1.0)
    assert unproved.reason.code == "nearest_allowed"
    with pytest.raises(Refused, match="limit_leaves_no_range"):
        values_of(down, Policy(begin=0.7))
