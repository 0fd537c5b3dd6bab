"""Kept settings of the logbook, each as it stands now."""

from datetime import datetime

from django.db.models import QuerySet

from trelvo.core.keep.kept_view import KeeperView, view_or_trouble
from trelvo.logbook.cases import cases_of
from trelvo.logbook.models import Keeper


def keeper_views(keepers: "QuerySet[Keeper]", now: datetime) -> list[KeeperView]:
    """All of them as they stand now, oldest first."""
    rows = list(keepers.order_by("id").select_related("campaign__rig"))
    cases = cases_of(list({one.campaign_id: one.campaign for one in rows}.values()))
    kept = {one.id: one for case in cases.values() for one in case.campaign.kept_settings}
    return [view_or_trouble(kept[one.pk], cases[one.campaign_id], now) for one in rows]


def keeper_view(keeper: Keeper, now: datetime) -> KeeperView:
    return keeper_views(Keeper.objects.filter(pk=keeper.pk), now)[0]
