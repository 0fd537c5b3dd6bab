"""Puts the evidence of a comparison before every rule of `core.traps`."""

from collections.abc import Iterator, Sequence
from datetime import datetime
from itertools import pairwise

from trelvo.core.base.runs import counts, mean_of, values_of
from trelvo.core.judge import traps
from trelvo.core.judge.compare_table import Column, WorkloadFacts
from trelvo.core.judge.traps import Trap
from trelvo.core.measure.comparison import compare
from trelvo.logbook.answers.compare_runs import REFERENCE, Evidence
from trelvo.logbook.models import Setting


def hunt(evidence: Evidence, columns: Sequence[Column], now: datetime) -> list[Trap]:
    """Every trap in a comparison, each once: those of the whole first, then workload by workload."""
    found: dict[tuple[str, str], Trap] = {}
    for trap in _all(evidence, columns, now):
        if trap:
            found.setdefault((trap.name, trap.where), trap)
    return list(found.values())


def _all(evidence: Evidence, columns: Sequence[Column], now: datetime) -> Iterator[Trap | None]:
    yield _stale(evidence, now)
    for setting in evidence.candidates:
        yield traps.several_knobs(evidence.title(setting), _turned(evidence, setting))
    for workload in evidence.workloads:
        where = f"{workload.name}, {evidence.title(evidence.reference)}"
        yield from _of_side(evidence, where, REFERENCE, workload)
        for setting, column in zip(evidence.candidates, columns, strict=True):
            where = f"{workload.name}, {evidence.title(setting)}"
            yield from _of_side(evidence, where, setting.pk, workload)
            yield from _of_pair(evidence, where, setting, workload, column)
        yield _falling(evidence, workload)


def _stale(evidence: Evidence, now: datetime) -> Trap | None:
    times = [run.started_at for run in evidence.rows[REFERENCE] if counts(run.facts())]
    age_days = (now - max(times)).total_seconds() / 86_400 if times else None
    other = evidence.reference_fitting != evidence.campaign.rig.present_fitting()
    where = evidence.title(evidence.reference)
    return traps.stale_baseline(where, age_days, other, evidence.campaign.stale_days)


def _turned(evidence: Evidence, setting: Setting) -> list[str]:
    """Names of the knobs between a setting and the nearest one made before it: the step by which it was reached."""
    earlier = [values for pk, values in evidence.settings.items() if pk < setting.pk]
    steps = [
        [k.name for k in evidence.knobs if setting.values.get(k.key, k.stock) != values.get(k.key, k.stock)]
        for values in earlier
    ]
    return min(steps, key=len, default=[])


def _of_side(evidence: Evidence, where: str, side: int, workload: WorkloadFacts) -> Iterator[Trap | None]:
    runs = evidence.runs(side, workload)
    yield traps.one_run_only(where, runs)
    yield traps.first_run_kept(where, runs, None)
    yield traps.capped(where, runs, workload.cap_fps)
    for run in runs:
        if counts(run) and run.frames is not None and run.low_01_fps is not None:
            yield traps.few_frames(where, run.frames)


def _of_pair(
    evidence: Evidence, where: str, setting: Setting, workload: WorkloadFacts, column: Column
) -> Iterator[Trap | None]:
    reference, runs = evidence.runs(REFERENCE, workload), evidence.runs(setting.pk, workload)
    cell = next(one for one in column.cells if one.workload_id == workload.id)
    if cell.comparison and cell.verdict:
        yield traps.winner_inside_noise(where, cell.comparison, cell.verdict)
    yield traps.mixed_points(where, reference, runs)
    starts = mean_of(run.temp_start_c for run in reference if counts(run))
    for run in runs:
        if counts(run) and run.temp_start_c is not None and run.room_c is not None:
            yield traps.warm_start(where, run.temp_start_c, run.room_c, starts)
    core = next((knob for knob in evidence.knobs if knob.key == "core"), None)
    got, had = (mean_of(run.core_mhz for run in side if counts(run)) for side in (runs, reference))
    if core and got is not None and had is not None:
        more = setting.values.get("core", core.stock) - evidence.reference.values.get("core", core.stock)
        yield traps.clock_not_got(where, more, got - had)


def _falling(evidence: Evidence, workload: WorkloadFacts) -> Trap | None:
    """Candidates that differ in one clock's knob only, in the order of that clock."""
    reference = values_of(evidence.runs(REFERENCE, workload))
    tried = [one for one in evidence.candidates if values_of(evidence.runs(one.pk, workload))]
    for knob in evidence.knobs:
        if knob.unit != "MHz" or not reference or len(tried) < 2:
            continue
        rising = sorted(tried, key=lambda one: one.values.get(knob.key, knob.stock))
        others = [{key: value for key, value in one.values.items() if key != knob.key} for one in rising]
        if any(first != second for first, second in pairwise(others)):
            continue
        ratios = [
            compare(
                reference,
                values_of(evidence.runs(one.pk, workload)),
                higher_is_better=workload.higher_is_better,
                pooled=evidence.pooled.get(workload.id),
            )
            for one in rising
        ]
        clocks = [one.values.get(knob.key, knob.stock) for one in rising]
        return traps.score_falls(f"{workload.name}, {knob.name.lower()}", clocks, ratios)
    return None
