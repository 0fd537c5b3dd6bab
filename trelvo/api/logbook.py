from datetime import datetime
from typing import Annotated

from django.http import HttpRequest, StreamingHttpResponse
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.core.registry.outcomes import Outcome
from trelvo.exchange.files.logbook_csv import logbook_csv
from trelvo.logbook.answers.logbook import MOST_ON_A_PAGE, Asked, Page, page_of

router = Router(tags=["logbook"])


class Filters(Schema):
    """What is asked of the logbook; see `Asked`."""

    text: Annotated[str, Query(max_length=200)] = ""
    rig_id: int | None = None
    campaign_id: int | None = None
    workload_id: int | None = None
    setting_id: int | None = None
    outcome: Outcome | None = None
    since: datetime | None = None
    until: datetime | None = None
    aside: bool | None = None
    with_log: bool | None = None
    sort: Annotated[str, Query(max_length=40)] = "started_at"
    falling: bool = True

    def asked(self) -> Asked:
        return Asked(**{**self.dict(), "outcome": self.outcome or ""})


@router.get("/logbook", response={200: Page, 422: Problems})
def show_logbook(
    request: HttpRequest,
    filters: Query[Filters],
    start: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_ON_A_PAGE)] = 50,
) -> Page:
    """All runs of all campaigns, newest first unless sorted otherwise."""
    return page_of(filters.asked(), start, count)


@router.get("/logbook.csv", include_in_schema=False)
def export_logbook(request: HttpRequest, filters: Query[Filters], columns: Query[str] = "") -> StreamingHttpResponse:
    """What is shown, as CSV: every run behind the filters, with the columns chosen (words, separated by commas)."""
    chosen = [word for word in columns.split(",") if word]
    headers = {"Content-Disposition": 'attachment; filename="logbook.csv"'}
    return StreamingHttpResponse(
        logbook_csv(filters.asked(), chosen), content_type="text/csv; charset=utf-8", headers=headers
    )
