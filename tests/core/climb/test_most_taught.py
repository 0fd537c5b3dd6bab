"""The choice of a test, played through: variance left and minutes spent, against plain simulation."""

import numpy as np
import pytest

from trelvo.core.climb.most_taught import HANDLING_MINUTES, most_taught

EDGES = np.linspace(0, 100, 21)
WEIGHT = np.full(21, 1 / 21)


def test_what_is_left_and_what_it_costs_are_what_simulation_gives():
    minutes, restart, value, decade = 10.0, 4.0, 60.0, 20.0
    hazard = 10 ** ((value - EDGES) / decade)
    told = most_taught(value, np.array([minutes]), hazard, WEIGHT, EDGES, restart)
    rng = np.random.default_rng(3)
    picked = rng.integers(0, 21, 60_000)
    lasted = rng.exponential(60 / hazard[picked])
    passed = lasted >= minutes
    answer = np.where(passed, 4, np.searchsorted([minutes / 16, minutes / 4, minutes / 2], lasted))
    # variance of the edge within each answer, weighed by how often it comes
    left = sum(EDGES[picked[answer == k]].var() * np.mean(answer == k) for k in range(5))
    cost = np.minimum(lasted, minutes).mean() + restart * np.mean(~passed) + HANDLING_MINUTES
    assert told.left == pytest.approx(left, rel=0.02)
    assert told.passes == pytest.approx(passed.mean(), abs=0.01)
    assert told.cost == pytest.approx(cost, rel=0.02)
    assert told.per_minute == pytest.approx((EDGES.var() - told.left) / told.cost)


def test_a_test_that_cannot_fail_teaches_nothing_and_longer_ones_pass_less():
    calm = most_taught(0.0, np.array([1.0, 40.0]), np.full(21, 1e-12), WEIGHT, EDGES, 4.0)
    assert calm.left == pytest.approx(EDGES.var())
    hazard = 10 ** ((60 - EDGES) / 20)
    short, long = (most_taught(60.0, np.array([m]), hazard, WEIGHT, EDGES, 4.0) for m in (1.0, 40.0))
    assert long.passes < short.passes
    assert long.left < short.left < EDGES.var()
