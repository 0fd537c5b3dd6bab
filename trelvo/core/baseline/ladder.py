"""The ladder of a workload."""

from collections import Counter

from trelvo.core.campaign import Build, Variant
from trelvo.core.case import Case
from trelvo.core.climb.ladder import Ladder, Place, build_ladder


def ladder_of(case: Case, workload: Variant, build: Build | None) -> Ladder:
    """The ladder of one workload within one build."""
    build_id = build.id if build else None
    under = [run for run in case.campaign.runs if run.build_id == build_id]
    own = [run for run in under if run.variant_id == workload.id]
    elsewhere = Counter(run.setting_id for run in under if run.variant_id != workload.id and run.failed)
    return build_ladder(
        case.campaign.knobs,
        [Place(setting.id, setting.values) for setting in case.campaign.settings],
        case.facts(own),
        stock_id=case.campaign.stock.id,
        pooled=case.noise(build).get(workload.id),
        bench=case.bench_memory(build),
        measure=workload.measure,
        higher_is_better=workload.higher_is_better,
        failures_elsewhere=elsewhere,
    )
