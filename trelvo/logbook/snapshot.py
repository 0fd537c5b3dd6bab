"""Loads campaigns as snapshots: rows in, the core's frozen types out, in the same number of queries however many campaigns."""

from collections import defaultdict
from collections.abc import Callable, Collection, Hashable, Iterable, Mapping
from typing import Any, TypeVar, cast

from django.db.models import F, TextField, Value
from django.db.models.functions import Cast

from trelvo.core.base.figures import FigureKey
from trelvo.core.base.instruments import Reading
from trelvo.core.campaign import (
    Build,
    CampaignSnapshot,
    InUse,
    KeptSetting,
    LogStart,
    PlacedPart,
    RigSnapshot,
    RoomReading,
    Run,
    Setting,
    Target,
    Use,
    Variant,
)
from trelvo.core.laws.vf_curve import VoltagePoint
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.held_back import FirstPass
from trelvo.logbook import models

Row = TypeVar("Row")
Key = TypeVar("Key", bound=Hashable)


def load_snapshots(ids: Collection[int], tokens: Mapping[int, tuple[str, str, str]]) -> list[CampaignSnapshot]:
    """Load campaigns with everything that was run in them. tokens: of each, as they were read before this"""
    campaigns = models.Campaign.objects.filter(pk__in=ids).order_by()
    variants = _Variants()
    rigs = _rigs({row.rig_id for row in campaigns}, variants)
    measured = _linked(models.Campaign.workloads.through, ids, variants)
    test_suite = _linked(models.Campaign.test_suite.through, ids, variants)
    retired = _linked(models.Campaign.retired.through, ids, variants)
    knobs = _by(models.KnobRow.objects.filter(campaign_id__in=ids), lambda row: row.campaign_id)
    safety_limits = _by(models.SafetyLimitRow.objects.filter(campaign_id__in=ids), lambda row: row.campaign_id)
    targets = _by(models.Target.objects.filter(campaign_id__in=ids), lambda row: row.campaign_id)
    said = _by(models.CautionYes.objects.filter(campaign_id__in=ids), lambda row: row.campaign_id)
    kept_settings = list(models.KeptSetting.objects.filter(campaign_id__in=ids))
    settings = _settings(ids, kept_settings)
    kept = _kept_settings(kept_settings, settings, variants)
    runs = _runs(ids)
    readings = _readings(ids)
    starts = _log_starts(ids)
    found = []
    for campaign in campaigns:
        rig, uids = rigs[campaign.rig_id]
        counting = cast(Mapping[Quantity, str], campaign.counting)
        own = runs.get(campaign.pk, ())
        found.append(
            CampaignSnapshot(
                token=tokens[campaign.pk],
                id=campaign.pk,
                uid=campaign.uid,
                name=campaign.name,
                rig=rig,
                knobs=tuple(row.as_knob() for row in knobs.get(campaign.pk, ())),
                settings=tuple(settings.get(campaign.pk, {}).values()),
                workloads=measured.get(campaign.pk, ()),
                test_suite=test_suite.get(campaign.pk, ()),
                retired=retired.get(campaign.pk, ()),
                runs=own,
                readings={run.id: readings[run.id] for run in own if run.id in readings},
                log_starts=starts.get(campaign.pk, ()),
                safety_limits=tuple(row.as_safety_limit() for row in safety_limits.get(campaign.pk, ())),
                targets=tuple(_target(row) for row in targets.get(campaign.pk, ())),
                kept_settings=kept.get(campaign.pk, ()),
                said_yes={row.key: row.said_at for row in said.get(campaign.pk, ())},
                weights=cast(Mapping[str, float], campaign.weights),
                chosen={quantity: uids[uid] for quantity, uid in counting.items() if uid in uids},
                curve=tuple(VoltagePoint(**one) for one in campaign.curve),
                smallest_gain=campaign.smallest_gain,
                wished_resolution=campaign.wished_resolution,
                stale_days=campaign.stale_days,
                enough_said_at=campaign.enough_said_at,
                temp_limit_c=campaign.temp_limit_c,
                power_limit_w=campaign.power_limit_w,
                price=campaign.price,
                currency=campaign.currency,
            )
        )
    return found


class _Variants:
    """Every variant with its workload as the core takes them, by id. There are few: they are the same on every rig."""

    def __init__(self) -> None:
        rows = models.Variant.objects.order_by("position", "id")
        self.by_id = {row.pk: row.as_variant() for row in rows}

    def in_order(self, ids: Collection[int]) -> tuple[Variant, ...]:
        return tuple(one for pk, one in self.by_id.items() if pk in ids)


def _linked(through: Any, campaign_ids: Collection[int], variants: _Variants) -> dict[int, tuple[Variant, ...]]:
    links = through.objects.filter(campaign_id__in=campaign_ids).values_list("campaign_id", "variant_id")
    return {pk: variants.in_order({one for _, one in some}) for pk, some in _by(links, lambda link: link[0]).items()}


def _rigs(ids: Collection[int], variants: _Variants) -> dict[int, tuple[RigSnapshot, dict[str, int]]]:
    """By id, each rig with its instruments' ids by their uids."""
    parts = _by(models.Part.objects.filter(build__rig_id__in=ids), lambda row: row.build_id)
    builds = _by(models.Build.objects.filter(rig_id__in=ids), lambda row: row.rig_id)
    instruments = _by(models.InstrumentRow.objects.filter(rig_id__in=ids), lambda row: row.rig_id)
    journal = models.JournalEntry.objects.filter(rig_id__in=ids, room_c__isnull=False, taken_out_at=None)
    rooms = _by(journal.order_by("at", "id"), lambda row: row.rig_id)
    used = _used(ids)
    found = {}
    for row in models.Rig.objects.filter(pk__in=ids):
        own = instruments.get(row.pk, [])
        rig = RigSnapshot(
            row.pk,
            row.name,
            bool(row.simulator),
            tuple(_build(one, parts.get(one.pk, [])) for one in builds.get(row.pk, [])),
            tuple(one.as_instrument() for one in own),
            variants.in_order(used.get(row.pk, set())),
            tuple(RoomReading(one.at, cast(float, one.room_c)) for one in rooms.get(row.pk, [])),
        )
        found[row.pk] = rig, {str(one.uid): one.pk for one in own}
    return found


def _used(rig_ids: Collection[int]) -> dict[int, set[int]]:
    """By rig, the variants that its campaigns measure or prove with; those of deleted campaigns are left out."""
    campaigns = models.Campaign.objects.present().filter(rig_id__in=rig_ids).order_by()
    links = [
        campaigns.annotate(link=Value(word), variant_id=F(word)).values_list("rig_id", "variant_id")
        for word in ("workloads", "test_suite")
    ]
    found: dict[int, set[int]] = defaultdict(set)
    for rig_id, variant_id in links[0].union(links[1]):
        found[rig_id].add(variant_id)
    return found


def _build(row: models.Build, parts: Iterable[models.Part]) -> Build:
    return Build(
        id=row.pk,
        number=row.number,
        since=row.since,
        cooling=row.cooling,
        enclosure=row.enclosure,
        driver=row.driver,
        firmware=row.firmware,
        system=row.system,
        note=row.note,
        placed=tuple(PlacedPart(part.role, part.name, part.specimen) for part in parts),
    )


def _settings(
    campaign_ids: Collection[int], kept_settings: Iterable[models.KeptSetting]
) -> dict[int, dict[int, Setting]]:
    """By campaign, its settings by id, oldest first."""
    names: dict[int, str] = {}
    for kept_setting in kept_settings:
        if kept_setting.taken_back_at is None:
            names.setdefault(kept_setting.setting_id, kept_setting.name)
    found: dict[int, dict[int, Setting]] = defaultdict(dict)
    columns = ("campaign_id", "id", "uid", "fingerprint", "values", "note", "created_at")
    rows = models.Setting.objects.filter(campaign_id__in=campaign_ids).values_list(*columns)
    for campaign_id, pk, uid, fingerprint, values, note, created_at in rows:
        found[campaign_id][pk] = Setting(pk, uid, fingerprint, values, note, created_at, names.get(pk, ""))
    return found


def _kept_settings(
    kept_settings: Iterable[models.KeptSetting], settings: Mapping[int, Mapping[int, Setting]], variants: _Variants
) -> dict[int, tuple[KeptSetting, ...]]:
    rows = list(kept_settings)
    ids = [row.pk for row in rows]
    spans = _by(models.InUse.objects.filter(kept_setting_id__in=ids) if ids else [], lambda row: row.kept_setting_id)
    uses = models.UseEntry.objects.filter(kept_setting_id__in=ids).order_by("at", "id") if ids else []
    entries = _by(uses, lambda row: row.kept_setting_id)
    found: dict[int, list[KeptSetting]] = defaultdict(list)
    for row in rows:
        found[row.campaign_id].append(
            KeptSetting(
                id=row.pk,
                name=row.name,
                use=row.use,
                setting=settings[row.campaign_id][row.setting_id],
                build_id=row.build_id,
                kept_at=row.kept_at,
                components=tuple(row.components),
                evidence=row.evidence,
                proof=row.proof,
                taken_back_at=row.taken_back_at,
                reason=row.reason,
                spans=tuple(InUse(one.since, one.until) for one in spans.get(row.pk, [])),
                entries=tuple(_use(one, variants) for one in entries.get(row.pk, [])),
            )
        )
    return {pk: tuple(some) for pk, some in found.items()}


def _use(row: models.UseEntry, variants: _Variants) -> Use:
    return Use(
        id=row.pk, at=row.at, hours=row.hours, outcome=cast(Any, row.outcome or None), minutes=row.minutes,
        variant=variants.by_id.get(row.variant_id or 0), room_c=row.room_c, probes=tuple(row.probes), verdict=row.verdict,
    )  # fmt: skip


def _target(row: models.Target) -> Target:
    return Target(row.pk, row.name, row.price, row.source, row.conditions, row.results)


def _runs(campaign_ids: Collection[int]) -> dict[int, tuple[Run, ...]]:
    rows = models.Run.objects.filter(campaign_id__in=campaign_ids).order_by("started_at", "id")
    # texts instead of moments: parsing those would take most of the time
    rows = rows.annotate(started=Cast("started_at", TextField()), aside=Cast("set_aside_at", TextField()))
    found: dict[int, list[Run]] = defaultdict(list)
    for row in rows.values_list(*Run._fields).iterator(chunk_size=2000):
        found[row[2]].append(Run._make(row))
    return {pk: tuple(some) for pk, some in found.items()}


def _readings(campaign_ids: Collection[int]) -> dict[int, tuple[Reading, ...]]:
    """By run, its figures as they were read, in the order in which they were stored."""
    keys: dict[tuple[str, str, str], FigureKey] = {}
    found: dict[int, list[Reading]] = defaultdict(list)
    columns = ("run_id", "quantity", "part", "statistic", "value", "instrument_id")
    rows = models.Figure.objects.filter(run__campaign_id__in=campaign_ids, replaced=False).order_by("id")
    for run_id, quantity, part, statistic, value, instrument_id in rows.values_list(*columns).iterator(chunk_size=2000):
        word = (quantity, part, statistic)
        key = keys.get(word) or keys.setdefault(word, FigureKey(*word))
        found[run_id].append(Reading(key, value, instrument_id))
    return {pk: tuple(some) for pk, some in found.items()}


def _log_starts(campaign_ids: Collection[int]) -> dict[int, tuple[LogStart, ...]]:
    """By campaign, how the start of each telemetry log flatters, in the order in which they were stored."""
    kept = models.Series.objects.filter(
        run__campaign_id__in=campaign_ids, kind=models.Series.Kind.TELEMETRY, run__set_aside_at=None
    )
    found: dict[int, list[LogStart]] = defaultdict(list)
    columns = ("run__campaign_id", "run_id", "first_pass_s", "first_pass_ahead")
    for campaign_id, run_id, lasts_s, ahead in kept.order_by("added_at", "id").values_list(*columns):
        found[campaign_id].append(LogStart(run_id, FirstPass(lasts_s, ahead) if lasts_s is not None else None))
    return {pk: tuple(some) for pk, some in found.items()}


def _by(rows: Iterable[Row], key: Callable[[Row], Key]) -> dict[Key, list[Row]]:
    found: dict[Key, list[Row]] = defaultdict(list)
    for row in rows:
        found[key(row)].append(row)
    return found
