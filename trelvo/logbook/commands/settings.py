"""Writes settings."""

from collections.abc import Mapping
from datetime import datetime

from django.db import transaction

from trelvo.core.base.knobs import checked_values, fingerprint
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Campaign, Setting
from trelvo.logbook.tokens import campaign_changed


@transaction.atomic
def add_setting(campaign: Campaign, values: Mapping[str, float], note: str, now: datetime) -> Setting:
    """A new setting. Knobs that are not named are at stock. Refused when off a grid, out of range, or there already."""
    turned = checked_values([row.as_knob() for row in campaign.knobs.all()], values)
    mark = fingerprint(turned)
    if campaign.settings.filter(fingerprint=mark).exists():
        raise Refused(Problem("values", "setting_there_already" if turned else "stock_there_already"))
    campaign_changed(campaign.pk)
    return Setting.objects.create(campaign=campaign, values=turned, fingerprint=mark, note=note.strip(), created_at=now)
