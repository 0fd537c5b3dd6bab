"""Campaigns as cases: each snapshot with its goal, its user's way of working, and what the newest others have taught."""

import logging
from collections.abc import Sequence
from typing import Any, cast

from django.db.models import Case as Choose
from django.db.models import Q, When

from trelvo.core.campaign import CampaignSnapshot
from trelvo.core.case import Case
from trelvo.core.climb.priors import NOTHING_TAUGHT, Priors, Shown, priors_for
from trelvo.core.climb_line.shown import shown_by
from trelvo.core.registry.goals import GoalWord
from trelvo.core.terms import Terms, terms_from
from trelvo.core.way import Way
from trelvo.logbook.models import Campaign
from trelvo.logbook.store import latest, latest_of

log = logging.getLogger(__name__)

# So many of the newest other campaigns are asked what they have shown of knobs of the same kind.
MOST_EARLIER = 6


def terms_of(campaign: Campaign) -> Terms:
    return terms_from(cast(GoalWord, campaign.goal), cast(dict[str, Any], campaign.terms))


def way_of(campaign: Campaign) -> Way:
    return Way(**cast(dict[str, Any], campaign.way))


def case_from(campaign: Campaign, snapshot: CampaignSnapshot, priors: Priors = NOTHING_TAUGHT) -> Case:
    return Case(snapshot, terms_of(campaign), way_of(campaign), priors)


def case_alone(campaign: Campaign) -> Case:
    """A campaign without what others have taught, where nothing about its climbs is asked."""
    return case_from(campaign, latest(campaign))


def cases_alone(campaigns: Sequence[Campaign]) -> list[Case]:
    return [case_from(row, snapshot) for row, snapshot in zip(campaigns, latest_of(campaigns), strict=True)]


def case_of(campaign: Campaign) -> Case:
    """A campaign with what the newest others have taught."""
    return cases_of([campaign])[campaign.pk]


def find_case(campaign_id: int) -> tuple[Campaign, Case] | None:
    """A campaign by its id, with its rig, as a case; None where it is not there. The others are found in the same query."""
    itself = Q(pk=campaign_id)
    rows = Campaign.objects.present().filter(itself | Q(archived_at__isnull=True)).select_related("rig")
    # the one asked for first, then the newest
    first = Choose(When(itself, then=0), default=1)
    found = list(rows.order_by(first, "-pk")[: MOST_EARLIER + 1])
    if not found or found[0].pk != campaign_id:
        return None
    snapshot, *others = latest_of(found)
    shown = [each for other in others for each in shown_or_nothing(other)]
    return found[0], case_from(found[0], snapshot, priors_for(snapshot, shown))


def cases_of(campaigns: Sequence[Campaign]) -> dict[int, Case]:
    """Several campaigns with what the newest others have taught each, by id."""
    others = newest()
    rows = list({one.pk: one for one in (*campaigns, *others)}.values())
    snapshots = {one.id: one for one in latest_of(rows)}
    shown = {other.pk: shown_or_nothing(snapshots[other.pk]) for other in others}
    return {
        row.pk: case_from(
            row,
            snapshots[row.pk],
            priors_for(snapshots[row.pk], [each for pk in earlier_than(row.pk, others) for each in shown[pk]]),
        )
        for row in campaigns
    }


def earlier_than(campaign_id: int, others: Sequence[Campaign]) -> list[int]:
    """Which of the others a campaign asks what they have shown."""
    return [other.pk for other in others if other.pk != campaign_id][:MOST_EARLIER]


def newest() -> list[Campaign]:
    """The newest that are not archived, one more than any campaign asks."""
    rows = Campaign.objects.present().filter(archived_at__isnull=True).order_by("-pk")
    return list(rows.select_related("rig")[: MOST_EARLIER + 1])


def shown_or_nothing(snapshot: CampaignSnapshot) -> tuple[Shown, ...]:
    """What a campaign has shown of its knobs; nothing where that cannot be computed, so that others can still be answered."""
    try:
        return shown_by(snapshot)
    except Exception:
        log.exception("What campaign %s has shown cannot be worked out", snapshot.id)
        return ()
