"""Droop: the voltage that a part loses under current, learnt from logs and runs, at each setting of the load line."""

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import special

from trelvo.core.base.deviations import Z
from trelvo.core.laws.heat import SURE, Interval
from trelvo.core.problems import Problem, Refused

Numbers = npt.NDArray[np.float64]

# A stretch of so many seconds is averaged, where it has so many readings and the clock stood still: single readings are noise.
STRETCH_S, STRETCH_READINGS = 5.0, 3
# A readout of the clock may stay where it was for so long after a change of setting. Common practice.
SETTLES_S = 20.0
# Stretches at one clock whose currents differ by no more than this share of the log's highest say much the same: they are
# put together into so many points, whose differences show what else moves the voltage.
SAME_CURRENT, PARTS = 0.04, 3
# What is left after the fit is at least what a voltage is rounded to. Common practice: 1 mV.
ROUNDED_V = 0.0005
# More left over than this, and than this share of what is lost, and something else moves the voltage.
MISFIT_V, MISFIT_SHARE = 0.008, 0.3
FEWEST_DF = 2
# A point further off than so many deviations is left out; where more than this share of them is, the law does not fit.
STRAY, MOST_STRAYS, ROUNDS = 5.0, 0.25, 30
# A clock says something where its currents lie apart by this share of the highest: what is less is within a clock's own slope.
FEWEST_SPREAD = 0.1
# A current goes with power over voltage within these factors: boards and memory draw some of the power at another voltage.
GOES_WITH = (0.6, 1.25)


@dataclass(frozen=True)
class DroopPoint:
    """Means over a stretch at a steady clock.

    level: where the load line is set; clock_mhz, volt: reached, less the offsets that are set, so that all lie on one curve
    """

    level: float
    clock_mhz: float
    volt: float
    current_a: float


@dataclass(frozen=True)
class LoadLine:
    """One setting of the load line. lost_v: at the highest current seen at any setting; amperes: lowest and highest seen here

    clock_mhz: the clock that was seen under the widest range of currents; no_load_v: the voltage there without any
    """

    level: float
    mohm: Interval
    lost_v: Interval
    points: int
    amperes: tuple[float, float]
    clock_mhz: float
    no_load_v: float

    @property
    def arrives_v(self) -> float:
        """The voltage at that clock under the highest current, V."""
        return self.no_load_v - self.lost_v.value


@dataclass(frozen=True)
class Droop:
    """current_a: the highest seen; scatter_v: what the law leaves over; fits: whether that is little

    falls: whether the voltage read falls with the current at any setting
    """

    lines: tuple[LoadLine, ...]
    current_a: float
    scatter_v: float
    fits: bool
    falls: bool


def steady_points(
    time_s: Numbers, clock_mhz: Numbers, volt: Numbers, current_a: Numbers, level: float, grid_mhz: float
) -> list[DroopPoint]:
    """A log's stretches at a steady clock. All n, NaN where missing; clock and volt less the offsets that are set.

    time_s: from the run's beginning; what its first `SETTLES_S` read at another clock than the next stretch is left out
    level: of the load line; grid_mhz: steps in which the clock moves
    """
    told = np.isfinite(clock_mhz) & np.isfinite(volt) & np.isfinite(current_a) & (current_a > 0)
    stretch = np.floor(time_s[told] / STRETCH_S).astype(np.int64)
    clocks, volts, currents = clock_mhz[told], volt[told], current_a[told]
    cells: dict[tuple[int, int], list[tuple[float, float, float]]] = defaultdict(list)
    settled = stretch >= SETTLES_S / STRETCH_S
    then_mhz = float(np.median(clocks[stretch == stretch[settled][0]])) if settled.any() else math.nan
    width = SAME_CURRENT * float(currents.max(initial=0.0))
    for number in np.unique(stretch):
        mine = stretch == number
        if mine.sum() < STRETCH_READINGS or float(np.ptp(clocks[mine])) > grid_mhz:
            continue
        means = float(clocks[mine].mean()), float(volts[mine].mean()), float(currents[mine].mean())
        if number < SETTLES_S / STRETCH_S and not abs(means[0] - then_mhz) <= grid_mhz:
            continue
        cells[round(means[0] / grid_mhz), round(means[2] / width)].append(means)
    middles = [
        np.mean(part, axis=0)
        for some in cells.values()
        for part in np.array_split(np.array(some), min(PARTS, len(some)))
    ]
    return [DroopPoint(level, float(clock), float(one), float(amperes)) for clock, one, amperes in middles]


def learn_droop(points: Sequence[DroopPoint], grid_mhz: float, step_v: float = 0.0) -> Droop:
    """What each ampere costs in voltage. grid_mhz: clocks nearer than that are one clock; step_v: what voltages are rounded to

    Method: V = V₀(clock, load line) − R(load line) · I, Ohm's law: least squares with a voltage for each clock and a resistance
    for each setting of the load line; only currents that differ at one clock say anything. Where watts of the board are among
    those of the part, V₀ takes them up, so each setting has its own. Intervals by Student's t; what rounding may do to the
    voltage at the lowest and at the highest current is added, since no averaging takes it away.
    Points far off the line of least absolute deviation are left out: a readout of the clock stays behind after a change.
    Source: ordinary least squares with dummy variables, any textbook; checked against statsmodels.
    Raises Refused where at no clock currents differ.
    """
    told = _where_currents_differ(points, grid_mhz)
    table = _Table.of(told, grid_mhz)
    stray = table.strays()
    if stray.any():
        table = _Table.of(
            _where_currents_differ([one for one, off in zip(told, stray, strict=True) if not off], grid_mhz), grid_mhz
        )
    df = len(table.points) - table.design.shape[1]
    if not table.levels or df < FEWEST_DF or np.linalg.matrix_rank(table.design, tol=1e-3) < table.design.shape[1]:
        raise Refused(Problem("logs", "droop_needs_different_loads"))
    inverse = np.linalg.pinv(table.design)
    found = inverse @ table.volts
    left = table.volts - table.design @ found
    scatter = max(math.sqrt(float(left @ left) / df), ROUNDED_V)
    reach = float(special.stdtrit(df, (1 + SURE) / 2)) * scatter * np.sqrt(np.diag(inverse @ inverse.T))
    amperes = np.array([point.current_a for point in table.points])
    highest = float(amperes.max())
    lines = []
    for k, level in enumerate(table.levels):
        mine = np.array([point.level == level for point in table.points])
        own = amperes[mine]
        ohm, wide = float(found[k]), float(reach[k])
        rounding = Z * step_v * math.sqrt(2 / 12) / float(np.ptp(own))
        wide = math.hypot(wide, rounding)
        per_a, at_most = _times(ohm, wide, 1000.0), _times(ohm, wide, highest)
        most = max(set(table.group[mine].tolist()), key=lambda number: float(np.ptp(amperes[table.group == number])))
        clocks = [one.clock_mhz for one, at in zip(table.points, table.group.tolist(), strict=True) if at == most]
        no_load = float(found[len(table.levels) + most])
        seen = float(own.min()), float(own.max())
        lines.append(LoadLine(level, per_a, at_most, len(own), seen, math.fsum(clocks) / len(clocks), no_load))
    lost = max(abs(line.lost_v.value) for line in lines)
    little = scatter <= MISFIT_V or scatter <= MISFIT_SHARE * lost
    return Droop(
        tuple(lines),
        highest,
        scatter,
        little and bool(stray.mean() <= MOST_STRAYS),
        any(line.mohm.low > 0 for line in lines),
    )


@dataclass(frozen=True)
class _Table:
    """points as a linear model. design: n by k, for each of the levels the current less, then one column for each clock"""

    points: Sequence[DroopPoint]
    levels: Sequence[float]
    group: npt.NDArray[np.int64]
    design: Numbers
    volts: Numbers

    @classmethod
    def of(cls, points: Sequence[DroopPoint], grid_mhz: float) -> "_Table":
        levels = sorted({point.level for point in points})
        group = _groups_of(points, grid_mhz)
        design = np.zeros((len(points), len(levels) + int(group.max(initial=-1)) + 1))
        for row, one in enumerate(points):
            design[row, levels.index(one.level)] = -one.current_a
            design[row, len(levels) + group[row]] = 1.0
        return cls(points, levels, group, design, np.array([point.volt for point in points]))

    def strays(self) -> npt.NDArray[np.bool_]:
        """Which points lie far off the line of least absolute deviation, by the median deviation (both from memory)."""
        if not self.points:
            return np.zeros(0, dtype=np.bool_)
        weight = np.ones(len(self.points))
        off = np.zeros(len(self.points))
        for _ in range(ROUNDS):
            root = np.sqrt(weight)
            found = np.linalg.lstsq(self.design * root[:, None], self.volts * root, rcond=None)[0]
            off = np.abs(self.volts - self.design @ found)
            weight = 1 / np.maximum(off, ROUNDED_V)
        # as many points as there are unknowns lie on that line whatever they are
        free = np.sort(off)[self.design.shape[1] :]
        middle = float(np.median(free)) if free.size else math.inf
        return np.asarray(off > STRAY * max(1.4826 * middle, ROUNDED_V))


def _groups_of(points: Sequence[DroopPoint], grid_mhz: float) -> npt.NDArray[np.int64]:
    """The number of what has a voltage of its own: points of one setting of the load line whose clocks lie within a step."""
    group = np.zeros(len(points), dtype=np.int64)
    number, before, begins = -1, -math.inf, -math.inf
    level: float | None = None
    for place in sorted(range(len(points)), key=lambda k: (points[k].level, points[k].clock_mhz)):
        one = points[place]
        if one.level != level or one.clock_mhz - before > grid_mhz / 2 or one.clock_mhz - begins > grid_mhz:
            number, level, begins = number + 1, one.level, one.clock_mhz
        group[place], before = number, one.clock_mhz
    return group


def _where_currents_differ(points: Sequence[DroopPoint], grid_mhz: float) -> list[DroopPoint]:
    at: dict[int, list[DroopPoint]] = defaultdict(list)
    for number, one in zip(_groups_of(points, grid_mhz).tolist(), points, strict=True):
        at[number].append(one)
    highest = max((point.current_a for point in points), default=0.0)
    apart = [max(one.current_a for one in some) - min(one.current_a for one in some) for some in at.values()]
    return [
        one
        for some, spread in zip(at.values(), apart, strict=True)
        if spread >= FEWEST_SPREAD * highest
        for one in some
    ]


def _times(value: float, wide: float, factor: float) -> Interval:
    return Interval(factor * value, factor * (value - wide), factor * (value + wide))


def voltage_step(volt: Numbers) -> float:
    """What the readings of a voltage are rounded to, V: the least by which two of them differ. n, NaN where missing"""
    apart = np.diff(np.unique(np.round(volt[np.isfinite(volt)], 6)))
    return float(apart.min(initial=math.inf)) if apart.size else 0.0


@dataclass(frozen=True)
class Current:
    """Amperes, NaN where not known; read: whether an instrument has read them, and they are not power over voltage"""

    current_a: Numbers
    read: bool


def read_current(volt: Numbers, power_w: Numbers, current_a: Numbers) -> Current:
    """The part's current: as read where it goes with power and voltage, else power over voltage. All n, NaN where missing.

    A current read on a cable of 12 V is not the part's: times the part's voltage it falls far short of the power.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        told = np.where(volt > 0, power_w / volt, np.nan)
        both = np.isfinite(told) & np.isfinite(current_a) & (told > 0)
        ratio = float(np.median(current_a[both] / told[both])) if both.any() else math.nan
    if np.isfinite(current_a).any() and (GOES_WITH[0] <= ratio <= GOES_WITH[1] or not np.isfinite(told).any()):
        return Current(current_a, True)
    return Current(told, False)
