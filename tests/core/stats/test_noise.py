"""Noise against NIST's reference data, scipy and statsmodels."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.weightstats import DescrStatsW

from trelvo.core.problems import Refused
from trelvo.core.stats import noise

STOCK = [93.61, 93.51, 94.02, 93.58]
TUNED = [99.10, 99.42, 98.97]
values = st.floats(min_value=1, max_value=1e5)


def test_nist_numacc1():
    # NIST StRD, univariate, NumAcc1 (from memory): mean 10000002, s 1
    summary = noise.summarise([10000001, 10000003, 10000002])
    assert summary.mean == 10000002
    assert summary.sd == 1


@pytest.mark.parametrize(("base", "digits"), [(1000000.2, 9), (10000000.2, 8)])
def test_nist_numacc3_and_4(base, digits):
    # NIST StRD, univariate, NumAcc3 and NumAcc4 (from memory): 1001 values around the base, s 0.1
    summary = noise.summarise([base] + [base - 0.1, base + 0.1] * 500)
    assert summary.mean == pytest.approx(base, rel=1e-15)
    assert summary.sd == pytest.approx(0.1, rel=10.0**-digits)


def test_interval_of_a_mean_equals_scipy_and_statsmodels():
    summary = noise.summarise(STOCK)
    assert (summary.low, summary.high) == pytest.approx(DescrStatsW(STOCK).tconfint_mean(alpha=0.05))
    expected = stats.t.interval(0.95, 3, loc=np.mean(STOCK), scale=stats.sem(STOCK))
    assert (summary.low, summary.high) == pytest.approx(expected)
    assert summary.cv == pytest.approx(stats.variation(STOCK, ddof=1))


def test_one_run_says_nothing_about_noise():
    summary = noise.summarise([93.6])
    assert (summary.n, summary.mean, summary.median) == (1, 93.6, 93.6)
    assert summary.sd is summary.low is summary.high is None


def test_pooled_noise_is_the_pooled_deviation_of_the_logarithms():
    pooled = noise.pool([STOCK, TUNED, [97.0]])
    squares = 3 * np.var(np.log(STOCK), ddof=1) + 2 * np.var(np.log(TUNED), ddof=1)
    assert pooled == noise.PooledNoise(pytest.approx(math.sqrt(squares / 5)), 5)
    assert noise.pool([[1.0], [2.0]]) is None
    assert noise.pool([]) is None


def test_equal_readings_still_have_the_noise_of_their_rounding():
    # JCGM 100:2008 4.3.7 (from memory): a value rounded to steps of a has a deviation of a / sqrt(12)
    pooled = noise.pool([[93.6, 93.6], [95.0]])
    assert pooled.sd_log == pytest.approx(0.1 / math.sqrt(12) / 93.6)


@pytest.mark.parametrize(("given_values", "step"), [([8421, 8400], 1), ([93.6, 94], 0.1), ([118.43, 118.4], 0.01)])
def test_rounding_step(given_values, step):
    assert noise.rounding_step(given_values) == pytest.approx(step)


def test_neighbours_draw_lucky_noise_up_and_never_down():
    lucky, loud = noise.PooledNoise(0.0005, 2), noise.PooledNoise(0.03, 2)
    neighbours = [noise.PooledNoise(0.005, 4), noise.PooledNoise(0.004, 4)]
    prior = (0.005**2 + 0.004**2) / 2
    drawn = noise.shrink(lucky, neighbours)
    assert drawn == noise.PooledNoise(pytest.approx(math.sqrt((2 * prior + 2 * 0.0005**2) / 4)), 2)
    assert noise.shrink(loud, neighbours) == loud
    assert noise.shrink(None, neighbours) is None
    assert noise.shrink(lucky, []) == lucky


def test_one_neighbour_with_a_hitch_in_it_spoils_none_of_the_others():
    calm = [noise.PooledNoise(sd, 2) for sd in (0.004, 0.005, 0.006)]
    hitch = noise.PooledNoise(0.68, 2)
    assert noise.shrink(calm[0], [*calm[1:], hitch]).sd_log < 0.006


@pytest.mark.parametrize(
    ("values", "far"),
    [
        ([22, 57.7, 57.8], [0]),
        ([57.7, 57.8, 22], [2]),
        ([57.7, 22, 57.8, 57.5], [1]),
        # two of four are no hitch: nobody can tell which is right
        ([22, 57.7, 23, 57.8], []),
        ([22, 57.7], []),
        ([93.4, 93.6, 98.9], []),
        ([100, 130, 100.2], [1]),
        # a workload that scatters by itself
        ([80, 100, 125], []),
        ([5.7, 57.6, 57.7, 57.8, 57.9, 577], [0, 5]),
        ([22, 22.1, 57, 57.2, 57.1], []),
    ],
)
def test_a_run_far_from_all_others(values, far):
    assert sorted(noise.far_off(values)) == far


def test_ordinary_noise_accuses_hardly_anybody():
    """Repeats that differ by 2 %, twice the usual, with heavier tails than a normal's: Student's t with 4 degrees of freedom."""
    rng = np.random.default_rng(8)
    called = [bool(noise.far_off(np.exp(0.02 * rng.standard_t(4, 3)))) for _ in range(4000)]
    assert np.mean(called) < 0.005


def test_noise_by_workload_asks_only_neighbours_of_the_same_measure():
    # two workloads as frame rates, one as a time with far more noise
    rows = [(100.0, 1, 1), (100.01, 1, 1), (50.0, 1, 2), (50.5, 1, 2), (20.0, 1, 3), (24.0, 1, 3), (20.0, 2, 3)]
    found = noise.noise_by_workload(*zip(*rows, strict=True), {1: "frame rate", 2: "frame rate", 3: "time", 4: "time"})
    assert found[1].sd_log > 0.003
    assert found[1].df == 1
    assert found[2] == noise.pool([[50.0, 50.5]])
    assert found[3] == noise.pool([[20.0, 24.0], [20.0]])
    assert found[4] is None


def test_a_first_run_out_of_family():
    assert noise.first_out_of_family([90.4, 93.6, 93.5, 94.0, 93.7])
    assert not noise.first_out_of_family([93.4, 93.6, 93.5, 94.0, 93.7])
    # the limit is that of a prediction interval: 99 % of first runs of the same family lie inside
    rng = np.random.default_rng(5)
    called = [noise.first_out_of_family(np.exp(rng.normal(0, 0.01, 5))) for _ in range(4000)]
    assert np.mean(called) == pytest.approx(0.01, abs=0.006)


def test_too_few_runs_accuse_nobody():
    assert not noise.first_out_of_family([80.0, 93.6, 93.5])
    assert noise.first_out_of_family([80.0, 93.6, 93.5], noise.PooledNoise(0.004, 20))


@pytest.mark.parametrize(
    ("bad", "code"),
    [
        ([], "no_runs"),
        ([0.0, 1.0], "value_without_ratio"),
        ([-3.0], "value_without_ratio"),
        ([math.nan], "value_not_finite"),
    ],
)
def test_values_that_carry_no_logarithm_are_refused(bad, code):
    with pytest.raises(Refused, match=code):
        noise.logs(bad, "runs")


@given(
    st.lists(st.lists(values, min_size=2, max_size=5), min_size=1, max_size=6), st.sampled_from([0.01, 10.0, 1000.0])
)
def test_another_unit_changes_no_noise(groups, factor):
    here, there = noise.pool(groups), noise.pool([[v * factor for v in group] for group in groups])
    # where the runs differ by less than their rounding, the noise is that of the rounding, which has a unit
    roundings = [noise.rounding_step([v * f for group in groups for v in group]) / f for f in (1, factor)]
    assume(here.sd_log * min(map(min, groups)) > max(roundings))
    assert there.sd_log == pytest.approx(here.sd_log, rel=1e-6)


@given(st.lists(values, min_size=2, max_size=6))
def test_a_run_at_the_mean_never_widens_the_noise(group):
    """Adding a run at the (geometric) mean adds a degree of freedom and no square."""
    before = noise.pool([group])
    after = noise.pool([[*group, float(np.exp(np.log(group).mean()))]])
    assert after.df == before.df + 1
    assert after.sd_log <= before.sd_log * (1 + 1e-9) + 1e-9
