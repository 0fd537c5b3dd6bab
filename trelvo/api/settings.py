from collections.abc import Sequence

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_case_alone
from trelvo.api.schema import Schema
from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.campaign import Setting
from trelvo.logbook import models
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.rows.lookups import knobs_of

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


def setting_out(setting: Setting | models.Setting, knobs: Sequence[Knob]) -> SettingOut:
    return SettingOut(
        id=setting.id,
        values=dict(setting.values),
        is_stock=setting.is_stock,
        note=setting.note,
        title=describe_setting(knobs, setting.values),
    )


@router.get("/campaigns/{int:campaign_id}/settings", response={200: list[SettingOut], 404: Problems})
def list_settings(request: HttpRequest, campaign_id: int) -> list[SettingOut]:
    """Every setting of a campaign, stock first."""
    case = found_case_alone(campaign_id)
    return [setting_out(setting, case.campaign.knobs) for setting in case.campaign.settings]


@router.post("/campaigns/{int:campaign_id}/settings", response={201: SettingOut, 404: Problems, 422: Problems})
def make_setting(request: HttpRequest, campaign_id: int, body: SettingIn) -> Status[SettingOut]:
    """A new setting; knobs that are not named are at stock."""
    campaign = found_campaign(campaign_id)
    setting = add_setting(campaign, body.values, body.note, timezone.now())
    return Status(201, setting_out(setting, knobs_of(campaign)))
