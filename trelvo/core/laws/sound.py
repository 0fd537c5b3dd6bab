"""Noise: how it follows the fan, what two sources come to, and which cooler is the better one at equal noise."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.laws.heat import Interval
from trelvo.core.laws.linear_model import Line, fit_line

# Sound level rises by so much times the decimal logarithm of the fan's speed. ASHRAE fan laws, from memory.
PER_DECADE, PER_DECADE_SD = 50.0, 8.0
# A sound meter beside a machine repeats to so many dB(A), and its level at a fan of 40 % lies about here. Common practice.
USUAL_SCATTER, USUAL_DBA = 0.5, (45.0, 10.0)
REFERENCE_FAN = 40.0


@dataclass(frozen=True)
class FanNoise:
    """The fitted law: dB(A) at REFERENCE_FAN, and how many for ten times the speed."""

    line: Line

    def at(self, fan: float) -> Interval:
        """Noise at a fan's speed, in % of full speed or in rpm as the law was fitted."""
        return self.line.reading_at(_row(fan))

    def fan_for(self, dba: float) -> float:
        """The fan that makes this noise."""
        return float(REFERENCE_FAN * 10 ** ((dba - self.line.mean[0]) / self.line.mean[1]))


def _row(fan: float) -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
    return np.array([1.0, math.log10(max(fan, 1.0) / REFERENCE_FAN)])


def fit_noise(readings: Sequence[tuple[float, float]]) -> FanNoise | None:
    """The law through readings of (fan in %, dB(A)); None without any. One reading takes its slope from the fan laws."""
    kept = [(fan, dba) for fan, dba in readings if fan > 0 and math.isfinite(dba)]
    if not kept:
        return None
    columns = np.stack([_row(fan) for fan, _ in kept])
    means, spreads = np.array([USUAL_DBA[0], PER_DECADE]), np.array([USUAL_DBA[1], PER_DECADE_SD])
    return FanNoise(fit_line(columns, np.array([dba for _, dba in kept]), means, spreads, USUAL_SCATTER))


def together(levels: Sequence[float]) -> float:
    """Level of several sources at once: their powers add. Two equal ones are 3.01 dB more than one."""
    return 10 * math.log10(sum(10 ** (level / 10) for level in levels))
