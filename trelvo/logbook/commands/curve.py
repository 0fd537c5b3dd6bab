"""Keeps a campaign's curve of clock over voltage, as typed or read from a file."""

from collections.abc import Sequence
from dataclasses import asdict

from django.db import transaction

from trelvo.core.laws.vf_curve import VoltagePoint, in_order
from trelvo.logbook.models import Campaign
from trelvo.logbook.tokens import campaign_changed


@transaction.atomic
def set_curve(campaign: Campaign, points: Sequence[VoltagePoint]) -> Campaign:
    """Takes over a curve, or none at all for no points. Refused when it is no curve."""
    campaign.curve = [asdict(one) for one in in_order(points)] if points else []
    campaign.save(update_fields=["curve"])
    campaign_changed(campaign.pk)
    return campaign
