"""How much nearer the edge one workload takes a setting than another: its kind says where to begin, the trials say more."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.climb.edge import EdgeModel, edge_posterior, likelihood_of
from trelvo.core.climb.trials import Trial

# How far a workload may lie from what its kind says, in decades of the knob (deviation), and how finely it is weighed.
KIND_OFF, PLACES, WIDE = 0.5, 9, 2.0
# A coarser belief is enough.
GRID = (61, 9)


@dataclass(frozen=True)
class Stress:
    """How much nearer the edge than the heaviest workload: middle and deviation, in the knob's unit. learnt: trials say more
    than the kind alone"""

    middle: float
    deviation: float
    learnt: bool


def estimate_stress(
    model: EdgeModel, trials: Mapping[int, Sequence[Trial]], expected: Mapping[int, float]
) -> dict[int, Stress]:
    """The stress of each workload that has trials.

    trials: by workload, their stress as expected; expected: by workload what its kind says, in the knob's unit; 0 is the heaviest
    Method: Bayes' rule for one workload at a time, all others as expected: a normal belief around what the kind says, weighed by
    the likelihood of the workload's trials under what the others' trials say of the edge. The heaviest stays at 0: only
    differences can be seen.
    """
    model = replace(model, grid=GRID)
    unit = model.steepness.decade * KIND_OFF
    found: dict[int, Stress] = {}
    for one, own in trials.items():
        if expected[one] >= 0 or not own:
            found[one] = Stress(expected[one], 0.0 if expected[one] >= 0 else unit, False)
            continue
        others = [trial for other, some in trials.items() if other != one for trial in some]
        belief = edge_posterior(model, others)
        offsets = np.linspace(-WIDE, WIDE, PLACES) * unit
        log = -0.5 * (offsets / unit) ** 2
        for place, offset in enumerate(offsets):
            moved = [replace(trial, stress=expected[one] + float(offset)) for trial in own]
            log[place] += likelihood_of(belief, moved)
        weight = np.exp(log - log.max())
        weight /= weight.sum()
        mean = float(weight @ offsets)
        deviation = float(weight @ (offsets - mean) ** 2) ** 0.5
        found[one] = Stress(min(expected[one] + mean, 0.0), deviation, True)
    return found
