"""A campaign's logs as the heat model takes them: read once, forecast once, and what earlier ones taught."""

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.campaign import Run
from trelvo.core.case import Case
from trelvo.core.laws.heat import HeatForecast, Interval, Trace, after_runs, forecast
from trelvo.core.laws.heat_finding import HeatFinding, can_stop, heat_finding
from trelvo.core.laws.heat_fit import Belief
from trelvo.core.problems import Refused
from trelvo.logbook.models import LiveRun
from trelvo.logbook.rows.kept_logs import LogRow, PartLog, readings_of, sent_part, telemetry_of
from trelvo.logbook.rows.live_series import sent_of

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


class Remembered:
    """Forecasts that do not change: a kept log never does. Least used go first."""

    def __init__(self, most: int) -> None:
        self._most, self._kept = most, OrderedDict[tuple[object, ...], HeatForecast | Refused]()

    def of(self, key: tuple[object, ...], trace: Trace, before: Belief | None) -> HeatForecast | Refused:
        found = self._kept.get(key)
        if found is None:
            try:
                found = forecast(trace, before)
            except Refused as refused:
                found = refused
            self._kept[key] = found
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return found


REMEMBERED = Remembered(2000)


@dataclass(frozen=True)
class Logged:
    """A kept log with its run and campaign, and what it foretells by itself."""

    row: LogRow
    case: Case
    run: Run
    trace: Trace
    found: HeatForecast | Refused

    @property
    def key(self) -> tuple[object, ...]:
        return self.row.uid, self.trace.room_c

    @property
    def told(self) -> HeatForecast | None:
        """The forecast, where the log says anything that fits."""
        return self.found if isinstance(self.found, HeatForecast) and self.found.fits else None


def logged_heat(campaigns: Sequence[Case]) -> tuple[list[Logged], int]:
    """The newest logs of a rig that may say something, each read by itself; and how many there are."""
    runs = {run.id: (case, run) for case in campaigns for run in case.campaign.runs}
    # a log may have come since the snapshots were made
    kept = telemetry_of([case.campaign.id for case in campaigns])
    rows = [row for row in kept if row.run_id in runs and _may_tell(row)]
    rows.sort(key=lambda row: (runs[row.run_id][1].started_at, row.id))
    newest = rows[-MOST_LOGS:]
    made = [runs[row.run_id] for row in newest]
    rooms = {run.id: facts.room_c for case, run in made for facts in case.facts([run])}
    logs = readings_of(newest)
    found = []
    for row in newest:
        trace = _traced(logs[row.id], rooms.get(row.run_id))
        if trace.time_s.size and float(trace.time_s[-1]) >= LONG_ENOUGH_S:
            found.append(Logged(row, *runs[row.run_id], trace, REMEMBERED.of((row.uid, trace.room_c), trace, None)))
    return found, len(rows)


def _may_tell(row: LogRow) -> bool:
    return any(channel["quantity"] == "temperature" for channel in row.channels)


def _traced(log: PartLog, room_c: float | None) -> Trace:
    nothing = np.full(log.time_s.size, np.nan)
    readings = log.readings
    return Trace(log.time_s, readings.get("temperature", nothing), readings.get("power"), readings.get("fan"), room_c)


def fan_of(trace: Trace) -> float | None:
    """The fan over the last tenth of the log, %."""
    if trace.fan_percent is None:
        return None
    late = trace.fan_percent[-max(trace.fan_percent.size // 10, 1) :]
    return float(np.nanmean(late)) if np.isfinite(late).any() else None


def earlier_of(fitting_id: int, earlier: Sequence[Logged]) -> list[Logged]:
    """Earlier logs of the same fitting that fit, the newest few."""
    return [each for each in earlier if each.run.fitting_id == fitting_id and each.told][-LEARN_FROM:]


def learnt_from(before: Sequence[Logged]) -> Belief | None:
    """What they have taught; each step of the chain is remembered."""
    keys = {id(one.trace): one.key for one in before}
    chain: list[tuple[object, ...]] = []

    def tell(trace: Trace, belief: Belief | None) -> HeatForecast:
        chain.append(keys[id(trace)])
        found = REMEMBERED.of(("learnt", *chain), trace, belief)
        if isinstance(found, Refused):
            raise found
        return found

    return after_runs([one.trace for one in before], tell)


def heat_now(campaigns: Sequence[Case], live: LiveRun) -> HeatNow:
    """What a live run foretells, knowing the fitting's earlier logs."""
    logged, _ = logged_heat(campaigns)
    before = earlier_of(live.run.fitting_id, [one for one in logged if one.row.run_id != live.run_id])
    sent = sent_of(live, list(live.chunks.all()))
    own = next(case for case in campaigns if case.campaign.id == live.run.campaign_id)
    room = next((one.room_c for one in own.facts([run for run in own.campaign.runs if run.id == live.run_id])), None)
    try:
        found = forecast(_traced(sent_part(live, sent), room), learnt_from(before))
    except Refused as refused:
        return HeatNow(heat_finding(refused), False, None)
    return HeatNow(heat_finding(found), can_stop(found), found.settles_c if found.fits else None)
