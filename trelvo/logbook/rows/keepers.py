"""Keepers and what happened since they were kept, read in one question, for one rig or all."""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, TypeVar, cast

from django.db.models import F, Model, OuterRef, Q, QuerySet, Subquery

from trelvo.core.base.figures import BY_WORD
from trelvo.core.prove.months_later import Suspect, blames_tuning
from trelvo.logbook.models import (
    Campaign,
    Figure,
    Fitting,
    InUse,
    JournalEntry,
    Keeper,
    KnobRow,
    Part,
    Rig,
    Run,
    Setting,
    UseEntry,
    Variant,
    Workload,
)
from trelvo.logbook.rows.together import read_together


def counts_against(entry: UseEntry) -> bool:
    """Whether a failure in use counts against the setting: until someone else is shown to be to blame."""
    return not entry.verdict or blames_tuning(cast(Suspect, entry.verdict))


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


def rows_of(wanted: "QuerySet[Keeper]") -> KeeperRows:
    """Reads keepers and what belongs to them, all in one question; keepers come with rig, campaign, setting and fitting.

    runs: by keeper, at its setting since it was kept; controls: at stock of its campaign; variants: in use on its rig
    """
    wanted = wanted.order_by("id")
    ids = wanted.order_by().values("id")
    rigs, campaigns = wanted.order_by().values("rig"), wanted.order_by().values("campaign")
    first = wanted.order_by("kept_at").values("kept_at")[:1]
    stock = Q(setting__fingerprint="", campaign__in=campaigns)
    room = BY_WORD["room_c"].key
    read = Figure.objects.filter(
        run=OuterRef("pk"), replaced=False, quantity=room.quantity, part=room.part, statistic=room.statistic
    )
    runs = Run.objects.filter(
        stock | Q(setting__in=wanted.order_by().values("setting")), started_at__gte=first, set_aside_at=None
    )
    present = {"deleted_at": None}
    read_at_once = read_together(
        keepers=wanted,
        rigs=Rig.objects.filter(pk__in=rigs),
        campaigns=Campaign.objects.filter(pk__in=campaigns).order_by(),
        settings=Setting.objects.filter(Q(keepers__in=ids) | Q(fingerprint="", campaign__in=campaigns)).distinct(),
        knobs=KnobRow.objects.filter(campaign__in=campaigns),
        fittings=Fitting.objects.filter(rig__in=rigs),
        parts=Part.objects.filter(fitting__rig__in=rigs),
        spans=InUse.objects.filter(keeper__in=ids),
        entries=UseEntry.objects.filter(keeper__in=ids).order_by("at", "id"),
        runs=runs.annotate(room_c=Subquery(read.values("value")[:1])).order_by("started_at", "id"),
        variants=Variant.objects.order_by("position", "id").select_related(None),
        workloads=Workload.objects.all(),
        measured=Campaign.objects.filter(rig__in=rigs, **present).order_by().annotate(variant=F("workloads")),
        proving=Campaign.objects.filter(rig__in=rigs, **present).order_by().annotate(variant=F("battery")),
        journal=JournalEntry.objects.filter(rig__in=rigs, room_c__isnull=False, taken_out_at=None, at__gte=first),
    )
    return _put_together(read_at_once)


def _put_together(read: dict[str, list[Any]]) -> KeeperRows:
    """Sets every row's own relations, so that nothing is asked for one by one."""
    by_id = {kind: {one.pk: one for one in read[kind]} for kind in ("rigs", "campaigns", "settings", "variants")}
    workloads = {one.pk: one for one in read["workloads"]}
    for variant in read["variants"]:
        variant.workload = workloads[variant.workload_id]
    parts = _by(read["parts"], "fitting_id")
    for fitting in read["fittings"]:
        fitting.parts_read = parts.get(fitting.pk, [])
    fittings = {one.pk: one for one in read["fittings"]}
    for keeper in read["keepers"]:
        keeper.rig, keeper.campaign = by_id["rigs"][keeper.rig_id], by_id["campaigns"][keeper.campaign_id]
        keeper.setting, keeper.fitting = by_id["settings"][keeper.setting_id], fittings[keeper.fitting_id]
    for one in (*read["runs"], *read["entries"]):
        one.variant = by_id["variants"].get(one.variant_id)
    for run in read["runs"]:
        run.setting = by_id["settings"][run.setting_id]
    found = KeeperRows(read["keepers"])
    found.knobs, found.fittings = _by(read["knobs"], "campaign_id"), _by(read["fittings"], "rig_id")
    found.spans, found.entries = _by(read["spans"], "keeper_id"), _by(read["entries"], "keeper_id")
    by_setting = _by(read["runs"], "setting_id")
    at_stock = _by([run for run in read["runs"] if run.setting.is_stock], "campaign_id")
    for keeper in found.keepers:
        # what the keeper rests on is not counted twice
        rests_on = set(keeper.evidence["runs"])
        found.runs[keeper.pk] = [
            run
            for run in by_setting.get(keeper.setting_id, [])
            if run.started_at >= keeper.kept_at and str(run.uid) not in rests_on
        ]
        controls = at_stock.get(keeper.campaign_id, [])
        found.controls[keeper.pk] = [run for run in controls if run.started_at >= keeper.kept_at]
    found.variants = _in_use([*read["measured"], *read["proving"]], by_id["variants"])
    found.rooms = _rooms(read["journal"], found)
    return found


def _in_use(links: Iterable[Any], variants: Mapping[int, Variant]) -> dict[int, list[Variant]]:
    """What each rig's campaigns measure or prove with, in the order of the variants."""
    of: dict[int, set[int]] = defaultdict(set)
    for one in links:
        of[one.rig_id].add(one.variant)
    return {rig_id: [one for pk, one in variants.items() if pk in some] for rig_id, some in of.items()}


def _rooms(journal: Iterable[JournalEntry], found: KeeperRows) -> dict[int, list[RoomReading]]:
    """How warm the room was, by rig: by runs at what is kept and at stock, by the journal, by use; in order of time."""
    rooms: dict[int, list[RoomReading]] = defaultdict(list)
    for keeper in found.keepers:
        for run in (*found.runs[keeper.pk], *found.controls[keeper.pk]):
            if (room_c := getattr(run, "room_c", None)) is not None:
                rooms[keeper.rig_id].append(RoomReading(run.started_at, room_c))
    for one in journal:
        if one.room_c is not None:
            rooms[one.rig_id].append(RoomReading(one.at, one.room_c))
    for keeper in found.keepers:
        rooms[keeper.rig_id] += [
            RoomReading(some.at, some.room_c) for some in found.entries.get(keeper.pk, []) if some.room_c is not None
        ]
    return {rig_id: sorted(some, key=lambda one: one.at) for rig_id, some in rooms.items()}


Row = TypeVar("Row", bound=Model)


def _by(rows: Iterable[Row], field_name: str) -> dict[int, list[Row]]:
    found: dict[int, list[Row]] = defaultdict(list)
    for row in rows:
        found[getattr(row, field_name)].append(row)
    return found
