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
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.workloads import Measure, check_result
from trelvo.core.registry.outcomes import FAILURES
from trelvo.logbook.commands.campaigns import WorkloadDraft
from trelvo.logbook.commands.instruments import instrument_at
from trelvo.logbook.models import Campaign, Figure, Fitting, Rig, Run, Setting, Variant
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
        what = f"{draft.duration_s:g} s is no length for a run."
        problems.append(Problem("duration_s", what, "Type more than 0 and at most 30 days, or leave it empty."))
    seen: set[tuple[FigureKey, int | None, str]] = set()
    for one in draft.figures:
        if wrong := check_figure(one.key, one.value, one.key.word):
            problems.append(wrong)
        mark = (one.key, one.instrument_id, one.point)
        if mark in seen:
            what = f"{name_of(one.key)} by one instrument stands twice."
            problems.append(Problem(one.key.word, what, "Remove one, or say which instruments read them."))
        seen.add(mark)
    read = {one.key.word: one.value for one in draft.figures}
    if workload is not None and workload.measure == "frame rate":
        problems += _out_of_order(draft.value, read)
    if "temp_max_c" in read and 0 < read["temp_max_c"] < read.get("room_c", 0.0) - 5:
        problems.append(Problem("temp_max_c", "The part cannot stay colder than its room.", "Check both temperatures."))
    if draft.outcome == "no start" and draft.value is not None:
        problems.append(Problem("value", "A run that did not start has no value.", "Clear the value or the outcome."))
    if draft.started_at and draft.started_at > now + timedelta(days=1):
        problems.append(Problem("started_at", "This time is in the future.", "Check date and time."))
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
            what = f"The {names[0]} of {rates[lower]:g} fps is above the {names[1]} of {rates[upper]:g} fps."
            problems.append(Problem(lower, what, "Check both numbers."))
    return problems


def _sent_again(known: Run, campaign: Campaign, setting: Setting, workload: Variant, draft: RunDraft) -> Run:
    same = (known.campaign_id, known.setting_id, known.variant_id, known.outcome, known.value) == (
        campaign.pk, setting.pk, workload.pk, draft.outcome, draft.value,
    )  # fmt: skip
    if not same:
        raise Refused(Problem("uid", "Another run was logged under this uid.", "Send each run under a uid of its own."))
    return known


def typed_before(campaign: Campaign, setting: Setting, workload: Variant, draft: RunDraft) -> str:
    """A question where a run with the same beginning and the same values is in the log already; else empty."""
    if draft.started_at is None:
        return ""
    alike = campaign.runs.filter(
        setting=setting, variant=workload, started_at=draft.started_at, outcome=draft.outcome, value=draft.value,
        duration_s=draft.duration_s, set_aside_at=None,
    )  # fmt: skip
    return "A run with this beginning and these values is in the log already." if alike.exists() else ""


@transaction.atomic
def log_run(
    campaign: Campaign,
    setting: Setting,
    workload: Variant,
    draft: RunDraft,
    now: datetime,
    fitting: Fitting | None = None,
) -> Run:
    """A run that has taken place, under the rig's present fitting unless another is given; sent again under its uid, the run that
    was logged the first time."""
    if draft.uid is not None and (known := Run.objects.filter(uid=draft.uid).first()):
        return _sent_again(known, campaign, setting, workload, draft)
    if not Campaign.objects.present().filter(pk=campaign.pk).exists():
        # it may have been deleted since it was read; what is deleted goes at the next start, and its runs with it
        raise Refused(
            Problem("campaign", f"{campaign.name} was deleted.", "Restore it in the list of campaigns first.")
        )
    if setting.campaign_id != campaign.pk:
        raise Refused(Problem("setting", "This setting belongs to another campaign.", "Choose a rung of this one."))
    if workload not in testable(campaign):
        raise Refused(Problem("workload", "This campaign does not use that workload.", "Choose one of its workloads."))
    fitting = fitting or campaign.rig.present_fitting()
    if fitting is None:
        raise Refused(Problem("rig", "The rig is not described yet.", "Describe its fitting first."))
    if problems := check_run(draft, now, workload):
        raise Refused(*problems)
    run = Run.objects.create(
        uid=draft.uid or uuid4(),
        campaign=campaign,
        setting=setting,
        variant=workload,
        fitting=fitting,
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
    if any(one.instrument_id is not None for one in drafts):
        rows = {row.pk: row for row in rig.instruments.all()}
    made = []
    for one in drafts:
        row = rows.get(one.instrument_id) if one.instrument_id is not None else None
        if one.instrument_id is not None and (row is None or row.quantity != one.key.quantity):
            what = f"No instrument of this rig reads {one.key.quantity} under that number."
            raise Refused(Problem(one.key.word, what, "Choose one of the rig's, or leave it open."))
        if row is None and one.key.quantity == "power":
            row = instrument_at(rig, one.point)
        made.append(
            Figure(
                run=run,
                quantity=one.key.quantity,
                part=one.key.part,
                statistic=one.key.statistic,
                instrument=row,
                value=one.value,
                source=source,
            )
        )
    Figure.objects.bulk_create(made)


@transaction.atomic
def set_aside(run: Run, reason: str, now: datetime) -> Run:
    """Leaves the run out of every mean. It stays in the log, with the reason."""
    if not reason.strip():
        raise Refused(Problem("reason", "A run is not set aside without a reason.", "Say in a few words why."))
    # A failure set aside makes a rung look safer than it was seen to be, so a mere dash will not do.
    if run.outcome in FAILURES and len(reason.strip()) < 8:
        raise Refused(
            Problem("reason", "A failure is set aside only for another cause.", "Say what else was to blame.")
        )
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
