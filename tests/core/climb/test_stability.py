"""Failure rates against reference libraries."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from trelvo.core.climb.stability import failure_rate, fewer_than, passes
from trelvo.core.problems import Refused


def test_nothing_failed_garwood():
    # Garwood: 0 failures in T give at most 3.689 / T, two-sided 95 %
    found = failure_rate(2.0, 0)
    assert (found.per_h, found.low) == (0, 0)
    assert found.high == pytest.approx(3.689 / 2, abs=0.001)


@given(st.integers(0, 30), st.floats(0.1, 500))
def test_exact_poisson_interval(failures, hours):
    found = failure_rate(hours, failures)
    # the ends are the rates at which so many, or so few, have a chance of 2.5 %
    assert stats.poisson.cdf(failures, found.high * hours) == pytest.approx(0.025, abs=1e-6)
    if failures:
        assert stats.poisson.sf(failures - 1, found.low * hours) == pytest.approx(0.025, abs=1e-6)
    assert found.low <= found.per_h <= found.high


def test_failures_over_time_is_the_censored_exponential_estimate():
    # scipy's own fit of an exponential to right-censored times
    times, failed = np.array([0.5, 1.0, 1.0, 0.2, 2.0]), np.array([True, False, False, True, False])
    data = stats.CensoredData(uncensored=times[failed], right=times[~failed])
    _, scale = stats.expon.fit(data, floc=0)
    assert failure_rate(float(times.sum()), 2).per_h == pytest.approx(1 / scale, rel=1e-3)


def test_rule_of_three_and_what_an_hour_proves():
    # Hanley and Lippman-Hand 1983, from memory: about 3 / n, exactly 2.996
    assert fewer_than(1.0) == pytest.approx(2.996, abs=0.001)
    # common practice: what fails once in five hours passes an hour four times out of five
    assert passes(1 / 5, 1.0) == pytest.approx(0.82, abs=0.005)


def test_nothing_run_and_nonsense():
    assert failure_rate(0.0, 0).per_h is None
    with pytest.raises(Refused, match="negative_time_or_failures"):
        failure_rate(-1.0, 0)
