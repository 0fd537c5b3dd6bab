"""The ladder of a workload."""

from collections import Counter

from trelvo.core.climb.ladder import Ladder, Place, build_ladder
from trelvo.logbook.models import Fitting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData


def ladder_of(data: CampaignData, workload: Variant, fitting: Fitting | None) -> Ladder:
    """The ladder of one workload within one fitting."""
    fitting_id = fitting.pk if fitting else None
    under = [run for run in data.runs if run.fitting_id == fitting_id]
    own = [run for run in under if run.variant_id == workload.id]
    elsewhere = Counter(run.setting_id for run in under if run.variant_id != workload.id and run.failed)
    return build_ladder(
        data.knobs,
        [Place(setting.pk, setting.values) for setting in data.settings],
        data.facts(own),
        stock_id=data.stock.pk,
        pooled=data.noise(fitting).get(workload.pk),
        bench=data.memory(fitting),
        measure=workload.measure,
        higher_is_better=workload.higher_is_better,
        failures_elsewhere=elsewhere,
    )
