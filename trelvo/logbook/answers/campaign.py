"""A campaign as the list and its own head show it; one campaign's trouble never hides another."""

import logging
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.decide.stages import Standing
from trelvo.logbook.answers.ladder import Achievement, achievements_of
from trelvo.logbook.answers.standing import standing_of
from trelvo.logbook.rows.campaign_data import CampaignData

log = logging.getLogger(__name__)
TROUBLE = (
    "Where it stands cannot be worked out; its runs are all there. Look in the logbook for a value that cannot be."
)


@dataclass(frozen=True)
class Summary:
    """Where a campaign stands and what it has gained. trouble: why neither can be said, or empty"""

    standing: Standing | None
    best: Achievement | None
    trouble: str


def summaries_of(campaigns: Sequence[CampaignData]) -> list[Summary]:
    """Each campaign's summary, in the order given."""
    try:
        best = achievements_of(campaigns)
    except (ArithmeticError, ValueError):
        best = [_alone(data) for data in campaigns]
    return [_summary(data, one) for data, one in zip(campaigns, best, strict=True)]


def _alone(data: CampaignData) -> Achievement | None:
    try:
        return achievements_of([data])[0]
    except (ArithmeticError, ValueError):
        log.exception("The best of campaign %s cannot be worked out", data.id)
        return None


def _summary(data: CampaignData, best: Achievement | None) -> Summary:
    try:
        return Summary(standing_of(data), best, "")
    except (ArithmeticError, ValueError):
        log.exception("Where campaign %s stands cannot be worked out", data.id)
        return Summary(None, None, TROUBLE)
