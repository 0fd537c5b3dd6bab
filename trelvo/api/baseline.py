from django.http import HttpRequest
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import build_numbered, found_case_alone
from trelvo.api.schema import Schema
from trelvo.core.baseline.model import BaselineOfWorkload
from trelvo.core.baseline.service import baseline_of

router = Router(tags=["baseline"])


class BaselineOut(Schema):
    stock_id: int
    build_number: int | None
    present_build_number: int | None
    workloads: list[BaselineOfWorkload]


@router.get("/campaigns/{int:campaign_id}/baseline", response={200: BaselineOut, 404: Problems})
def show_baseline(request: HttpRequest, campaign_id: int, build: Query[int | None] = None) -> BaselineOut:
    """Repeats at stock, workload by workload, under the rig's present build or the one asked for by number."""
    case = found_case_alone(campaign_id)
    chosen = build_numbered(case.campaign, build) if build is not None else case.campaign.present_build
    return BaselineOut(
        stock_id=case.campaign.stock.id,
        build_number=chosen.number if chosen else None,
        present_build_number=case.campaign.present_build.number if case.campaign.present_build else None,
        workloads=baseline_of(case, chosen),
    )
