"""Power from clock and voltage: P = P0 + c f V², fitted from settings, and what a setting not yet tried would draw.

P0 is what does not follow the clock (leakage, memory, board); c differs from workload to workload.
Source: dynamic power of CMOS, any VLSI textbook.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from trelvo.core.laws.heat import Interval
from trelvo.core.laws.linear_model import Line, Numbers, fit_line
from trelvo.core.problems import Problem, Refused

# Shares of the mean power, believed before any setting: what does not follow the clock, and the rest. Common practice.
BASE_SHARE, CLOCKED_SHARE = (0.25, 0.12), (0.75, 0.3)
# Leakage: share of the mean power a degree.
LEAK_PER_C = (0.0, 0.003)
LEAK_NEEDS_C, LEAK_NEEDS_POINTS = 6.0, 6
USUAL_SCATTER = 0.01
# A law whose readings stray further than this from it, as a share, does not describe the part.
MISFIT = 0.04
LEAST_SETTINGS = 3


@dataclass(frozen=True)
class PowerPoint:
    """One run as the power law takes it. temp_c: None where not read"""

    setting_id: int
    workload_id: int
    core_mhz: float
    voltage_v: float
    power_w: float
    temp_c: float | None = None


@dataclass(frozen=True)
class PowerLaw:
    """P0 + c f V² + leakage, in W.

    workloads: in the order of their columns; mhz, volt, temp_c: where it is anchored (the points' means)
    leaks: whether the points told leakage from the rest; misfit: root mean square, as a share of the mean power
    """

    line: Line
    workloads: tuple[int, ...]
    mhz: float
    volt: float
    temp_c: float | None
    mean_w: float
    leaks: bool
    misfit: float

    @property
    def fits(self) -> bool:
        return self.misfit <= MISFIT

    def columns(self, workload_id: int, mhz: float, volt: float, temp_c: float | None = None) -> Numbers:
        """One row: base, a column a workload, leakage. KeyError for a workload that the law does not know."""
        if workload_id not in self.workloads:
            raise KeyError(workload_id)
        row: Numbers = self._columns([(workload_id, mhz, volt, temp_c)])[0]
        return row

    def _columns(self, runs: Sequence[tuple[int, float, float, float | None]]) -> Numbers:
        found = np.zeros((len(runs), 1 + len(self.workloads) + self.leaks))
        found[:, 0] = 1.0
        workloads, mhz, volts, temps_c = zip(*runs, strict=True)
        clocked = [one / self.mhz * (volt / self.volt) ** 2 for one, volt in zip(mhz, volts, strict=True)]
        found[range(len(runs)), [1 + self.workloads.index(workload) for workload in workloads]] = clocked
        if self.leaks:
            anchor_c = self.temp_c or 0.0
            found[:, -1] = [(one if one is not None else anchor_c) - anchor_c for one in temps_c]
        return found

    def watts(self, workload_id: int, mhz: float, volt: float, temp_c: float | None = None) -> Interval:
        """What a run of the workload would draw, W, with the interval that holds a reading."""
        return self.line.reading_at(self.columns(workload_id, mhz, volt, temp_c))

    def middle_w(self, workload_id: int, mhz: float, volt: float) -> float:
        """The middle of `watts` by itself, at the temperature where the law is anchored: for whoever asks hundreds of times."""
        base, clocked = self._middles[0], self._middles[1 + self.workloads.index(workload_id)]
        return base + clocked * mhz / self.mhz * (volt / self.volt) ** 2

    @cached_property
    def _middles(self) -> list[float]:
        return [float(one) for one in self.line.mean]

    @property
    def base_w(self) -> Interval:
        return self.line.coefficient(0)


def fit_power(points: Sequence[PowerPoint]) -> PowerLaw:
    """The law of a part at one measuring point. Refused with fewer than three settings, or a power or voltage of zero."""
    if any(point.power_w <= 0 or point.voltage_v <= 0 or point.core_mhz <= 0 for point in points):
        raise Refused(Problem("power", "run_without_power_voltage_clock"))
    if len({point.setting_id for point in points}) < LEAST_SETTINGS:
        raise Refused(Problem("power", "too_few_settings_with_power", {"least": LEAST_SETTINGS}))
    workloads = tuple(dict.fromkeys(point.workload_id for point in points))
    mean_w, mhz, volt = (
        float(np.mean([getattr(point, name) for point in points])) for name in ("power_w", "core_mhz", "voltage_v")
    )
    temps = [point.temp_c for point in points if point.temp_c is not None]
    leaks = len(temps) == len(points) >= LEAK_NEEDS_POINTS and max(temps) - min(temps) >= LEAK_NEEDS_C
    temp_c = float(np.mean(temps)) if temps else None
    empty = PowerLaw(
        line=Line(np.empty(0), np.empty((0, 0)), 0.0, 0),
        workloads=workloads,
        mhz=mhz,
        volt=volt,
        temp_c=temp_c,
        mean_w=mean_w,
        leaks=leaks,
        misfit=0.0,
    )
    columns = empty._columns([(point.workload_id, point.core_mhz, point.voltage_v, point.temp_c) for point in points])
    prior = [BASE_SHARE, *[CLOCKED_SHARE] * len(workloads), *([LEAK_PER_C] if leaks else [])]
    means, spreads = (mean_w * np.array(side) for side in zip(*prior, strict=True))
    watts = np.array([point.power_w for point in points])
    line = fit_line(columns, watts, means, spreads, USUAL_SCATTER * mean_w)
    misfit = float(np.sqrt(np.mean((watts - columns @ line.mean) ** 2))) / mean_w
    return PowerLaw(
        line=line, workloads=workloads, mhz=mhz, volt=volt, temp_c=temp_c, mean_w=mean_w, leaks=leaks, misfit=misfit
    )
