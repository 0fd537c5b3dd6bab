"""The baseline: repeats of every workload at stock, and how fine a difference they allow to be seen."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.runs import RunFacts, counts, figures_count, highest_of, mean_of, values_of
from trelvo.core.message import Message, message
from trelvo.core.stats import noise, power
from trelvo.core.stats.comparison import detectable
from trelvo.core.stats.noise import BASELINE_RUNS, PooledNoise
from trelvo.core.watch.headroom import Card, headroom

MORE_RUNS = 2
# Runs that scatter so widely that not even ten times as much could be distinguished hold a wrong value.
MOST_TOLD = 9.0


@dataclass(frozen=True)
class NoiseMeter:
    """What this bench can distinguish: the smallest relative difference found with an 80 % chance.

    now: with as many runs at stock and at a candidate as stock has now; more: with `more_runs` further on both sides
    single: with one run on each side; sd: relative noise of single runs; df: degrees of freedom it is known with
    """

    sd: float
    df: int
    runs: int
    now: float
    more_runs: int
    more: float
    single: float
    says: Message


@dataclass(frozen=True)
class BaselineOfWorkload:
    """Stock runs of one workload under one build, and what they come to. Units as in the runs.

    missing_runs: how many more repeats the baseline asks for
    suspect_id: the first run, where it is out of family and still counts
    reached: whether the resolution wished for is reached
    """

    workload_id: int
    runs: tuple[RunFacts, ...]
    summary: noise.Summary | None
    power: power.PowerSummary
    temp_max_c: float | None
    room_c: float | None
    low_1_fps: float | None
    low_01_fps: float | None
    missing_runs: int
    meter: NoiseMeter | None
    suspect_id: int | None
    reached: bool
    cards: tuple[Card, ...]


def noise_meter(pooled: PooledNoise, runs: int) -> NoiseMeter:
    """What so many runs on each side can distinguish with this noise."""

    def tell(count: int) -> float:
        return math.expm1(min(detectable(pooled.sd_log, pooled.df, count, count), math.log1p(MOST_TOLD)))

    now, more, single = tell(runs), tell(runs + MORE_RUNS), tell(1)
    if now >= MOST_TOLD:
        return NoiseMeter(
            sd=pooled.sd_log,
            df=pooled.df,
            runs=runs,
            now=now,
            more_runs=MORE_RUNS,
            more=more,
            single=single,
            says=message("nothing_told_apart"),
        )
    says = message(
        "can_tell_apart", runs=runs, now=now * 100, more_runs=MORE_RUNS, more=more * 100, single=single * 100
    )
    return NoiseMeter(
        sd=pooled.sd_log, df=pooled.df, runs=runs, now=now, more_runs=MORE_RUNS, more=more, single=single, says=says
    )


def build_baseline(
    workload_ids: Sequence[int],
    runs: Iterable[RunFacts],
    pooled: Mapping[int, PooledNoise | None],
    wished_resolution: float,
    temp_limit_c: float | None = None,
    power_limit_w: float | None = None,
) -> list[BaselineOfWorkload]:
    """One entry a workload, in the order given.

    runs: at stock, under one build, in the order they were made; pooled: noise by workload id
    wished_resolution: relative difference that is to be distinguished; limits in °C and watts, for the headroom
    """
    by_workload: dict[int, list[RunFacts]] = {workload_id: [] for workload_id in workload_ids}
    for run in runs:
        by_workload[run.workload_id].append(run)
    return [
        _of_workload(workload_id, group, pooled.get(workload_id), wished_resolution, temp_limit_c, power_limit_w)
        for workload_id, group in by_workload.items()
    ]


def _suspect(group: Sequence[RunFacts], values: Sequence[float]) -> int | None:
    """The run that is offered to be set aside: one that is far from all others, else a first one out of family."""
    far = next((run.id for run in group if run.far_off and not run.set_aside), None)
    if far is not None or not noise.first_out_of_family(values):
        return far
    return next(run.id for run in group if counts(run))


def _of_workload(
    workload_id: int,
    group: Sequence[RunFacts],
    pooled: PooledNoise | None,
    wished_resolution: float,
    temp_limit_c: float | None,
    power_limit_w: float | None,
) -> BaselineOfWorkload:
    values = values_of(group)
    kept = [run for run in group if figures_count(run)]
    drawn = power.summarise_power(kept)
    meter = noise_meter(pooled, len(values)) if pooled and values else None
    hottest = highest_of(run.temp_max_c for run in kept)
    return BaselineOfWorkload(
        workload_id=workload_id,
        runs=tuple(group),
        summary=noise.summarise(values) if values else None,
        power=drawn,
        temp_max_c=hottest,
        room_c=mean_of(run.room_c for run in kept),
        low_1_fps=mean_of(run.low_1_fps for run in kept),
        low_01_fps=mean_of(run.low_01_fps for run in kept),
        missing_runs=max(0, BASELINE_RUNS - len(values)),
        meter=meter,
        suspect_id=_suspect(group, values),
        reached=meter is not None and len(values) >= 2 and meter.now <= wished_resolution,
        cards=tuple(
            headroom(
                hottest,
                temp_limit_c,
                drawn.mean_w,
                power_limit_w,
                [run.core_mhz for run in kept if run.core_mhz is not None],
            )
        ),
    )
