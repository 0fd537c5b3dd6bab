from django.http import HttpRequest
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import fitting_numbered, found_data, one_of
from trelvo.api.schema import Schema
from trelvo.core.climb.ladder import Ladder
from trelvo.logbook.answers.ladder import ladder_of

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
    data = found_data(campaign_id)
    workload = one_of(data.workloads, workload_id) if workload_id else data.workloads[0]
    chosen = fitting_numbered(data, fitting) if fitting is not None else data.judged_fitting
    numbers = {one.pk: one.number for one in data.fittings}
    return LadderOut(
        workload_id=workload.pk,
        fitting_number=chosen.number if chosen else None,
        present_fitting_number=data.present_fitting.number if data.present_fitting else None,
        fitting_numbers=sorted({numbers[run.fitting_id] for run in data.runs}),
        ladder=ladder_of(data, workload, chosen),
    )
