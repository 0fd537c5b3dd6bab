"""Check a campaign's document in full before any of it is stored."""

import base64
import binascii
import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, cast

import polars as pl

from trelvo.core.base.figures import FigureKey
from trelvo.core.base.instruments import Instrument, check_instrument
from trelvo.core.base.knobs import Knob, check_value, fingerprint
from trelvo.core.laws.vf_curve import VoltagePoint, check_curve
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.goals import GoalWord
from trelvo.core.terms import refusals_of_said
from trelvo.core.watch.safety_limits import SafetyLimit, check_safety_limit
from trelvo.core.way import Way, refusals_of_way
from trelvo.exchange.archive.entries import (
    CampaignDocument,
    KnobEntry,
)
from trelvo.exchange.archive.kept_setting_entries import check_kept_settings
from trelvo.logbook.commands.campaigns import WorkloadDraft, check_knobs, check_workloads
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, check_run
from trelvo.logbook.commands.targets import TargetDraft, check_target
from trelvo.logbook.commands.what_counts import WhatCounts, check_limits, nothing_left
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, from_parquet


def knob_of(k: KnobEntry) -> Knob:
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


def check_document(document: CampaignDocument, now: datetime) -> dict[uuid.UUID, bytes]:
    """The bytes of its logs, once all of it holds together. Raises Refused with the place of what does not."""
    knobs = {k.key: knob_of(k) for k in document.knobs}
    problems = check_knobs(list(knobs.values()))
    curve = [VoltagePoint(one.voltage_v, one.core_mhz) for one in document.campaign.curve]
    problems += check_curve(curve, "campaign.curve") if curve else []
    for word, entries in (("knobs", document.knobs), ("workloads", document.workloads)):
        if not entries:
            problems.append(Problem(word, "campaign_lacks", {"missing": word}))
    if len(knobs) != len(document.knobs):
        problems.append(Problem("knobs", "knobs_share_a_key"))
    safety_limits = [
        SafetyLimit(safety_limit.kind, safety_limit.limit, safety_limit.channel)
        for safety_limit in document.safety_limits
    ]
    for index, safety_limit in enumerate(safety_limits if not problems else []):
        problems += check_safety_limit(safety_limit, f"safety_limits.{index}", list(knobs.values()), cold=True)
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
        {entry.uid for entry in entries} for entries in (document.settings, document.workloads, document.rig.builds)
    ]
    for word, uids_named in (("test_suite", document.test_suite), ("retired", document.retired)):
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
        for word, known in zip(("setting", "workload", "build"), uids, strict=True):
            if getattr(run, word) not in known:
                problems.append(Problem(f"runs.{index}.{word}", "no_such_thing_in_file", {"thing": word}))
        problems += [
            Problem(f"runs.{index}.figures", "no_such_instrument_in_file")
            for figure in run.figures
            if figure.instrument is not None and figure.instrument not in read_by
        ]
        draft = RunDraft(
            run.outcome,
            run.started_at,
            run.value,
            run.duration_s,
            run.fan,
            run.note,
            [
                FigureDraft(
                    FigureKey(figure.quantity, figure.part, figure.statistic), figure.value, _number(figure.instrument)
                )
                for figure in run.figures
                if not figure.replaced
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
    problems += check_kept_settings(document.kept_settings, document.journal, uids[0], uids[1], uids[2], now)
    problems += _check_campaign(document, list(knobs.values()), drafts)
    if problems:
        raise Refused(*problems[:20])
    return parquet


def _doubled(document: CampaignDocument) -> list[Problem]:
    """What is in a list twice though it is one thing."""
    lists: list[tuple[str, Sequence[Any], str]] = [
        ("cautions", document.cautions, "key"),
        ("rig.builds", document.rig.builds, "number"),
        *(
            (name, getattr(document, name), "uid")
            for name in ("workloads", "settings", "targets", "runs", "kept_settings", "journal")
        ),
        ("rig.builds", document.rig.builds, "uid"),
        ("rig.instruments", document.rig.instruments, "uid"),
        ("runs.series", [one for run in document.runs for one in run.series], "uid"),
        (
            "kept_settings.entries",
            [entry for kept_setting in document.kept_settings for entry in kept_setting.entries],
            "uid",
        ),
    ]
    problems = []
    for where, entries, identity in lists:
        counts = Counter(getattr(entry, identity) for entry in entries)
        problems += [
            Problem(where, "there_twice", {"name": str(one)[:60]}) for one, count in counts.items() if count > 1
        ]
    return problems


def _check_campaign(
    document: CampaignDocument, knobs: list[Knob], workloads: Mapping[uuid.UUID, WorkloadDraft]
) -> list[Problem]:
    """The same checks as the forms make of goal, way of working, thresholds, weights and targets."""
    own = document.campaign
    goal = cast(GoalWord, str(own.goal))
    problems = [_at("campaign.terms", one) for one in refusals_of_said(goal, own.terms)]
    way = Way(own.way.strategy, own.way.cautious, own.way.largest_steps, own.way.approach)
    problems += [_at("campaign.way", one) for one in refusals_of_way(way, knobs)]
    limits = WhatCounts(
        own.smallest_gain, own.wished_resolution, own.stale_days, {}, own.temp_limit_c, own.power_limit_w, own.price
    )
    problems += [_at("campaign", one) for one in check_limits(limits)]
    measured = {str(uid) for uid in workloads} - {str(uid) for uid in (*document.test_suite, *document.retired)}
    if measured and all(own.weights.get(uid, 1.0) == 0 for uid in measured):
        problems.append(_at("campaign", nothing_left()))
    known = {str(workload.uid): (workload.measure, workload.unit) for workload in document.workloads}
    for index, target in enumerate(document.targets):
        draft = TargetDraft(target.name, target.price, target.source, target.conditions, target.results)
        problems += [_at(f"targets.{index}", one) for one in check_target(draft, known)]
    return problems


def _at(place: str, problem: Problem) -> Problem:
    return problem.within(place)


def _number(uid: uuid.UUID | None) -> int | None:
    """Something to tell instruments apart by while their rows are not there yet."""
    return None if uid is None else uid.int
