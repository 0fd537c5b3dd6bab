"""Comparisons and verdicts against scipy and statsmodels."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.multitest import multipletests
from statsmodels.stats.power import TTestIndPower
from statsmodels.stats.weightstats import CompareMeans, DescrStatsW

from trelvo.core.message import message
from trelvo.core.problems import Refused
from trelvo.core.stats import comparison, noise
from trelvo.core.stats.comparison import compare, detectable, holm, judge, overall, runs_needed
from trelvo.core.stats.noise import PooledNoise
from trelvo.messages.texts import text_of

STOCK = [93.61, 93.51, 94.02, 93.58]
TUNED = [99.10, 99.42, 98.97]
values = st.floats(min_value=1, max_value=1e5)
sides = st.lists(values, min_size=1, max_size=8)


def test_few_runs_are_compared_with_pooled_noise_like_students_t():
    # with just the two groups pooled this is Student's two-sample t test on logarithms
    answer = compare(STOCK, TUNED, higher_is_better=True, pooled=noise.pool([STOCK, TUNED]))
    student = stats.ttest_ind(np.log(TUNED), np.log(STOCK))
    expected = student.confidence_interval(0.95)
    assert answer.basis == "pooled noise"
    assert answer.p == pytest.approx(student.pvalue)
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx((expected.low, expected.high))


def test_enough_runs_are_compared_with_their_own_noise_like_welchs_t():
    rng = np.random.default_rng(4)
    a, b = rng.normal(100, 0.4, 6), rng.normal(104, 1.1, 9)
    answer = compare(a, b, higher_is_better=True, pooled=PooledNoise(0.5, 40))
    welch = stats.ttest_ind(np.log(b), np.log(a), equal_var=False)
    interval = welch.confidence_interval(0.95)
    assert answer.basis == "own noise"
    assert (answer.df, answer.p) == pytest.approx((welch.df, welch.pvalue))
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx((interval.low, interval.high))
    means = CompareMeans(DescrStatsW(np.log(b)), DescrStatsW(np.log(a)))
    assert (math.log(answer.low), math.log(answer.high)) == pytest.approx(means.tconfint_diff(usevar="unequal"))


def test_one_run_each_without_repeats_gives_no_interval():
    answer = compare([93.6], [99.1], higher_is_better=True)
    assert answer.ratio == pytest.approx(99.1 / 93.6)
    assert (answer.low, answer.high, answer.basis) == (None, None, "no noise known")
    assert judge(answer).word == "too few runs"
    assert judge(answer).more_runs is None


def test_a_shorter_time_is_a_gain():
    answer = compare([118.4, 118.5], [110.4, 110.6], higher_is_better=False, pooled=PooledNoise(0.002, 8))
    assert answer.ratio == pytest.approx(math.sqrt(118.4 * 118.5 / (110.4 * 110.6)))
    assert judge(answer).word == "gain"


@pytest.mark.parametrize("bad", [[], [0.0], [-3.0], [math.nan]])
def test_sides_that_carry_no_ratio_are_refused(bad):
    with pytest.raises(Refused, match="reference"):
        compare(bad, [1.0], higher_is_better=True)
    with pytest.raises(Refused, match="candidate"):
        compare([1.0], bad, higher_is_better=True)


@given(sides, sides, st.booleans())
def test_swapping_sides_inverts_ratio_and_interval(a, b, higher):
    pooled = PooledNoise(0.01, 6)
    there = compare(a, b, higher_is_better=higher, pooled=pooled)
    back = compare(b, a, higher_is_better=higher, pooled=pooled)
    assert there.ratio * back.ratio == pytest.approx(1)
    # a side that scatters without bounds has no interval, whichever side it is
    assert (there.low is None) == (back.low is None)
    assume(there.low is not None)
    assert there.low * back.high == pytest.approx(1)
    assert there.p == pytest.approx(back.p, abs=1e-9)


@given(sides, sides, st.floats(min_value=0.01, max_value=100))
def test_another_unit_changes_no_verdict(a, b, factor):
    pooled = PooledNoise(0.02, 6)
    here = compare(a, b, higher_is_better=True, pooled=pooled)
    there = compare([v * factor for v in a], [v * factor for v in b], higher_is_better=True, pooled=pooled)
    assert there.ratio == pytest.approx(here.ratio, rel=1e-9)
    assert judge(there).word == judge(here).word


@given(st.lists(values, min_size=1, max_size=4), st.lists(values, min_size=1, max_size=3))
def test_a_run_at_the_mean_never_widens_the_pooled_interval(a, b):
    pooled = PooledNoise(0.01, 6)
    before = compare(a, b, higher_is_better=True, pooled=pooled)
    after = compare(a, [*b, float(np.exp(np.log(b).mean()))], higher_is_better=True, pooled=pooled)
    assert after.ratio == pytest.approx(before.ratio)
    # a side whose own runs scatter far more than the rest is judged by them
    assume(after.basis == before.basis == "pooled noise")
    assert after.high / after.low <= before.high / before.low * (1 + 1e-9)


def made(ratio, error, df=8.0, n=3):
    return comparison.from_log(math.log(ratio), error, df, error / math.sqrt(2 / n), "pooled noise", n, n, 0.95)


@pytest.mark.parametrize(
    ("ratio", "error", "word"),
    [
        (1.04, 0.005, "gain"),
        (0.96, 0.005, "loss"),
        (1.001, 0.0005, "tie"),
        # surely faster, but by less than matters: 0.3 of 93 frames is no gain (common practice)
        (1.003, 0.0005, "tie"),
        (1.008, 0.006, "too few runs"),
        (1.0, 0.006, "too few runs"),
    ],
)
def test_verdicts(ratio, error, word):
    verdict = judge(made(ratio, error))
    assert verdict.word == word
    assert text_of(verdict.reason).endswith(".")
    assert (verdict.more_runs == 0) == (word != "too few runs")


def test_what_three_runs_tell_stands_where_it_would_if_one_side_scattered_more():
    """Two means of three with 1 % noise: 0.816 % is their error, and 1.414 % where one side has five times the variance."""
    pooled = PooledNoise(0.01, 40)
    scattered = [-0.01, 0.0, 0.01]

    def against(gain, runs=scattered):
        stock, tuned = [100 * math.exp(one) for one in scattered], [100 * math.exp(run + gain) for run in runs]
        return compare(stock, tuned, higher_is_better=True, pooled=pooled)

    close, clear = against(0.024), against(0.032)
    assert close.error_log == pytest.approx(0.01 * math.sqrt(2 / 3))
    assert close.wider_log == pytest.approx(0.01 * math.sqrt((1 + 5) / 3))
    assert close.p < 0.01
    asked = judge(close)
    assert (asked.word, asked.more_runs) == ("too few runs", 2)
    assert (asked.reason.code, asked.reason.params["fewest"]) == ("would_stand_by_the_rest", 3)
    assert judge(clear).word == "gain"
    # three that lie together so closely do not come from wide scatter: chi-square, 97 %, two degrees of freedom
    together = against(0.024, [-0.001, 0.0, 0.001])
    highest = 2 * 0.001**2 / stats.chi2.ppf(0.03, 2)
    assert highest < 0.01**2
    assert together.wider_log == close.wider_log
    both = compare(
        [100 * math.exp(one / 10) for one in scattered],
        [102.4 * math.exp(one / 10) for one in scattered],
        higher_is_better=True,
        pooled=pooled,
    )
    assert both.wider_log == both.error_log
    assert judge(both).word == "gain"
    # from five runs on each side speaks for itself
    assert compare([100.0, 101, 99, 100, 100.5], [102.0, 103, 101, 102, 102.5], higher_is_better=True).wider_log is None


def test_the_smallest_gain_is_the_users():
    assert judge(made(1.003, 0.0005), smallest_gain=0.001).word == "gain"
    assert judge(made(1.008, 0.001), smallest_gain=0.02).word == "tie"


def test_holm_equals_statsmodels():
    p = [0.011, 0.02, 0.04, 0.001, 0.5, 0.04]
    assert holm(p) == pytest.approx(list(multipletests(p, method="holm")[1]))
    assert holm([]) == []


@given(st.lists(st.floats(0, 1), min_size=1, max_size=12))
def test_holm_never_makes_a_p_smaller(p):
    assert all(adjusted >= raw for adjusted, raw in zip(holm(p), p, strict=True))


def test_a_gain_that_does_not_survive_the_correction_says_so():
    one = made(1.02, 0.008)
    assert judge(one).word == "gain"
    corrected = judge(one, adjusted_p=0.08, family=4)
    assert corrected.word == "too few runs"
    assert corrected.reason == message("alone_it_would_stand", comparisons=4)


@pytest.mark.parametrize("n", [2, 3, 5, 10, 40])
def test_detectable_difference_equals_statsmodels(n):
    expected = TTestIndPower().solve_power(nobs1=n, alpha=0.05, power=0.8)
    assert detectable(0.005, 2 * n - 2, n, n) == pytest.approx(0.005 * expected, rel=1e-4)


@pytest.mark.parametrize("effect", [0.3, 0.6, 1.0, 2.0, 3.5])
def test_runs_needed_equal_statsmodels(effect):
    expected = TTestIndPower().solve_power(effect_size=effect, alpha=0.05, power=0.8)
    assert runs_needed(0.01, 0.01 * effect) == math.ceil(expected - 1e-9)


def test_a_hopeless_difference_needs_more_runs_than_anyone_makes():
    assert runs_needed(0.03, 0.0001) is None


def test_overall_is_the_geometric_mean_with_welch_satterthwaite():
    parts = [made(1.10, 0.006, df=4), made(1.02, 0.004, df=12)]
    whole = overall(parts)
    assert whole.ratio == pytest.approx(math.sqrt(1.10 * 1.02))
    variance = (0.006**2 + 0.004**2) / 4
    df = variance**2 / ((0.006**2 / 4) ** 2 / 4 + (0.004**2 / 4) ** 2 / 12)
    half = stats.t.ppf(0.975, df) * math.sqrt(variance)
    assert math.log(whole.high / whole.ratio) == pytest.approx(half)
    assert overall(parts, [1, 0]).ratio == pytest.approx(1.10)
    assert overall([], []) is None
    assert overall([*parts, compare([1.0], [2.0], higher_is_better=True)]).low is None


@given(st.lists(st.floats(0.5, 2), min_size=1, max_size=6), st.floats(0.1, 10))
def test_weights_matter_only_relative_to_each_other(ratios, factor):
    parts = [made(ratio, 0.01) for ratio in ratios]
    weights = [1.0 + i for i in range(len(parts))]
    assert overall(parts, weights).low == pytest.approx(overall(parts, [w * factor for w in weights]).low)
