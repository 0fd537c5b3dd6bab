"""Finds what an address names, or says that it is not there."""

from collections.abc import Iterable
from typing import Protocol, TypeVar

from django.http import Http404
from django.shortcuts import get_object_or_404

from trelvo.core.campaign import Build, CampaignSnapshot
from trelvo.core.case import Case
from trelvo.logbook.cases import case_alone, cases_alone, find_case
from trelvo.logbook.models import Campaign


class HasId(Protocol):
    @property
    def id(self) -> int: ...


Row = TypeVar("Row", bound=HasId)


def found_campaign(campaign_id: int) -> Campaign:
    """A campaign that is there, with its rig."""
    return get_object_or_404(Campaign.objects.present().select_related("rig"), pk=campaign_id)


def found_case_alone(campaign_id: int) -> Case:
    """A campaign without what others have taught, for answers that ask nothing about its climbs."""
    return case_alone(found_campaign(campaign_id))


def found_rig(campaign_id: int) -> tuple[Case, list[Case]]:
    """A campaign, and every campaign of its rig, loaded together."""
    rows = Campaign.objects.present().filter(rig__campaigns=campaign_id).select_related("rig")
    every = cases_alone(list(rows))
    for case in every:
        if case.campaign.id == campaign_id:
            return case, every
    raise Http404


def found_case(campaign_id: int) -> Case:
    """A campaign with what others have taught, for answers about its climbs."""
    return found_row_and_case(campaign_id)[1]


def found_row_and_case(campaign_id: int) -> tuple[Campaign, Case]:
    """The same with its row, for what a snapshot leaves out."""
    found = find_case(campaign_id)
    if found is None:
        raise Http404
    return found


def one_of(rows: Iterable[Row], row_id: int) -> Row:
    """The row with this number among some that were read already."""
    for row in rows:
        if row.id == row_id:
            return row
    raise Http404


def build_numbered(campaign: CampaignSnapshot, number: int) -> Build:
    """The rig's build of this number."""
    for build in campaign.builds:
        if build.number == number:
            return build
    raise Http404
