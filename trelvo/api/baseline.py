from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Schema

from trelvo.api.errors import Problems
from trelvo.core.measure.baseline import BaselineOfWorkload
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.facts import baseline_of, stock_of

router = Router(tags=["baseline"])


class BaselineOut(Schema):
    stock_id: int
    fitting_number: int | None
    present_fitting_number: int | None
    workloads: list[BaselineOfWorkload]


@router.get("/campaigns/{int:campaign_id}/baseline", response={200: BaselineOut, 404: Problems})
def show_baseline(request: HttpRequest, campaign_id: int, fitting: Query[int | None] = None) -> BaselineOut:
    """Repeats at stock, workload by workload, under the rig's present fitting or the one asked for by number."""
    campaign = get_object_or_404(Campaign.objects.whole(), pk=campaign_id)
    present = campaign.rig.present_fitting()
    chosen = get_object_or_404(campaign.rig.fittings, number=fitting) if fitting is not None else present
    return BaselineOut(
        stock_id=stock_of(campaign).pk,
        fitting_number=chosen.number if chosen else None,
        present_fitting_number=present.number if present else None,
        workloads=baseline_of(campaign, chosen),
    )
