"""The baseline: repeats of every workload at stock."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from trelvo.core import noise, power
from trelvo.core.runs import RunFacts, counts, highest_of, mean_of, values_of
from trelvo.core.stages import BASELINE_RUNS


@dataclass(frozen=True)
class BaselineOfWorkload:
    """Stock runs of one workload under one fitting, and what they come to. Units as in the runs.

    missing_runs: how many more repeats the baseline asks for
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


def build_baseline(workload_ids: Sequence[int], runs: Iterable[RunFacts]) -> list[BaselineOfWorkload]:
    """One entry a workload, in the order given. runs: at stock, under one fitting."""
    by_workload: dict[int, list[RunFacts]] = {workload_id: [] for workload_id in workload_ids}
    for run in runs:
        by_workload[run.workload_id].append(run)
    return [_of_workload(workload_id, group) for workload_id, group in by_workload.items()]


def _of_workload(workload_id: int, group: Sequence[RunFacts]) -> BaselineOfWorkload:
    values = values_of(group)
    kept = [run for run in group if counts(run)]
    return BaselineOfWorkload(
        workload_id=workload_id,
        runs=tuple(group),
        summary=noise.summarise(values) if values else None,
        power=power.summarise_power((run.power_w, run.power_point) for run in kept if run.power_w is not None),
        temp_max_c=highest_of(run.temp_max_c for run in kept),
        room_c=mean_of(run.room_c for run in kept),
        low_1_fps=mean_of(run.low_1_fps for run in kept),
        low_01_fps=mean_of(run.low_01_fps for run in kept),
        missing_runs=max(0, BASELINE_RUNS - len(values)),
    )
