"""A power limit walks the part down along its own curve of voltage over clock. Where it held every run, that is all one sees."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import brentq

from trelvo.core.laws.heat import Interval
from trelvo.core.laws.linear_model import Line, fit_line
from trelvo.core.laws.power_model import PowerLaw

# Percent of voltage for a percent of clock along a part's curve, believed before any run. Common practice.
VOLTAGE_FOLLOWS = (0.6, 0.3)
USUAL_SCATTER = 0.004
# Further than this share past what was seen of the curve, nothing is told of it.
PAST_SEEN = 0.02
# No part is walked down to less than this share of its clock by its power limit alone.
LEAST_SHARE = 0.3


@dataclass(frozen=True)
class CurvePlace:
    """A run on the curve: clock and voltage reached, less what the knobs add to each."""

    workload_id: int
    core_mhz: float
    voltage_v: float


@dataclass(frozen=True)
class Walked:
    """Where a limit would hold the part. surely: whether it is known to get so far without the limit"""

    core_mhz: Interval
    voltage_v: Interval
    power_w: Interval
    surely: bool


@dataclass(frozen=True)
class OwnCurve:
    """ln(voltage) over ln(clock): a height for each workload, one slope. furthest: by workload, the highest clock seen on it"""

    line: Line
    mhz: float
    workloads: tuple[int, ...]
    furthest: Mapping[int, float]

    def voltage(self, workload_id: int, core_mhz: float) -> Interval:
        row = np.zeros(len(self.workloads) + 1)
        row[self.workloads.index(workload_id)] = 1.0
        row[-1] = np.log(core_mhz / self.mhz)
        found = self.line.at(row)
        return Interval(*(float(np.exp(one)) for one in (found.value, found.low, found.high)))

    def middle_v(self, workload_id: int, core_mhz: float) -> float:
        """The middle of `voltage` by itself."""
        return math.exp(self._middles[self.workloads.index(workload_id)] + self.slope * math.log(core_mhz / self.mhz))

    @cached_property
    def _middles(self) -> list[float]:
        return [float(one) for one in self.line.mean]

    @property
    def slope(self) -> float:
        return self._middles[-1]

    def walked_to(
        self,
        law: PowerLaw,
        workload_id: int,
        cap_w: Interval,
        more_mhz: float,
        more_v: float,
        free_mhz: float | None = None,
    ) -> Walked | None:
        """Where a limit of so many watts holds the part, if the knobs add so much to its clock and its voltage.

        free_mhz: what it would reach without the limit, where that is known
        Clock and voltage at which the law gives those watts. None where that lies further along the curve than was seen.
        """
        furthest = self.furthest[workload_id] if free_mhz is None else max(free_mhz - more_mhz, 1.0)

        def watts(own_mhz: float) -> float:
            volt = max(self.middle_v(workload_id, own_mhz) + more_v, 1e-3)
            return law.middle_w(workload_id, own_mhz + more_mhz, volt) - cap_w.value

        low, high = LEAST_SHARE * furthest, (1 + PAST_SEEN) * furthest
        if low + more_mhz <= 0 or watts(low) >= 0 or watts(high) < 0:
            return None
        own = float(brentq(watts, low, high))
        mhz, volt = own + more_mhz, self.voltage(workload_id, own)
        # a run lies on the law's curve and the limit as far as these are known; what is not known of them, and of the voltage,
        # moves the clock against the slope of the watts
        there = law.line.at(law.columns(workload_id, mhz, volt.value + more_v))
        part = max(cap_w.value - law.base_w.value, 0.05 * cap_w.value)
        wide = np.hypot((there.high - there.low) / 2 / part, (volt.high - volt.low) / volt.value)
        wide = np.hypot(wide, (cap_w.high - cap_w.low) / 2 / part) / (1 + 2 * max(self.slope, 0.0))
        surely = own <= furthest
        seen = furthest + more_mhz
        lowest_w = cap_w.low if surely else min(cap_w.low, watts(furthest) + cap_w.low)
        clock = Interval(mhz, min(mhz * (1 - float(wide)), mhz if surely else seen), mhz * (1 + float(wide)))
        return Walked(
            clock,
            Interval(*(one + more_v for one in (volt.value, volt.low, volt.high))),
            Interval(cap_w.value, max(lowest_w, 0.0), cap_w.high),
            surely,
        )


def fit_own_curve(places: Sequence[CurvePlace]) -> OwnCurve:
    """The curve through at least one run. Straight in logarithms; the slope begins from what is usual."""
    workloads = tuple(dict.fromkeys(place.workload_id for place in places))
    mhz, volt = (float(np.mean([getattr(place, name) for place in places])) for name in ("core_mhz", "voltage_v"))
    columns = np.zeros((len(places), len(workloads) + 1))
    columns[range(len(places)), [workloads.index(place.workload_id) for place in places]] = 1.0
    columns[:, -1] = np.log(np.array([place.core_mhz for place in places]) / mhz)
    means = np.array([*[np.log(volt)] * len(workloads), VOLTAGE_FOLLOWS[0]])
    spreads = np.array([*[0.1] * len(workloads), VOLTAGE_FOLLOWS[1]])
    line = fit_line(columns, np.log([place.voltage_v for place in places]), means, spreads, USUAL_SCATTER)
    furthest: dict[int, float] = {}
    for place in places:
        furthest[place.workload_id] = max(furthest.get(place.workload_id, 0.0), place.core_mhz)
    return OwnCurve(line, mhz, workloads, furthest)
