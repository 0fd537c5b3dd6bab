from dataclasses import replace
from functools import lru_cache
from threading import Lock
from typing import Annotated

import numpy as np
from django.http import HttpRequest
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import found_case
from trelvo.api.schema import Schema
from trelvo.core.base.knobs import Knob
from trelvo.core.campaign_climbs.service import within_goal
from trelvo.core.campaign_climbs.view import ClimbView, KnobTurn, StrategyStep, chosen_line, climb_view, knob_turns
from trelvo.core.case import Case
from trelvo.core.climb.planning import ClimbPlan, plan_climb
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.trials import Trial
from trelvo.core.climb_line.line import within_safety_limits
from trelvo.core.registry.approaches import STRATEGIES, Strategy
from trelvo.core.way import policy_for
from trelvo.exchange.quick_line.logging import begin_line

router = Router(tags=["climb"])


class Asked(Schema):
    """minutes: bench time that there is, without end where left out; the accepted risk is the campaign's"""

    knob: str | None = None
    base_id: int | None = None
    minutes: Annotated[float | None, Query(ge=0, le=100_000)] = None


class ClimbOut(Schema):
    """knobs: all of the campaign's in the order of turning

    lines: the quick line of each strategy's next test, begun; left out where it tests nothing or cannot be typed
    """

    climb: ClimbView
    knobs: list[KnobTurn]
    lines: dict[Strategy, str]


class PlanOut(Schema):
    """What the rest of a climb takes by one strategy."""

    strategy: Strategy
    plan: ClimbPlan


# A page that is opened twice asks twice: the second question waits for the first one's answer instead of finding it again.
_PLANNING = Lock()


@lru_cache(maxsize=256)
def _planned(knob: Knob, trials: tuple[Trial, ...], policy: Policy) -> ClimbPlan:
    """The same draws whenever it is asked, so that the answer changes only with what is known, and need not be found twice."""
    return plan_climb(knob, trials, policy, np.random.default_rng(1))


@router.get("/campaigns/{int:campaign_id}/climb", response={200: ClimbOut, 404: Problems, 422: Problems})
def show_climb(request: HttpRequest, campaign_id: int, asked: Query[Asked]) -> ClimbOut:
    """One knob's climb: trials, chance to hold along it, and what each strategy would do next."""
    case = found_case(campaign_id)
    climb = climb_view(case, asked.knob, asked.base_id, asked.minutes)
    lines = {step.strategy: _line(case, climb, step) for step in climb.steps}
    return ClimbOut(
        climb=climb,
        knobs=knob_turns(case, asked.minutes),
        lines={strategy: line for strategy, line in lines.items() if line},
    )


def _line(case: Case, climb: ClimbView, step: StrategyStep) -> str:
    advice = step.advice
    if advice.act != "test" or advice.load_id is None:
        return ""
    return begin_line(
        case.campaign.knobs,
        case.campaign.testable,
        {**climb.base, climb.knob.key: advice.value},
        advice.load_id,
        advice.minutes,
    )


@router.get("/campaigns/{int:campaign_id}/climb/plan", response={200: list[PlanOut], 404: Problems, 422: Problems})
def show_plan(request: HttpRequest, campaign_id: int, asked: Query[Asked]) -> list[PlanOut]:
    """How many minutes the rest of the climb takes by each strategy, restarts counted: played through many times."""
    case = found_case(campaign_id)
    line = chosen_line(case, asked.knob, asked.base_id, asked.minutes)
    own = policy_for(case.way, case.terms, line.knob.key, asked.minutes)
    plans = []
    for strategy in STRATEGIES:
        limited = within_goal(case, line, within_safety_limits(case.campaign, line.knob, own))
        policy = replace(limited, strategy=strategy, steepness=line.steepness)
        with _PLANNING:
            plan = _planned(line.knob, tuple(line.trials), policy)
        plans.append(PlanOut(strategy=strategy, plan=plan))
    return plans
