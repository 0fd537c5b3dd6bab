"""A part's curve of clock over voltage: read, learnt from logs, and shaped for a voltage cap and a target clock."""

import itertools
import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.optimize import isotonic_regression

from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused

Numbers = npt.NDArray[np.float64]

# Common practice: clocks take effect in steps of 15 MHz, and tools allow offsets of up to 1000 MHz.
GRID_MHZ, MOST_OFFSET_MHZ = 15.0, 1000.0
LOW_V, HIGH_V, HIGH_MHZ = 0.2, 6.0, 20_000.0
MOST_POINTS = 500
# A learnt curve has a point every so many volts, where the part spent so many seconds.
LEARN_EVERY_V, LEARN_LEAST_S = 0.0125, 5.0


@dataclass(frozen=True)
class VoltagePoint:
    """A clock at a voltage, MHz and V."""

    voltage_v: float
    core_mhz: float


def check_curve(points: Sequence[VoltagePoint], name: str = "points") -> list[Problem]:
    """What is wrong with a curve, point by point in the order given; empty when it can be used. name: of the field it came in"""
    problems = []
    if len(points) < 2:
        problems.append(Problem(name, "curve_too_short"))
    if len(points) > MOST_POINTS:
        problems.append(Problem(name, "too_many_points", {"count": len(points), "most": MOST_POINTS}))
    for i, one in enumerate(points):
        where = f"{name}.{i}"
        if not (math.isfinite(one.voltage_v) and LOW_V <= one.voltage_v <= HIGH_V):
            problems.append(
                Problem(
                    f"{where}.voltage_v",
                    "point_voltage_impossible",
                    {"voltage_v": one.voltage_v, "low_v": LOW_V, "high_v": HIGH_V},
                )
            )
        if not (math.isfinite(one.core_mhz) and 0 < one.core_mhz <= HIGH_MHZ):
            problems.append(Problem(f"{where}.core_mhz", "point_clock_impossible", {"core_mhz": one.core_mhz}))
    if problems:
        return problems
    ordered = sorted(enumerate(points), key=lambda one: one[1].voltage_v)
    for (_, a), (i, b) in itertools.pairwise(ordered):
        if a.voltage_v == b.voltage_v:
            problems.append(
                Problem(
                    f"{name}.{i}.voltage_v",
                    "points_at_one_voltage",
                    {"voltage_v": b.voltage_v, "first_mhz": a.core_mhz, "second_mhz": b.core_mhz},
                )
            )
        elif b.core_mhz < a.core_mhz:
            problems.append(
                Problem(
                    f"{name}.{i}.core_mhz",
                    "curve_falls",
                    {"from_mhz": a.core_mhz, "to_mhz": b.core_mhz, "from_v": a.voltage_v, "to_v": b.voltage_v},
                )
            )
    return problems


def in_order(points: Sequence[VoltagePoint]) -> list[VoltagePoint]:
    """The curve from its lowest voltage up. Refused when it is none."""
    if problems := check_curve(points):
        raise Refused(*problems)
    return sorted(points, key=lambda one: one.voltage_v)


def learn_curve(time_s: Numbers, voltage_v: Numbers, core_mhz: Numbers) -> list[VoltagePoint]:
    """The curve that a log walked along: middle clock at each voltage where the part stayed long enough, made never to fall.

    time_s, voltage_v, core_mhz: n, NaN where missing. From logs at stock, in which heat, power or load moved the clock.
    A log that stayed at one point gives fewer than two points, and no curve. Source: isotonic regression (in scipy).
    """
    present = np.isfinite(voltage_v) & np.isfinite(core_mhz) & (voltage_v > 0) & (core_mhz > 0)
    if present.sum() < 2:
        return []
    every_s = float(np.median(np.diff(time_s))) if time_s.size > 1 else 1.0
    place = np.round(voltage_v[present] / LEARN_EVERY_V).astype(np.int64)
    clocks = core_mhz[present]
    found = [
        (number * LEARN_EVERY_V, float(np.median(clocks[place == number])), int((place == number).sum()))
        for number in np.unique(place)
        if (place == number).sum() * every_s >= LEARN_LEAST_S
    ]
    if len(found) < 2:
        return []
    volts, middles, counts = (np.array(side) for side in zip(*found, strict=True))
    never_falls = isotonic_regression(middles, weights=counts.astype(np.float64)).x
    return [VoltagePoint(round(float(v), 4), round(float(mhz), 1)) for v, mhz in zip(volts, never_falls, strict=True)]


def clock_at(curve: Sequence[VoltagePoint], voltage_v: float) -> float | None:
    """The curve's clock at a voltage in MHz, in a straight line between its points; None beyond its ends."""
    if not curve[0].voltage_v - 1e-9 <= voltage_v <= curve[-1].voltage_v + 1e-9:
        return None
    return float(np.interp(voltage_v, [one.voltage_v for one in curve], [one.core_mhz for one in curve]))


def read_curve(text: str) -> list[VoltagePoint]:
    """A curve from text: a voltage and a clock a line, apart by semicolon, tab, comma or blanks; mV where no voltage is below 10.

    A first line without numbers is a header. Decimal commas count where semicolons or tabs part the columns.
    Refused naming the line that cannot be read.
    """
    rows: list[tuple[float, float]] = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        by = r"[;\t]" if re.search(r"[;\t]", line) else r"[,\s]+"
        cells = [one.strip().replace(",", ".") for one in re.split(by, line.strip()) if one.strip()]
        try:
            volt, clock = (float(cell) for cell in cells[:2])
        except ValueError:
            if not rows and not re.match(r"[\s+-]*\d", line):
                continue
            raise Refused(Problem(f"line {number}", "not_a_voltage_and_clock", {"typed": line.strip()[:40]})) from None
        rows.append((volt, clock))
    in_mv = bool(rows) and all(volt >= 10 for volt, _ in rows)
    return in_order([VoltagePoint(volt / 1000 if in_mv else volt, clock) for volt, clock in rows])


@dataclass(frozen=True)
class ShapedPoint:
    """A point of the new curve: what it was, what it is to be, and the offset that makes it so, MHz"""

    voltage_v: float
    stock_mhz: float
    core_mhz: float
    offset_mhz: float


@dataclass(frozen=True)
class Shaped:
    """A curve shaped for a cap and a target.

    reaches_mhz: the clock set at the cap, on the grid; got_mhz: the clock to expect there, less the steady difference
    needed_mhz: offset at the cap for the target; highest_mhz: highest clock that the tool's largest offset allows at the cap
    lowest_v: least voltage of the curve at which the target can be set; None where it can nowhere
    """

    points: list[ShapedPoint]
    reaches_mhz: float
    got_mhz: float
    needed_mhz: float
    highest_mhz: float
    lowest_v: float | None
    says: Message


def shape(
    curve: Sequence[VoltagePoint],
    cap_v: float,
    target_mhz: float,
    gap_mhz: float = 0.0,
    grid_mhz: float = GRID_MHZ,
    most_offset_mhz: float = MOST_OFFSET_MHZ,
) -> Shaped:
    """The new curve: as it was below the cap, the target at the cap, beyond it as near below the target as steps allow.

    Every offset is a whole number of steps, rounded down: no point stands above the clock at the cap, where the part stays.

    gap_mhz: by how much the clock got stays below the clock set; grid_mhz: steps in which an offset takes effect
    most_offset_mhz: the tool's largest offset. Refused for a cap beyond the curve, or a target of nothing.
    """
    points = in_order(curve)
    if not (math.isfinite(target_mhz) and 0 < target_mhz <= HIGH_MHZ):
        raise Refused(Problem("target_mhz", "target_clock_impossible", {"target_mhz": target_mhz}))
    if not (math.isfinite(grid_mhz) and grid_mhz > 0 and math.isfinite(most_offset_mhz) and most_offset_mhz >= 0):
        raise Refused(Problem("grid_mhz", "grid_not_above_zero"))
    at_cap = clock_at(points, cap_v)
    if at_cap is None:
        low, high = points[0].voltage_v, points[-1].voltage_v
        raise Refused(
            Problem("cap_v", "cap_beyond_curve", {"cap_mv": 1000 * cap_v, "low_mv": 1000 * low, "high_mv": 1000 * high})
        )
    needed = target_mhz - at_cap
    highest = at_cap + on_grid(most_offset_mhz, grid_mhz)
    offset = on_grid(min(max(needed, -most_offset_mhz), most_offset_mhz), grid_mhz)
    reaches = at_cap + offset
    # what stood above the target already comes down to it: a curve never falls
    made = [
        _shaped(point, min(on_grid(reaches - point.core_mhz, grid_mhz), 0.0))
        for point in points
        if point.voltage_v < cap_v - 1e-9
    ]
    made.append(ShapedPoint(cap_v, at_cap, reaches, offset))
    made += [
        _shaped(point, on_grid(reaches - point.core_mhz, grid_mhz))
        for point in points
        if point.voltage_v > cap_v + 1e-9
    ]
    lowest = _lowest_v(points, target_mhz, grid_mhz, most_offset_mhz)
    says = _said(cap_v, target_mhz, needed, reaches, highest, lowest, most_offset_mhz)
    return Shaped(made, reaches, reaches - gap_mhz, needed, highest, lowest, says)


def _shaped(point: VoltagePoint, offset_mhz: float) -> ShapedPoint:
    return ShapedPoint(point.voltage_v, point.core_mhz, point.core_mhz + offset_mhz, offset_mhz)


def on_grid(offset_mhz: float, grid_mhz: float) -> float:
    """The offset that takes effect: whole steps, rounded down."""
    return math.floor(offset_mhz / grid_mhz + 1e-9) * grid_mhz


def _lowest_v(
    points: Sequence[VoltagePoint], target_mhz: float, grid_mhz: float, most_offset_mhz: float
) -> float | None:
    least = target_mhz - on_grid(most_offset_mhz, grid_mhz)
    if least <= points[0].core_mhz:
        return points[0].voltage_v
    for a, b in itertools.pairwise(points):
        if b.core_mhz >= least:
            share = (least - a.core_mhz) / (b.core_mhz - a.core_mhz)
            return a.voltage_v + share * (b.voltage_v - a.voltage_v)
    return None


def _said(
    cap_v: float,
    target_mhz: float,
    needed: float,
    reaches: float,
    highest: float,
    lowest: float | None,
    most_offset_mhz: float,
) -> Message:
    at = {"target_mhz": target_mhz, "cap_mv": 1000 * cap_v}
    if needed > most_offset_mhz:
        at_mv = None if lowest is None else 1000 * math.ceil(lowest * 200 - 1e-9) / 200
        return message(
            "target_needs_more", needed_mhz=needed, most_mhz=most_offset_mhz, highest_mhz=highest, at_mv=at_mv, **at
        )
    if needed < -most_offset_mhz:
        return message("target_too_far_below", most_mhz=most_offset_mhz, **at)
    snapped = None if abs(reaches - target_mhz) < 0.5 else message("takes_effect_below", reaches_mhz=reaches)
    return message("target_needs_offset", needed_mhz=needed, **at).then(snapped)
