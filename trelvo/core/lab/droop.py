"""The laboratory's droop: what the part's voltage loses under current, from the campaign's logs."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.case import Case
from trelvo.core.laws.droop import DroopPoint, learn_droop, read_current, steady_points, voltage_step
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.vf_curve import GRID_MHZ
from trelvo.core.logs.kept import LogHeader, Logs
from trelvo.core.problems import Problem, Refused

# The newest logs that have what is needed are looked at.
MOST_LOGS = 40


@dataclass(frozen=True)
class DroopLine:
    """One setting of the load line. title: empty where the campaign has no such knob; lost_v: at the highest current

    no_load_v, arrives_v: at a clock without current and at the highest; least_a, most_a: what was seen here
    """

    title: str
    mohm: Interval
    lost_v: Interval
    clock_mhz: float
    no_load_v: float
    arrives_v: float
    least_a: float
    most_a: float


@dataclass(frozen=True)
class DroopView:
    """lines: the setting that keeps most first; current_a: the highest seen

    logs: how many it rests on; read: whether the current was read, and not told from power and voltage
    refused: why nothing is told
    """

    lines: list[DroopLine]
    current_a: float | None
    logs: int
    read: bool
    fits: bool
    falls: bool
    refused: tuple[Problem, ...]


def droop_view(case: Case, logs: Logs) -> DroopView:
    """Estimate the load line of the judged build from the campaign's logs."""
    clock = next((knob for knob in case.campaign.knobs if knob.role == "core clock" and knob.unit == "MHz"), None)
    line = next((knob for knob in case.campaign.knobs if knob.role == "load line"), None)
    grid = clock.step if clock else GRID_MHZ
    count, points, read, step_v = _points(case, logs, line, grid)
    try:
        found = learn_droop(points, grid, step_v)
    except Refused as refused:
        return DroopView([], None, count, read, True, True, refused.problems)
    lines = sorted(found.lines, key=lambda one: one.mohm.value)
    return DroopView(
        [
            DroopLine(
                f"{line.name} {describe_value(line, one.level)}" if line else "",
                one.mohm,
                one.lost_v,
                one.clock_mhz,
                one.no_load_v,
                one.arrives_v,
                *one.amperes,
            )
            for one in lines
        ],
        found.current_a,
        count,
        read,
        found.fits,
        found.falls,
        (),
    )


def _points(case: Case, logs: Logs, line: Knob | None, grid: float) -> tuple[int, list[DroopPoint], bool, float]:
    """How many logs, their points, whether a current was read, and what voltages are rounded to at the most, V.

    A run's means are over many clocks: they say nothing here.
    """
    build = case.campaign.judged_build
    values = {setting.id: setting.values for setting in case.campaign.settings if not _reshaped(case, setting.values)}
    runs = {
        run.id: run
        for run in case.campaign.runs
        if build and run.build_id == build.id and run.aside is None and run.setting_id in values
    }
    build_logs = [header for header in logs.headers if header.run_id in runs and _has_what_it_takes(header)]
    newest = sorted(build_logs, key=lambda header: header.id)[-MOST_LOGS:]
    readings = logs.read(newest)
    points: list[DroopPoint] = []
    read, step_v = False, 0.0
    for header in newest:
        log, at = readings[header.id], values[runs[header.run_id].setting_id]
        volt, nothing = log.readings["voltage"], np.full(log.time_s.size, np.nan)
        step_v = max(step_v, voltage_step(volt))
        current = read_current(volt, log.readings.get("power", nothing), log.readings.get("current", nothing))
        read = read or current.read
        moved = log.readings["core clock"] - _raised(case, "core clock", "MHz", at)
        points += steady_points(
            log.time_s, moved, volt - _raised_v(case, at), current.current_a, _level(line, at), grid
        )
    return len(newest), points, read, step_v


def _has_what_it_takes(header: LogHeader) -> bool:
    there = {channel["quantity"] for channel in header.channels}
    return {"voltage", "core clock"} <= there and bool({"power", "current"} & there)


def _reshaped(case: Case, values: Mapping[str, float]) -> bool:
    """Whether a setting has another curve of clock over voltage, so that its voltages cannot be set beside the others'."""
    return any(knob.role == "curve point" and knob.key in values for knob in case.campaign.knobs)


def _level(line: Knob | None, values: Mapping[str, float]) -> float:
    return 0.0 if line is None else float(values.get(line.key, line.stock))


def _raised(case: Case, role: str, unit: str, values: Mapping[str, float]) -> float:
    """By how much a setting moves what a knob of this role and unit stands for, where the knob is an offset or a fixed value."""
    return sum(
        float(values[knob.key]) - knob.stock
        for knob in case.campaign.knobs
        if (knob.role, knob.unit) == (role, unit) and knob.key in values
    )


def _raised_v(case: Case, values: Mapping[str, float]) -> float:
    return _raised(case, "voltage", "V", values) + _raised(case, "voltage", "mV", values) / 1000
