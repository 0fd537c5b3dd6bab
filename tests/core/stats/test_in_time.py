"""Comparisons with their times: plain where time does nothing, least squares where it does, wider where it cannot be told."""

import math

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st

from tests.core.stats.made_benches import ORDERS, Bench, share_claimed, share_until_settled
from trelvo.core.base.runs import RunFacts
from trelvo.core.message import message
from trelvo.core.stats.comparison import compare, judge, overall
from trelvo.core.stats.in_time import Timed, compare_in_time, interleaved, timed
from trelvo.core.stats.looks import best_drawn, level_at, looks_of
from trelvo.core.stats.noise import PooledNoise, pool
from trelvo.core.stats.time_series import NO_MEMORY, BenchMemory, Trend

POOLED = PooledNoise(0.01, 20)
STOCK, TUNED = (100.0, 101.0, 99.5), (104.0, 103.0, 104.5)


def both(reference, candidate, hours_r, hours_c, bench=NO_MEMORY, **more):
    return compare_in_time(
        Timed(reference, hours_r), Timed(candidate, hours_c), bench, higher_is_better=True, pooled=POOLED, **more
    )


def test_in_one_short_session_it_is_the_plain_comparison():
    found = both(STOCK, TUNED, (0, 0.1, 0.2), (0.3, 0.4, 0.5))
    assert found.comparison == compare(STOCK, TUNED, higher_is_better=True, pooled=POOLED)
    assert found.says == ()


def test_bracketed_sides_have_a_straight_drift_taken_out():
    """A B B A with a drift of 1 % a run: the same estimate as least squares with a time term."""
    hours = np.arange(8) * 0.1
    side = np.array([0, 1, 1, 0, 0, 1, 1, 0])
    logs = 0.03 * side - 0.1 * hours + 0.001 * np.array([1, -1, 2, 0, -2, 1, 0, -1])
    values = np.exp(logs)
    found = both(tuple(values[side == 0]), tuple(values[side == 1]), tuple(hours[side == 0]), tuple(hours[side == 1]))
    fit = sm.OLS(logs, np.column_stack([np.ones(8), side, hours])).fit()
    assert math.log(found.comparison.ratio) == pytest.approx(fit.params[1])
    assert found.says[0] == message("drift_taken_out")


def test_blocks_on_a_bench_that_is_known_to_drift_are_corrected_and_wider():
    drifts = BenchMemory(trend=Trend(-0.02, -0.03, -0.01, 1e-4, 0.003, 30))
    hours_r, hours_c = (0, 0.1, 0.2, 0.3), (0.4, 0.5, 0.6, 0.7)
    reference, candidate = (100.0, 101.0, 99.5, 100.5), (104.0, 103.0, 104.5, 104.0)
    plain = both(reference, candidate, hours_r, hours_c).comparison
    found = both(reference, candidate, hours_r, hours_c, drifts).comparison
    assert found.high / found.low > plain.high / plain.low


def test_other_days_widen_the_interval_and_are_said():
    apart = both(STOCK, TUNED, (0, 0.1, 0.2), (24, 24.1, 24.2))
    plain = compare(STOCK, TUNED, higher_is_better=True, pooled=POOLED)
    assert apart.comparison.error_log == pytest.approx(math.hypot(plain.error_log, math.sqrt(2) * 0.003), rel=1e-6)
    assert apart.day_variance == pytest.approx(2 * 0.003**2, rel=1e-6)
    assert apart.says[0].code == "different_days"
    controlled = both((*STOCK, 100.2), TUNED, (0, 0.1, 0.2, 24.3), (24, 24.1, 24.2))
    assert controlled.says[0].code == "several_days"
    assert controlled.day_variance < apart.day_variance


def test_a_shift_that_all_workloads_share_is_not_averaged_away():
    one = both(STOCK, TUNED, (0, 0.1, 0.2), (24, 24.1, 24.2))
    together = overall([one.comparison] * 5, shared=[one.day_variance] * 5)
    apart = overall([one.comparison] * 5)
    own = one.comparison.error_log**2 - one.day_variance
    assert together.error_log**2 == pytest.approx(own / 5 + one.day_variance)
    assert together.error_log > apart.error_log


def test_runs_that_remember_tell_less():
    blocks = both(STOCK, TUNED, (0, 0.1, 0.2), (0.3, 0.4, 0.5), BenchMemory(rho=0.6, pairs=80))
    plain = compare(STOCK, TUNED, higher_is_better=True, pooled=POOLED)
    assert blocks.comparison.error_log > 1.3 * plain.error_log
    assert blocks.says[0].code == "runs_resemble"
    assert blocks.says[0].params["correlation"] == pytest.approx(0.6, abs=0.005)


def test_memory_that_is_not_well_known_leaves_the_ratio_and_widens_its_interval():
    known, unsure = (
        both(STOCK, TUNED, (0, 0.1, 0.2), (0.3, 0.4, 0.5), BenchMemory(rho=0.3, rho_error=error, pairs=80)).comparison
        for error in (0.0, 0.15)
    )
    assert (unsure.ratio, unsure.error_log) == (known.ratio, known.error_log)
    assert unsure.df < known.df
    assert unsure.low < known.low < known.high < unsure.high
    hours, many = tuple(np.arange(400) * 0.01), tuple(100.0 + 0.1 * (place % 7) for place in range(400))
    long = [
        both(many, many[::-1], hours, hours, BenchMemory(rho=0.3, rho_error=error)).comparison for error in (0, 0.15)
    ]
    assert long[0].error_log == long[1].error_log
    assert long[0].df > long[1].df


def test_three_runs_against_very_many_are_asked_about_all_the_same():
    rng = np.random.default_rng(2)
    many, few = tuple(np.exp(rng.normal(0, 0.01, 300))), tuple(np.exp(np.array([0.012, 0.022, 0.017])))
    found = both(many, few, tuple(np.arange(300) * 0.01), (3.1, 3.2, 3.3)).comparison
    assert found.wider_log > found.error_log
    assert judge(found).more_runs == 2


def test_very_many_runs_are_cut_to_what_they_tell():
    rng = np.random.default_rng(1)
    many = [tuple(np.exp(rng.normal(0, 0.01, 400))) for _ in range(2)]
    hours = tuple(np.arange(400) * 0.01)
    plain = compare(*many, higher_is_better=True)
    found = both(*many, hours, hours, BenchMemory(rho=0.5, pairs=800))
    assert found.comparison.error_log == pytest.approx(plain.error_log * math.sqrt(3), rel=0.01)


@given(st.lists(st.floats(90, 110), min_size=3, max_size=6), st.lists(st.floats(90, 110), min_size=3, max_size=6))
def test_swapping_sides_inverts_the_ratio(a, b):
    bench = BenchMemory(rho=0.3, pairs=50)
    hours_a, hours_b = tuple(0.1 * k for k in range(len(a))), tuple(30 + 0.1 * k for k in range(len(b)))
    there, back = both(tuple(a), tuple(b), hours_a, hours_b, bench), both(tuple(b), tuple(a), hours_b, hours_a, bench)
    assert there.comparison.ratio * back.comparison.ratio == pytest.approx(1)


def test_only_runs_that_count_are_taken_with_their_times():
    runs = [
        RunFacts(1, 1, 1, "completed", 90.0, started_h=3.0),
        RunFacts(2, 1, 1, "completed", 91.0, set_aside=True, started_h=4.0),
        RunFacts(3, 1, 1, "system crash", None, started_h=5.0),
    ]
    assert timed(runs) == Timed((90.0,), (3.0,))


def test_close_comparisons_run_a_b_b_a():
    assert interleaved("A", "B", 2) == ["A", "B", "B", "A"]
    order = interleaved("A", "B", 4)
    middle = [np.mean([place for place, one in enumerate(order) if one == side]) for side in "AB"]
    assert middle[0] == middle[1]


def test_looks_are_bursts_of_runs_after_the_first_five():
    five = [0, 0.1, 0.2, 0.3, 0.4]
    assert looks_of(five, [0.5, 0.6, 0.7, 0.8, 0.9]) == 1
    assert looks_of(five, [0.5, 0.6, 0.7, 0.8, 0.9, 5.0, 5.1, 9.0]) == 3
    assert looks_of([0, 0.1, 0.2], [3, 6, 9]) == 1
    assert level_at(1) == 0.04
    assert level_at(2) > level_at(3) > 0


def test_what_stood_at_a_first_look_may_not_stand_at_a_third():
    close = compare((100.0, 101.0, 99.5, 98.9, 100.4), (102.2, 100.8, 101.4, 100.6, 102.1), higher_is_better=True)
    assert level_at(3) < close.p < level_at(1)
    assert judge(close, look=1).word == "gain"
    third = judge(close, look=3)
    assert third.word == "too few runs"
    assert third.reason == message("seen_once_it_would_stand", look=3)


def test_the_best_of_equals_is_drawn_to_the_rest_and_of_unequals_hardly():
    equal = best_drawn([1.0, 1.002, 0.998, 1.011], [0.006] * 4, 3)
    assert equal.ratio < 1.006
    assert equal.of == 4
    unequal = best_drawn([1.0, 1.05, 0.95, 1.1], [0.006] * 4, 3)
    assert unequal.ratio == pytest.approx(1.1, abs=0.002)
    assert best_drawn([1.0, 1.01], [0.006] * 2, 1) is None


@pytest.mark.parametrize(
    ("bench", "order", "runs", "most"),
    [
        (Bench(), "blocks", 3, 0.06),
        (Bench(rho=0.6), "blocks", 5, 0.06),
        (Bench(drift=0.01), "A B B A", 5, 0.06),
        (Bench(drift=0.01), "baseline 20 runs earlier, control after", 5, 0.06),
        (Bench(noisy=3), "blocks", 3, 0.06),
        (Bench(noisy=3), "blocks", 5, 0.06),
    ],
)
def test_false_claims_stay_rare(bench, order, runs, most):
    """Three hundred comparisons each; more of them, and more cells, in ./run.py bench verdict."""
    # three standard errors of a share of 5 % from 300
    assert share_claimed(bench, order, runs, 300).claimed <= most + 0.038
    assert order in ORDERS


def test_adding_runs_until_it_is_settled_does_not_settle_on_chance():
    assert share_until_settled(Bench(), 150, most=12) <= 0.06 + 0.05


def test_the_last_digit_of_a_moment_makes_no_other_session():
    """Hours computed in two ways differ by their last digit: the first run stays in its own session."""
    begun = 476_000.000894190855
    reference = Timed((93.61, 93.48, 94.05), (begun, begun + 0.001, begun + 0.004))
    candidate = Timed((98.9,), (begun + 0.005,))
    noise = pool([[93.61, 93.48, 94.05], [96.8, 96.5]])
    for origin in (begun, math.nextafter(begun, math.inf), math.nextafter(begun, 0.0)):
        found = compare_in_time(
            reference, candidate, BenchMemory(begins=(origin,)), higher_is_better=True, pooled=noise
        ).comparison
        assert (found.df, found.low) == (3, pytest.approx(1.0442, abs=1e-4))


def test_noise_that_both_sides_share_is_counted_once():
    """Four runs each, with a drift taken out: the noise of both is one pooled noise of so many degrees of freedom, not two."""
    rng = np.random.default_rng(2)
    values = 100 * np.exp(rng.normal(0, 0.005, 8))
    hours = [k / 10 for k in range(8)]
    noise = pool([list(values[:4]), list(values[4:])])
    first, second = (Timed(tuple(values[k::2]), tuple(hours[k::2])) for k in (0, 1))
    found = compare_in_time(first, second, NO_MEMORY, higher_is_better=True, pooled=noise)
    assert found.says == (message("drift_taken_out"),)
    assert found.comparison.df <= noise.df
