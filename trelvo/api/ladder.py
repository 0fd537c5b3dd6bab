from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Schema

from trelvo.api.errors import Problems
from trelvo.core.climb.ladder import Ladder
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.facts import judged_fitting, ladder_of

router = Router(tags=["ladder"])


class LadderOut(Schema):
    workload_id: int
    fitting_number: int | None
    present_fitting_number: int | None
    fitting_numbers: list[int]
    ladder: Ladder


@router.get("/campaigns/{int:campaign_id}/ladder", response={200: LadderOut, 404: Problems})
def show_ladder(
    request: HttpRequest, campaign_id: int, workload_id: Query[int | None] = None, fitting: Query[int | None] = None
) -> LadderOut:
    """The ladder of one workload (the first if none is named) within one fitting (the newest with runs)."""
    campaign = get_object_or_404(Campaign.objects.whole(), pk=campaign_id)
    workloads = campaign.workloads.all()
    workload = get_object_or_404(workloads, pk=workload_id) if workload_id else workloads[0]
    chosen = (
        get_object_or_404(campaign.rig.fittings, number=fitting) if fitting is not None else judged_fitting(campaign)
    )
    present = campaign.rig.present_fitting()
    numbers = campaign.runs.order_by("fitting__number").values_list("fitting__number", flat=True).distinct()
    return LadderOut(
        workload_id=workload.pk,
        fitting_number=chosen.number if chosen else None,
        present_fitting_number=present.number if present else None,
        fitting_numbers=list(numbers),
        ladder=ladder_of(campaign, workload, chosen),
    )
