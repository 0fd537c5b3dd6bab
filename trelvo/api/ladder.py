from django.http import HttpRequest
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import build_numbered, found_case_alone, one_of
from trelvo.api.schema import Schema
from trelvo.core.baseline.ladder import ladder_of
from trelvo.core.climb.ladder import Ladder

router = Router(tags=["ladder"])


class LadderOut(Schema):
    workload_id: int
    build_number: int | None
    present_build_number: int | None
    build_numbers: list[int]
    ladder: Ladder


@router.get("/campaigns/{int:campaign_id}/ladder", response={200: LadderOut, 404: Problems})
def show_ladder(
    request: HttpRequest, campaign_id: int, workload_id: Query[int | None] = None, build: Query[int | None] = None
) -> LadderOut:
    """The ladder of one workload (the first if none is named) within one build (the newest with runs)."""
    case = found_case_alone(campaign_id)
    workload = one_of(case.campaign.workloads, workload_id) if workload_id else case.campaign.workloads[0]
    chosen = build_numbered(case.campaign, build) if build is not None else case.campaign.judged_build
    numbers = {one.id: one.number for one in case.campaign.builds}
    return LadderOut(
        workload_id=workload.id,
        build_number=chosen.number if chosen else None,
        present_build_number=case.campaign.present_build.number if case.campaign.present_build else None,
        build_numbers=sorted({numbers[run.build_id] for run in case.campaign.runs}),
        ladder=ladder_of(case, workload, chosen),
    )
