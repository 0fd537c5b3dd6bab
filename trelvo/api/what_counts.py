from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import Field

from trelvo.api.campaigns import CampaignOut, campaign_out
from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.api.schema import Schema
from trelvo.core.registry.quantities import Quantity
from trelvo.logbook.commands.instruments import set_counting
from trelvo.logbook.commands.what_counts import WhatCounts, say_enough, set_what_counts

router = Router(tags=["what counts"])


class WhatCountsSeen(Schema):
    """What counts as it stood in the form; fields left out were not seen."""

    smallest_gain: float | None = None
    wished_resolution: float | None = None
    stale_days: float | None = None
    weights: dict[int, float] = {}
    temp_limit_c: float | None = None
    power_limit_w: float | None = None
    price: float | None = None
    currency: str = ""


class WhatCountsIn(Schema):
    """seen: where it is something else by now, the change is refused"""

    seen: WhatCountsSeen | None = None
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
def change_what_counts(request: HttpRequest, campaign_id: int, body: WhatCountsIn) -> CampaignOut:
    """What results are judged by: smallest gain, resolution, age of the baseline, weights, limits, price."""
    seen = body.seen.dict(exclude_unset=True) if body.seen else None
    return campaign_out(set_what_counts(found_campaign(campaign_id), WhatCounts(**body.dict(exclude={"seen"})), seen))


class CountingIn(Schema):
    """By quantity the number of the instrument that counts."""

    counting: dict[Quantity, int]


@router.put("/campaigns/{int:campaign_id}/counting", response={200: CampaignOut, 404: Problems, 422: Problems})
def choose_instruments(request: HttpRequest, campaign_id: int, body: CountingIn) -> CampaignOut:
    """Which instrument counts for what, where several read it."""
    return campaign_out(set_counting(found_campaign(campaign_id), body.counting))


@router.post("/campaigns/{int:campaign_id}/baseline/enough", response={200: CampaignOut, 404: Problems})
def call_it_enough(request: HttpRequest, campaign_id: int, body: Enough) -> CampaignOut:
    """Calls the baseline done although it is coarser than wished, or takes that back."""
    return campaign_out(say_enough(found_campaign(campaign_id), timezone.now() if body.enough else None))
