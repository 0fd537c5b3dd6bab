"""What is proposed next: on the grid, within limits, for a reason; and when to stop."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bench.climb_study import CLOCK, VOLTAGE, Silicon, climb, draw
from trelvo.core.base.knobs import Knob
from trelvo.core.base.problems import Refused
from trelvo.core.climb.stability import EdgeModel, Trial, edge_posterior
from trelvo.core.climb.strategies import STRATEGIES, Policy, advise, highest_hold, values_of


def held(*steps, minutes=5.0):
    return [Trial(15 * step, minutes, False) for step in steps]


def ask(strategy, trials, **more):
    return advise(CLOCK, trials, Policy(strategy=strategy, **more))


def test_fixed_steps_go_up_one_at_a_time_and_prove_the_last_good():
    assert ask("fixed steps", []).value == 15
    assert ask("fixed steps", held(1, 2)).value == 45
    proof = ask("fixed steps", [*held(1, 2), Trial(45, 1, True)])
    assert (proof.value, proof.minutes) == (30, 60)
    done = ask("fixed steps", [*held(1, 2), Trial(45, 1, True), *held(2, minutes=60)])
    assert (done.act, done.value) == ("hold", 30)
    # an hour and five minutes: −ln 0.05 / 1.083
    assert "fewer than 2.8 failures an hour" in done.reason


def test_shorter_runs_at_one_value_count_together():
    assert ask("fixed steps", held(2, minutes=4.9)).value == 15
    advice = ask("fixed steps", [*held(2, minutes=3), *held(2, minutes=2)])
    assert advice.value == 45
    assert advice.reason == "One step past the last that held for 5 min."
    # what failed there takes all of it away
    assert ask("fixed steps", [*held(2, minutes=60), Trial(30, 1, True)]).value == 15


def test_a_proof_that_fails_sends_one_step_back():
    trials = [*held(1, 2), Trial(45, 1, True), Trial(30, 40, True)]
    assert (ask("fixed steps", trials).value, ask("fixed steps", trials).minutes) == (15, 60)


def test_coarse_then_fine():
    assert ask("coarse then fine", []).value == 60
    assert ask("coarse then fine", held(4)).value == 120
    assert ask("coarse then fine", [*held(4), Trial(120, 1, True)]).value == 75


def test_halving():
    assert ask("halving", []).value == 150
    assert ask("halving", [Trial(150, 1, True)]).value == 75
    assert ask("halving", [Trial(150, 1, True), *held(5)]).value == 105


def test_everything_failed_means_keep_stock():
    for strategy in ("fixed steps", "coarse then fine", "halving"):
        advice = ask(strategy, [Trial(15, 0.5, True)])
        assert (advice.act, advice.value) == ("hold", 0)
    advice = ask("by the numbers", [Trial(15, 0.1, True), Trial(15, 0.0, True)], minutes_left=0.0)
    assert (advice.act, advice.value) == ("hold", 0)


@pytest.mark.parametrize("strategy", ["fixed steps", "coarse then fine", "halving"])
def test_what_does_not_fit_the_time_is_not_proposed(strategy):
    trials = [*held(1, 2), Trial(45, 1, True)]
    late = ask(strategy, trials, minutes_left=20)
    assert (late.act, late.value) == ("hold", 30)
    assert "takes 60 min" in late.reason
    assert "not proved" in late.reason
    assert ask(strategy, trials, minutes_left=60).act == "test"
    assert ask(strategy, [], minutes_left=3).value == 0


@settings(max_examples=20)
@given(
    st.sampled_from(STRATEGIES),
    st.sampled_from([CLOCK, VOLTAGE]),
    st.lists(st.tuples(st.integers(1, 20), st.floats(0.2, 60), st.booleans()), max_size=10),
    st.integers(3, 20),
)
def test_whatever_has_happened_the_advice_can_be_followed(strategy, knob, trials, limit):
    found = [Trial(knob.stock + knob.away * knob.step * k, m, f) for k, m, f in trials]
    policy = Policy(strategy=strategy, limit=knob.stock + knob.away * knob.step * limit)
    advice = advise(knob, found, policy)
    assert advice.value in values_of(knob, policy)
    assert advice.reason.endswith((".", "proof."))
    assert (advice.minutes > 0) == (advice.act == "test")
    if advice.chance_to_pass is not None:
        assert 0 <= advice.chance_to_pass <= 1


@pytest.mark.parametrize("at_once", [0.05, 0.3])
def test_no_test_is_likelier_to_fail_at_once_than_accepted(at_once):
    trials = held(2, 4)
    advice = ask("by the numbers", trials, most_at_once=at_once)
    belief = edge_posterior(EdgeModel.of(CLOCK), trials)
    assert 1 - belief.chance_to_hold(advice.value, 0.25) <= at_once


def test_the_hold_line_needs_every_value_below_it_and_a_margin():
    trials = [Trial(180, 2, True), Trial(150, 20, False), Trial(165, 10, False)]
    belief, policy = edge_posterior(EdgeModel.of(CLOCK), trials), Policy()
    line = highest_hold(belief, policy, values_of(CLOCK, policy))
    margin = 0.75 * 15
    assert belief.chance_within(line + margin) >= 0.9 > belief.chance_within(line + 15 + margin)


@pytest.mark.parametrize("knob", [CLOCK, VOLTAGE], ids=lambda knob: knob.key)
def test_by_the_numbers_keeps_what_is_safe(knob):
    """Ten specimens; a thousand in ./run.py bench climb."""
    kept = [climb(knob, draw(knob, seed), "by the numbers", seed) for seed in range(10)]
    assert sum(one.safe for one in kept) >= 9
    assert np.median([one.short_steps for one in kept]) <= 3
    assert np.mean([one.failures for one in kept]) <= 7


def test_an_hour_without_a_crash_keeps_what_is_not_safe():
    """The usual way: an hour passed says little of one failure in fifty hours."""
    kept = [climb(CLOCK, draw(CLOCK, seed), "fixed steps", seed) for seed in range(40)]
    assert sum(one.safe for one in kept) < 20


def test_a_specimen_without_an_edge_in_range_is_taken_to_its_end():
    kept = climb(CLOCK, Silicon(edge=2000, decade=20), "by the numbers", 1)
    assert kept.failures == 0
    assert kept.short_steps <= 5


@pytest.mark.parametrize(
    ("knob", "says"),
    [
        (Knob("core", "Core clock", "MHz", 0, 15, 300, 0), "holds no two values"),
        (Knob("core", "Core clock", "MHz", 0, 0, 0, 300), "never reaches another value"),
        (Knob("core", "Core clock", "MHz", 0, 15, 0, 300, -1), "already at the end"),
    ],
)
def test_a_knob_that_cannot_be_turned_is_refused_in_words(knob, says):
    with pytest.raises(Refused, match=says):
        advise(knob, [], Policy())


@pytest.mark.parametrize(
    ("trials", "policy", "says"),
    [
        ([Trial(17, 5, False)], Policy(), "off the grid"),
        ([Trial(900, 5, False)], Policy(), "outside the range"),
        ([Trial(15, 0, False)], Policy(), "tells nothing"),
        ([Trial(15, -1, True)], Policy(), "no length for a test"),
        ([], Policy(accepted_per_h=0), "cannot be accepted"),
        ([], Policy(sure=1.0), "no degree of sureness"),
    ],
)
def test_nonsense_is_refused_in_words(trials, policy, says):
    with pytest.raises(Refused, match=says):
        advise(CLOCK, trials, policy)
