"""Puts the evidence of a comparison before every rule of `core.traps`."""

from collections.abc import Iterator, Sequence
from datetime import datetime
from itertools import pairwise
from typing import cast

import numpy as np

from trelvo.core.base.knobs import turned_together
from trelvo.core.base.runs import counts, mean_of, values_of
from trelvo.core.compare import traps
from trelvo.core.compare.set_and_got import set_against_got
from trelvo.core.compare.sides import REFERENCE, Side, Sides, studied
from trelvo.core.compare.table import Column, WorkloadFacts
from trelvo.core.compare.traps import Trap
from trelvo.core.counted_runs import counting_runs
from trelvo.core.counted_runs import hours as hours_begun
from trelvo.core.stats.comparison import compare
from trelvo.core.stats.noise import PooledNoise
from trelvo.core.stats.time_series import step_of
from trelvo.core.watch.held_back import FirstPass

# A sudden change is looked for among so many of the newest session's runs.
MOST_LOOKED_AT = 120


def hunt(sides: Sides, columns: Sequence[Column], now: datetime) -> list[Trap]:
    """Every trap in a comparison, each once: those of the whole first, then workload by workload."""
    found: dict[tuple[str, str], Trap] = {}
    for trap in _all(sides, columns, now):
        if trap:
            found.setdefault((trap.code, trap.where), trap)
    return list(found.values())


def _all(sides: Sides, columns: Sequence[Column], now: datetime) -> Iterator[Trap | None]:
    starts = _first_passes(sides.reference)
    yield _stale(sides, now)
    yield from _in_time(sides)
    for side in sides.candidates:
        yield traps.several_knobs(side.title, _turned(side))
    for workload in sides.workloads:
        if start := starts.get(workload.id):
            everywhere = [run for side in sides.all for run in sides.runs(side, workload)]
            yield traps.short_pass(workload.name, everywhere, start.lasts_s, start.ahead)
        yield from _of_side(sides, f"{workload.name}, {sides.reference.title}", sides.reference, workload)
        for side, column in zip(sides.candidates, columns, strict=True):
            where = f"{workload.name}, {side.title}"
            yield from _of_side(sides, where, side, workload)
            yield from _of_pair(sides, where, side, workload, column)
        yield _falling(sides, workload)


def _first_passes(side: Side) -> dict[int, FirstPass]:
    """By workload, where the newest log of its counting runs at that side shows a faster start."""
    campaign = side.case.campaign
    workloads = {run.id: run.variant_id for run in campaign.runs_at(side.setting, side.build) if run.counts}
    newest = {workloads[log.run_id]: log.first_pass for log in campaign.log_starts if log.run_id in workloads}
    return {workload_id: start for workload_id, start in newest.items() if start is not None}


def _stale(sides: Sides, now: datetime) -> Trap | None:
    """The reference is as old as it is older than what it is compared with: sides of one evening age together."""
    reference = sides.reference
    times = [run.started_at for run in sides.rows[REFERENCE] if run.counts]
    ends = [
        max(last) for side in sides.candidates if (last := [r.started_at for r in sides.rows[side.number] if r.counts])
    ]
    age_days = (max(ends, default=now) - max(times)).total_seconds() / 86_400 if times else None
    # builds that are compared on purpose are distinguished by the fairness of the comparison
    other = any(
        side.case.campaign.rig_id == reference.case.campaign.rig_id
        and side.build != reference.build
        and not studied(reference, side)
        for side in sides.candidates
    )
    return traps.stale_baseline(reference.title, age_days, other, reference.case.campaign.stale_days)


def _in_time(sides: Sides) -> Iterator[Trap | None]:
    """Drift and sudden changes on the reference's bench, by all repeats of its campaign under its build."""
    case, build = sides.reference.case, sides.reference.build
    where = case.campaign.rig.name
    kept = counting_runs(case.campaign, build)[-MOST_LOOKED_AT:] if build else []
    if not kept:
        return
    begun = hours_begun(case.campaign)
    hours = np.array([begun[run.id] for run in kept])
    session = case.bench_memory(build).sessions(hours)
    newest = [run for run, one in zip(kept, session, strict=True) if one == session[-1]]
    yield traps.drift(where, case.bench_memory(build).trend, float(np.ptp(hours[session == session[-1]])))
    labels = np.unique([(run.variant_id, run.setting_id) for run in newest], axis=0, return_inverse=True)[1].ravel()
    logs = np.log([max(cast(float, run.value), 1e-300) for run in newest])
    yield traps.sudden_change(where, step_of(logs, labels), [run.id for run in newest])


def _turned(side: Side) -> list[str]:
    """Names of the knobs between a setting and the nearest one made before it: the step by which it was reached."""
    earlier = [setting.values for setting in side.case.campaign.settings if setting.id < side.setting.id]
    steps = [
        turned_together([k for k in side.case.campaign.knobs if side.value(k) != values.get(k.key, k.stock)])
        for values in earlier
    ]
    return [" with ".join(knob.name for knob in some) for some in min(steps, key=len, default=[])]


def _of_side(sides: Sides, where: str, side: Side, workload: WorkloadFacts) -> Iterator[Trap | None]:
    runs = sides.runs(side, workload)
    yield traps.one_run_only(where, runs)
    yield traps.run_far_off(where, runs)
    yield traps.first_run_kept(where, runs, None)
    noise = side.noise.get(workload.id)
    if workload.measure == "frame rate":
        others = [values_of(sides.runs(one, workload)) for one in sides.all if one.number != side.number]
        yield traps.capped(where, runs, workload.cap_fps, others, _usual_sd(side, noise))
    for run in runs:
        if counts(run) and run.frames is not None and run.low_01_fps is not None:
            yield traps.few_frames(where, run.frames)


def _usual_sd(side: Side, noise: PooledNoise | None) -> float:
    """How far frame rates scatter on this bench: the widest of its workloads, since a capped one hardly does."""
    known = [one.sd_log for one in (noise, *side.noise.values()) if one]
    return max(known, default=0.0)


def _of_pair(sides: Sides, where: str, side: Side, workload: WorkloadFacts, column: Column) -> Iterator[Trap | None]:
    reference, runs = sides.runs(sides.reference, workload), sides.runs(side, workload)
    cell = next(one for one in column.cells if one.workload_id == workload.id)
    if cell.comparison and cell.verdict:
        yield traps.winner_inside_noise(where, cell.comparison, cell.verdict)
    yield traps.mixed_points(where, reference, runs)
    first_passes = mean_of(run.temp_start_c for run in reference if counts(run))
    for run in runs:
        if counts(run) and run.temp_start_c is not None and run.room_c is not None:
            yield traps.warm_start(where, run.temp_start_c, run.room_c, first_passes)
    turned = [(knob, side.value(knob) - sides.reference.value(knob)) for knob in side.case.campaign.knobs]
    for moved in (
        set_against_got(turned, reference, runs) if side.case.campaign.id == sides.reference.case.campaign.id else []
    ):
        # a voltage under load sags by its own rules; a clock that was raised should be there
        if moved.comparable and moved.unit == "MHz" and moved.got is not None and moved.set_in_unit is not None:
            yield traps.clock_not_got(where, moved.set_in_unit, moved.got)


def _falling(sides: Sides, workload: WorkloadFacts) -> Trap | None:
    """Candidates that differ in one clock's knob only, in the order of that clock."""
    reference = values_of(sides.runs(sides.reference, workload))
    tried = [
        candidate
        for candidate in sides.candidates
        if candidate.like(sides.reference) and values_of(sides.runs(candidate, workload))
    ]
    for knob in sides.reference.case.campaign.knobs:
        if knob.unit != "MHz" or not reference or len(tried) < 2:
            continue
        rising = sorted(tried, key=lambda one: one.value(knob))
        others = [{key: value for key, value in one.setting.values.items() if key != knob.key} for one in rising]
        if any(first != second for first, second in pairwise(others)):
            continue
        ratios = [
            compare(
                reference,
                values_of(sides.runs(one, workload)),
                higher_is_better=workload.higher_is_better,
                pooled=sides.reference.noise.get(workload.id),
            )
            for one in rising
        ]
        clocks = [one.value(knob) for one in rising]
        apart = [{k: v for k, v in one.setting.values.items() if k != knob.key} for one in (sides.reference, rising[0])]
        start = sides.reference.value(knob) if apart[0] == apart[1] else None
        return traps.score_falls(f"{workload.name}, {knob.name.lower()}", clocks, ratios, start)
    return None
