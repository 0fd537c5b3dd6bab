"""The laboratory's curve: clock over voltage, shaped for a cap and a target, and the edge over both knobs."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import heaviest, loads_for
from trelvo.core.base.runs import mean_of
from trelvo.core.case import Case
from trelvo.core.climb.edge_plane import (
    EdgeAt,
    EdgePlane,
    LowestVoltage,
    NextPair,
    Steps,
    edge_line,
    lowest_voltage,
    next_pair,
)
from trelvo.core.climb.policy import largest_step
from trelvo.core.lab.plane import seen_plane
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.vf_curve import GRID_MHZ, MOST_OFFSET_MHZ, Shaped, VoltagePoint, learn_curve, shape
from trelvo.core.logs.kept import Logs
from trelvo.core.predicted_power import Read, read_power
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.way import policy_for

Source = Literal["typed", "learnt from logs", "none yet"]
# Roles that may be turned beside clock and voltage without moving the edge.
MOST_VOLTAGES = 9


@dataclass(frozen=True)
class AtCap:
    """What the shaped curve would do at its cap under the workload whose power the law knows best. None where no law is known"""

    workload: str
    power_w: Interval | None
    stock_w: float | None
    clock_ratio: float | None


@dataclass(frozen=True)
class PairMark:
    """A run at a pair of the two knobs. run_id: to look it up"""

    run_id: int
    voltage: float
    clock: float
    minutes: float
    failed: bool
    outcome: Outcome


@dataclass(frozen=True)
class PlaneView:
    """The edge over two knobs. next: the pair to test next, None where the lines are known well enough

    load_id: the workload to test it with; setting_id: the pair's setting where it is there already
    lowest: for the clock asked for (stock's where none is), None where no voltage holds it
    """

    clock: Knob
    voltage: Knob
    line: list[EdgeAt]
    marks: list[PairMark]
    next: NextPair | None
    load_id: int | None
    setting_id: int | None
    lowest: LowestVoltage | None
    accepted_h: float
    sure: float


@dataclass(frozen=True)
class CurveView:
    """curve: what is used; gap_mhz: steady difference of the clock set to the clock got, None where not seen

    refused: why the wished shape cannot be made; plane: None where the campaign has no clock and voltage knob in MHz and mV or V
    """

    source: Source
    curve: list[VoltagePoint]
    learnt: list[VoltagePoint]
    gap_mhz: float | None
    shaped: Shaped | None
    refused: tuple[Problem, ...]
    at_cap: AtCap | None
    plane: PlaneView | None


@dataclass(frozen=True)
class Wish:
    """What the curve is shaped for; grid and largest offset as the tool has them.

    for_clock: value of the clock knob whose lowest voltage is asked for
    """

    cap_v: float | None = None
    target_mhz: float | None = None
    grid_mhz: float = GRID_MHZ
    most_offset_mhz: float = MOST_OFFSET_MHZ
    for_clock: float | None = None


def curve_view(case: Case, logs: Logs, wish: Wish) -> CurveView:
    """The campaign's curve (typed before learnt), the shape wished for, and the edge over clock and voltage."""
    learnt = _learnt(case, logs)
    typed = list(case.campaign.curve)
    source: Source = "typed" if typed else "learnt from logs" if learnt else "none yet"
    curve = typed or learnt
    read = read_power(case)
    gap = _gap(case, typed, read)
    shaped: Shaped | None = None
    refused: tuple[Problem, ...] = ()
    if curve and wish.cap_v is not None and wish.target_mhz is not None:
        try:
            shaped = shape(curve, wish.cap_v, wish.target_mhz, gap or 0.0, wish.grid_mhz, wish.most_offset_mhz)
        except Refused as problem:
            refused = problem.problems
    at_cap = _at_cap(case, read, shaped, wish.cap_v) if shaped and wish.cap_v is not None else None
    return CurveView(
        source=source,
        curve=curve,
        learnt=learnt,
        gap_mhz=gap,
        shaped=shaped,
        refused=refused,
        at_cap=at_cap,
        plane=_plane(case, wish.for_clock),
    )


def _learnt(case: Case, logs: Logs) -> list[VoltagePoint]:
    """From the logs of runs without an offset of clock or voltage: what a power limit walks the part along is its own curve."""
    moves = {
        knob.key
        for knob in case.campaign.knobs
        if knob.role in ("core clock", "voltage", "curve point", "multiplier", "bus clock")
    }
    plain = {setting.id for setting in case.campaign.settings if not moves & set(setting.values)}
    runs = {run.id for run in case.campaign.runs if run.setting_id in plain}
    read = logs.read([header for header in logs.headers if header.run_id in runs]).values()
    complete = [log for log in read if {"voltage", "core clock"} <= set(log.readings)]
    if not complete:
        return []
    return learn_curve(
        np.concatenate([log.time_s for log in complete]),
        np.concatenate([log.readings["voltage"] for log in complete]),
        np.concatenate([log.readings["core clock"] for log in complete]),
    )


def _gap(case: Case, typed: Sequence[VoltagePoint], read: Read) -> float | None:
    """How far the clock got stays below a typed curve at the voltage got, over the runs at stock; a learnt curve has it in it."""
    if len(typed) < 2:
        return None
    volts, clocks = [one.voltage_v for one in typed], [one.core_mhz for one in typed]
    own = [
        point
        for point in read.points
        if point.setting_id == case.campaign.stock.id and volts[0] <= point.voltage_v <= volts[-1]
    ]
    return mean_of(float(np.interp(one.voltage_v, volts, clocks)) - one.core_mhz for one in own)


def _at_cap(case: Case, read: Read, shaped: Shaped, cap_v: float) -> AtCap | None:
    if read.model is None or not read.model.law.fits:
        return None
    law = read.model.law
    used = [point.workload_id for point in read.points]
    workload_id = max(law.workloads, key=used.count)
    stock = [
        point for point in read.points if (point.setting_id, point.workload_id) == (case.campaign.stock.id, workload_id)
    ]
    clock = mean_of(one.core_mhz for one in stock)
    name = next((variant.name for variant in case.campaign.known_variants if variant.id == workload_id), "")
    return AtCap(
        name,
        law.watts(workload_id, shaped.got_mhz, cap_v),
        mean_of(one.power_w for one in stock),
        shaped.got_mhz / clock if clock else None,
    )


def _plane(case: Case, clock: float | None) -> PlaneView | None:
    seen = seen_plane(case)
    if seen is None:
        return None
    outcomes = {run.id: run.outcome for run in case.campaign.runs}
    terms = case.terms
    voltages = _voltages(seen.plane.voltage)
    wanted = next_pair(seen.plane, voltages, 1 / terms.hours, steps=_steps(case, seen.plane))
    load = heaviest(loads_for([seen.plane.clock.part], [one.as_load() for one in case.campaign.testable]))
    asked = seen.plane.clock.stock if clock is None else clock
    return PlaneView(
        clock=seen.plane.clock,
        voltage=seen.plane.voltage,
        line=edge_line(seen.plane, voltages, 1 / terms.hours, terms.sure),
        marks=[
            PairMark(
                mark.run_id, seen.voltage_at[mark.run_id], mark.value, mark.minutes, mark.failed, outcomes[mark.run_id]
            )
            for mark in seen.marks
        ],
        next=wanted,
        load_id=load.id if load else None,
        setting_id=_setting_of(case, seen.plane, wanted) if wanted else None,
        lowest=lowest_voltage(seen.plane, asked, 1 / terms.hours, terms.sure),
        accepted_h=terms.hours,
        sure=terms.sure,
    )


def _setting_of(case: Case, plane: EdgePlane, pair: NextPair) -> int | None:
    """The setting at a pair, all other knobs at stock."""
    at = ((plane.voltage, pair.voltage), (plane.clock, pair.value))
    values = {knob.key: value for knob, value in at if value != knob.stock}
    return next((setting.id for setting in case.campaign.settings if setting.values == values), None)


def _steps(case: Case, plane: EdgePlane) -> Steps:
    """How far a test may go past what has survived, as on a climb of each knob by itself."""
    terms, way = case.terms, case.way
    clock, voltage = (
        largest_step(knob, policy_for(way, terms, knob.key, None)) for knob in (plane.clock, plane.voltage)
    )
    return Steps(clock, voltage)


def _voltages(voltage: Knob) -> list[float]:
    """Stock and as many others as make a line: on the grid, to the end of the range."""
    end = voltage.high if voltage.away == 1 else voltage.low
    steps = round(abs(end - voltage.stock) / voltage.step)
    every = max(1, steps // (MOST_VOLTAGES - 1))
    grid = {round(voltage.stock + voltage.away * k * voltage.step, 9) for k in range(0, steps + 1, every)}
    return sorted(grid, key=lambda one: abs(one - voltage.stock))
