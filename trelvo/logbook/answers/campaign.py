"""A campaign as the list and its own head show it; one campaign's trouble never hides another."""

import logging
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from trelvo.core.decide.next_step import NextStep
from trelvo.core.decide.stages import Standing
from trelvo.logbook.answers.goal import MOST_JUDGED, GoalView, goal_view, settings_to_judge
from trelvo.logbook.answers.next import next_of
from trelvo.logbook.answers.standing import standing_of
from trelvo.logbook.rows.campaign_data import CampaignData

log = logging.getLogger(__name__)
TROUBLE = (
    "Where it stands cannot be worked out; its runs are all there. Look in the logbook for a value that cannot be."
)
# Of a list so many campaigns are asked what they have shown of knobs like another's.
MOST_EARLIER = 6


@dataclass(frozen=True)
class Summary:
    """Where a campaign stands, how far its goal is met, and what comes next. trouble: why none can be said, or empty"""

    standing: Standing | None
    goal: GoalView | None
    next: NextStep | None
    trouble: str


def summaries_of(campaigns: Sequence[CampaignData], now: datetime) -> list[Summary]:
    """Each campaign's summary, in the order given; their figures are read in one question."""
    reading = [setting.pk for data in campaigns for setting in settings_to_judge(data)[:MOST_JUDGED]]
    for data in campaigns:
        if not data.earlier:
            others = sorted((one for one in campaigns if one.id != data.id), key=lambda one: -one.id)
            data.earlier = others[:MOST_EARLIER]
    return [_summary(data, reading, now) for data in campaigns]


def _summary(data: CampaignData, reading: Sequence[int], now: datetime) -> Summary:
    try:
        goal = goal_view(data, reading)
        standing = standing_of(data)
        return Summary(standing, goal, next_of(data, standing, now), "")
    except (ArithmeticError, ValueError):
        log.exception("Where campaign %s stands cannot be worked out", data.id)
        return Summary(None, None, None, TROUBLE)
