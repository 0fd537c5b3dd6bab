"""Writes runs. A run is never edited into another result: it can be set aside with a reason, and taken back."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from typing import cast
from uuid import UUID, uuid4

from django.db import transaction

from trelvo.core.base.figures import BY_WORD, FigureKey, check_figure, key_of, name_of
from trelvo.core.base.instruments import Point
from trelvo.core.base.workloads import Measure, check_result
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import FAILURES
from trelvo.logbook.commands.campaigns import WorkloadDraft
from trelvo.logbook.commands.instruments import instrument_at
from trelvo.logbook.models import Build, Campaign, Figure, Rig, Run, Setting, Variant
from trelvo.logbook.rows.lookups import testable
from trelvo.logbook.tokens import campaign_changed


@dataclass(frozen=True)
class FigureDraft:
    """A figure as typed, in its quantity's own unit. instrument_id: which one read it; else the rig's at that point."""

    key: FigureKey
    value: float
    instrument_id: int | None = None
    point: Point = "unknown"


def figure(word: str, value: float, point: Point = "unknown") -> FigureDraft:
    """A figure by its word."""
    return FigureDraft(key_of(word), value, None, point)


@dataclass(frozen=True)
class RunDraft:
    """A run as typed. Figures may be left out; a completed run needs its value, here or from a log.

    uid: of the sender's choice, so that the run is the same when it is sent again; None: nobody will send it again
    """

    outcome: str
    started_at: datetime | None = None
    value: float | None = None
    duration_s: float | None = None
    fan: str = ""
    note: str = ""
    figures: Sequence[FigureDraft] = ()
    uid: UUID | None = None


LONGEST_S = 30 * 86_400.0


def check_run(draft: RunDraft, now: datetime, workload: Variant | WorkloadDraft | None = None) -> list[Problem]:
    """What cannot be in a run as typed. workload: what its result is a result of; its value is not checked without"""
    problems: list[Problem] = []
    if draft.value is not None and workload is not None:
        wrong = check_result(cast(Measure, workload.measure), float(draft.value), workload.unit, "value")
        problems += [wrong] if wrong else []
    if draft.duration_s is not None and not (math.isfinite(draft.duration_s) and 0 < draft.duration_s <= LONGEST_S):
        problems.append(Problem("duration_s", "duration_out_of_range", {"duration_s": draft.duration_s}))
    seen: set[tuple[FigureKey, int | None, str]] = set()
    for one in draft.figures:
        if wrong := check_figure(one.key, one.value, one.key.word):
            problems.append(wrong)
        mark = (one.key, one.instrument_id, one.point)
        if mark in seen:
            problems.append(Problem(one.key.word, "figure_twice", {"figure": name_of(one.key)}))
        seen.add(mark)
    read = {one.key.word: one.value for one in draft.figures}
    if workload is not None and workload.measure == "frame rate":
        problems += _out_of_order(draft.value, read)
    if "temp_max_c" in read and 0 < read["temp_max_c"] < read.get("room_c", 0.0) - 5:
        problems.append(Problem("temp_max_c", "colder_than_room"))
    if draft.outcome == "no start" and draft.value is not None:
        problems.append(Problem("value", "not_started_has_value"))
    if draft.started_at and draft.started_at > now + timedelta(days=1):
        problems.append(Problem("started_at", "in_the_future"))
    return problems


# Frame rates of one run, each at most the next.
RATES = ("min_fps", "low_01_fps", "low_1_fps", "value", "max_fps")


def _out_of_order(value: float | None, read: Mapping[str, float]) -> list[Problem]:
    """Lows above their average, a minimum above a low, a maximum below the average: one of the two was typed wrongly."""
    rates = {word: rate for word, rate in {**read, "value": value}.items() if word in RATES and rate is not None}
    present = [word for word in RATES if word in rates]
    problems = []
    for lower, upper in pairwise(present):
        if rates[lower] > rates[upper] * (1 + 1e-9):
            names = ["average" if word == "value" else BY_WORD[word].name.lower() for word in (lower, upper)]
            problems.append(
                Problem(
                    lower,
                    "figures_out_of_order",
                    {"lower": names[0], "lower_fps": rates[lower], "upper": names[1], "upper_fps": rates[upper]},
                )
            )
    return problems


def _sent_again(known: Run, campaign: Campaign, setting: Setting, workload: Variant, draft: RunDraft) -> Run:
    same = (known.campaign_id, known.setting_id, known.variant_id, known.outcome, known.value) == (
        campaign.pk, setting.pk, workload.pk, draft.outcome, draft.value,
    )  # fmt: skip
    if not same:
        raise Refused(Problem("uid", "run_uid_taken"))
    return known


def typed_before(campaign: Campaign, setting: Setting, workload: Variant, draft: RunDraft) -> bool:
    """Whether a run with the same beginning and the same values is in the log already."""
    if draft.started_at is None:
        return False
    alike = campaign.runs.filter(
        setting=setting, variant=workload, started_at=draft.started_at, outcome=draft.outcome, value=draft.value,
        duration_s=draft.duration_s, set_aside_at=None,
    )  # fmt: skip
    return alike.exists()


@transaction.atomic
def log_run(
    campaign: Campaign,
    setting: Setting,
    workload: Variant,
    draft: RunDraft,
    now: datetime,
    build: Build | None = None,
) -> Run:
    """A run that has taken place, under the rig's present build unless another is given; sent again under its uid, the run that
    was logged the first time."""
    if draft.uid is not None and (known := Run.objects.filter(uid=draft.uid).first()):
        return _sent_again(known, campaign, setting, workload, draft)
    if not Campaign.objects.present().filter(pk=campaign.pk).exists():
        # it may have been deleted since it was read; what is deleted goes at the next start, and its runs with it
        raise Refused(Problem("campaign", "campaign_deleted", {"campaign": campaign.name}))
    if setting.campaign_id != campaign.pk:
        raise Refused(Problem("setting", "setting_of_other_campaign"))
    if workload not in testable(campaign):
        raise Refused(Problem("workload", "workload_not_of_campaign"))
    build = build or campaign.rig.present_build()
    if build is None:
        raise Refused(Problem("rig", "rig_without_build"))
    if problems := check_run(draft, now, workload):
        raise Refused(*problems)
    run = Run.objects.create(
        uid=draft.uid or uuid4(),
        campaign=campaign,
        setting=setting,
        variant=workload,
        build=build,
        started_at=draft.started_at or now,
        outcome=draft.outcome,
        value=draft.value,
        duration_s=draft.duration_s,
        fan=draft.fan,
        note=draft.note,
    )
    store_figures(run, campaign.rig, draft.figures)
    campaign_changed(campaign.pk)
    return run


def store_figures(run: Run, rig: Rig, drafts: Sequence[FigureDraft], source: str = Figure.Source.TYPED) -> None:
    """Puts figures beside a run, each with its instrument. Refused where an instrument is another rig's or reads otherwise."""
    if not drafts:
        return
    rows = {}
    if any(draft.instrument_id is not None for draft in drafts):
        rows = {row.pk: row for row in rig.instruments.all()}
    made = []
    for draft in drafts:
        row = rows.get(draft.instrument_id) if draft.instrument_id is not None else None
        if draft.instrument_id is not None and (row is None or row.quantity != draft.key.quantity):
            raise Refused(Problem(draft.key.word, "figure_without_instrument", {"quantity": draft.key.quantity}))
        if row is None and draft.key.quantity == "power":
            row = instrument_at(rig, draft.point)
        made.append(
            Figure(
                run=run,
                quantity=draft.key.quantity,
                part=draft.key.part,
                statistic=draft.key.statistic,
                instrument=row,
                value=draft.value,
                source=source,
            )
        )
    Figure.objects.bulk_create(made)


@transaction.atomic
def set_aside(run: Run, reason: str, now: datetime) -> Run:
    """Leaves the run out of every mean. It stays in the log, with the reason."""
    if not reason.strip():
        raise Refused(Problem("reason", "set_aside_without_reason"))
    # A failure set aside makes a setting look safer than it was seen to be, so a mere dash will not do.
    if run.outcome in FAILURES and len(reason.strip()) < 8:
        raise Refused(Problem("reason", "failure_set_aside_without_cause"))
    run.set_aside_at, run.set_aside_reason = now, reason.strip()
    run.save(update_fields=["set_aside_at", "set_aside_reason"])
    campaign_changed(run.campaign_id)
    return run


@transaction.atomic
def take_back(run: Run) -> Run:
    """Undoes `set_aside`: the run counts again."""
    run.set_aside_at, run.set_aside_reason = None, ""
    run.save(update_fields=["set_aside_at", "set_aside_reason"])
    campaign_changed(run.campaign_id)
    return run
