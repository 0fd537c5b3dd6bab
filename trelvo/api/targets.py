from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.logbook.commands.targets import TargetDraft, keep_target, remove_target
from trelvo.logbook.models import Target

router = Router(tags=["targets"])


class TargetIn(Schema):
    name: str = Field(min_length=1, max_length=120)
    price: float | None = None
    source: str = Field("", max_length=300)
    conditions: str = Field("", max_length=300)
    results: dict[int, float]

    def draft(self) -> TargetDraft:
        return TargetDraft(self.name, self.price, self.source, self.conditions, self.results)


class TargetChange(TargetIn):
    """seen: the target as it stood in the form"""

    seen: Seen = None


class TargetOut(Schema):
    id: int
    name: str


@router.post("/campaigns/{int:campaign_id}/targets", response={201: TargetOut, 404: Problems, 422: Problems})
def make_target(request: HttpRequest, campaign_id: int, body: TargetIn) -> Status[Target]:
    """A rival to be caught, as typed."""
    return Status(201, keep_target(found_campaign(campaign_id), body.draft()))


@router.put("/targets/{int:target_id}", response={200: TargetOut, 404: Problems, 422: Problems})
@transaction.atomic
def change_target(request: HttpRequest, target_id: int, body: TargetChange) -> Target:
    """The same target, told again."""
    target = _found(target_id)
    check_seen("target_changed", body.seen, _as_typed(target), target.name)
    return keep_target(target.campaign, body.draft(), target)


def _found(target_id: int) -> Target:
    return get_object_or_404(Target.objects.filter(campaign__deleted_at=None).select_related("campaign"), pk=target_id)


def _as_typed(target: Target) -> TargetIn:
    numbers = {str(uid): number for number, uid in target.campaign.workloads.values_list("pk", "uid")}
    results = {numbers[uid]: value for uid, value in target.results.items() if uid in numbers}
    return TargetIn(
        name=target.name, price=target.price, source=target.source, conditions=target.conditions, results=results
    )


@router.delete("/targets/{int:target_id}", response={204: None, 404: Problems})
def drop_target(request: HttpRequest, target_id: int) -> Status[None]:
    """Takes a target off the comparison."""
    remove_target(_found(target_id))
    return Status(204, None)
