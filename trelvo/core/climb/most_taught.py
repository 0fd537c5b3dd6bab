"""Which length of a test tells most about a hold line for its minutes."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]

# Setting a value and starting a test costs so much besides.
HANDLING_MINUTES = 0.5


@dataclass(frozen=True)
class Taught:
    """A test that could be made. cost: minutes with restarts; left: variance of the hold line left on average"""

    value: float
    minutes: float
    passes: float
    left: float
    cost: float
    per_minute: float


def most_taught(
    value: float, lengths: Array, hazard: Array, weight: Array, line: Array, restart_minutes: float
) -> Taught:
    """The length at which a test of this value takes most of the hold line's variance away for its minutes.

    lengths: minutes; hazard (failures an hour), weight (belief) and line (hold line) for each point of the grid
    Method: law of total variance over five answers: failed in the first sixteenth, quarter, half or rest of the test, or passed.
    """
    shares = np.array([0, 1 / 16, 1 / 4, 1 / 2, 1])
    survived = np.exp(-hazard * (lengths[:, None] * shares)[:, :, None] / 60)
    answers = np.concatenate([survived[:, :-1] - survived[:, 1:], survived[:, -1:]], axis=1) * weight
    chance = answers.sum(axis=2)
    square = (answers @ line) ** 2
    explained = np.where(chance > 1e-12, square / np.maximum(chance, 1e-12), 0.0).sum(axis=1)
    left = weight @ line**2 - explained
    lasts = -np.expm1(-hazard * lengths[:, None] / 60) / np.maximum(hazard, 1e-9) @ weight * 60
    cost = lasts + (1 - chance[:, -1]) * restart_minutes + HANDLING_MINUTES
    taught = (explained - (weight @ line) ** 2) / cost
    at = int(np.argmax(taught))
    left_at, cost_at, taught_at = max(0.0, float(left[at])), float(cost[at]), float(taught[at])
    return Taught(value, float(lengths[at]), float(chance[at, -1]), left_at, cost_at, taught_at)
