"""Performance along a knob that is turned up: where it stops growing, though the setting still holds."""

import math
from collections import defaultdict
from typing import cast

from trelvo.core.base.knobs import Knob
from trelvo.core.bench_noise import noise_of
from trelvo.core.campaign import Build, CampaignSnapshot
from trelvo.core.climb.score_top import ScoreAt, first_top
from trelvo.core.climb_line.along import Others, others_of, settings_along
from trelvo.core.climb_line.line import Line
from trelvo.core.memo import on_snapshot

# Run-to-run deviation taken where no repeats have shown it. Common practice: 0.5 to 1 % on a good bench.
USUAL_NOISE = 0.01
Scores = tuple[tuple[ScoreAt, ...], ...]


def scores_along(campaign: CampaignSnapshot, line: Line) -> Scores:
    """For each workload its performance along a knob that is turned up, against the value nearest stock."""
    if line.knob.away != 1 or line.knob.turning == "helps" or line.build is None:
        return ()
    return _scores_along(campaign, line.knob, others_of(line.base), line.build)


def first_top_along(campaign: CampaignSnapshot, line: Line) -> tuple[ScoreAt, ...]:
    """Of several workloads' scores those whose top comes first on the way; empty where none has passed its top."""
    return tuple(first_top(line.knob, scores_along(campaign, line)))


@on_snapshot
def _scores_along(campaign: CampaignSnapshot, knob: Knob, others: Others, build: Build) -> Scores:
    noise = noise_of(campaign, build)
    found: dict[int, dict[float, list[float]]] = defaultdict(lambda: defaultdict(list))
    for value, setting in settings_along(campaign, knob).get(others, {}).items():
        for run in campaign.runs_at(setting, build):
            if run.counts:
                found[run.variant_id][value].append(cast(float, run.value))
    scores = []
    for workload in campaign.workloads:
        by_value = dict(sorted(found[workload.id].items()))
        if len(by_value) < 2:
            continue
        pooled = noise.get(workload.id)
        deviation = pooled.sd_log if pooled else USUAL_NOISE
        means = {value: math.fsum(ran) / len(ran) for value, ran in by_value.items()}
        first = means[min(means)]
        sign = 1 if workload.higher_is_better else -1
        ratios = {value: (mean / first) ** sign for value, mean in means.items()}
        scores.append(
            tuple(
                ScoreAt(value, ratio, ratio * deviation / len(by_value[value]) ** 0.5)
                for value, ratio in ratios.items()
            )
        )
    return tuple(scores)
