"""What the tests of a climb tell of the kind of silicon: the bound on how well stated chances can come true for each kind.

Bayes' rule by simulation, for one who knows how two rows' specimens are made and takes either for as likely: specimens drawn from
both, weighed by how likely each makes the tests' results.
"""

from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import cache

import numpy as np

from tests.core.climb.played import Step, climb, row_named
from tests.core.climb.specimens import Silicon
from trelvo.core.climb.policy import Policy

DRAWS, FIRST_SEED = 4000, 2_000_000
# A specimen's edge that moves from run to run is at one of these, in deviations: five points of a normal, each as likely.
PLACES = (-1.4, -0.53, 0.0, 0.53, 1.4)
COLD_MINUTES = 2.0


@cache
def _drawn(names: tuple[str, ...], distance: float) -> tuple[np.ndarray, np.ndarray]:
    """Failures a minute at a distance while cold and after, over draws × places."""
    every = [row_named(name).draw(FIRST_SEED + k) for name in names for k in range(DRAWS)]

    def rates(one: Silicon, further: float) -> list[float]:
        return [one.rate(distance - further + one.moves * place) / 60 for place in PLACES]

    return np.array([rates(one, one.cold) for one in every]), np.array([rates(one, 0.0) for one in every])


def _survives(names: tuple[str, ...], distance: float, minutes: float) -> np.ndarray:
    cold, warm = _drawn(names, distance)
    return np.exp(-cold * min(minutes, COLD_MINUTES) - warm * max(minutes - COLD_MINUTES, 0.0))


def _likelihood(names: tuple[str, ...], distance: float, step: Step) -> np.ndarray:
    """Of what came of a test, by specimen."""
    found = _survives(names, distance, step.lasted)
    if step.failed:
        found = found * _drawn(names, distance)[step.lasted > COLD_MINUTES]
    return np.asarray(found.mean(axis=1))


def _one(job: tuple[tuple[str, ...], int, int]) -> tuple[float, list[tuple[float, bool]]]:
    names, own, seed = job
    row = row_named(names[own])
    weight = np.ones(len(names) * DRAWS)
    stated = []
    for step in climb(row, row.draw(seed), Policy(minutes_left=90.0), seed).steps:
        distance = (step.advice.value - row.knob.stock) * row.knob.away
        survives = _survives(names, distance, step.advice.minutes).mean(axis=1)
        stated.append((float(weight @ survives / weight.sum()), not step.failed))
        weight = weight * _likelihood(names, distance, step)
        weight /= weight.sum()
    return float(weight[own * DRAWS : (own + 1) * DRAWS].sum()), stated


def told_apart(names: tuple[str, ...], own: int, specimens: int) -> tuple[float, Sequence[tuple[float, bool]]]:
    """Over the climbs of one of the rows: the mean chance that it is of that row, at a climb's end; and of every test the chance
    to pass as such a one would state it, and whether it passed."""
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(_one, [(names, own, seed) for seed in range(specimens)], chunksize=10))
    return float(np.mean([chance for chance, _ in found])), [pair for _, stated in found for pair in stated]
