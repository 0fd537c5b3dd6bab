"""Kept settings of the logbook, each as it stands now."""

from datetime import datetime

from django.db.models import QuerySet

from trelvo.core.keep.kept_view import KeptSettingView, view_or_trouble
from trelvo.logbook.cases import cases_of
from trelvo.logbook.models import KeptSetting


def kept_setting_views(kept_settings: "QuerySet[KeptSetting]", now: datetime) -> list[KeptSettingView]:
    """All of them as they stand now, oldest first."""
    rows = list(kept_settings.order_by("id").select_related("campaign__rig"))
    cases = cases_of(list({row.campaign_id: row.campaign for row in rows}.values()))
    kept = {setting.id: setting for case in cases.values() for setting in case.campaign.kept_settings}
    return [view_or_trouble(kept[row.pk], cases[row.campaign_id], now) for row in rows]


def kept_setting_view(kept_setting: KeptSetting, now: datetime) -> KeptSettingView:
    return kept_setting_views(KeptSetting.objects.filter(pk=kept_setting.pk), now)[0]
