"""The baseline of a campaign under a fitting."""

from trelvo.core.baseline.model import BaselineOfWorkload, build_baseline
from trelvo.core.campaign import Fitting
from trelvo.core.case import Case


def baseline_of(case: Case, fitting: Fitting | None) -> list[BaselineOfWorkload]:
    """Stock runs of every workload under the fitting, and what they come to."""
    workloads = [workload.id for workload in case.campaign.workloads]
    fitting_id = fitting.id if fitting else None
    runs = [
        run
        for run in case.campaign.runs
        if run.setting_id == case.campaign.stock.id and run.fitting_id == fitting_id and run.variant_id in workloads
    ]
    return build_baseline(
        workloads,
        case.facts(runs),
        case.noise(fitting),
        case.campaign.wished_resolution,
        case.campaign.temp_limit_c,
        case.campaign.power_limit_w,
    )
