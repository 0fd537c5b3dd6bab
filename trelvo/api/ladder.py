from django.http import HttpRequest
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import fitting_numbered, found_case_alone, one_of
from trelvo.api.schema import Schema
from trelvo.core.baseline.ladder import ladder_of
from trelvo.core.climb.ladder import Ladder

router = Router(tags=["ladder"])


class LadderOut(Schema):
    workload_id: int
    fitting_number: int | None
    present_fitting_number: int | None
    fitting_numbers: list[int]
    ladder: Ladder


@router.get("/campaigns/{int:campaign_id}/ladder", response={200: LadderOut, 404: Problems})
def show_ladder(
    request: HttpRequest, campaign_id: int, workload_id: Query[int | None] = None, fitting: Query[int | None] = None
) -> LadderOut:
    """The ladder of one workload (the first if none is named) within one fitting (the newest with runs)."""
    case = found_case_alone(campaign_id)
    workload = one_of(case.campaign.workloads, workload_id) if workload_id else case.campaign.workloads[0]
    chosen = fitting_numbered(case.campaign, fitting) if fitting is not None else case.campaign.judged_fitting
    numbers = {one.id: one.number for one in case.campaign.fittings}
    return LadderOut(
        workload_id=workload.id,
        fitting_number=chosen.number if chosen else None,
        present_fitting_number=case.campaign.present_fitting.number if case.campaign.present_fitting else None,
        fitting_numbers=sorted({numbers[run.fitting_id] for run in case.campaign.runs}),
        ladder=ladder_of(case, workload, chosen),
    )
