"""The choice of the next test beside a plain simulation of it."""

import numpy as np
import pytest

from tests.core.climb.specimens import CLOCK
from trelvo.core.climb.adaptive import hold_line
from trelvo.core.climb.edge import EdgeModel, after_trial, edge_posterior
from trelvo.core.climb.next_test import SHARES, best_test, candidate_places, points_of, whole_test
from trelvo.core.climb.policy import HANDLING_MINUTES, Policy
from trelvo.core.climb.trials import Trial

TRIALS = [Trial(60, 4, False), Trial(90, 8, False), Trial(150, 1.5, True), Trial(120, 6, False)]
GRID = np.arange(0.0, 301.0, 15.0)


def held(belief, policy, reached):
    """The hold as the choice weighs it: the mean over several degrees of sureness."""
    line = hold_line(belief, policy)
    return np.mean([min(belief.quantile(line, share * (1 - policy.sure)), reached) for share in SHARES])


def test_few_points_stand_for_the_whole_belief():
    policy = Policy()
    belief = edge_posterior(EdgeModel.of(CLOCK), TRIALS)
    line = hold_line(belief, policy)
    points = points_of(belief, line, policy)
    assert points.weight.sum() == pytest.approx(1)
    assert float(points.weight @ points.line) == pytest.approx(float(belief.weight @ line), abs=1.0)
    for share in (0.02, 0.1, 0.5):
        at = points.line[int(np.searchsorted(np.cumsum(points.weight), share))]
        assert at == pytest.approx(belief.quantile(line, share), abs=2.0)
    passing = points.survival(np.array([135.0]), np.array([8.0]))[0, 0] @ points.weight
    assert passing == pytest.approx(belief.chance_to_hold(135, 8), abs=0.02)


def test_the_gain_is_what_a_simulation_of_the_test_gives():
    policy = Policy()
    belief = edge_posterior(EdgeModel.of(CLOCK), TRIALS)
    points = points_of(belief, hold_line(belief, policy), policy)
    found = best_test(points, np.array([135.0]), 120.0, policy, 60.0)
    rng, after, cost = np.random.default_rng(2), [], []
    for place in rng.choice(belief.weight.size, 500, p=belief.weight):
        rate = float(belief.hazard_per_h(135.0)[place])
        at = rng.exponential(60 / rate)
        failed = at < found.minutes
        then = after_trial(belief, Trial(135, min(at, found.minutes), bool(failed)))
        after.append(held(then, policy, 120.0 if failed else 135.0))
        cost.append(min(at, found.minutes) + policy.restart_minutes * failed + HANDLING_MINUTES)
    simulated = (np.mean(after) - held(belief, policy, 120.0)) / np.mean(cost)
    error = np.std(after) / np.sqrt(500) / np.mean(cost)
    assert found.gain == pytest.approx(simulated, abs=3 * error + 0.15 * abs(simulated))


def test_nothing_is_proposed_that_does_not_fit_or_is_too_risky():
    policy = Policy()
    belief = edge_posterior(EdgeModel.of(CLOCK), TRIALS)
    points = points_of(belief, hold_line(belief, policy), policy)
    assert best_test(points, GRID[1:], 120.0, policy, 1.9) is None
    assert best_test(points, np.array([300.0]), 120.0, policy, 60.0) is None
    assert whole_test(points, GRID, 120.0, 30.0, Policy(minutes_left=2.5), 0.0) is None
    assert whole_test(points, GRID, 120.0, 30.0, policy, 1e9) is None


def test_places_end_a_largest_step_past_what_survived():
    belief = edge_posterior(EdgeModel.of(CLOCK), TRIALS)
    points = points_of(belief, hold_line(belief, Policy()), Policy())
    places = candidate_places(GRID, points, 120.0, 30.0, 16)
    assert places.max() == 150
    assert candidate_places(GRID, points, 120.0, 30.0, 3).size == 3


def test_a_test_goes_on_while_nothing_else_would_teach_more():
    policy = Policy(minutes_left=90)
    belief = edge_posterior(EdgeModel.of(CLOCK), [*TRIALS, Trial(135, 3, True)])
    points = points_of(belief, hold_line(belief, policy), policy)
    whole = whole_test(points, GRID, 120.0, 30.0, policy, 0.0)
    first = best_test(points, candidate_places(GRID, points, 120.0, 30.0, 16), 120.0, policy, 89.0)
    assert whole.place == first.place
    assert whole.minutes >= first.minutes
    assert whole.passes <= first.passes
    assert whole.minutes + HANDLING_MINUTES <= 90
