from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from trelvo.api.campaigns import CampaignOut
from trelvo.api.errors import Problems
from trelvo.logbook.acts.what_counts import WhatCounts, say_enough, set_what_counts
from trelvo.logbook.models import Campaign

router = Router(tags=["what counts"])


class WhatCountsIn(Schema):
    smallest_gain: float
    wished_resolution: float
    stale_days: float
    weights: dict[int, float] = {}
    temp_limit_c: float | None = None
    power_limit_w: float | None = None
    price: float | None = None
    currency: str = Field("", max_length=8)


class Enough(Schema):
    enough: bool


@router.put("/campaigns/{int:campaign_id}/what-counts", response={200: CampaignOut, 404: Problems, 422: Problems})
def change_what_counts(request: HttpRequest, campaign_id: int, body: WhatCountsIn) -> Campaign:
    """What results are judged by: smallest gain, resolution, age of the baseline, weights, limits, price."""
    return set_what_counts(get_object_or_404(Campaign, pk=campaign_id), WhatCounts(**body.dict()))


@router.post("/campaigns/{int:campaign_id}/baseline/enough", response={200: CampaignOut, 404: Problems})
def call_it_enough(request: HttpRequest, campaign_id: int, body: Enough) -> Campaign:
    """Calls the baseline done although it is coarser than wished, or takes that back."""
    return say_enough(get_object_or_404(Campaign, pk=campaign_id), timezone.now() if body.enough else None)
