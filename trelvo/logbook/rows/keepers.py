"""Keepers and what happened since they were kept, read in few questions for one rig or all."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import TypeVar

from django.db.models import F, Model, OuterRef, Q, Subquery

from trelvo.core.base.figures import BY_WORD
from trelvo.logbook.models import (
    Figure,
    Fitting,
    InUse,
    JournalEntry,
    Keeper,
    KnobRow,
    Run,
    UseEntry,
    Variant,
)


@dataclass(frozen=True)
class RoomReading:
    at: datetime
    room_c: float


@dataclass
class KeeperRows:
    """What the answers about some keepers are made of; each kind of row read once for all of them."""

    keepers: list[Keeper]
    knobs: dict[int, list[KnobRow]] = field(default_factory=dict)
    fittings: dict[int, list[Fitting]] = field(default_factory=dict)
    spans: dict[int, list[InUse]] = field(default_factory=dict)
    entries: dict[int, list[UseEntry]] = field(default_factory=dict)
    runs: dict[int, list[Run]] = field(default_factory=dict)
    controls: dict[int, list[Run]] = field(default_factory=dict)
    variants: dict[int, list[Variant]] = field(default_factory=dict)
    rooms: dict[int, list[RoomReading]] = field(default_factory=dict)


def rows_of(keepers: Sequence[Keeper]) -> KeeperRows:
    """Reads what belongs to these keepers (rig, campaign and setting come with them).

    runs: by keeper, at its setting since it was kept; controls: at stock of its campaign; variants: in use on its rig
    """
    found = KeeperRows(list(keepers))
    if not keepers:
        return found
    rigs = {one.rig_id for one in keepers}
    campaigns = {one.campaign_id for one in keepers}
    found.knobs = _by(KnobRow.objects.filter(campaign_id__in=campaigns), "campaign_id")
    found.fittings = _by(Fitting.objects.filter(rig_id__in=rigs).prefetch_related("parts"), "rig_id")
    found.spans = _by(InUse.objects.filter(keeper__in=keepers), "keeper_id")
    entries = UseEntry.objects.filter(keeper__in=keepers).select_related("variant__workload").order_by("at", "id")
    found.entries = _by(entries, "keeper_id")
    first = min(one.kept_at for one in keepers)
    stock = Q(setting__fingerprint="", campaign_id__in=campaigns)
    kept = Q(setting_id__in=[one.setting_id for one in keepers])
    runs = Run.objects.filter(kept | stock, started_at__gte=first, set_aside_at=None)
    room = BY_WORD["room_c"].key
    read = Figure.objects.filter(
        run=OuterRef("pk"), replaced=False, quantity=room.quantity, part=room.part, statistic=room.statistic
    )
    runs = runs.annotate(room_c=Subquery(read.values("value")[:1]))
    runs = runs.select_related("variant__workload", "setting").order_by("started_at", "id")
    by_setting = _by(runs, "setting_id")
    by_campaign: dict[int, list[Run]] = defaultdict(list)
    for some in by_setting.values():
        for run in some:
            if run.setting.is_stock:
                by_campaign[run.campaign_id].append(run)
    for one in keepers:
        # what the keeper rests on is not counted twice
        rests_on = set(one.evidence["runs"])
        found.runs[one.pk] = [
            run
            for run in by_setting.get(one.setting_id, [])
            if run.started_at >= one.kept_at and str(run.uid) not in rests_on
        ]
        found.controls[one.pk] = [run for run in by_campaign[one.campaign_id] if run.started_at >= one.kept_at]
    found.variants = _in_use(rigs)
    found.rooms = _rooms(rigs, first, found)
    return found


def _in_use(rigs: set[int]) -> dict[int, list[Variant]]:
    """What each rig's campaigns measure or prove with."""
    rows = Variant.objects.filter(
        Q(campaigns__rig_id__in=rigs, campaigns__deleted_at=None)
        | Q(battery_of__rig_id__in=rigs, battery_of__deleted_at=None)
    )
    found: dict[int, dict[int, Variant]] = defaultdict(dict)
    for one in rows.annotate(measured_on=F("campaigns__rig_id"), proves_on=F("battery_of__rig_id")).distinct():
        for rig_id in (getattr(one, "measured_on"), getattr(one, "proves_on")):  # noqa: B009
            if rig_id in rigs:
                found[rig_id][one.pk] = one
    return {rig_id: list(some.values()) for rig_id, some in found.items()}


def _rooms(rigs: set[int], since: datetime, found: KeeperRows) -> dict[int, list[RoomReading]]:
    """How warm the room was, by rig: by runs at what is kept and at stock, by the journal, by use; in order of time."""
    rooms: dict[int, list[RoomReading]] = defaultdict(list)
    for keeper in found.keepers:
        for run in (*found.runs[keeper.pk], *found.controls[keeper.pk]):
            if (room_c := getattr(run, "room_c", None)) is not None:
                rooms[keeper.rig_id].append(RoomReading(run.started_at, room_c))
    journal = JournalEntry.objects.filter(rig_id__in=rigs, room_c__isnull=False, taken_out_at=None, at__gte=since)
    for rig_id, at, room_c in journal.values_list("rig_id", "at", "room_c"):
        if room_c is not None:
            rooms[rig_id].append(RoomReading(at, room_c))
    for keeper in found.keepers:
        rooms[keeper.rig_id] += [
            RoomReading(one.at, one.room_c) for one in found.entries.get(keeper.pk, []) if one.room_c is not None
        ]
    return {rig_id: sorted(some, key=lambda one: one.at) for rig_id, some in rooms.items()}


Row = TypeVar("Row", bound=Model)


def _by(rows: Iterable[Row], field_name: str) -> dict[int, list[Row]]:
    found: dict[int, list[Row]] = defaultdict(list)
    for row in rows:
        found[getattr(row, field_name)].append(row)
    return found
