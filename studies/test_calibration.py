"""Calibration of verdicts by simulation; run by ./run.py bench. The table goes to docs/methods.md.

Every cell is 20,000 comparisons by the core's own functions, with the workload's noise pooled from just the two sides: the
thinnest case there is.
"""

import math

import numpy as np
import pytest

from trelvo.core.stats.comparison import compare, detectable, judge
from trelvo.core.stats.noise import pool

COMPARISONS = 20_000
NOISES = (0.002, 0.005, 0.01, 0.03)
RUNS = (2, 3, 5, 10)


def normal(rng, sd, shape):
    return rng.normal(0, sd, shape)


def heavy(rng, sd, shape):
    """Student's t with 4 degrees of freedom, scaled to the same deviation."""
    return rng.standard_t(4, shape) * sd / math.sqrt(2)


def outliers(rng, sd, shape):
    """5 % of the runs scatter five times as far."""
    return rng.normal(0, sd, shape) * np.where(rng.random(shape) < 0.05, 5, 1)


def tally(draw, runs, sd, difference, seed):
    """Shares of verdicts that claim a difference, and of intervals that hold the truth."""
    rng = np.random.default_rng(seed)
    values = np.exp(draw(rng, sd, (COMPARISONS, 2, runs)))
    values[:, 1] *= math.exp(difference)
    claimed = covered = 0
    for reference, candidate in values:
        answer = compare(reference, candidate, higher_is_better=True, pooled=pool([reference, candidate]))
        claimed += judge(answer).word in ("gain", "loss")
        covered += answer.low <= math.exp(difference) <= answer.high
    return claimed / COMPARISONS, covered / COMPARISONS


@pytest.mark.parametrize("draw", [normal, heavy, outliers])
@pytest.mark.parametrize("runs", RUNS)
def test_false_claims_and_coverage(benchmark, record_property, draw, runs):
    def all_noises():
        return [tally(draw, runs, sd, 0.0, seed) for seed, sd in enumerate(NOISES)]

    found = benchmark.pedantic(all_noises, rounds=1)
    claims, coverage = max(claim for claim, _ in found), [cover for _, cover in found]
    line = f"{draw.__name__} n={runs}: false claims at most {claims:.2%}, coverage {min(coverage):.2%} to {max(coverage):.2%}"
    print(line)
    record_property("calibration", line)
    # 20,000 comparisons: one standard error of a share of 5 % is 0.15 %
    assert claims <= 0.05 + 3 * 0.0015
    assert min(coverage) >= 0.93
    if draw is normal:
        assert max(coverage) <= 0.97


@pytest.mark.parametrize("runs", RUNS)
def test_power_is_what_was_promised(benchmark, runs):
    sd = 0.01
    difference = detectable(sd, 2 * runs - 2, runs, runs)

    def share():
        return tally(normal, runs, sd, difference, 77)[0]

    found = benchmark.pedantic(share, rounds=1)
    print(f"power n={runs}: promised 80 %, found {found:.1%}")
    assert found == pytest.approx(0.8, abs=0.03)
