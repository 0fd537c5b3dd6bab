"""Noise against NIST's reference data, scipy and statsmodels."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.weightstats import CompareMeans, DescrStatsW

from trelvo.core import comparison, noise
from trelvo.core.problems import Refused

STOCK = [93.61, 93.51, 94.02, 93.58]
TUNED = [99.10, 99.42, 98.97]
values = st.floats(min_value=1, max_value=1e5)


def test_nist_numacc1():
    # NIST StRD, univariate, NumAcc1 (from memory): mean 10000002, s 1
    summary = noise.summarise([10000001, 10000003, 10000002])
    assert summary.mean == 10000002
    assert summary.sd == 1


def test_nist_numacc4():
    # NIST StRD, univariate, NumAcc4 (from memory): 1001 values, mean 10000000.2, s 0.1
    summary = noise.summarise([10000000.2] + [10000000.1, 10000000.3] * 500)
    assert summary.mean == pytest.approx(10000000.2, rel=1e-15)
    assert summary.sd == pytest.approx(0.1, rel=1e-8)


def test_interval_of_a_mean_equals_scipy_and_statsmodels():
    summary = noise.summarise(STOCK)
    assert (summary.low, summary.high) == pytest.approx(DescrStatsW(STOCK).tconfint_mean(alpha=0.05))
    expected = stats.t.interval(0.95, 3, loc=np.mean(STOCK), scale=stats.sem(STOCK))
    assert (summary.low, summary.high) == pytest.approx(expected)


def test_one_run_says_nothing_about_noise():
    summary = noise.summarise([93.6])
    assert (summary.n, summary.mean, summary.median) == (1, 93.6, 93.6)
    assert summary.sd is summary.low is summary.high is None


def test_pooled_noise_is_the_pooled_deviation_of_the_logarithms():
    pooled = noise.pool([STOCK, TUNED, [97.0]])
    squares = 3 * np.var(np.log(STOCK), ddof=1) + 2 * np.var(np.log(TUNED), ddof=1)
    assert pooled == noise.PooledNoise(pytest.approx(math.sqrt(squares / 5)), 5)
    assert noise.pool([[1.0], [2.0]]) is None


def test_few_runs_are_compared_with_pooled_noise_like_students_t():
    # with just the two groups pooled this is Student's two-sample t test on logarithms
    answer = comparison.compare(STOCK, TUNED, higher_is_better=True, pooled=noise.pool([STOCK, TUNED]))
    expected = stats.ttest_ind(np.log(TUNED), np.log(STOCK)).confidence_interval(0.95)
    assert answer.basis == "pooled noise"
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx((expected.low, expected.high))


def test_enough_runs_are_compared_with_their_own_noise_like_welchs_t():
    rng = np.random.default_rng(4)
    a, b = rng.normal(100, 0.4, 6), rng.normal(104, 1.1, 9)
    answer = comparison.compare(a, b, higher_is_better=True, pooled=noise.PooledNoise(0.5, 40))
    welch = stats.ttest_ind(np.log(b), np.log(a), equal_var=False)
    interval = welch.confidence_interval(0.95)
    assert answer.basis == "own noise"
    assert answer.df == pytest.approx(welch.df)
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx((interval.low, interval.high))
    means = CompareMeans(DescrStatsW(np.log(b)), DescrStatsW(np.log(a)))
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx(means.tconfint_diff(usevar="unequal"))


def test_one_run_each_without_repeats_gives_no_interval():
    answer = comparison.compare([93.6], [99.1], higher_is_better=True)
    assert answer.ratio == pytest.approx(99.1 / 93.6)
    assert (answer.low, answer.high, answer.basis) == (None, None, "no noise known")


def test_a_shorter_time_is_a_gain():
    answer = comparison.compare(
        [118.4, 118.5], [110.4, 110.6], higher_is_better=False, pooled=noise.PooledNoise(0.002, 8)
    )
    assert answer.ratio == pytest.approx(math.sqrt(118.4 * 118.5 / (110.4 * 110.6)))
    assert answer.low > 1


@pytest.mark.parametrize("bad", [[], [0.0], [-3.0], [math.nan]])
def test_sides_that_carry_no_ratio_are_refused(bad):
    with pytest.raises(Refused, match="reference"):
        comparison.compare(bad, [1.0], higher_is_better=True)


@given(st.lists(values, min_size=1, max_size=8), st.lists(values, min_size=1, max_size=8), st.booleans())
def test_swapping_sides_inverts_ratio_and_interval(a, b, higher):
    pooled = noise.PooledNoise(0.01, 6)
    there = comparison.compare(a, b, higher_is_better=higher, pooled=pooled)
    back = comparison.compare(b, a, higher_is_better=higher, pooled=pooled)
    assert there.ratio * back.ratio == pytest.approx(1)
    assert there.low * back.high == pytest.approx(1)


@given(st.lists(values, min_size=2, max_size=8), st.floats(min_value=0.01, max_value=100))
def test_another_unit_changes_no_ratio(a, factor):
    scaled = comparison.compare([x * factor for x in a], [x * factor * 1.1 for x in a], higher_is_better=True)
    assert scaled.ratio == pytest.approx(1.1)
