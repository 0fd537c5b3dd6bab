"""The laboratory: models fitted from a campaign's runs and logs, and what they foretell."""

from typing import Annotated

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import found_rig, one_of
from trelvo.core.watch.held_back import HeldBack
from trelvo.logbook.answers.heat import HeatView, heat_view
from trelvo.logbook.answers.heat_logs import HeatNow, heat_now
from trelvo.logbook.answers.held_back import held_back_in
from trelvo.logbook.models import LiveRun, Series

router = Router(tags=["lab"])

Degrees = Annotated[float | None, Query(ge=-60, le=150)]


@router.get("/campaigns/{int:campaign_id}/heat", response={200: HeatView, 404: Problems, 422: Problems})
def show_heat(
    request: HttpRequest,
    campaign_id: int,
    run_id: Query[int | None] = None,
    limit_c: Degrees = None,
    room_c: Degrees = None,
    setting_id: Query[int | None] = None,
) -> HeatView:
    """What the campaign's logs say of heat: where each settles, what the cooler is worth, what a limit asks of it.

    run_id: the log to draw; limit_c, room_c: what the cooler's need is worked out for; setting_id: whose watts (stock)
    """
    data, rig = found_rig(campaign_id)
    if setting_id is not None:
        one_of(data.settings, setting_id)
    return heat_view(data, rig, run_id, limit_c, room_c, setting_id)


@router.get("/live/{int:run_id}/heat", response={200: HeatNow, 404: Problems, 422: Problems})
def show_heat_now(request: HttpRequest, run_id: int) -> HeatNow:
    """What a run that goes on foretells of its temperature."""
    live = get_object_or_404(LiveRun.objects.select_related("run"), run_id=run_id)
    return heat_now(found_rig(live.run.campaign_id)[1], live)


@router.get("/series/{int:series_id}/held-back", response={200: HeldBack, 404: Problems, 422: Problems})
def show_held_back(request: HttpRequest, series_id: int) -> HeldBack:
    """What held the part back in each second of a kept log, and the levels of its clock."""
    series = Series.objects.select_related("run__campaign", "run__setting", "run__variant__workload")
    return held_back_in(get_object_or_404(series, pk=series_id, kind=Series.Kind.TELEMETRY))
