"""The belief over an edge beside methods from outside: survival fit with censoring, up-and-down, a plain integral in a corner."""

import math

import numpy as np
import pytest
from lifelines import ExponentialFitter

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb.stability import failure_rate, hours_to_show
from trelvo.core.climb.trials import Trial
from trelvo.core.registry.goals import SURE

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")


def test_failures_over_time_is_lifelines_exponential_fit():
    hours = np.array([0.4, 1.0, 1.0, 0.25, 2.0, 0.9])
    failed = np.array([1, 0, 0, 1, 0, 1])
    fitted = ExponentialFitter().fit(hours, failed)
    assert failure_rate(float(hours.sum()), int(failed.sum())).per_h == pytest.approx(1 / fitted.lambda_, rel=1e-4)


def dixon_mood(values, failed, step):
    """Dixon and Mood 1948, from memory: level at which half fail, from the rarer answer of an up-and-down series."""
    rarer_is_failure = sum(failed) <= len(failed) / 2
    chosen = [value for value, fell in zip(values, failed, strict=True) if fell == rarer_is_failure]
    lowest = min(chosen)
    counts = np.bincount([round((value - lowest) / step) for value in chosen])
    mean = float((counts * np.arange(counts.size)).sum() / counts.sum())
    return lowest + step * (mean - 0.5 if rarer_is_failure else mean + 0.5)


@pytest.mark.parametrize("edge", [130.0, 171.0, 214.0])
def test_up_and_down_finds_the_same_place(edge):
    """Tests of five minutes, a step down after a failure and up after a pass: where half of them fail, by both."""
    rng, decade, minutes = np.random.default_rng(int(edge)), 24.0, 5.0
    value, values, failed, trials = 150.0, [], [], []
    for _ in range(120):
        at = float(rng.exponential(60 / 10 ** ((value - edge) / decade)))
        fell = at < minutes
        values.append(value)
        failed.append(fell)
        trials.append(Trial(value, min(at, minutes), fell))
        value += -15 if fell else 15
    half_by_count = dixon_mood(values, failed, 15)
    belief = edge_posterior(EdgeModel.of(CLOCK), trials)
    # half fail within five minutes where the rate is ln 2 / (5 / 60) an hour
    places = belief.edge + belief.decade * math.log10(math.log(2) / (minutes / 60))
    assert belief.quantile(places, 0.5) == pytest.approx(half_by_count, abs=8)
    truth = edge + decade * math.log10(math.log(2) / (minutes / 60))
    # the belief leaves room for silicon that holds better while cold, which this does not: a sixth of a decade
    assert belief.quantile(places, 0.01) - 4 < truth < belief.quantile(places, 0.99) + 4


def test_time_to_show_a_rate_is_garwoods_bound_turned_round():
    # 90 % sure of one in fifty hours without a failure: 50 · ln 10
    assert hours_to_show(1 / 50, 0.9) == pytest.approx(50 * math.log(10))
    for failures in (0, 1, 4):
        hours = hours_to_show(0.05, 0.95, failures)
        assert failure_rate(hours, failures, confidence=0.9).high == pytest.approx(0.05)


def test_minutes_to_believe_are_enough_and_not_too_many():
    trials = [Trial(150, 20, False), Trial(195, 2, True), Trial(180, 10, True)]
    belief = edge_posterior(EdgeModel.of(CLOCK), trials)
    more = belief.minutes_to_believe(120)
    assert 10 < more < 12_000
    for minutes, enough in ((more, True), (more * 0.99, False)):
        then = edge_posterior(EdgeModel.of(CLOCK), [*trials, Trial(120, minutes, False)])
        assert (then.chance_stable(120) >= SURE - 1e-4) == enough
    assert belief.minutes_to_believe(0) == 0


def test_the_edge_lies_in_its_interval_nineteen_times_in_twenty():
    """Specimens drawn from the belief's own start: the interval holds the truth as often as it says."""
    rng, model, inside = np.random.default_rng(5), EdgeModel.of(CLOCK), 0
    for _ in range(120):
        edge = float(rng.uniform(40, 290))
        decade = model.steepness.decade * float(np.exp(rng.normal(0, model.steepness.spread)))
        trials = []
        for value in (60, 120, 180, 240, 300):
            at = float(rng.exponential(60 / 10 ** min((value - edge) / decade, 6)))
            trials.append(Trial(value, min(at, 10.0), at < 10))
        belief = edge_posterior(model, trials)
        inside += belief.edge_at(0.05) <= edge <= belief.edge_at(0.95)
    # 90 % of 120, give or take three deviations of 3.3
    assert 98 <= inside <= 118
