"""Writes kept settings, their use, failures in use and what was found out about those."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any, get_args

from django.db import transaction

from trelvo.core.climb.failures_in_use import PROBES, Suspect
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import FAILURES
from trelvo.logbook.models import Campaign, InUse, KeptSetting, KeptSettingUse, UseEntry, Variant
from trelvo.logbook.tokens import campaign_changed

# More than this in one entry is a slip of the finger: three years without a break.
MOST_HOURS = 26_000.0
ROOM_C = (-30.0, 60.0)


@transaction.atomic
def keep(
    campaign: Campaign, setting_id: int, build_id: int, name: str, use: str, components: Sequence[str],
    evidence: dict[str, Any], proof: dict[str, Any], now: datetime, *, in_use: bool,
) -> KeptSetting:  # fmt: skip
    """Keeps a setting, with what it rests on as it is at this moment. in_use: from now on the rig runs with it"""
    if not name.strip():
        raise Refused(Problem("name", "kept_setting_name_missing"))
    if use not in KeptSettingUse.values:
        raise Refused(Problem("use", "unknown_use", {"use": use, "known": tuple(KeptSettingUse.values)}))
    there = KeptSetting.objects.filter(rig=campaign.rig, taken_back_at=None)
    if there.filter(name__iexact=name.strip()).exists():
        raise Refused(Problem("name", "kept_setting_name_taken", {"name": name.strip()}))
    kept_setting = KeptSetting.objects.create(
        rig=campaign.rig, campaign=campaign, setting_id=setting_id, build_id=build_id, name=name.strip(), use=use,
        components=list(components), evidence=evidence, proof=proof, kept_at=now,
    )  # fmt: skip
    campaign_changed(campaign.pk)
    if in_use:
        put_in_use(kept_setting, now)
    return kept_setting


@transaction.atomic
def put_in_use(kept_setting: KeptSetting, now: datetime) -> None:
    """From now on its rig runs with this kept setting; whichever it ran with before ends now."""
    if kept_setting.taken_back_at:
        raise Refused(Problem("kept_setting", "kept_setting_gone", {"kept_setting": kept_setting.name}))
    open_ = InUse.objects.filter(kept_setting__rig_id=kept_setting.rig_id, until=None)
    if open_.filter(kept_setting=kept_setting).exists():
        return
    before = set(open_.values_list("kept_setting__campaign_id", flat=True))
    open_.update(until=now)
    InUse.objects.create(kept_setting=kept_setting, since=now)
    for campaign_id in {kept_setting.campaign_id, *before}:
        campaign_changed(campaign_id)


@transaction.atomic
def take_out_of_use(kept_setting: KeptSetting, now: datetime) -> None:
    InUse.objects.filter(kept_setting=kept_setting, until=None).update(until=now)
    campaign_changed(kept_setting.campaign_id)


@transaction.atomic
def rename_kept_setting(kept_setting: KeptSetting, name: str, use: str) -> KeptSetting:
    if not name.strip():
        raise Refused(Problem("name", "kept_setting_name_missing"))
    others = KeptSetting.objects.filter(rig_id=kept_setting.rig_id, taken_back_at=None).exclude(pk=kept_setting.pk)
    if others.filter(name__iexact=name.strip()).exists():
        raise Refused(Problem("name", "kept_setting_name_taken", {"name": name.strip()}))
    kept_setting.name, kept_setting.use = name.strip(), use
    kept_setting.save(update_fields=["name", "use"])
    campaign_changed(kept_setting.campaign_id)
    return kept_setting


@transaction.atomic
def take_back(kept_setting: KeptSetting, reason: str, now: datetime | None) -> KeptSetting:
    """No longer kept, with the reason; all it rests on stays. now: None undoes it"""
    if now is not None:
        take_out_of_use(kept_setting, now)
    kept_setting.taken_back_at, kept_setting.reason = now, reason.strip() if now else ""
    kept_setting.save(update_fields=["taken_back_at", "reason"])
    campaign_changed(kept_setting.campaign_id)
    return kept_setting


@transaction.atomic
def log_use(
    kept_setting: KeptSetting, hours: float, now: datetime, *, outcome: str = "", minutes: float | None = None,
    variant: Variant | None = None, room_c: float | None = None, note: str = "",
) -> UseEntry:  # fmt: skip
    """Hours of use that went well, or that ended in a failure. minutes: how long it ran until then"""
    if problems := check_use(hours, outcome, minutes, room_c):
        raise Refused(*problems)
    campaign_changed(kept_setting.campaign_id)
    return UseEntry.objects.create(
        kept_setting=kept_setting,
        at=now,
        hours=hours,
        outcome=outcome,
        minutes=minutes,
        variant=variant,
        room_c=room_c,
        note=note,
    )


def check_use(hours: float, outcome: str, minutes: float | None, room_c: float | None) -> list[Problem]:
    """What cannot be in an entry of use."""
    problems = []
    if not 0 <= hours <= MOST_HOURS:
        problems.append(Problem("hours", "use_hours_out_of_range", {"hours": hours, "most": MOST_HOURS}))
    if not outcome and hours == 0:
        problems.append(Problem("hours", "no_hours_no_failure"))
    if outcome and outcome not in FAILURES:
        problems.append(Problem("outcome", "not_a_failure", {"outcome": outcome, "known": tuple(sorted(FAILURES))}))
    if minutes is not None and not 0 <= minutes <= MOST_HOURS * 60:
        problems.append(Problem("minutes", "failure_minutes_impossible", {"minutes": minutes}))
    if room_c is not None and not ROOM_C[0] <= room_c <= ROOM_C[1]:
        problems.append(
            Problem("room_c", "room_out_of_range", {"room_c": room_c, "low_c": ROOM_C[0], "high_c": ROOM_C[1]})
        )
    return problems


@transaction.atomic
def remove_use(entry: UseEntry) -> None:
    """Takes an entry back that was just logged."""
    campaign_changed(entry.kept_setting.campaign_id)
    entry.delete()


@transaction.atomic
def log_probe(entry: UseEntry, key: str, minutes: float, now: datetime, *, failed: bool) -> UseEntry:
    """One test of the search for the cause of a failure."""
    if entry.verdict:
        raise Refused(Problem("key", "failure_settled"))
    if key not in PROBES:
        raise Refused(Problem("key", "unknown_probe", {"probe": key, "known": tuple(PROBES)}))
    if not 0 < minutes <= 1440:
        raise Refused(Problem("minutes", "test_minutes_out_of_range", {"minutes": minutes}))
    entry.probes = [*entry.probes, {"key": key, "failed": failed, "minutes": minutes, "at": now.isoformat()}]
    entry.save(update_fields=["probes"])
    campaign_changed(entry.kept_setting.campaign_id)
    return entry


@transaction.atomic
def settle_failure(entry: UseEntry, verdict: str, now: datetime) -> UseEntry:
    """Who is to blame for it. An empty verdict opens it again."""
    if verdict and verdict not in get_args(Suspect):
        raise Refused(Problem("verdict", "unknown_suspect", {"suspect": verdict, "known": tuple(get_args(Suspect))}))
    entry.verdict, entry.settled_at = verdict, now if verdict else None
    entry.save(update_fields=["verdict", "settled_at"])
    campaign_changed(entry.kept_setting.campaign_id)
    return entry
