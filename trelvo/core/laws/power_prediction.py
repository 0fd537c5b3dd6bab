"""What a setting not yet tried would reach and draw: how clock and voltage follow the knobs, and where the power limit
holds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.base.knobs import Knob, part_limits, whole_limit
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.linear_model import Line, Numbers, fit_line
from trelvo.core.laws.power_limit_curve import CurvePlace, OwnCurve, fit_own_curve
from trelvo.core.laws.power_model import PowerLaw, PowerPoint
from trelvo.core.problems import Problem
from trelvo.core.registry.roles import Role

# What one unit of a knob is believed to do to the clock reached in MHz and to the voltage reached in V, before any
# setting: for MHz of core clock, mV of voltage, one of a multiplier or a bus clock. (mean, deviation). Common practice.
_CLOCK: dict[Role, tuple[float, float]] = {
    "core clock": (1.0, 0.2), "voltage": (0.0, 0.15), "multiplier": (0.0, 400.0), "bus clock": (0.0, 10.0),
}  # fmt: skip
_VOLT: dict[Role, tuple[float, float]] = {
    "core clock": (0.0, 0.0002), "voltage": (0.001, 0.0002), "load line": (0.0, 0.001), "multiplier": (0.0, 0.05),
}  # fmt: skip
_NOTHING = (0.0, 1e-9)
# A run this close to the most that any run drew for its limit is held by the limit. Common practice: controllers stay
# just below.
AT_LIMIT = 0.97
# What draws less than this share of the limit is not held by it. Common practice.
CLEAR = 0.75
# A limit that no knob turns: as many settings drew the same, give or take this share, that ought to differ by more.
# Settings just below a limit must not be taken for settings at it, since nothing tells them apart by another value of it.
FIXED, AT_FIXED, LEAST_FLAT, SAME_WATTS, OUGHT_TO_DIFFER = 1.0, 0.985, 3, 0.008, 0.06


@dataclass(frozen=True)
class Reached:
    """How clock and voltage follow the knobs where no limit holds: a line in each knob's own unit."""

    clock: Line
    voltage: Line
    knobs: tuple[Knob, ...]
    workloads: tuple[int, ...]

    def row(self, workload_id: int, values: Mapping[str, float]) -> Numbers:
        count = len(self.workloads)
        found = np.zeros(count + len(self.knobs))
        found[self.workloads.index(workload_id)] = 1.0
        for place, knob in enumerate(self.knobs):
            found[count + place] = values.get(knob.key, knob.stock) - knob.stock
        return found


@dataclass(frozen=True)
class PowerCap:
    """What the power limit lets through: slope times its value and a constant, in W. knob: None where nothing turns it

    shown: whether it was seen to hold (runs at several settings drew as much as any for their limit), or its watts are known;
    else it is a guess, and tried: the lowest value at which it did not matter
    """

    knob: Knob | None
    line: Line
    shown: bool
    tried: float

    def value(self, values: Mapping[str, float]) -> float:
        return values.get(self.knob.key, self.knob.stock) if self.knob else FIXED

    def at(self, values: Mapping[str, float]) -> Interval:
        return self.line.reading_at(np.array([1.0, self.value(values)]))


@dataclass(frozen=True)
class Model:
    """All that predicts a part's power from its knobs. held: settings whose runs the limit held; apart: limits of single
    parts within it, of which the law knows nothing

    curve: what a limit walks the part along; free: workloads with a run that it did not hold: of the others it is not known what
    the part would reach without it
    """

    law: PowerLaw
    reached: Reached
    cap: PowerCap | None
    held: frozenset[int]
    curve: OwnCurve
    free: frozenset[int]
    apart: tuple[Knob, ...] = ()


@dataclass(frozen=True)
class Predicted:
    """What a setting would reach and draw under a workload. held: by the power limit; why: what is missing to tell the
    rest"""

    core_mhz: Interval | None
    voltage_v: Interval | None
    power_w: Interval | None
    held: bool
    why: tuple[Problem, ...] = ()


def fit_model(
    law: PowerLaw,
    points: Sequence[PowerPoint],
    settings: Mapping[int, Mapping[str, float]],
    knobs: Sequence[Knob],
    limit_w: float | None = None,
) -> Model:
    """How knobs move clock, voltage and watts, from the points that the law was fitted to.

    settings: values of each point's setting by knob key, stock left out; knobs: every knob of the campaign
    limit_w: the power limit at stock as the same instrument shows it, where it is known
    """
    cap, held = _fit_cap(points, settings, knobs, limit_w)
    apart = tuple(part_limits(knobs))
    clear = _clear_of(cap, points, settings)
    free = [
        point
        for point in points
        if (point.setting_id not in held or point.workload_id in clear)
        and not any(knob.key in settings[point.setting_id] for knob in apart)
    ]
    # thousands of runs at a few dozen settings: what the setting alone decides is computed once
    added = {setting_id: _added(settings[setting_id], knobs) for setting_id in {point.setting_id for point in points}}
    curve = fit_own_curve([_place(point, *added[point.setting_id]) for point in points])
    reached = _fit_reached(free, settings, knobs, law)
    return Model(law, reached, cap, held, curve, frozenset(one.workload_id for one in free), apart)


def _clear_of(
    cap: PowerCap | None, points: Sequence[PowerPoint], settings: Mapping[int, Mapping[str, float]]
) -> frozenset[int]:
    """Workloads so light that the limit matters at no setting they were run at, whatever it does to others there."""
    if cap is None:
        return frozenset()
    lets_w = {setting_id: cap.at(settings[setting_id]).value for setting_id in {point.setting_id for point in points}}
    near = {point.workload_id for point in points if point.power_w >= CLEAR * lets_w[point.setting_id]}
    return frozenset(point.workload_id for point in points) - near


def _place(one: PowerPoint, mhz: float, volt: float) -> CurvePlace:
    return CurvePlace(one.workload_id, max(one.core_mhz - mhz, 1.0), max(one.voltage_v - volt, 1e-3))


def _added(values: Mapping[str, float], knobs: Sequence[Knob]) -> tuple[float, float]:
    """What the knobs are believed to add to the part's own clock in MHz and voltage in V."""
    turned = [(knob, values.get(knob.key, knob.stock) - knob.stock) for knob in knobs]
    return (
        sum(by * _believed(_CLOCK, knob)[0] for knob, by in turned),
        sum(by * _believed(_VOLT, knob)[0] for knob, by in turned),
    )


def _fit_cap(
    points: Sequence[PowerPoint],
    settings: Mapping[int, Mapping[str, float]],
    knobs: Sequence[Knob],
    limit_w: float | None,
) -> tuple[PowerCap | None, frozenset[int]]:
    knob = whole_limit(knobs)
    if knob is not None and knob.stock <= 0:
        return None, frozenset()
    stock = knob.stock if knob else FIXED
    limits = {point.setting_id: settings[point.setting_id].get(knob.key, stock) if knob else stock for point in points}
    ratios: dict[int, list[float]] = {point.setting_id: [] for point in points}
    for point in points:
        ratios[point.setting_id].append(point.power_w / max(limits[point.setting_id], 1e-9))
    highest = {setting: max(some) for setting, some in ratios.items()}
    most = max([*highest.values(), *([limit_w / stock] if limit_w else [])])
    near = AT_LIMIT if knob else AT_FIXED
    held = frozenset(setting for setting, ratio in highest.items() if ratio >= near * most)
    shown = limit_w is not None or (len(held) > 1 if knob else _flat(held, highest, settings, knobs, points))
    if knob is None and not shown:
        return None, frozenset()
    at_limit = [
        point
        for point in points
        if point.setting_id in held and point.power_w >= near * most * limits[point.setting_id]
    ]
    watts = np.array([one.power_w for one in at_limit])
    mean = float(np.mean([point.power_w for point in points]))
    columns = np.array([(1.0, limits[one.setting_id]) for one in at_limit]).reshape(-1, 2)
    # without a second limit there is nothing to tell slope from constant: proportional, give or take a little
    line = fit_line(columns, watts, np.array([0.0, most]), np.array([0.05 * mean, 0.05 * most]), 0.01 * mean)
    return PowerCap(knob, line, shown, min(limits.values())), held if shown else frozenset()


def _flat(
    held: frozenset[int],
    highest: Mapping[int, float],
    settings: Mapping[int, Mapping[str, float]],
    knobs: Sequence[Knob],
    points: Sequence[PowerPoint],
) -> bool:
    """Whether settings that ought to differ in watts draw the same: a limit that nothing turns. Common practice."""
    if len(held) < LEAST_FLAT:
        return False
    mhz, volt = (float(np.mean([getattr(point, name) for point in points])) for name in ("core_mhz", "voltage_v"))

    def ought(values: Mapping[str, float]) -> float:
        ratio = 1.0
        for knob in knobs:
            turned = values.get(knob.key, knob.stock) - knob.stock
            if knob.role == "core clock" and knob.unit == "MHz":
                ratio *= 1 + turned / mhz
            elif knob.role == "voltage" and knob.unit in ("mV", "V"):
                ratio *= (1 + turned / (volt * (1000 if knob.unit == "mV" else 1))) ** 2
        return ratio

    drawn = [highest[one] for one in held]
    differ = [ought(settings[one]) for one in held]
    return float(np.ptp(differ)) >= OUGHT_TO_DIFFER and float(np.std(drawn)) <= SAME_WATTS * float(np.mean(drawn))


def _fit_reached(
    points: Sequence[PowerPoint], settings: Mapping[int, Mapping[str, float]], knobs: Sequence[Knob], law: PowerLaw
) -> Reached:
    turned = tuple(knob for knob in knobs if knob.role in _CLOCK or knob.role in _VOLT)
    shape = Reached(_NO_LINE, _NO_LINE, turned, law.workloads)
    ran = [(point.workload_id, point.setting_id) for point in points]
    rows = {(workload, setting): shape.row(workload, settings[setting]) for workload, setting in set(ran)}
    columns = np.array([rows[one] for one in ran])
    columns = columns.reshape(-1, len(law.workloads) + len(turned))
    mhz, volt = (
        (float(np.mean([getattr(point, name) for point in points])) for name in ("core_mhz", "voltage_v"))
        if points
        else (law.mhz, law.volt)
    )

    def line(name: str, middle: float, believed: Mapping[Role, tuple[float, float]], scatter: float) -> Line:
        prior = [(middle, 0.1 * middle)] * len(law.workloads) + [_believed(believed, knob) for knob in turned]
        means, spreads = (np.array(side) for side in zip(*prior, strict=True))
        return fit_line(columns, np.array([getattr(point, name) for point in points]), means, spreads, scatter)

    return Reached(
        line("core_mhz", mhz, _CLOCK, 0.003 * mhz), line("voltage_v", volt, _VOLT, 0.004 * volt), turned, law.workloads
    )


def _believed(of: Mapping[Role, tuple[float, float]], knob: Knob) -> tuple[float, float]:
    """A voltage typed in volts moves a thousand times as much as one in millivolts."""
    mean, deviation = of.get(knob.role, _NOTHING)
    factor = 1000.0 if knob.role == "voltage" and knob.unit == "V" else 1.0
    return mean * factor, deviation * factor


_NO_LINE = Line(np.empty(0), np.empty((0, 0)), 0.0, 0)


def predict(model: Model, workload_id: int, values: Mapping[str, float]) -> Predicted:
    """Clock, voltage and watts at a setting. values: by knob key, stock left out. KeyError for a workload that the law
    lacks"""
    if alone := [knob.name for knob in model.apart if values.get(knob.key, knob.stock) != knob.stock]:
        return Predicted(None, None, None, False, (Problem("power", "told_by_the_budget", {"knob": alone[0]}),))
    law, row = model.law, model.reached.row(workload_id, values)
    clock, volt = model.reached.clock.at(row), model.reached.voltage.at(row)
    free = _free_power(law, workload_id, clock, volt)
    knob = model.cap.knob if model.cap else None
    if model.cap and knob and not model.cap.shown and model.cap.value(values) < model.cap.tried:
        why = (Problem("power", "limit_not_seen_to_hold", {"knob": knob.name}),)
        return Predicted(None, None, None, False, why)
    cap = model.cap.at(values) if model.cap and model.cap.shown else None
    if cap is not None and workload_id not in model.free:
        return _walked(model, workload_id, values, cap, None)
    if cap is None or free.value <= cap.value:
        high = min(free.high, max(cap.high, free.value)) if cap else free.high
        return Predicted(clock, volt, Interval(free.value, free.low, high), False)
    return _walked(model, workload_id, values, cap, clock)


def _walked(
    model: Model, workload_id: int, values: Mapping[str, float], cap: Interval, free: Interval | None
) -> Predicted:
    """Where the limit holds: clock and voltage come down together along the part's own curve. free: the clock without it, where
    that is known"""
    added = _added(values, model.reached.knobs)
    found = model.curve.walked_to(model.law, workload_id, cap, *added, free.value if free else None)
    if found is None and cap.value <= model.law.base_w.value:
        why = (Problem("power", "limit_below_least_draw"),)
        return Predicted(None, None, None, False, why)
    if found is None:
        why = (Problem("power", "unlimited_not_seen"),)
        return Predicted(None, None, None, False, why)
    return Predicted(found.core_mhz, found.voltage_v, found.power_w, True)


def _free_power(law: PowerLaw, workload_id: int, clock: Interval, volt: Interval) -> Interval:
    """Watts by the law; what is not known of clock and voltage moves them as the law says."""
    power = law.watts(workload_id, clock.value, volt.value)
    part = power.value - law.base_w.value
    by_clock = (clock.high - clock.low) / 2 / max(clock.value, 1e-9)
    by_volt = (volt.high - volt.low) / max(volt.value, 1e-9)
    wide = float(np.hypot((power.high - power.low) / 2, part * np.hypot(by_clock, by_volt)))
    return Interval(power.value, max(power.value - wide, 0.0), power.value + wide)


@dataclass(frozen=True)
class KnobCost:
    """What one step of a knob away from stock costs (positive) or saves in W under a workload, and what it does to the clock."""

    key: str
    name: str
    by: float
    unit: str
    watts: float
    core_mhz: float


def knob_costs(model: Model, workload_id: int, values: Mapping[str, float]) -> list[KnobCost]:
    """The price of one step of every knob from a setting; of those that a law speaks of and whose range allows it."""
    here = predict(model, workload_id, values)
    found: list[KnobCost] = []
    for knob in [*model.reached.knobs, *([model.cap.knob] if model.cap and model.cap.knob else [])]:
        by = knob.step * knob.away
        there = values.get(knob.key, knob.stock) + by
        then = predict(model, workload_id, {**values, knob.key: there})
        if knob.low <= there <= knob.high and here.power_w and here.core_mhz and then.power_w and then.core_mhz:
            watts, mhz = then.power_w.value - here.power_w.value, then.core_mhz.value - here.core_mhz.value
            found.append(KnobCost(knob.key, knob.name, by, knob.unit, watts, mhz))
    return found
