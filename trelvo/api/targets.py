from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.logbook.acts.targets import TargetDraft, keep_target
from trelvo.logbook.models import Campaign, Target

router = Router(tags=["targets"])


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
