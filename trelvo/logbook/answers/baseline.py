"""The baseline of a campaign under a fitting."""

from trelvo.core.measure.baseline import BaselineOfWorkload, build_baseline
from trelvo.logbook.models import Fitting
from trelvo.logbook.rows.campaign_data import CampaignData


def baseline_of(data: CampaignData, fitting: Fitting | None) -> list[BaselineOfWorkload]:
    """Stock runs of every workload under the fitting, and what they come to."""
    workloads = [workload.pk for workload in data.workloads]
    fitting_id = fitting.pk if fitting else None
    runs = [
        run
        for run in data.runs
        if run.setting_id == data.stock.id and run.fitting_id == fitting_id and run.variant_id in workloads
    ]
    return build_baseline(
        workloads,
        data.facts(runs),
        data.noise(fitting),
        data.campaign.wished_resolution,
        data.campaign.temp_limit_c,
        data.campaign.power_limit_w,
    )
