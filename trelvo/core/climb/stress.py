"""How much nearer the edge one workload takes a setting than another: its kind says where to begin, the trials say more."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.climb.edge import EdgeModel, edge_posterior, likelihood_of
from trelvo.core.climb.trials import Trial

# How far a workload may lie from what its kind says, in decades of the knob (deviation), and how finely it is weighed.
KIND_OFF, PLACES, WIDE = 0.5, 9, 2.0
# Trials that add less than this share to what was known have said nothing.
LEAST_SAID = 0.05
# How far one climb's stress may lie from the next's on the same rig: other knobs, another heaviest workload, another build.
BETWEEN_CLIMBS = 0.2
# A coarser belief is enough.
GRID = (61, 9)


@dataclass(frozen=True)
class Offset:
    """How far a workload lies from what its kind says, in decades of the knob: mean and deviation."""

    mean: float
    deviation: float


BY_KIND = Offset(0.0, KIND_OFF)


@dataclass(frozen=True)
class Stress:
    """How much nearer the edge than the heaviest workload: middle and deviation, in the knob's unit. learnt: trials say more
    than the kind alone

    shown: what this climb's trials say by themselves, whatever was believed before them; None where they say nothing
    """

    middle: float
    deviation: float
    learnt: bool
    shown: Offset | None = None


def estimate_stress(
    model: EdgeModel,
    trials: Mapping[int, Sequence[Trial]],
    expected: Mapping[int, float],
    before: Mapping[int, Offset] | None = None,
) -> dict[int, Stress]:
    """The stress of each workload that has trials.

    trials: by workload, their stress as expected; expected: by workload what its kind says, in the knob's unit; 0 is the heaviest
    before: by workload what other climbs of the rig have shown (`learnt_offset`); its kind alone where they say nothing
    Method: Bayes' rule for one workload at a time, all others as expected: a normal belief around what the kind and earlier
    climbs say, weighed by the likelihood of the workload's trials under what the others' trials say of the edge. The heaviest
    stays at 0: only differences can be seen, and none where nothing has failed.
    """
    model = replace(model, grid=GRID)
    decade = model.steepness.decade
    before = before or {}
    at = {one: min(expected[one] + before.get(one, BY_KIND).mean * decade, 0.0) for one in expected}
    told = any(trial.failed for some in trials.values() for trial in some)
    found: dict[int, Stress] = {}
    for one, own in trials.items():
        begin = before.get(one, BY_KIND)
        if expected[one] >= 0 or not own or not told:
            known = expected[one] >= 0
            found[one] = Stress(
                0.0 if known else at[one], 0.0 if known else begin.deviation * decade, not known and one in before
            )
            continue
        others = [
            replace(trial, stress=at.get(other, trial.stress) if expected[other] < 0 else trial.stress)
            for other, some in trials.items()
            if other != one
            for trial in some
        ]
        belief = edge_posterior(model, others)
        offsets = begin.mean + np.linspace(-WIDE, WIDE, PLACES) * begin.deviation
        log = -0.5 * ((offsets - begin.mean) / begin.deviation) ** 2
        weight = np.exp(log)
        without = _moments(offsets, weight / weight.sum())
        for place, offset in enumerate(offsets):
            moved = [replace(trial, stress=expected[one] + float(offset) * decade) for trial in own]
            log[place] += likelihood_of(belief, moved)
        weight = np.exp(log - log.max())
        after = _moments(offsets, weight / weight.sum())
        middle = min(expected[one] + after.mean * decade, 0.0)
        found[one] = Stress(middle, after.deviation * decade, True, _alone(after, without))
    return found


def _moments(values: np.ndarray, weight: np.ndarray) -> Offset:
    mean = float(weight @ values)
    return Offset(mean, float(weight @ (values - mean) ** 2) ** 0.5)


def _alone(after: Offset, before: Offset) -> Offset | None:
    """What was added to a belief: the normal that turns the one into the other. None where nothing was added."""
    precision = 1 / max(after.deviation, 1e-3) ** 2 - 1 / before.deviation**2
    if precision <= LEAST_SAID / before.deviation**2:
        return None
    mean = (after.mean / max(after.deviation, 1e-3) ** 2 - before.mean / before.deviation**2) / precision
    return Offset(mean, precision**-0.5)


def learnt_offset(shown: Sequence[Offset]) -> Offset:
    """The belief about a workload's offset for the next climb, after what other climbs of the same rig have shown of it.

    Method: the kind's own belief and each climb's, normal, each climb with its own variance and that between climbs.
    """
    precision = 1 / KIND_OFF**2
    total = 0.0
    for one in shown:
        weight = 1 / (one.deviation**2 + BETWEEN_CLIMBS**2)
        precision += weight
        total += one.mean * weight
    # the next climb differs from the rig's mean as climbs do
    deviation = (1 / precision + (BETWEEN_CLIMBS**2 if shown else 0.0)) ** 0.5
    return Offset(total / precision, min(deviation, KIND_OFF))
