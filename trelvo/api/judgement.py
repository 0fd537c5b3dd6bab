from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import Field

from trelvo.api.campaigns import CampaignOut
from trelvo.api.errors import Problems
from trelvo.core.claim_words import parse_claim
from trelvo.core.claims import Claim, Finding, check_claim
from trelvo.logbook.models import Campaign, Target
from trelvo.logbook.services.judgement import JudgementDraft, TargetDraft, keep_target, say_enough, set_judgement

router = Router(tags=["judgement"])


class JudgementIn(Schema):
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


class TargetIn(Schema):
    name: str = Field(min_length=1, max_length=120)
    price: float | None = None
    source: str = Field("", max_length=300)
    conditions: str = Field("", max_length=300)
    results: dict[int, float]

    def draft(self) -> TargetDraft:
        return TargetDraft(self.name, self.price, self.source, self.conditions, self.results)


class TargetOut(Schema):
    id: int
    name: str


class ClaimIn(Schema):
    text: str = Field(min_length=1, max_length=500)


class ClaimOut(Schema):
    """How the claim was understood, and what is true of it."""

    claim: Claim
    finding: Finding


@router.put("/campaigns/{int:campaign_id}/judgement", response={200: CampaignOut, 404: Problems, 422: Problems})
def change_judgement(request: HttpRequest, campaign_id: int, body: JudgementIn) -> Campaign:
    """What results are judged by: smallest gain, resolution, age of the baseline, weights, limits, price."""
    return set_judgement(get_object_or_404(Campaign, pk=campaign_id), JudgementDraft(**body.dict()))


@router.post("/campaigns/{int:campaign_id}/baseline/enough", response={200: CampaignOut, 404: Problems})
def call_it_enough(request: HttpRequest, campaign_id: int, body: Enough) -> Campaign:
    """Calls the baseline done although it is coarser than wished, or takes that back."""
    return say_enough(get_object_or_404(Campaign, pk=campaign_id), timezone.now() if body.enough else None)


@router.post("/campaigns/{int:campaign_id}/targets", response={201: TargetOut, 404: Problems, 422: Problems})
def make_target(request: HttpRequest, campaign_id: int, body: TargetIn) -> Status[Target]:
    """A rival to be caught, as typed."""
    return Status(201, keep_target(get_object_or_404(Campaign, pk=campaign_id), body.draft()))


@router.put("/targets/{int:target_id}", response={200: TargetOut, 404: Problems, 422: Problems})
def change_target(request: HttpRequest, target_id: int, body: TargetIn) -> Target:
    """The same target, told anew."""
    target = get_object_or_404(Target.objects.select_related("campaign"), pk=target_id)
    return keep_target(target.campaign, body.draft(), target)


@router.delete("/targets/{int:target_id}", response={204: None, 404: Problems})
def drop_target(request: HttpRequest, target_id: int) -> Status[None]:
    """Takes a target off the comparison."""
    get_object_or_404(Target, pk=target_id).delete()
    return Status(204, None)


@router.post("/claims/check", response={200: ClaimOut, 422: Problems})
def check(request: HttpRequest, body: ClaimIn) -> ClaimOut:
    """What is true of something that someone said about a gain."""
    claim = parse_claim(body.text)
    return ClaimOut(claim=claim, finding=check_claim(claim))
