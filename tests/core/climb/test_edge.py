"""The belief about an edge: against a plain numerical integral, what must hold always, and what it must not claim."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate

from tests.core.climb.specimens import CLOCK, VOLTAGE
from trelvo.core.base.knobs import Knob
from trelvo.core.climb import edge as model_of_edge
from trelvo.core.climb.adaptive import highest_hold
from trelvo.core.climb.edge import EdgeModel, edge_posterior, failures_per_h
from trelvo.core.climb.policy import Policy, values_of
from trelvo.core.climb.trials import Trial, coldness_of

TRIALS = [
    Trial(90, 10, False),
    Trial(150, 4.5, True),
    Trial(120, 20, False, coldness=0.5),
    Trial(210, 0.0, True),
    Trial(135, 3, True, known_to="minute"),
]


def chance_of(trial, edge, decade, cap, cold):
    """Likelihood of a trial, written out again: cold for three minutes, then warm, or as cold as it stayed."""

    def survives(minutes):
        def rate(shift):
            return 1 / (10 ** ((edge + shift - trial.value) / decade) + 1 / cap)

        begun = min(minutes, 3.0)
        return math.exp(-(rate(cold) * begun + rate(trial.coldness * cold) * (minutes - begun)) / 60)

    if not trial.failed:
        return survives(trial.minutes)
    first, last = {4.5: (3.5, 4.5), 0.0: (0.0, 0.1), 3: (1.75, 4.0)}[trial.minutes]
    stranger = max(0.12 * (last - first) / 60, 0.002)
    return survives(first) - survives(last) + stranger * survives(first)


def test_the_belief_is_bayes_rule():
    belief = edge_posterior(EdgeModel.of(CLOCK), TRIALS)
    usual = 15 * 5 / 3.5
    decades = np.geomspace(0.08, 6, 13)
    share = (1 + (np.log(decades) / math.hypot(0.35, 0.35)) ** 2 / 8) ** -4.5
    share *= 0.9 / share.sum()
    share[:3] += 0.1 / 3
    total = mean = 0.0
    for decade, of_decade in zip(decades * usual, share, strict=True):
        for cap, cold, of_shape in model_of_edge.SHAPES:

            def weighed(log, decade=decade, cap=cap, cold=cold):
                edge = math.exp(log) - 10 * usual
                weight = math.exp(-max(edge - 300, 0) / (0.25 * 300))
                weight *= math.exp(-100 / (10 ** (edge / decade) + 1 / cap) if edge / decade < 12 else 0.0)
                for trial in TRIALS:
                    weight *= chance_of(trial, edge, decade, cap, cold * usual)
                return weight

            low, high = math.log(10 * usual), math.log(11 * usual + 300 + max(150, 8 * usual) - usual)
            places = np.linspace(low, high, 1201)
            found = np.array([weighed(place) for place in places])
            total += of_decade * of_shape * integrate.simpson(found, x=places)
            mean += of_decade * of_shape * integrate.simpson(found * (np.exp(places) - 10 * usual), x=places)
    assert float(belief.weight @ belief.edge) == pytest.approx(mean / total, abs=1.0)


@settings(max_examples=30)
@given(st.lists(st.tuples(st.integers(1, 20), st.floats(0.1, 60), st.booleans()), max_size=8))
def test_up_and_down_are_the_same_thing(trials):
    up = edge_posterior(EdgeModel.of(CLOCK), [Trial(k * 15, m, f) for k, m, f in trials])
    # of no role that says what either way does to stability
    mirrored = Knob("core", "Core clock", "MHz", 0, 15, -300, 0, -1, "other")
    down = edge_posterior(EdgeModel.of(mirrored), [Trial(-k * 15, m, f) for k, m, f in trials])
    np.testing.assert_allclose(up.weight, down.weight)
    assert up.chance_within(60) == pytest.approx(down.chance_within(-60))


@settings(max_examples=30)
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
    assert belief.survived_to == 60


def test_rates_saturate_at_the_cap():
    edge, decade, cap = np.array([100.0]), np.array([10.0]), np.array([120.0])
    assert failures_per_h(100, edge, decade, cap)[0] == pytest.approx(1 / (1 + 1 / 120))
    assert failures_per_h(400, edge, decade, cap)[0] == pytest.approx(120, rel=1e-3)


@pytest.mark.parametrize("colder", [0.0, 0.4, 1.0])
def test_what_points_of_the_grid_share_is_worked_out_once_and_comes_to_the_same(colder):
    belief = edge_posterior(EdgeModel.of(CLOCK, grid=(9, 5)), [])
    for x in (-40.0, 0.0, 155.0, 900.0):
        shared = belief.axes.flat(belief.axes.rates(x, colder))
        one_by_one = failures_per_h(x, belief.edge + colder * belief.cold, belief.decade, belief.cap)
        np.testing.assert_array_equal(shared, one_by_one)


def test_a_harder_workload_tells_more():
    easy = edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 10, False)])
    hard = edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 10, False, stress=30)])
    assert hard.chance_within(90) > easy.chance_within(90)


def test_a_run_that_stayed_cold_tells_less_and_a_long_one_more_than_several_short():
    warm, cold = (edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 30, False, coldness=one)]) for one in (0.0, 1.0))
    assert warm.chance_within(90) > cold.chance_within(90)
    short = edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 3, False)] * 10)
    assert warm.chance_within(90) > short.chance_within(90)
    assert coldness_of(70, 72) == 0
    assert coldness_of(50, 72) == pytest.approx(0.5)
    assert coldness_of(20, 72) == 1


@pytest.mark.parametrize("known_to", ["second", "minute", "run"])
def test_a_fast_failure_does_not_exclude_steep_silicon(known_to):
    """A cliff between 150 and 165, its crash seen after 20 s, or typed as 0 or 1 minute: it stays believable."""
    minutes = {"second": 1 / 3, "minute": 1.0, "run": 10.0}[known_to]
    trials = [Trial(150, 40, False), *[Trial(165, minutes, True, known_to=known_to)] * 3]
    belief = edge_posterior(EdgeModel.of(CLOCK), trials)
    steep = belief.decade < 0.3 * 15
    assert float(belief.weight[steep].sum()) > 0.1


def test_how_well_a_moment_is_known():
    assert Trial(90, 5, True).failed_between == (4, 5)
    assert Trial(90, 5, True, known_to="minute").failed_between == (3.75, 6)
    assert Trial(90, 5, True, known_to="run").failed_between == (0, 5)
    assert Trial(90, 0, True).failed_between == (0, 0.1)


def test_steepness_hangs_on_neither_range_nor_step():
    trials = [Trial(90, 10, False), Trial(150, 2, True), Trial(120, 20, False)]
    knobs = [CLOCK, Knob("core", "Core clock", "MHz", 0, 1, 0, 300, 1, "core clock")]
    knobs.append(Knob("core", "Core clock", "MHz", 0, 15, 0, 1200, 1, "core clock"))
    beliefs = [edge_posterior(EdgeModel.of(knob), trials) for knob in knobs]
    decades = [math.exp(float(belief.weight @ np.log(belief.decade))) for belief in beliefs]
    assert decades[0] == decades[1]
    assert decades[2] == pytest.approx(decades[0], rel=0.25)
    holds = [belief.quantile(belief.line(), 0.1) for belief in beliefs]
    assert holds[2] == pytest.approx(holds[0], abs=12)


def test_one_failure_where_nothing_fails_is_a_stranger():
    held = [Trial(195, 120, False), Trial(210, 120, False)]
    belief = edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(60, 4, True)])
    assert belief.strangers == (Trial(60, 4, True),)
    assert belief.fits
    alone = edge_posterior(EdgeModel.of(CLOCK), held)
    assert belief.chance_within(120) == pytest.approx(alone.chance_within(120), abs=0.08)
    # a failure beyond what held is none
    assert edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(240, 4, True)]).strangers == ()


def test_a_failure_that_the_tuning_was_found_to_cause_is_no_stranger():
    held = [Trial(195, 120, False), Trial(210, 120, False)]
    unknown = edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(60, 4, True)])
    blamed = edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(60, 4, True, by_knob=1.0)])
    assert blamed.strangers == ()
    assert blamed.chance_within(120) < 0.5 * unknown.chance_within(120)
    # while the cause is in doubt: a mixture of that, and of 4 more minutes that survived
    cleared = edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(60, 4, False)])
    doubtful = edge_posterior(EdgeModel.of(CLOCK), [*held, Trial(60, 4, True, by_knob=0.6)])
    mixed = 0.6 * blamed.chance_within(120) + 0.4 * cleared.chance_within(120)
    assert doubtful.chance_within(120) == pytest.approx(mixed)


def test_what_cannot_fit_is_said_and_widens():
    upside_down = [Trial(270, 60, False)] + [Trial(30 * k, 5, True) for k in range(1, 5)]
    belief = edge_posterior(EdgeModel.of(CLOCK), upside_down)
    assert not belief.fits
    assert edge_posterior(EdgeModel.of(CLOCK), [Trial(120, 60, False), Trial(150, 5, True), Trial(165, 1, True)]).fits


def test_the_end_of_the_range_excludes_nothing():
    """450 held 200 hours in a range that ends there: the edge may lie beyond."""
    knob = Knob("core", "Core clock", "MHz", 0, 15, 0, 450, 1, "core clock")
    belief = edge_posterior(EdgeModel.of(knob), [Trial(450, 12_000, False)])
    assert belief.edge_at(0.5) > 450
    short = edge_posterior(EdgeModel.of(knob), [Trial(435, 10, False)])
    assert short.chance_within(435) < 0.9


LIMIT = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")


def test_a_power_limit_holds_to_its_end_once_it_was_run_there():
    """Common practice: raised first, and all at once; nobody looks for an edge along it."""
    belief = edge_posterior(EdgeModel.of(LIMIT), [Trial(120, 15, False)])
    assert belief.chance_within(120) > 0.9
    assert belief.edge_within(0.05) is None
    clock = edge_posterior(EdgeModel.of(CLOCK), [Trial(300, 15, False)])
    assert clock.chance_within(300) < 0.9


def test_a_power_limit_that_fails_is_believed_to_fail():
    trials = [Trial(120, 4, True), Trial(115, 20, True), Trial(110, 15, False)]
    belief = edge_posterior(EdgeModel.of(LIMIT), trials)
    assert belief.chance_within(120) < 0.3
    assert belief.chance_within(115) < 0.3
    assert 100 < belief.edge_within(0.5) < 120


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.tuples(st.integers(1, 20), st.floats(1, 120), st.booleans()), max_size=8),
    st.sampled_from([0.02, 0.1, 1.0]), st.floats(0.6, 0.98), st.booleans(),
)  # fmt: skip
def test_what_is_kept_is_what_is_sure_enough(trials, per_h, sure, cautious):
    """Climb, Prove and the goal share one belief: the hold is the furthest value that is sure enough."""
    made = [Trial(k * 15, minutes, failed) for k, minutes, failed in trials]
    belief = edge_posterior(EdgeModel.of(CLOCK), made)
    policy = Policy(accepted_per_h=per_h, sure=sure, cautious=cautious)
    held = highest_hold(belief, policy, values_of(CLOCK, policy))
    if held > 0:
        assert belief.chance_stable(held, per_h, cautious=cautious) >= sure - 0.01
    further = [value for value in values_of(CLOCK, policy) if value > held]
    assert all(belief.chance_stable(value, per_h, cautious=cautious) < sure + 0.01 for value in further)
