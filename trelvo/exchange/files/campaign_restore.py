"""Puts a campaign file into the logbook: checked in full first, then written in one transaction."""

import base64
import binascii
import logging
import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, cast

import polars as pl
from django.db import IntegrityError, transaction

from trelvo.core.base.figures import FigureKey
from trelvo.core.base.instruments import Instrument, check_instrument
from trelvo.core.base.knobs import Knob, check_value, fingerprint
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.campaign_climbs.view import climb_view
from trelvo.core.goal.service import goal_view
from trelvo.core.keep.service import keep_view
from trelvo.core.laws.curve import VoltagePoint, check_curve
from trelvo.core.next_step.summary import summary_of
from trelvo.core.registry.goals import GoalWord
from trelvo.core.terms import refusals_of_said
from trelvo.core.watch.guard_rails import GuardRail, check_rail
from trelvo.core.way import Way, refusals_of_way
from trelvo.exchange.files.campaign_file import (
    RUN_FIELDS,
    SERIES_FIELDS,
    CampaignFile,
    FittingEntry,
    InstrumentEntry,
    KnobEntry,
    RigEntry,
    WorkloadEntry,
    campaign_file,
)
from trelvo.exchange.files.keeper_entries import check_keepers, write_keepers
from trelvo.logbook.answers.keepers import keeper_views
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.campaigns import WorkloadDraft, add_workloads, check_knobs, check_workloads, knob_row
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, check_run
from trelvo.logbook.commands.targets import TargetDraft, check_target
from trelvo.logbook.commands.what_counts import WhatCounts, check_limits, nothing_left
from trelvo.logbook.models import (
    Campaign,
    Figure,
    Fitting,
    GuardRailRow,
    InstrumentRow,
    Keeper,
    Mark,
    Part,
    Rig,
    Run,
    Series,
    Setting,
    Target,
    Variant,
)
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, from_parquet
from trelvo.logbook.tokens import campaign_changed, rig_changed, workloads_changed

BATCH = 500
logger = logging.getLogger(__name__)


def restore(document: CampaignFile, now: datetime, *, as_copy: bool = False) -> Campaign:
    """The campaign of the file, in the logbook. Raises Refused when it is there already or does not hold together.

    as_copy: give everything new identities, so that it stands beside the one that is there
    """
    if as_copy:
        document = copy_of(document)
    elif Campaign.objects.filter(uid=document.campaign.uid).exists():
        raise Refused(Problem("campaign", "campaign_there_already", {"campaign": document.campaign.name}))
    parquet = check_document(document, now)
    try:
        with transaction.atomic():
            campaign = write_document(document, parquet)
            check_answers(campaign, now)
            return campaign
    except IntegrityError as trouble:
        raise Refused(Problem("campaign", "identity_taken")) from trouble


def check_document(document: CampaignFile, now: datetime) -> dict[uuid.UUID, bytes]:
    """The bytes of its logs, once all of it holds together. Raises Refused with the place of what does not."""
    knobs = {k.key: _knob(k) for k in document.knobs}
    problems = check_knobs(list(knobs.values()))
    curve = [VoltagePoint(one.voltage_v, one.core_mhz) for one in document.campaign.curve]
    problems += check_curve(curve, "campaign.curve") if curve else []
    for word, entries in (("knobs", document.knobs), ("workloads", document.workloads)):
        if not entries:
            problems.append(Problem(word, "campaign_lacks", {"missing": word}))
    if len(knobs) != len(document.knobs):
        problems.append(Problem("knobs", "knobs_share_a_key"))
    rails = [GuardRail(rail.kind, rail.limit, rail.channel) for rail in document.guard_rails]
    for index, rail in enumerate(rails if not problems else []):
        problems += check_rail(rail, f"guard_rails.{index}", list(knobs.values()), cold=True)
    drafts = {
        w.uid: WorkloadDraft(w.name, w.measure, w.unit, w.higher_is_better, w.minutes, w.options, w.cap_fps)
        for w in document.workloads
    }
    problems += check_workloads(list(drafts.values()))
    marks = [fingerprint(setting.values) for setting in document.settings]
    if "" not in marks or len(set(marks)) != len(marks):
        problems.append(Problem("settings", "settings_wrong_in_file"))
    # values can only be judged by knobs that hold together
    for index, setting in enumerate(document.settings if not problems else []):
        for key, value in setting.values.items():
            where = f"settings.{index}.values.{key}"
            if key not in knobs:
                problems.append(Problem(where, "no_such_knob_in_file"))
            elif wrong := check_value(knobs[key], value, where, on_grid=False):
                problems.append(wrong)
    uids = [
        {entry.uid for entry in entries} for entries in (document.settings, document.workloads, document.rig.fittings)
    ]
    for word, uids_named in (("battery", document.battery), ("retired", document.retired)):
        for index, uid in enumerate(uids_named):
            if uid not in uids[1]:
                problems.append(Problem(f"{word}.{index}", "no_such_workload_in_file"))
    read_by = {entry.uid for entry in document.rig.instruments}
    for index, entry in enumerate(document.rig.instruments):
        instrument = Instrument(
            id=0,
            name=entry.name,
            kind=entry.kind,
            quantity=entry.quantity,
            part=entry.part,
            resolution=entry.resolution,
            offset=entry.offset,
            offset_sd=entry.offset_sd,
            factor=entry.factor,
            factor_sd=entry.factor_sd,
            trust=entry.trust,
            trust_since=entry.trust_since,
        )
        problems += check_instrument(instrument, f"rig.instruments.{index}.")
        if entry.replaced_by is not None and entry.replaced_by not in read_by:
            where = f"rig.instruments.{index}.replaced_by"
            problems.append(Problem(where, "no_such_instrument_in_file"))
    parquet: dict[uuid.UUID, bytes] = {}
    for index, run in enumerate(document.runs):
        for word, known in zip(("setting", "workload", "fitting"), uids, strict=True):
            if getattr(run, word) not in known:
                problems.append(Problem(f"runs.{index}.{word}", "no_such_thing_in_file", {"thing": word}))
        problems += [
            Problem(f"runs.{index}.figures", "no_such_instrument_in_file")
            for one in run.figures
            if one.instrument is not None and one.instrument not in read_by
        ]
        draft = RunDraft(
            run.outcome,
            run.started_at,
            run.value,
            run.duration_s,
            run.fan,
            run.note,
            [
                FigureDraft(FigureKey(one.quantity, one.part, one.statistic), one.value, _number(one.instrument))
                for one in run.figures
                if not one.replaced
            ],
        )
        problems += [p.within(f"runs.{index}") for p in check_run(draft, now, drafts.get(run.workload))]
        for number, series in enumerate(run.series):
            where = f"runs.{index}.series.{number}"
            try:
                parquet[series.uid] = base64.b64decode(series.parquet_base64, validate=True)
                columns = from_parquet(parquet[series.uid])
            except (binascii.Error, pl.exceptions.PolarsError, ValueError):
                problems.append(Problem(f"{where}.parquet_base64", "log_cannot_be_read"))
                continue
            wanted = {TIME_COLUMN, *(str(channel["column"]) for channel in series.channels)}
            if not wanted <= columns.keys():
                problems.append(Problem(f"{where}.channels", "log_lacks_channel"))
    problems += _doubled(document)
    problems += check_keepers(document.keepers, document.journal, uids[0], uids[1], uids[2], now)
    problems += _check_campaign(document, list(knobs.values()), drafts)
    if problems:
        raise Refused(*problems[:20])
    return parquet


def _doubled(document: CampaignFile) -> list[Problem]:
    """What stands in a list twice though it is one thing."""
    lists: list[tuple[str, Sequence[Any], str]] = [
        ("cautions", document.cautions, "key"),
        ("rig.fittings", document.rig.fittings, "number"),
        *(
            (name, getattr(document, name), "uid")
            for name in ("workloads", "settings", "targets", "runs", "keepers", "journal")
        ),
        ("rig.fittings", document.rig.fittings, "uid"),
        ("rig.instruments", document.rig.instruments, "uid"),
        ("runs.series", [one for run in document.runs for one in run.series], "uid"),
        ("keepers.entries", [one for keeper in document.keepers for one in keeper.entries], "uid"),
    ]
    problems = []
    for where, entries, identity in lists:
        counts = Counter(getattr(one, identity) for one in entries)
        problems += [
            Problem(where, "there_twice", {"name": str(one)[:60]}) for one, count in counts.items() if count > 1
        ]
    return problems


def _check_campaign(
    document: CampaignFile, knobs: list[Knob], workloads: Mapping[uuid.UUID, WorkloadDraft]
) -> list[Problem]:
    """The same checks as the forms make of goal, way of working, thresholds, weights and targets."""
    own = document.campaign
    goal = cast(GoalWord, str(own.goal))
    problems = [_at("campaign.terms", one) for one in refusals_of_said(goal, own.terms)]
    way = Way(own.way.strategy, own.way.wary, own.way.largest_steps, own.way.school)
    problems += [_at("campaign.way", one) for one in refusals_of_way(way, knobs)]
    limits = WhatCounts(
        own.smallest_gain, own.wished_resolution, own.stale_days, {}, own.temp_limit_c, own.power_limit_w, own.price
    )
    problems += [_at("campaign", one) for one in check_limits(limits)]
    measured = {str(uid) for uid in workloads} - {str(uid) for uid in (*document.battery, *document.retired)}
    if measured and all(own.weights.get(uid, 1.0) == 0 for uid in measured):
        problems.append(_at("campaign", nothing_left()))
    known = {str(one.uid): (one.measure, one.unit) for one in document.workloads}
    for index, target in enumerate(document.targets):
        draft = TargetDraft(target.name, target.price, target.source, target.conditions, target.results)
        problems += [_at(f"targets.{index}", one) for one in check_target(draft, known)]
    return problems


def _at(place: str, problem: Problem) -> Problem:
    return problem.within(place)


def check_answers(campaign: Campaign, now: datetime) -> None:
    """Compute summary, goal, climb, kept settings and export of a campaign before its import is acknowledged.

    Raises Refused where one cannot be given: what passed every check and still stops a page is not stored.
    """
    try:
        case = case_alone(Campaign.objects.select_related("rig").get(pk=campaign.pk))
        goal_view(case)
        if summary_of(case, now).trouble:
            raise ValueError("its summary cannot be worked out")
        keep_view(case, None)
        climb_view(case, None, None)
        keeper_views(Keeper.objects.filter(campaign=campaign), now)
        campaign_file(campaign, now)
    except Refused:
        raise
    except Exception as trouble:
        logger.exception("A file that passed every check cannot be answered from")
        raise Refused(
            Problem("campaign", "cannot_be_worked_with", {"campaign": campaign.name, "error": type(trouble).__name__})
        ) from trouble


def restore_rig(entry: RigEntry) -> Rig:
    """A rig with its fittings and instruments; what is there already stays."""
    return _rig(entry)[0]


def _rig(entry: RigEntry) -> tuple[Rig, dict[uuid.UUID, Fitting], dict[uuid.UUID, InstrumentRow]]:
    rig, _ = Rig.objects.get_or_create(
        uid=entry.uid, defaults=entry.model_dump(exclude={"uid", "fittings", "instruments"})
    )
    fittings = {one.uid: _fitting(rig, one) for one in entry.fittings}
    instruments = {one.uid: _instrument(rig, one) for one in entry.instruments}
    for one in entry.instruments:
        if one.replaced_by is not None and instruments[one.uid].replaced_by is None:
            instruments[one.uid].replaced_by = instruments[one.replaced_by]
            instruments[one.uid].save(update_fields=["replaced_by"])
    rig_changed(rig.pk)
    return rig, fittings, instruments


def write_document(document: CampaignFile, parquet: dict[uuid.UUID, bytes]) -> Campaign:
    """Into the logbook; within a transaction of the caller's. parquet: what `check_document` gave"""
    rig, fittings, instruments = _rig(document.rig)
    campaign = Campaign.objects.create(rig=rig, **document.campaign.model_dump())
    for position, k in enumerate(document.knobs):
        row = knob_row(campaign, position, _knob(k))
        row.retired_at = k.retired_at
        row.save()
    for position, rail in enumerate(document.guard_rails):
        GuardRailRow.objects.create(campaign=campaign, position=position, **rail.model_dump())
    workloads = {entry.uid: _variant(entry) for entry in document.workloads}
    other = {*document.battery, *document.retired}
    campaign.workloads.set(one for uid, one in workloads.items() if uid not in other)
    campaign.battery.set(workloads[uid] for uid in document.battery)
    campaign.retired.set(workloads[uid] for uid in document.retired)
    known = {str(uid): str(variant.uid) for uid, variant in workloads.items()}
    campaign.weights = {known.get(uid, uid): weight for uid, weight in campaign.weights.items()}
    read_by = {str(uid): str(row.uid) for uid, row in instruments.items()}
    campaign.counting = {quantity: read_by.get(uid, uid) for quantity, uid in campaign.counting.items()}
    campaign.save(update_fields=["weights", "counting"])
    settings = {
        entry.uid: Setting.objects.create(
            campaign=campaign, fingerprint=fingerprint(entry.values), **entry.model_dump()
        )
        for entry in document.settings
    }
    for target in document.targets:
        fields = target.model_dump()
        fields["results"] = {known.get(uid, uid): value for uid, value in target.results.items()}
        Target.objects.create(campaign=campaign, **fields)
    runs = [
        Run(
            campaign=campaign,
            setting=settings[one.setting],
            variant=workloads[one.workload],
            fitting=fittings[one.fitting],
            **{name: getattr(one, name) for name in RUN_FIELDS},
        )
        for one in document.runs
    ]
    # one by one would take minutes for a large campaign
    Run.objects.bulk_create(runs, batch_size=BATCH)
    together = list(zip(runs, document.runs, strict=True))
    Figure.objects.bulk_create(
        (
            Figure(
                run=run,
                instrument=instruments[one.instrument] if one.instrument else None,
                **one.model_dump(exclude={"instrument"}),
            )
            for run, entry in together
            for one in entry.figures
        ),
        batch_size=BATCH,
    )
    Mark.objects.bulk_create(
        (Mark(run=run, **mark.model_dump()) for run, entry in together for mark in entry.marks), batch_size=BATCH
    )
    for run, entry in together:
        for series in entry.series:
            kept = {name: getattr(series, name) for name in SERIES_FIELDS}
            Series.objects.create(run=run, parquet=parquet[series.uid], **kept)
    write_keepers(campaign, document.keepers, document.journal, document.cautions, settings, workloads, fittings)
    campaign_changed(campaign.pk)
    return campaign


def _knob(k: KnobEntry) -> Knob:
    retired = k.retired_at is not None
    return Knob(
        key=k.key,
        name=k.name,
        unit=k.unit,
        stock=k.stock,
        step=k.step,
        low=k.low,
        high=k.high,
        away=k.away,
        role=k.role,
        part=k.part,
        retired=retired,
        component=k.component,
    )


def _number(uid: uuid.UUID | None) -> int | None:
    """Something to tell instruments apart by while their rows are not there yet."""
    return None if uid is None else uid.int


def _variant(entry: WorkloadEntry) -> Variant:
    """The variant of that identity, or one that is the same in all that is told of it; made where there is neither."""
    draft = WorkloadDraft(**entry.model_dump(exclude={"uid", "corrections"}))
    found: Variant | None = Variant.objects.filter(uid=entry.uid).first()
    if found is not None:
        return found
    variant = add_workloads([draft])[0]
    if not variant.runs.exists() and not variant.campaigns.exists() and not variant.battery_of.exists():
        # made just now: it keeps the identity that it has in the file
        variant.uid = entry.uid
        variant.save(update_fields=["uid"])
        variant.workload.corrections = variant.workload.corrections or entry.corrections
        variant.workload.save(update_fields=["corrections"])
        workloads_changed()
    return variant


def _instrument(rig: Rig, entry: InstrumentEntry) -> InstrumentRow:
    """The rig's instrument of that identity, or of that name; made when the rig has neither."""
    if found := rig.instruments.filter(uid=entry.uid).first():
        return found
    if found := rig.instruments.filter(name=entry.name, quantity=entry.quantity).first():
        return found
    return InstrumentRow.objects.create(rig=rig, **entry.model_dump(exclude={"replaced_by"}))


def _fitting(rig: Rig, entry: FittingEntry) -> Fitting:
    """The rig's fitting of that identity; made, with the next free number, when the rig does not have it yet."""
    if found := rig.fittings.filter(uid=entry.uid).first():
        return found
    taken = set(rig.fittings.values_list("number", flat=True))
    number = entry.number if entry.number not in taken else max(taken) + 1
    fitting = Fitting.objects.create(rig=rig, **entry.model_dump(exclude={"parts", "number"}), number=number)
    for position, part in enumerate(entry.parts):
        Part.objects.create(fitting=fitting, position=position, **part.model_dump())
    return fitting


def copy_of(document: CampaignFile) -> CampaignFile:
    """The same document with a new identity for everything in it; references follow."""
    fresh: dict[uuid.UUID, uuid.UUID] = {}

    # a workload is the same one on every rig, so it keeps its identity
    for workload in document.workloads:
        fresh[workload.uid] = workload.uid
    # texts that are identities: which instrument counts, and which runs a keeper rests on
    uids = [*(one.uid for one in document.rig.instruments), *(one.uid for one in document.runs)]
    known = {str(uid): uid for uid in uids}

    def renew(value: object) -> object:
        if isinstance(value, uuid.UUID):
            return fresh.setdefault(value, uuid.uuid4())
        if isinstance(value, dict):
            return {key: renew(item) for key, item in value.items()}
        if isinstance(value, str) and value in known:
            return str(renew(known[value]))
        return [renew(item) for item in value] if isinstance(value, list) else value

    copy = CampaignFile.model_validate(renew(document.model_dump()))
    copy.campaign.name = f"{copy.campaign.name} (copy)"[:160]
    copy.rig.name = f"{copy.rig.name} (copy)"[:120]
    return copy
