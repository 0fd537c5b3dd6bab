"""The laboratory's heat: what each log predicts, what the cooler is worth, and what a limit asks of it."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from trelvo.core.base.knobs import describe_setting
from trelvo.core.campaign import Setting, titles_of
from trelvo.core.case import Case
from trelvo.core.lab.heat_logs import Logged, earlier_of, fan_of, learnt_from, logged_heat, remembered_forecast
from trelvo.core.laws.cooling import (
    AtNoise,
    BuildCooling,
    Cooling,
    Difference,
    Need,
    at_equal_noise,
    by_build,
    compare,
    cooler_needs,
    use_ladder,
)
from trelvo.core.laws.heat import HeatForecast, Interval, Trace, Way
from trelvo.core.laws.heat_finding import HeatFinding, can_stop, heat_finding
from trelvo.core.laws.heat_model import FAN_REFERENCE
from trelvo.core.laws.sound import FanNoise, fit_noise
from trelvo.core.logs.kept import Logs, Numbers
from trelvo.core.logs.telemetry import thin_keeping_extremes
from trelvo.core.stats.same_instrument import LOUD, by_readers, readers_of, usual

TOLD_AFTER_MIN = (3, 5, 10, 20)
DRAWN_POINTS = 600
USUAL_ROOM_C = 22.0
NO_WAY = Way(*[np.empty(0)] * 4)


@dataclass(frozen=True)
class HeatLog:
    """One log's forecast. refused: why it says nothing; settles_c and the rest are None then. fan_percent: at its end"""

    run_id: int
    series_id: int
    campaign_id: int
    setting: str
    workload: str
    started_at: datetime
    build: int
    lasts_s: float
    room_c: float | None
    power_w: float | None
    fan_percent: float | None
    settles_c: Interval | None
    slow_s: Interval | None
    resistance: Interval | None
    fits: bool
    says: HeatFinding


@dataclass(frozen=True)
class Told:
    """What the log would have predicted, had it ended after so many minutes."""

    after_min: float
    settles_c: Interval


@dataclass(frozen=True)
class HeatTrace:
    """The log that is looked at: readings thinned, the fit with what it predicts, what was told when.

    learnt_from: earlier logs of the same build that the forecast knows
    """

    run_id: int
    time_s: list[float]
    temp_c: list[float]
    way_s: list[float]
    way_c: list[float]
    low_c: list[float]
    high_c: list[float]
    told: list[Told]
    learnt_from: int
    says: HeatFinding
    can_stop: bool


@dataclass(frozen=True)
class BuildLine:
    number: int
    cooling: str
    enclosure: str
    resistance: Interval
    fan_read: bool
    runs: int


@dataclass(frozen=True)
class DifferenceLine:
    """The newer build against the older one, at a power; at_noise: as loud as each other, where both were heard"""

    newer: int
    older: int
    power_w: float
    difference: Difference
    at_noise: AtNoise | None


@dataclass(frozen=True)
class HeatView:
    """of: how many logs there are, of which `logs` shows the newest; limit_c, room_c: what the needs were computed for"""

    logs: list[HeatLog]
    of: int
    trace: HeatTrace | None
    builds: list[BuildLine]
    differences: list[DifferenceLine]
    limit_c: float | None
    room_c: float
    reference_fan: float
    needs: list[Need]
    ladder_setting: str


def heat_view(
    case: Case,
    rig: Sequence[Case],
    logs: Logs,
    run_id: int | None,
    limit_c: float | None,
    room_c: float | None,
    setting_id: int | None,
) -> HeatView:
    """The rig's logs, the chosen run's trace (the newest that says something where none is chosen), coolers and needs.

    rig: every campaign of the rig, this one among them: a cooler is the rig's; logs: theirs
    """
    logged, of = logged_heat(rig, logs)
    numbers = {build.id: build.number for build in case.campaign.builds}
    told = [one for one in logged if one.told]
    chosen = (
        next((one for one in logged if one.header.run_id == run_id), None) if run_id else (told[-1] if told else None)
    )
    builds = by_build(coolings_of(logged))
    at_hand = case.campaign.present_build.id if case.campaign.present_build else None
    own = next((build.resistance for build in reversed(builds) if build.build_id == at_hand), None)
    room = room_c if room_c is not None else _usual_room([one.trace for one in logged])
    limit = limit_c if limit_c is not None else case.campaign.temp_limit_c
    setting = next((one for one in case.campaign.settings if one.id == setting_id), None) or _most_used(case)
    at_setting = [run for run in case.campaign.runs if run.setting_id == setting.id]
    titles = titles_of(case.campaign.known_variants)
    ladder = use_ladder(
        case.facts(at_setting),
        {variant.id: (titles[variant.id], variant.as_load().kind) for variant in case.campaign.known_variants},
    )
    return HeatView(
        logs=[_line(one, numbers[one.run.build_id]) for one in reversed(logged)],
        of=of,
        trace=_trace(chosen, logged) if chosen else None,
        builds=[_build_line(build, case) for build in builds],
        differences=_differences(builds, numbers, told),
        limit_c=limit,
        room_c=room,
        reference_fan=FAN_REFERENCE,
        needs=cooler_needs(ladder, limit, room, own) if limit is not None else [],
        ladder_setting=describe_setting(case.campaign.knobs, setting.values),
    )


def coolings_of(logged: Sequence[Logged]) -> list[Cooling]:
    """The resistances that the logs tell, with the fan at its reference where it was read."""
    return [
        Cooling(one.header.run_id, one.run.build_id, worth, one.told.at_reference is not None)
        for one in logged
        if one.told and (worth := one.told.at_reference or one.told.resistance)
    ]


def _most_used(case: Case) -> Setting:
    """The setting that most different workloads were completed at; the later one of equals, since proofs come last."""
    workloads: dict[int, set[int]] = {}
    for run in case.campaign.runs:
        if run.outcome == "completed" and run.aside is None:
            workloads.setdefault(run.setting_id, set()).add(run.variant_id)
    return max(
        reversed(case.campaign.settings), key=lambda one: len(workloads.get(one.id, ())), default=case.campaign.stock
    )


def _usual_room(traces: Sequence[Trace]) -> float:
    rooms = [trace.room_c for trace in traces if trace.room_c is not None]
    return round(rooms[-1], 1) if rooms else USUAL_ROOM_C


def _line(one: Logged, build: int) -> HeatLog:
    found = one.found if isinstance(one.found, HeatForecast) else None
    setting = next(each for each in one.case.campaign.settings if each.id == one.run.setting_id)
    variant = next(each for each in one.case.campaign.known_variants if each.id == one.run.variant_id)
    return HeatLog(
        run_id=one.header.run_id,
        series_id=one.header.id,
        campaign_id=one.case.campaign.id,
        setting=describe_setting(one.case.campaign.knobs, setting.values),
        workload=variant.name,
        started_at=one.run.started_at,
        build=build,
        lasts_s=float(one.trace.time_s[-1]),
        room_c=one.trace.room_c,
        power_w=found.power_w if found else None,
        fan_percent=fan_of(one.trace),
        settles_c=found.settles_c if found else None,
        slow_s=found.slow_s if found else None,
        resistance=found.resistance if found else None,
        fits=one.told is not None,
        says=heat_finding(one.found),
    )


def _trace(one: Logged, logged: Sequence[Logged]) -> HeatTrace:
    before = earlier_of(one.run.build_id, logged[: logged.index(one)])
    belief = learnt_from(before)
    taught_by = [each.key for each in before]
    found = remembered_forecast(one.log, one.trace, belief, taught_by)
    keep = thin_keeping_extremes(one.trace.temp_c, DRAWN_POINTS)
    told = []
    for minutes in TOLD_AFTER_MIN:
        until = one.trace.time_s <= minutes * 60
        if until.all():
            break
        early = remembered_forecast(one.log, _cut(one.trace, until), belief, taught_by, minutes)
        if isinstance(early, HeatForecast) and early.fits:
            told.append(Told(minutes, early.settles_c))
    way = found.way if isinstance(found, HeatForecast) else NO_WAY
    return HeatTrace(
        run_id=one.header.run_id,
        time_s=_shown(one.trace.time_s[keep]),
        temp_c=_shown(one.trace.temp_c[keep]),
        way_s=_shown(way.time_s),
        way_c=_shown(way.temp_c),
        low_c=_shown(way.low_c),
        high_c=_shown(way.high_c),
        told=told,
        learnt_from=len(before),
        says=heat_finding(found),
        can_stop=isinstance(found, HeatForecast) and can_stop(found),
    )


def _shown(values: Numbers) -> list[float]:
    return [round(float(value), 2) for value in values]


def _cut(trace: Trace, until: np.ndarray) -> Trace:
    def part(values: Numbers | None) -> Numbers | None:
        return None if values is None else values[until]

    return Trace(trace.time_s[until], trace.temp_c[until], part(trace.power_w), part(trace.fan_percent), trace.room_c)


def _build_line(one: BuildCooling, case: Case) -> BuildLine:
    build = next(each for each in case.campaign.builds if each.id == one.build_id)
    return BuildLine(build.number, build.cooling, build.enclosure, one.resistance, one.fan_read, one.runs)


def _differences(
    builds: Sequence[BuildCooling], numbers: dict[int, int], told: Sequence[Logged]
) -> list[DifferenceLine]:
    """Every build against the one before it, at the mean power of the logs."""
    watts = [one.told.power_w for one in told if one.told and one.told.power_w]
    if not watts:
        return []
    power = float(np.mean(watts))
    heard = _noise_laws(told)
    found = []
    ordered = sorted(builds, key=lambda one: numbers[one.build_id])
    for i, newer in enumerate(ordered):
        for older in ordered[:i]:
            if older.build_id != newer.build_id:
                laws = heard.get(newer.build_id), heard.get(older.build_id)
                equal = at_equal_noise(newer, older, laws[0], laws[1], power) if laws[0] and laws[1] else None
                found.append(
                    DifferenceLine(
                        numbers[newer.build_id], numbers[older.build_id], power, compare(newer, older, power), equal
                    )
                )
    return found


def _noise_laws(told: Sequence[Logged]) -> dict[int, FanNoise]:
    """By build, how its noise follows its fan, from the runs with a log in which somebody held one and the same sound meter to
    it."""
    read = [(one, one.case.facts([one.run])[0]) for one in told]
    meter = usual(by_readers((facts for _, facts in read), LOUD))
    heard: dict[int, list[tuple[float, float]]] = defaultdict(list)
    for one, facts in read:
        fan, dba = fan_of(one.trace), facts.noise_dba
        if fan is not None and dba is not None and readers_of(facts, LOUD) == meter:
            heard[one.run.build_id].append((fan, dba))
    return {pk: law for pk, readings in heard.items() if (law := fit_noise(readings)) is not None}
