from dataclasses import asdict, replace
from typing import Any, cast

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import Field

from trelvo.api.campaigns import CampaignOut, campaign_out
from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_case, found_row_and_case
from trelvo.api.schema import Schema
from trelvo.core.base.figures import Part
from trelvo.core.goal.service import GoalView, goal_view
from trelvo.core.message import Message
from trelvo.core.next_step.rules import NextStep
from trelvo.core.next_step.service import next_of
from trelvo.core.next_step.standing import standing_of
from trelvo.core.registry.approaches import Approach, Strategy
from trelvo.core.registry.goals import ALWAYS, GOALS, GoalWord
from trelvo.core.terms import QuietBy, Terms, terms_from
from trelvo.core.way import Way
from trelvo.logbook.cases import way_of
from trelvo.logbook.commands.goal import set_goal, set_terms, set_way, with_terms
from trelvo.logbook.models import Goal

router = Router(tags=["goal"])


class GoalAnswer(Schema):
    """The goal and every setting by it. changeable: which of the terms this goal asks for"""

    goal: GoalView
    changeable: list[str]


class TermsIn(Schema):
    """What is left out stays as it is; null takes a limit away."""

    least_speed: float | None = None
    lows_too: bool | None = None
    most_power_w: float | None = None
    frames: float | None = None
    low_frames: float | None = None
    most_temp_c: float | None = None
    shown: float | None = None
    hours: float | None = None
    sure: float | None = None
    quiet_by: QuietBy | None = None
    part: Part | None = None


class TermsChange(TermsIn):
    """seen: the numbers as they stood in the form; where they are others by now, the change is refused"""

    seen: TermsIn | None = None


class GoalSeen(Schema):
    goal: Goal
    aim: str = Field("", max_length=300)
    name: str = Field("", max_length=160)


class GoalIn(Schema):
    """name: the campaign's; it stays where it is left out

    seen: what stood in the form; where it is something else by now, the change is refused
    """

    goal: Goal
    aim: str = Field("", max_length=300)
    name: str | None = Field(None, max_length=160)
    seen: GoalSeen | None = None


class GoalTryIn(Schema):
    goal: Goal
    terms: TermsIn


class GoalTried(Schema):
    """What another goal, or other numbers, would say of the settings that were run; nothing is changed.

    meets, may: how many settings would meet it, and how many may; terms: the numbers in full
    """

    goal: Goal
    words: Message
    far: Message
    against: tuple[Message, ...]
    meets: int
    may: int
    terms: Terms
    changeable: list[str]


class WayIn(Schema):
    """What is left out stays as it is."""

    strategy: Strategy | None = None
    cautious: bool | None = None
    largest_steps: dict[str, float] | None = None
    approach: Approach | None = None


@router.get("/campaigns/{int:campaign_id}/goal", response={200: GoalAnswer, 404: Problems})
def show_goal(request: HttpRequest, campaign_id: int) -> GoalAnswer:
    """Every setting that was run, by the goal, best first."""
    case = found_case(campaign_id)
    return GoalAnswer(goal=goal_view(case), changeable=list(GOALS[case.terms.goal].changeable))


@router.put("/campaigns/{int:campaign_id}/goal", response={200: CampaignOut, 404: Problems, 422: Problems})
def change_goal(request: HttpRequest, campaign_id: int, body: GoalIn) -> CampaignOut:
    """What the campaign is for, and what it is called."""
    return campaign_out(
        set_goal(found_campaign(campaign_id), body.goal, body.aim, body.name, body.seen.dict() if body.seen else None)
    )


@router.post("/campaigns/{int:campaign_id}/goal/try", response={200: GoalTried, 404: Problems, 422: Problems})
def try_goal(request: HttpRequest, campaign_id: int, body: GoalTryIn) -> GoalTried:
    """What a goal and its numbers would say, before they are taken over. Numbers it does not ask for are passed over."""
    row, case = found_row_and_case(campaign_id)
    goal = cast(GoalWord, body.goal.value)
    changeable = GOALS[goal].changeable
    known = {*changeable, *ALWAYS}
    said = {word: value for word, value in body.terms.dict(exclude_unset=True).items() if word in known}
    case = replace(case, terms=terms_from(goal, with_terms(goal, cast(dict[str, Any], row.terms), said)))
    view = goal_view(case)
    standings = [one.standing for one in view.judged if one.setting_id != case.campaign.stock.id]
    return GoalTried(
        goal=body.goal,
        words=view.words,
        far=view.far,
        against=view.against,
        meets=standings.count("meets it"),
        may=standings.count("may meet it"),
        terms=view.terms,
        changeable=list(changeable),
    )


@router.put("/campaigns/{int:campaign_id}/terms", response={200: CampaignOut, 404: Problems, 422: Problems})
def change_terms(request: HttpRequest, campaign_id: int, body: TermsChange) -> CampaignOut:
    """The goal's numbers: what must hold meanwhile, the risk that is accepted, how sure to be."""
    said = body.dict(exclude_unset=True)
    seen = said.pop("seen", None)
    return campaign_out(set_terms(found_campaign(campaign_id), said, seen))


@router.put("/campaigns/{int:campaign_id}/way", response={200: CampaignOut, 404: Problems, 422: Problems})
def change_way(request: HttpRequest, campaign_id: int, body: WayIn) -> CampaignOut:
    """Whose advice is followed, how far a test may go, and which approach proves."""
    campaign = found_campaign(campaign_id)
    changed = asdict(way_of(campaign)) | body.dict(exclude_none=True)
    return campaign_out(set_way(campaign, Way(**changed)))


@router.get("/campaigns/{int:campaign_id}/next", response={200: NextStep, 404: Problems})
def show_next(request: HttpRequest, campaign_id: int, minutes: float | None = None) -> NextStep:
    """What to do next, and what could be done instead; the same words as on every screen. minutes: bench time there is"""
    case = found_case(campaign_id)
    return next_of(case, standing_of(case), timezone.now(), minutes)
