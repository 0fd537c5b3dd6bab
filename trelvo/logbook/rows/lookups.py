"""Small reads for those who write: one query each. Answers take theirs from snapshots."""

from datetime import datetime
from typing import cast

from trelvo.core.base.figures import FigureKey
from trelvo.core.base.instruments import usual_reader
from trelvo.core.base.knobs import Knob
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.logbook.models import Campaign, Figure, Run, Variant


def knobs_of(campaign: Campaign) -> list[Knob]:
    return [row.as_knob() for row in campaign.knobs.all()]


def safety_limits_of(campaign: Campaign) -> list[SafetyLimit]:
    return [row.as_safety_limit() for row in campaign.safety_limits.all()]


def testable(campaign: Campaign) -> list[Variant]:
    """What a run of the campaign can be made with: its workloads, then what it is proved with besides."""
    return [*campaign.workloads.all(), *campaign.test_suite.all()]


def reader_of(campaign: Campaign, quantity: Quantity, now: datetime) -> int | None:
    """The instrument that is taken to read a quantity where nobody says which."""
    rows = list(campaign.rig.instruments.all())
    uids = {str(row.uid): row.pk for row in rows}
    chosen = {cast(Quantity, word): uids[uid] for word, uid in dict(campaign.counting).items() if uid in uids}
    return usual_reader([row.as_instrument() for row in rows], chosen, quantity, now)


def known_results(campaign: Campaign, variant: Variant) -> list[float]:
    """Results of one workload on this rig that count, of any setting and campaign."""
    runs = Run.objects.filter(campaign__rig_id=campaign.rig_id, variant=variant, outcome="completed")
    found = runs.filter(set_aside_at=None, value__isnull=False).values_list("value", flat=True)
    return [value for value in found if value is not None]


def known_figures(campaign: Campaign, variant: Variant, key: FigureKey) -> list[float]:
    """Readings of one figure in one workload on this rig, of runs that are not set aside."""
    runs = {"run__campaign__rig_id": campaign.rig_id, "run__variant": variant, "run__set_aside_at": None}
    found = Figure.objects.filter(**runs, quantity=key.quantity, part=key.part, statistic=key.statistic, replaced=False)
    return list(found.values_list("value", flat=True))
