"""How hard a workload is on a setting, learnt climb by climb on one rig; ./run.py bench -k stress."""

import numpy as np

from tests.core.climb.specimens import CLOCK, Silicon
from trelvo.core.climb.edge import EdgeModel
from trelvo.core.climb.stress import BY_KIND, estimate_stress, learnt_offset
from trelvo.core.climb.trials import Trial

HEAVY, LIGHT = 1, 2
RIGS, CLIMBS, BETWEEN = 150, (0, 1, 2, 4, 6), 0.2
MODEL = EdgeModel.of(CLOCK)
DECADE = MODEL.steepness.decade
# what the light workload's kind says, MHz: a third of a decade
EXPECTED = {HEAVY: 0.0, LIGHT: -0.35 * DECADE}


def climb(rng, silicon, offset):
    """One climb of both workloads, some minutes at a time, until both have failed; what it shows of the light one."""
    lighter = -EXPECTED[LIGHT] - offset * DECADE
    trials = {HEAVY: [], LIGHT: []}
    for load, further in ((HEAVY, 0.0), (LIGHT, lighter)):
        for value in np.arange(15, 600, 15):
            minutes = float(rng.choice([2.0, 5.0, 10.0]))
            at = silicon.fails_after(float(value) - further, rng)
            trials[load].append(Trial(float(value), min(at, minutes), at < minutes, EXPECTED[load]))
            if at < minutes:
                break
    return estimate_stress(MODEL, trials, EXPECTED)[LIGHT].shown


def rig(seed):
    """Errors before the next climb, in decades, and whether the 90 % interval holds the truth; by climbs made so far."""
    rng = np.random.default_rng(seed)
    silicon = Silicon(float(rng.uniform(60, 220)), float(rng.uniform(10, 30)))
    usual = float(rng.uniform(-0.8, 0.3))
    shown = [one for _ in range(CLIMBS[-1]) if (one := climb(rng, silicon, usual + rng.normal(0, BETWEEN)))]
    truth = usual + rng.normal(0, BETWEEN)
    beliefs = [learnt_offset(shown[:count]) for count in CLIMBS]
    return [belief.mean - truth for belief in beliefs], [
        abs(belief.mean - truth) <= 1.645 * belief.deviation for belief in beliefs
    ]


def test_stress_is_learnt_from_climb_to_climb(benchmark):
    found = benchmark.pedantic(lambda: [rig(seed) for seed in range(RIGS)], rounds=1)
    errors, held = np.array([one[0] for one in found]), np.array([one[1] for one in found])
    wrong = np.sqrt((errors**2).mean(axis=0))
    for count, off, share in zip(CLIMBS, wrong, held.mean(axis=0), strict=True):
        print(
            f"stress of a workload after {count} climbs of the rig: off by {off:.2f} decades, 90 % interval holds {share:.0%}"
        )
    assert wrong[-1] < 0.8 * wrong[0]
    assert held[:, 1:].mean() >= 0.85
    assert BY_KIND.deviation >= 0.5
