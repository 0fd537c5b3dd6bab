from datetime import UTC, datetime
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.files import download
from trelvo.api.found import found_case
from trelvo.api.schema import Schema
from trelvo.core.tonight.plan import MOST_MINUTES, Tonight
from trelvo.core.tonight.service import tonight_of
from trelvo.exchange.files.evening_ics import evening_ics

router = Router(tags=["goal"])


class EveningAsked(Schema):
    """minutes: bench time there is; begin: when it begins, now where left out"""

    minutes: Annotated[float, Query(ge=0, le=MOST_MINUTES)]
    begin: datetime | None = None

    @property
    def begins_at(self) -> datetime:
        """With a zone: what was sent without one is taken as UTC."""
        begin = self.begin or timezone.now()
        return begin if begin.tzinfo else begin.replace(tzinfo=UTC)


@router.get("/campaigns/{int:campaign_id}/tonight", response={200: Tonight, 404: Problems, 422: Problems})
def show_tonight(request: HttpRequest, campaign_id: int, asked: Query[EveningAsked]) -> Tonight:
    """What fits into the minutes there are, in order, with clock times, and what is known afterwards."""
    return tonight_of(found_case(campaign_id), asked.begins_at, asked.minutes)


@router.get("/campaigns/{int:campaign_id}/tonight.ics", include_in_schema=False)
def export_tonight(request: HttpRequest, campaign_id: int, asked: Query[EveningAsked]) -> HttpResponse:
    """The same plan as a calendar, one event a stretch."""
    case = found_case(campaign_id)
    plan = tonight_of(case, asked.begins_at, asked.minutes)
    content = evening_ics(plan, case.campaign.name, str(case.campaign.uid), timezone.now())
    return download(content, "text/calendar; charset=utf-8", case.campaign.name, "-tonight.ics")
