"""A campaign's logs as the heat model takes them: read once, forecast once, and what earlier ones taught."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.campaign import Run
from trelvo.core.case import Case
from trelvo.core.laws.heat import HeatForecast, Interval, Trace, after_runs, forecast
from trelvo.core.laws.heat_finding import HeatFinding, can_stop, heat_finding
from trelvo.core.laws.heat_fit import Belief
from trelvo.core.logs.kept import LogHeader, Logs, PartLog
from trelvo.core.problems import Refused

# The newest logs that are long enough are looked at; the screen says how many there are.
MOST_LOGS = 40
LEARN_FROM = 6
LONG_ENOUGH_S = 60.0


@dataclass(frozen=True)
class HeatNow:
    """What a run that goes on says of its heat so far."""

    says: HeatFinding
    can_stop: bool
    settles_c: Interval | None


@dataclass(frozen=True)
class Logged:
    """A kept log with its run and campaign, and what it predicts by itself."""

    header: LogHeader
    case: Case
    run: Run
    log: PartLog
    trace: Trace
    found: HeatForecast | Refused

    @property
    def key(self) -> tuple[object, ...]:
        return self.header.uid, self.trace.room_c

    @property
    def told(self) -> HeatForecast | None:
        """The forecast, where the log says anything that fits."""
        return self.found if isinstance(self.found, HeatForecast) and self.found.fits else None


def logged_heat(campaigns: Sequence[Case], logs: Logs) -> tuple[list[Logged], int]:
    """The newest logs of a rig that have a temperature, each with its own forecast; and how many such logs there are."""
    runs = {run.id: (case, run) for case in campaigns for run in case.campaign.runs}
    # a log may have come since the snapshots were made
    headers = [header for header in logs.headers if header.run_id in runs and _has_temperature(header)]
    headers.sort(key=lambda header: (runs[header.run_id][1].started_at, header.id))
    newest = headers[-MOST_LOGS:]
    made = [runs[header.run_id] for header in newest]
    rooms = {run.id: facts.room_c for case, run in made for facts in case.facts([run])}
    readings = logs.read(newest)
    found = []
    for header in newest:
        log = readings[header.id]
        trace = trace_of(log, rooms.get(header.run_id))
        if trace.time_s.size and float(trace.time_s[-1]) >= LONG_ENOUGH_S:
            found.append(Logged(header, *runs[header.run_id], log, trace, remembered_forecast(log, trace, None)))
    return found, len(headers)


def remembered_forecast(
    log: PartLog, trace: Trace, belief: Belief | None, taught_by: Sequence[object] = (), until_min: float | None = None
) -> HeatForecast | Refused:
    """Forecast a log's heat; the result lives on the log.

    taught_by: what the belief rests on, by identity; until_min: where only that much of the log is in the trace
    """

    def compute() -> HeatForecast | Refused:
        try:
            return forecast(trace, belief)
        except Refused as refused:
            return refused

    return log.memo.result(("heat", trace.room_c, tuple(taught_by), until_min), compute)


def _has_temperature(header: LogHeader) -> bool:
    return any(channel["quantity"] == "temperature" for channel in header.channels)


def trace_of(log: PartLog, room_c: float | None) -> Trace:
    nothing = np.full(log.time_s.size, np.nan)
    readings = log.readings
    return Trace(log.time_s, readings.get("temperature", nothing), readings.get("power"), readings.get("fan"), room_c)


def fan_of(trace: Trace) -> float | None:
    """The fan over the last tenth of the log, %."""
    if trace.fan_percent is None:
        return None
    late = trace.fan_percent[-max(trace.fan_percent.size // 10, 1) :]
    return float(np.nanmean(late)) if np.isfinite(late).any() else None


def earlier_of(build_id: int, earlier: Sequence[Logged]) -> list[Logged]:
    """Earlier logs of the same build that fit, the newest few."""
    return [each for each in earlier if each.run.build_id == build_id and each.told][-LEARN_FROM:]


def learnt_from(before: Sequence[Logged]) -> Belief | None:
    """What earlier logs have taught; each step of the chain lives on its log."""
    by_trace = {id(one.trace): one for one in before}
    chain: list[tuple[object, ...]] = []

    def tell(trace: Trace, belief: Belief | None) -> HeatForecast:
        one = by_trace[id(trace)]
        found = remembered_forecast(one.log, trace, belief, chain)
        chain.append(one.key)
        if isinstance(found, Refused):
            raise found
        return found

    return after_runs([one.trace for one in before], tell)


def heat_now(campaigns: Sequence[Case], logs: Logs, run: Run, own: PartLog) -> HeatNow:
    """What a run that goes on predicts, knowing the build's earlier logs. own: its readings so far"""
    logged, _ = logged_heat(campaigns, logs)
    before = earlier_of(run.build_id, [one for one in logged if one.header.run_id != run.id])
    case = next(case for case in campaigns if run in case.campaign.runs)
    (facts,) = case.facts([run])
    try:
        found = forecast(trace_of(own, facts.room_c), learnt_from(before))
    except Refused as refused:
        return HeatNow(heat_finding(refused), False, None)
    return HeatNow(heat_finding(found), can_stop(found), found.settles_c if found.fits else None)
