"""Runs in their order: memory, trend, steps and days, against reference libraries and made series."""

import math

import numpy as np
import pytest
import statsmodels.api as sm
from statsmodels.tsa.arima_process import arma_acovf

from trelvo.core.stats.time_series import (
    NO_MEMORY,
    USUAL_DAY,
    believable_hours,
    day_shift,
    deviations_shrunk_by,
    effective_runs,
    lag_one,
    memory_of,
    sessions_of,
    step_of,
    trend_of,
)


def remembering(rho, size, rng):
    made = [rng.normal()]
    for _ in range(size - 1):
        made.append(rho * made[-1] + math.sqrt(1 - rho**2) * rng.normal())
    return made


@pytest.mark.parametrize("rho", [0.0, 0.3, 0.6])
@pytest.mark.parametrize("runs", [2, 5, 40])
def test_effective_runs_are_those_of_the_autocovariance(rho, runs):
    covariance = arma_acovf([1, -rho], [1], runs)
    matrix = covariance[np.abs(np.subtract.outer(np.arange(runs), np.arange(runs)))]
    of_mean = matrix.sum() / runs**2
    assert effective_runs(runs, rho) == pytest.approx(covariance[0] / of_mean)
    about = np.eye(runs) - 1 / runs
    within = np.trace(about @ matrix @ about) / (runs - 1) / covariance[0]
    assert deviations_shrunk_by([runs], rho) == pytest.approx(within)


@pytest.mark.parametrize(("rho", "size"), [(0.3, 5), (0.6, 5), (0.6, 12), (0.3, 3)])
def test_memory_is_found_in_short_groups(rho, size):
    rng = np.random.default_rng(size)
    found, error, pairs = lag_one([remembering(rho, size, rng) for _ in range(400)])
    assert pairs == 400 * (size - 1)
    assert found == pytest.approx(rho, abs=0.08)
    assert abs(found - rho) < 3 * error


def test_how_far_found_memory_is_off_is_said():
    rng = np.random.default_rng(4)
    found = [lag_one([remembering(0.5, 5, rng) for _ in range(30)]) for _ in range(200)]
    assert np.mean([error for _, error, _ in found]) == pytest.approx(np.std([rho for rho, _, _ in found]), rel=0.25)


def test_independent_runs_remember_nothing_and_few_say_nothing():
    rng = np.random.default_rng(1)
    found = [lag_one([rng.normal(size=5).tolist() for _ in range(20)])[0] for _ in range(60)]
    assert np.median(found) == 0
    assert lag_one([[1.0, 2.0, 3.0]]) == (0.0, 0.0, 2)
    assert lag_one([[1.0] * 20])[0] == 0


def test_a_trend_is_that_of_least_squares_with_a_mean_for_each_setting():
    rng = np.random.default_rng(2)
    hours, labels = np.arange(30) * 0.1, np.repeat(np.arange(5), 6)
    logs = rng.normal(0, 0.01, 30) + 0.02 * hours + 0.1 * labels
    design = np.column_stack([labels[:, None] == np.arange(5), hours]).astype(float)
    fit = sm.OLS(logs, design).fit()
    found = trend_of(hours, labels, logs)
    assert found.per_h == pytest.approx(fit.params[-1])
    assert (found.low, found.high) == pytest.approx(tuple(fit.conf_int()[-1]))
    assert found.p == pytest.approx(fit.pvalues[-1])
    assert trend_of(hours[:3], np.arange(3), logs[:3]) is None


def test_a_step_is_found_where_it_was_made_and_not_where_none_is():
    rng, told = np.random.default_rng(3), 0
    labels = np.tile(np.arange(3), 10)
    found = step_of(rng.normal(0, 0.005, 30) + 0.03 * (np.arange(30) >= 18), labels)
    assert found.place == 18
    assert found.low < 0.03 < found.high
    for _ in range(200):
        told += step_of(rng.normal(0, 0.01, 30), labels) is not None
    assert told <= 6


def test_sessions_are_parted_by_long_pauses():
    assert sessions_of(np.array([0.0, 0.2, 1.0, 9.0, 9.1, 30.0])).tolist() == [0, 0, 0, 1, 1, 2]
    assert sessions_of(np.zeros(0)).size == 0


def test_a_days_shift_is_found_and_the_usual_one_taken_where_nothing_shows_it():
    rng = np.random.default_rng(5)
    shift = rng.normal(0, 0.02, 40)
    hours = np.repeat(np.arange(40) * 24.0, 3) + np.tile([0.0, 0.1, 0.2], 40)
    logs = np.repeat(shift, 3) + rng.normal(0, 0.002, 120)
    sd, df = day_shift(sessions_of(hours), np.zeros(120, dtype=np.int64), logs, 0.002)
    assert df == 39
    # an upper estimate: above the deviation of what was made, not far
    assert np.std(shift, ddof=1) < sd < 1.4 * np.std(shift, ddof=1)
    assert day_shift(sessions_of(hours[:3]), np.zeros(3, dtype=np.int64), logs[:3], 0.002) == (USUAL_DAY, 0)
    few, _ = day_shift(sessions_of(hours[:6]), np.zeros(6, dtype=np.int64), np.zeros(6), 0.002)
    assert few < 2 * USUAL_DAY


def test_a_session_goes_on_while_the_bench_runs_anything():
    """Stock at nine and a candidate at two, with other settings in between: one sitting."""
    found = memory_of(
        np.ones(2, dtype=np.int64), np.arange(2), np.array([9.0, 14.0]), np.zeros(2), np.arange(9.0, 14.0)
    )
    assert found.begins == (9.0,)
    assert found.sessions(np.array([9.0, 14.0])).tolist() == [1, 1]
    apart = memory_of(np.ones(2, dtype=np.int64), np.arange(2), np.array([9.0, 14.0]), np.zeros(2))
    assert apart.sessions(np.array([9.0, 14.0])).tolist() == [1, 2]


def test_a_bench_is_summed_up_over_its_workloads():
    rng = np.random.default_rng(6)
    workloads, settings = np.repeat([1, 2], 60), np.tile(np.repeat(np.arange(12), 5), 2)
    hours = np.arange(120) * 0.1
    logs = np.concatenate([remembering(0.5, 60, rng), remembering(0.5, 60, rng)]) * np.array(0.01)
    found = memory_of(workloads, settings, hours, logs)
    assert found.pairs == 96
    assert 0.2 < found.rho < 0.8
    assert found.for_comparing.effective(10) < 7
    assert (found.for_comparing.rho, found.for_comparing.day_sd) == (found.rho, found.day_sd)
    empty = np.zeros(0)
    assert memory_of(empty.astype(np.int64), empty.astype(np.int64), empty, empty) == NO_MEMORY


def test_runs_typed_one_after_the_other_have_no_times():
    """Three runs of a quarter of an hour, typed within a minute: nothing is read from the seconds between them."""
    typed = np.array([10.0, 10.005, 10.01])
    assert believable_hours(typed, np.full(3, 0.25)).tolist() == [10.01] * 3
    # a run that was stopped early, and the next begun at once, is possible
    assert believable_hours(typed, np.array([0.004, 0.004, 0.25])).tolist() == typed.tolist()
    # an evening at the bench, and what was left typed afterwards
    evening = np.array([8.0, 8.3, 8.6, 10.0, 10.01])
    assert believable_hours(evening, np.full(5, 0.25)).tolist() == [8.0, 8.3, 8.6, 10.01, 10.01]
    assert believable_hours(np.array([5.0]), np.array([1.0])).tolist() == [5.0]


def test_no_trend_is_read_from_minutes():
    hours = np.array([0.0, 0.02, 0.04, 0.06, 0.08])
    logs = np.log([100.0, 99.0, 98.1, 97.0, 96.1])
    labels = np.zeros(5, dtype=np.int64)
    assert trend_of(hours, labels, logs) is None
    assert trend_of(hours * 20, labels, logs) is not None
