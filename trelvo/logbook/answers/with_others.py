"""A campaign's data together with what the newest others have shown of knobs like its own."""

import logging
from collections.abc import Sequence

from django.db.models import Case, Q, QuerySet, When

from trelvo.logbook.answers.climb_line import Shown, knowing_of, shown_by
from trelvo.logbook.answers.goal import judged_of
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.campaign_data import CampaignData, read_figures_at
from trelvo.logbook.rows.kept_data import data_of_many

log = logging.getLogger(__name__)

# So many of the newest other campaigns are asked what they have shown of knobs of the same kind.
MOST_EARLIER = 6


def data_for_climb(campaign: Campaign) -> CampaignData:
    """A campaign's data with that of the newest others, read together: what they have shown of like knobs is where it begins."""
    return _with_others(campaign, list(_others().exclude(pk=campaign.pk)[:MOST_EARLIER]))


def found_for_climb(campaign_id: int) -> CampaignData | None:
    """The same by its number, in one question; None where it is not there."""
    itself = Q(pk=campaign_id)
    rows = Campaign.objects.present().filter(itself | Q(archived_at__isnull=True)).select_related("rig")
    # the one asked for first, then the newest
    first = Case(When(itself, then=0), default=1)
    found = list(rows.order_by(first, "-pk")[: MOST_EARLIER + 1])
    if not found or found[0].pk != campaign_id:
        return None
    return _with_others(found[0], found[1:])


def data_for_climbs(campaigns: Sequence[Campaign]) -> dict[int, CampaignData]:
    """The same for several campaigns, by campaign."""
    others = list(_others().select_related("rig")[: MOST_EARLIER + 1])
    every = {one.id: one for one in data_of_many(list({one.pk: one for one in (*campaigns, *others)}.values()))}
    shown = {one.pk: shown_or_nothing(every[one.pk]) for one in others}
    return {
        pk: knowing_of(every[pk], [each for other in earlier_than(pk, others) for each in shown[other]])
        for pk in [one.pk for one in campaigns]
    }


def earlier_than(campaign_id: int, others: Sequence[Campaign]) -> list[int]:
    """Which of the others a campaign asks what they have shown."""
    return [one.pk for one in others if one.pk != campaign_id][:MOST_EARLIER]


def _others() -> QuerySet[Campaign]:
    return Campaign.objects.present().filter(archived_at__isnull=True).order_by("-pk")


def _with_others(campaign: Campaign, others: Sequence[Campaign]) -> CampaignData:
    data, *earlier = data_of_many([campaign, *others])
    read_judged([data])
    return knowing_of(data, [shown for one in earlier for shown in shown_or_nothing(one)])


def shown_or_nothing(data: CampaignData) -> list[Shown]:
    """What a campaign has shown of its knobs; nothing where that cannot be worked out, so that others can still be answered."""
    try:
        return shown_by(data)
    except Exception:
        log.exception("What campaign %s has shown cannot be worked out", data.id)
        return []


def newest_others(campaigns: Sequence[Campaign]) -> list[Campaign]:
    """The newest that are not archived, one more than any campaign asks; read only where they are not among these."""
    if all(one.archived_at is None for one in campaigns):
        return sorted(campaigns, key=lambda one: -one.pk)[: MOST_EARLIER + 1]
    return list(_others().select_related("rig")[: MOST_EARLIER + 1])


def read_judged(campaigns: Sequence[CampaignData]) -> None:
    """Reads the figures that the goals' views rest on, of all campaigns that were loaded together in one question."""
    judged = []
    for data in campaigns:
        try:
            judged.append((data, judged_of(data)))
        except Exception:
            # its own answer says so
            log.exception("What campaign %s is judged by cannot be read", data.id)
    read_figures_at(judged)
