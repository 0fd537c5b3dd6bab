from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.core.base.knobs import describe_setting
from trelvo.logbook.acts.settings import add_setting
from trelvo.logbook.models import Campaign, Setting
from trelvo.logbook.rows.facts import knobs_of

router = Router(tags=["settings"])


class SettingIn(Schema):
    values: dict[str, float]
    note: str = Field("", max_length=2000)


class SettingOut(Schema):
    id: int
    values: dict[str, float]
    is_stock: bool
    note: str
    title: str

    @staticmethod
    def resolve_title(setting: Setting) -> str:
        return describe_setting(knobs_of(setting.campaign), setting.values)


@router.get("/campaigns/{int:campaign_id}/settings", response={200: list[SettingOut], 404: Problems})
def list_settings(request: HttpRequest, campaign_id: int) -> list[Setting]:
    """Every setting of a campaign, stock first."""
    campaign = get_object_or_404(Campaign.objects.prefetch_related("knobs"), pk=campaign_id)
    found = list(campaign.settings.all())
    for setting in found:
        setting.campaign = campaign  # one instance for all, with its knobs read once
    return found


@router.post("/campaigns/{int:campaign_id}/settings", response={201: SettingOut, 404: Problems, 422: Problems})
def make_setting(request: HttpRequest, campaign_id: int, body: SettingIn) -> Status[Setting]:
    """A new rung; knobs that are not named stand at stock."""
    campaign = get_object_or_404(Campaign, pk=campaign_id)
    return Status(201, add_setting(campaign, body.values, body.note, timezone.now()))
