"""The baseline of a campaign under a build."""

from trelvo.core.baseline.model import BaselineOfWorkload, build_baseline
from trelvo.core.campaign import Build
from trelvo.core.case import Case


def baseline_of(case: Case, build: Build | None) -> list[BaselineOfWorkload]:
    """Stock runs of every workload under the build, and what they come to."""
    workloads = [workload.id for workload in case.campaign.workloads]
    build_id = build.id if build else None
    runs = [
        run
        for run in case.campaign.runs
        if run.setting_id == case.campaign.stock.id and run.build_id == build_id and run.variant_id in workloads
    ]
    return build_baseline(
        workloads,
        case.facts(runs),
        case.noise(build),
        case.campaign.wished_resolution,
        case.campaign.temp_limit_c,
        case.campaign.power_limit_w,
    )
