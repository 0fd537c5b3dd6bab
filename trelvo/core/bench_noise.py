"""What all repeats of a campaign say of its bench: how much results scatter, and how that moves in time."""

from collections.abc import Mapping
from typing import cast

import numpy as np

from trelvo.core.campaign import Build, CampaignSnapshot
from trelvo.core.counted_runs import counting_runs, hours
from trelvo.core.memo import on_snapshot
from trelvo.core.stats.noise import PooledNoise, noise_by_workload
from trelvo.core.stats.time_series import BenchMemory, memory_of


@on_snapshot
def noise_of(campaign: CampaignSnapshot, build: Build | None) -> Mapping[int, PooledNoise | None]:
    """Noise of every workload, pooled over all settings of the campaign under this build."""
    if build is None:
        return dict.fromkeys((workload.id for workload in campaign.workloads), None)
    rows = [(run.value, run.setting_id, run.variant_id) for run in counting_runs(campaign, build)]
    table = np.array(rows, dtype=np.float64).reshape(-1, 3)
    measures = {workload.id: workload.measure for workload in campaign.workloads}
    return noise_by_workload(table[:, 0], table[:, 1], table[:, 2], measures)


@on_snapshot
def bench_memory(campaign: CampaignSnapshot, build: Build | None) -> BenchMemory:
    """What all repeats under this build say of the bench's time: memory, drift, days."""
    build_id = build.id if build else 0
    kept = [run for run in counting_runs(campaign, build) if cast(float, run.value) > 0]
    numbers = np.array([(run.variant_id, run.setting_id) for run in kept], dtype=np.int64).reshape(-1, 2)
    logs = np.log(np.array([run.value for run in kept], dtype=np.float64))
    begun = hours(campaign)
    every = [begun[run.id] for run in campaign.runs if run.build_id == build_id]
    own = np.array([begun[run.id] for run in kept], dtype=np.float64)
    return memory_of(numbers[:, 0], numbers[:, 1], own, logs, np.array(every))
