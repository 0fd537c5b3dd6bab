"""Small reads for those who write: one question each. Answers take theirs from `campaign_data`."""

from collections import Counter
from collections.abc import Sequence

from trelvo.core.base.knobs import Knob
from trelvo.core.watch.guard_rails import GuardRail
from trelvo.logbook.models import Campaign, Run, Variant


def knobs_of(campaign: Campaign) -> list[Knob]:
    return [row.as_knob() for row in campaign.knobs.all()]


def rails_of(campaign: Campaign) -> list[GuardRail]:
    return [row.as_rail() for row in campaign.guard_rails.all()]


def titles_of(variants: Sequence[Variant]) -> dict[int, str]:
    """What each is called among the others: by its name, with its options where another has the same name."""
    names = Counter(one.name.casefold() for one in variants)
    return {one.pk: one.name if names[one.name.casefold()] == 1 else one.in_full() for one in variants}


def testable(campaign: Campaign) -> list[Variant]:
    """What a run of the campaign can be made with: its workloads, then what it is proved with besides."""
    return [*campaign.workloads.all(), *campaign.battery.all()]


def known_results(campaign: Campaign, variant: Variant) -> list[float]:
    """Results of one workload on this rig that count, of any setting and campaign."""
    runs = Run.objects.filter(campaign__rig_id=campaign.rig_id, variant=variant, outcome="completed")
    found = runs.filter(set_aside_at=None, value__isnull=False).values_list("value", flat=True)
    return [value for value in found if value is not None]
