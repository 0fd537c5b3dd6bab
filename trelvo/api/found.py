"""Finds what an address names, or says that it is not there."""

from collections.abc import Iterable
from typing import TypeVar

from django.db.models import Model
from django.http import Http404
from django.shortcuts import get_object_or_404

from trelvo.logbook.answers.with_others import found_for_climb
from trelvo.logbook.models import Campaign, Fitting
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.kept_data import data_of, data_of_many

Row = TypeVar("Row", bound=Model)


def found_campaign(campaign_id: int) -> Campaign:
    """A campaign that is there, with its rig."""
    return get_object_or_404(Campaign.objects.present().select_related("rig"), pk=campaign_id)


def found_data(campaign_id: int) -> CampaignData:
    """A campaign's data."""
    return data_of(found_campaign(campaign_id))


def found_rig(campaign_id: int) -> tuple[CampaignData, list[CampaignData]]:
    """A campaign's data, and that of every campaign of its rig, read together."""
    rows = Campaign.objects.present().filter(rig__campaigns=campaign_id).select_related("rig")
    every = data_of_many(list(rows))
    for data in every:
        if data.id == campaign_id:
            return data, every
    raise Http404


def found_climb(campaign_id: int) -> CampaignData:
    """A campaign's data with what earlier campaigns have shown, for answers about its climbs."""
    data = found_for_climb(campaign_id)
    if data is None:
        raise Http404
    return data


def one_of(rows: Iterable[Row], pk: int) -> Row:
    """The row with this number among some that were read already."""
    for row in rows:
        if row.pk == pk:
            return row
    raise Http404


def fitting_numbered(data: CampaignData, number: int) -> Fitting:
    """The rig's fitting of this number."""
    for fitting in data.fittings:
        if fitting.number == number:
            return fitting
    raise Http404
