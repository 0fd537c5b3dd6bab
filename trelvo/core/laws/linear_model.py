"""Straight-line laws with a belief beforehand: few settings and many unknowns still give an honest interval."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.special import stdtrit

from trelvo.core.laws.heat import SURE, Interval

Numbers = npt.NDArray[np.float64]
# What the usual scatter weighs, in readings.
PRIOR_READINGS = 3.0


@dataclass(frozen=True)
class Line:
    """Coefficients with their covariance, and the scatter of single readings about the law.

    mean: k; covariance: k by k; scatter: in the reading's unit; readings: how many it rests on
    """

    mean: Numbers
    covariance: Numbers
    scatter: float
    readings: int

    def at(self, columns: Numbers) -> Interval:
        """The law's value for one row of k columns, with the interval of its mean."""
        value = float(columns @ self.mean)
        wide = self._quantile * float(np.sqrt(columns @ self.covariance @ columns))
        return Interval(value, value - wide, value + wide)

    def reading_at(self, columns: Numbers) -> Interval:
        """The same with the scatter of a single reading."""
        value = float(columns @ self.mean)
        wide = self._quantile * float(np.sqrt(columns @ self.covariance @ columns + self.scatter**2))
        return Interval(value, value - wide, value + wide)

    def coefficient(self, k: int) -> Interval:
        one = np.zeros(self.mean.size)
        one[k] = 1.0
        return self.at(one)

    @cached_property
    def _quantile(self) -> float:
        return float(stdtrit(self.readings + PRIOR_READINGS, (1 + SURE) / 2))


def fit_line(columns: Numbers, values: Numbers, prior_mean: Numbers, prior_sd: Numbers, usual_scatter: float) -> Line:
    """A linear law: normal belief beforehand, scatter learnt from the residuals together with what is usual.

    columns: n by k; values: n; prior_mean, prior_sd: k
    Source: Bayesian linear regression, Bishop 2006, section 3.3, from memory; with a wide belief it is ordinary least squares.
    """
    prior = np.diag(1 / prior_sd**2)
    scatter = usual_scatter
    for _ in range(20):
        precision = prior + columns.T @ columns / scatter**2
        covariance = np.linalg.inv(precision)
        mean = covariance @ (prior @ prior_mean + columns.T @ values / scatter**2)
        left = values - columns @ mean
        # the trace of the hat matrix, without making a matrix of readings by readings
        spent = float(np.sum((columns @ covariance) * columns)) / scatter**2
        found = np.sqrt(
            (PRIOR_READINGS * usual_scatter**2 + float(left @ left)) / (PRIOR_READINGS + max(values.size - spent, 0.0))
        )
        if abs(found - scatter) <= 1e-6 * scatter:
            break
        scatter = float(found)
    return Line(np.asarray(mean), np.asarray(covariance), scatter, int(values.size))
