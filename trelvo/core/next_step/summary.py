"""A campaign as the list and its own head show it; one campaign's trouble never hides another."""

import logging
from dataclasses import dataclass
from datetime import datetime

from trelvo.core.case import Case
from trelvo.core.goal.service import GoalView, goal_view
from trelvo.core.keep.kept_step import standing_in_use
from trelvo.core.message import Message, message
from trelvo.core.next_step.rules import NextStep, next_step
from trelvo.core.next_step.service import situation_of
from trelvo.core.next_step.standing import standing_of
from trelvo.core.stages import Standing

log = logging.getLogger(__name__)
TROUBLE = message("standing_in_trouble")


@dataclass(frozen=True)
class Summary:
    """Where a campaign stands, how far its goal is met, and what comes next. trouble: why none can be said"""

    standing: Standing | None
    goal: GoalView | None
    next: NextStep | None
    trouble: Message | None


def summary_of(case: Case, now: datetime) -> Summary:
    """The summary of one campaign, from case that knows what earlier ones have shown."""
    try:
        goal = goal_view(case)
        standing = standing_of(case)
        situation = situation_of(case, standing, now)
        return Summary(standing_in_use(standing, situation.in_use), goal, next_step(situation), None)
    except Exception:
        # whatever it is: the start page shows every other campaign all the same
        log.exception("Where campaign %s stands cannot be worked out", case.campaign.id)
        return Summary(None, None, None, TROUBLE)
