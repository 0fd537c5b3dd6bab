from dataclasses import replace
from uuid import UUID

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import ProblemOut, Problems
from trelvo.api.found import found_campaign
from trelvo.api.runs import RunOut, ask_about, run_out
from trelvo.api.schema import Schema
from trelvo.exchange.quick_line.grammar import MOST_CHARACTERS, Understood
from trelvo.exchange.quick_line.logging import draft_of, log_line, read_for
from trelvo.logbook.rows.lookups import testable
from trelvo.messages.problems import problem_text

router = Router(tags=["quick line"])


class LineIn(Schema):
    """sure: the result stands as it is, however far from what is known; uid: as of a run that is logged by its fields"""

    uid: UUID | None = None
    line: str = Field(max_length=10 * MOST_CHARACTERS)
    sure: bool = False


class LineOut(Schema):
    """What was understood, stretch by stretch; where there are problems the line cannot be logged yet."""

    setting: str
    understood: list[Understood]
    problems: list[ProblemOut]


@router.post("/campaigns/{int:campaign_id}/quick-line/read", response={200: LineOut, 404: Problems, 422: Problems})
def read_line(request: HttpRequest, campaign_id: int, body: LineIn) -> LineOut:
    """Reads a quick line and says what it means. Nothing is stored."""
    said = read_for(found_campaign(campaign_id), body.line, timezone.now())
    problems = [ProblemOut.from_orm(problem_text(problem)) for problem in said.problems]
    return LineOut(setting=said.setting, understood=said.understood, problems=problems)


@router.post("/campaigns/{int:campaign_id}/quick-line", response={201: RunOut, 404: Problems, 422: Problems})
def log_quick_line(request: HttpRequest, campaign_id: int, body: LineIn) -> Status[RunOut]:
    """Logs the run that a quick line tells of, and adds its setting where it is missing."""
    campaign, now = found_campaign(campaign_id), timezone.now()
    if not body.sure:
        said = read_for(campaign, body.line, now)
        workload = next((one for one in testable(campaign) if one.pk == said.workload_id), None)
        if workload is not None and not said.problems:
            ask_about(campaign, None, workload, replace(draft_of(campaign, said, now), uid=body.uid))
    return Status(201, run_out(log_line(campaign, body.line, now, body.uid).pk))
