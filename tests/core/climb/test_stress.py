"""How much nearer the edge a workload takes a setting, told by its trials."""

import numpy as np
import pytest

from tests.bench.specimens import CLOCK, Silicon
from trelvo.core.climb.edge import EdgeModel
from trelvo.core.climb.stress import estimate_stress
from trelvo.core.climb.trials import Trial

HEAVY, LIGHT = 1, 2
EXPECTED = {HEAVY: 0.0, LIGHT: -8.0}


def runs(rng, silicon, lighter, values, minutes=20.0, stress=0.0):
    found = []
    for value in values:
        at = silicon.fails_after(value - lighter, rng)
        found.append(Trial(value, min(at, minutes), at < minutes, stress))
    return found


@pytest.mark.parametrize("lighter", [0.0, 8.0, 24.0])
def test_trials_move_the_stress_towards_the_truth(lighter):
    errors = []
    for seed in range(8):
        rng, silicon = np.random.default_rng(seed), Silicon(160.0, 12.0)
        trials = {
            HEAVY: runs(rng, silicon, 0.0, range(105, 225, 15)) + runs(rng, silicon, 0.0, range(105, 225, 15)),
            LIGHT: runs(rng, silicon, lighter, range(105, 240, 15), stress=EXPECTED[LIGHT]),
        }
        found = estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT]
        assert found.learnt
        assert found.deviation < 0.5 * 75 / 3.5
        errors.append(abs(found.middle + lighter))
    kind_alone = abs(EXPECTED[LIGHT] + lighter)
    assert np.mean(errors) < max(kind_alone, 7.0)


def test_without_trials_the_kind_speaks():
    found = estimate_stress(EdgeModel.of(CLOCK), {HEAVY: [Trial(90, 5, False)], LIGHT: []}, EXPECTED)
    assert found[LIGHT].middle == EXPECTED[LIGHT]
    assert not found[LIGHT].learnt
    assert found[HEAVY].middle == 0


def test_no_workload_is_harder_than_the_hardest():
    trials = {HEAVY: [Trial(180, 120, False)], LIGHT: [Trial(90, 0.5, True, EXPECTED[LIGHT])] * 3}
    assert estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT].middle <= 0
