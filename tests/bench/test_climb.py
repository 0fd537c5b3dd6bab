"""The study of the climb: a thousand specimens, each strategy; run by ./run.py bench climb. Table in docs/methods.md."""

import numpy as np
import pytest

from tests.bench.climb_study import CLOCK, VOLTAGE, study
from trelvo.core.climb.stability import Trial
from trelvo.core.climb.strategies import STRATEGIES, Policy, advise

SPECIMENS, FEWER = 1000, 1000
WRONG = {
    "failures thin out 2.5 times more slowly below the edge": lambda knob: {"tail": 2.5},
    "the edge moves with heat": lambda knob: {"heat": 0.25 * knob.step},
    "5 % of failures from another cause": lambda knob: {"other_per_h": 0.15},
}


def summary(kept):
    return (
        f"safe {np.mean([one.safe for one in kept]):.1%}, short by {np.median([one.short_steps for one in kept]):.0f} steps "
        f"(median; mean {np.mean([one.short_steps for one in kept]):.1f}), {np.mean([one.minutes for one in kept]):.0f} min, "
        f"{np.mean([one.failures for one in kept]):.1f} failures"
    )


@pytest.mark.parametrize("knob", [CLOCK, VOLTAGE], ids=lambda knob: knob.key)
@pytest.mark.parametrize("strategy", STRATEGIES)
def test_climb_a_thousand_specimens(benchmark, knob, strategy):
    kept = benchmark.pedantic(study, (knob, strategy, SPECIMENS), rounds=1)
    print(f"climb {knob.key}, {strategy}: {summary(kept)}")
    if strategy == "by the numbers":
        assert np.mean([one.safe for one in kept]) >= 0.95
        assert np.median([one.short_steps for one in kept]) <= 2
        assert np.mean([one.failures for one in kept]) <= 6
        chance, passed = np.array([pair for one in kept for pair in one.stated]).T
        for low in np.arange(0, 1, 0.1):
            here = (chance >= low) & (chance < low + 0.1 + (low > 0.85))
            print(f"  stated {chance[here].mean():.1%}, passed {passed[here].mean():.1%} of {here.sum()}")
            if here.sum() >= 300:  # of fewer the share itself is not known to 5 points
                assert abs(chance[here].mean() - passed[here].mean()) <= 0.05


@pytest.mark.parametrize("strategy", STRATEGIES)
def test_advice_from_two_hundred_trials(benchmark, strategy):
    rng = np.random.default_rng(1)
    trials = [Trial(15 * int(step), 5, False) for step in rng.integers(1, 12, 190)]
    trials += [Trial(15 * int(step), 1, True) for step in rng.integers(9, 20, 10)]
    benchmark(advise, CLOCK, trials, Policy(strategy))
    print(f"advice from 200 trials, {strategy}: {benchmark.stats['mean'] * 1000:.1f} ms")
    assert benchmark.stats["mean"] < 0.05


@pytest.mark.parametrize("wrong", WRONG)
def test_climb_where_the_model_is_wrong(benchmark, wrong):
    kept = benchmark.pedantic(study, (CLOCK, "by the numbers", FEWER, WRONG[wrong]), rounds=1)
    print(f"climb, {wrong}: {summary(kept)}")
    assert np.mean([one.safe for one in kept]) >= 0.85
