"""What could be held after the same tests by one who knew how the specimens are made: the bound that a row is compared with.

Bayes' rule by simulation: specimens drawn from the row's own generator, weighed by how likely each makes the tests' results.
For rows whose failures come at one rate (no cold start, no late failures, no strangers).
"""

from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import lru_cache

import numpy as np

from tests.core.climb.played import climb, row_named
from tests.core.climb.specimens import Row
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.stability import ACCEPTED_PER_H

DRAWS, FIRST_SEED = 6000, 1_000_000
# Rows from which specimens are drawn, on one knob, each with its share.
Kinds = tuple[tuple[str, float], ...]


@lru_cache
def _drawn_of(kinds: Kinds) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Over draws × values of the grid: failures an hour in the tests, and as judged; and the values' distances."""
    knob = row_named(kinds[0][0]).knob
    reach = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
    distances = np.arange(0, reach + knob.step / 2, knob.step)
    drawn = [row_named(name).draw(FIRST_SEED + k) for name, share in kinds for k in range(round(share * DRAWS))]
    tested = np.array([[one.rate(d - one.lighter) for d in distances] for one in drawn])
    judged = np.array([[one.rate(d) for d in distances] for one in drawn])
    return tested, judged, distances


def best_hold(row: Row, kinds: Kinds, steps: Sequence[tuple[float, float, bool]], sureness: float) -> float:
    """Furthest distance that is within the accepted rate with this chance. steps: distance, minutes it lasted, failed"""
    tested, judged, distances = _drawn_of(kinds)
    logs = np.zeros(len(tested))
    for distance, minutes, failed in steps:
        rate = tested[:, round(distance / row.knob.step)] / 60
        logs += -rate * minutes + (np.log(rate) if failed else 0.0)
    weights = np.exp(logs - logs.max())
    sure = weights @ (judged <= ACCEPTED_PER_H) / weights.sum()
    sure[0] = 1.0
    return float(distances[np.flatnonzero(np.minimum.accumulate(sure) >= sureness)[-1]])


def _one(job: tuple[Row, Kinds, float, int, tuple[float, ...]]) -> list[tuple[bool, float]]:
    row, kinds, minutes, seed, wished = job
    silicon = row.draw(seed)
    kept = climb(row, silicon, Policy(minutes_left=minutes), seed)
    steps = [((s.advice.value - row.knob.stock) * row.knob.away, s.lasted, s.failed) for s in kept.steps]
    furthest = silicon.safe_to(row.knob)
    holds = [best_hold(row, kinds, steps, sureness) for sureness in wished]
    return [(hold <= furthest, (furthest - hold) / row.usual_step) for hold in holds]


def study_of_the_best(
    row: Row, minutes: float, specimens: int, wished: tuple[float, ...], kinds: Kinds | None = None
) -> list[tuple[float, float, float]]:
    """For each sureness wished: itself, share safe, and usual steps short (mean). kinds: what specimens there are, to such a one;
    the row's alone where none are named"""
    kinds = kinds or ((row.name, 1.0),)
    _drawn_of(kinds)  # before the workers start, so that they share it
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(_one, [(row, kinds, minutes, seed, wished) for seed in range(specimens)], chunksize=10))
    shares = np.array(found, dtype=np.float64)
    return [(sureness, *shares[:, place].mean(axis=0)) for place, sureness in enumerate(wished)]
