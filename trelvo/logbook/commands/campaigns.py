"""Writes campaigns with their knobs, workloads and stock setting."""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from django.db import connection, transaction

from trelvo.core.base.knobs import Knob, check_knob, describe_value
from trelvo.core.base.load_kinds import LoadKind, Part, Technique
from trelvo.core.base.workloads import describe_options
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Campaign, KnobRow, LiveRun, Rig, Series, Setting, Variant, Workload
from trelvo.logbook.tokens import campaign_changed, rig_changed, workloads_changed
from trelvo.simulator.rigs import RIGS


@dataclass(frozen=True)
class WorkloadDraft:
    name: str
    measure: str
    unit: str
    higher_is_better: bool
    minutes: float
    options: Mapping[str, str] = field(default_factory=dict)
    cap_fps: float | None = None
    kind: LoadKind = "title"
    parts: tuple[Part, ...] = ()
    techniques: tuple[Technique, ...] = ()


@transaction.atomic
def create_campaign(
    rig: Rig,
    name: str,
    goal: str,
    aim: str,
    knobs: Sequence[Knob],
    workloads: Sequence[WorkloadDraft],
    now: datetime,
    kept_workloads: Sequence[Variant] = (),
) -> Campaign:
    """A campaign, complete or not at all: knobs and workloads checked together, its stock setting made with it.

    kept_workloads: workloads that are there already, on this rig or another, that this campaign uses too
    """
    problems = check_knobs(knobs) + check_workloads(workloads)
    problems += unknown_to_simulator(
        rig,
        [*(workload.name for workload in workloads), *(workload.name for workload in kept_workloads)],
        "workloads.{}.name",
    )
    if not knobs:
        problems.append(Problem("knobs", "no_knob"))
    if not workloads and not kept_workloads:
        problems.append(Problem("workloads", "no_workload"))
    if problems:
        raise Refused(*problems)
    campaign = Campaign.objects.create(rig=rig, name=name.strip(), goal=goal, aim=aim.strip(), created_at=now)
    KnobRow.objects.bulk_create(knob_row(campaign, position, knob) for position, knob in enumerate(knobs))
    campaign.workloads.set([*kept_workloads, *add_workloads(workloads)])
    Setting.objects.create(campaign=campaign, values={}, fingerprint="", created_at=now)
    campaign_changed(campaign.pk)
    rig_changed(rig.pk)
    return campaign


def knob_row(campaign: Campaign, position: int, knob: Knob) -> KnobRow:
    """A knob as it is kept."""
    return KnobRow(
        campaign=campaign,
        position=position,
        key=knob.key,
        name=knob.name,
        unit=knob.unit,
        stock=knob.stock,
        step=knob.step,
        low=knob.low,
        high=knob.high,
        away=knob.away,
        role=knob.role,
        part=knob.part,
        component=knob.component,
    )


def add_workloads(drafts: Sequence[WorkloadDraft]) -> list[Variant]:
    """The workloads as drafted. One that is there already, with the same options, length and cap, is the same one: so
    campaigns on two rigs can be compared."""
    return [_variant(draft) for draft in drafts]


def _variant(draft: WorkloadDraft) -> Variant:
    content = {
        "measure": draft.measure,
        "unit": draft.unit.strip(),
        "higher_is_better": draft.higher_is_better,
        "kind": draft.kind,
        "parts": sorted(draft.parts),
        "techniques": sorted(draft.techniques),
    }
    alike = Workload.objects.filter(name__iexact=draft.name.strip())
    workload = next((one for one in alike if {**content} == _content(one)), None)
    workload = workload or Workload.objects.create(name=draft.name.strip(), **content)
    options = {name.strip(): value.strip() for name, value in draft.options.items() if value.strip()}
    for variant in workload.variants.all():
        if (variant.options, variant.minutes, variant.cap_fps) == (options, draft.minutes, draft.cap_fps):
            return variant
    last = Variant.objects.order_by("-position").first()
    made: Variant = Variant.objects.create(
        workload=workload,
        options=options,
        minutes=draft.minutes,
        cap_fps=draft.cap_fps,
        position=last.position + 1 if last else 0,
    )
    workloads_changed()
    return made


def _content(workload: Workload) -> dict[str, object]:
    fields = ("measure", "unit", "higher_is_better", "kind")
    same = {name: getattr(workload, name) for name in fields}
    return {**same, "parts": sorted(workload.parts), "techniques": sorted(workload.techniques)}


@transaction.atomic
def set_test_suite(campaign: Campaign, kept: Sequence[Variant], new: Sequence[WorkloadDraft]) -> None:
    """What the campaign proves with besides its own workloads: some that are there, and new ones.

    What is left out and has runs in this campaign is retired: its runs still count for what they showed.
    """
    own = set(campaign.workloads.all())
    there = [*own, *campaign.test_suite.all()]
    problems = check_workloads(new)
    problems += unknown_to_simulator(
        campaign.rig, [*(one.name for one in new), *(one.name for one in kept)], "workloads.{}.name"
    )
    for index, draft in enumerate(new):
        problems += _same_name(draft, there, f"workloads.{index}.name")
    if problems:
        raise Refused(*problems)
    chosen = [one for one in [*kept, *add_workloads(new)] if one not in own]
    dropped = [one for one in campaign.test_suite.all() if one not in chosen]
    campaign.test_suite.set(chosen)
    _retire(campaign, dropped)
    campaign.retired.remove(*chosen)
    campaign_changed(campaign.pk)
    rig_changed(campaign.rig_id)


def unknown_to_simulator(rig: Rig, names: Sequence[str], where: str) -> list[Problem]:
    """Workloads that a rig of the simulator cannot run: a campaign would wait for them for ever.

    where: the field, with a place for the workload's number
    """
    if rig.simulator not in RIGS:
        return []
    known = RIGS[rig.simulator].loads
    return [
        Problem(where.format(index), "simulator_cannot_run", {"workload": name.strip(), "known": tuple(known)})
        for index, name in enumerate(names)
        if name.strip() not in known
    ]


def _same_name(draft: WorkloadDraft, there: Sequence[Variant], where: str) -> list[Problem]:
    """A workload of another sort under a name that the campaign has already would be distinguished by nobody."""
    for one in there:
        if one.name.casefold() == draft.name.strip().casefold() and (one.measure, one.unit) != (
            draft.measure,
            draft.unit,
        ):
            return [
                Problem(where, "workload_name_taken", {"workload": one.name, "measure": one.measure, "unit": one.unit})
            ]
    return []


def _retire(campaign: Campaign, variants: Sequence[Variant]) -> None:
    used = set(campaign.runs.filter(variant__in=variants).values_list("variant_id", flat=True))
    campaign.retired.add(*(variant for variant in variants if variant.pk in used))


@transaction.atomic
def add_knob(campaign: Campaign, knob: Knob) -> KnobRow:
    """A further knob. Settings that are there are at stock for it."""
    there = [row.as_knob() for row in campaign.knobs.all()]
    problems = [one for one in check_knobs([*there, knob]) if one.where.startswith(f"knobs.{len(there)}.")]
    if problems:
        raise Refused(*(replace(problem, where=problem.where.split(".", 2)[2]) for problem in problems))
    row = knob_row(campaign, len(there), knob)
    row.save()
    campaign_changed(campaign.pk)
    return row


@transaction.atomic
def change_knob(campaign: Campaign, key: str, change: Mapping[str, Any]) -> KnobRow:
    """Change a knob; its unit and stock stay, because what was run rests on them. change: fields of a knob by name

    Refused where the range would leave out the value of a setting. A setting off the new grid keeps its runs.
    """
    row = campaign.knobs.filter(key=key).first()
    if row is None:
        raise Refused(Problem("knob", "no_such_knob_of_campaign", {"knob": key}))
    change = {name: value.strip() if isinstance(value, str) else value for name, value in change.items()}
    changed = replace(row.as_knob(), **change)
    others = [knob.as_knob() for knob in campaign.knobs.all() if knob.key != key]
    problems = [one for one in check_knobs([*others, changed]) if one.where.startswith(f"knobs.{len(others)}.")]
    if problems:
        raise Refused(*(replace(problem, where=problem.where.split(".", 2)[2]) for problem in problems))
    used = [setting.values[key] for setting in campaign.settings.all() if key in setting.values]
    outside = sorted(value for value in used if not changed.low <= value <= changed.high)
    if outside:
        where = "low" if outside[0] < changed.low else "high"
        raise Refused(
            Problem(
                where,
                "setting_outside_range",
                {"knob": changed.name.lower(), "value": describe_value(changed, outside[0])},
            )
        )
    for name, value in change.items():
        setattr(row, name, value)
    row.save(update_fields=list(change))
    campaign_changed(campaign.pk)
    return row


@transaction.atomic
def retire_knob(campaign: Campaign, key: str, now: datetime | None) -> KnobRow:
    """A knob that is no longer turned; settings that turned it stay. `None` brings it back."""
    row = campaign.knobs.filter(key=key).first()
    if row is None:
        raise Refused(Problem("knob", "no_such_knob_of_campaign", {"knob": key}))
    if now is not None and not campaign.knobs.filter(retired_at__isnull=True).exclude(pk=row.pk).exists():
        raise Refused(Problem("knob", "last_knob"))
    row.retired_at = now
    row.save(update_fields=["retired_at"])
    campaign_changed(campaign.pk)
    return row


@transaction.atomic
def add_workload(campaign: Campaign, new: WorkloadDraft | Variant) -> Variant:
    """A further workload to be measured and compared, new or there already."""
    if unknown := unknown_to_simulator(campaign.rig, [new.name], "name"):
        raise Refused(*unknown)
    if isinstance(new, WorkloadDraft):
        problems = check_workloads([new])
        problems += _same_name(new, [*campaign.workloads.all(), *campaign.test_suite.all()], "workloads.0.name")
        if problems:
            raise Refused(*(replace(problem, where=problem.where.split(".", 2)[2]) for problem in problems))
        variant = _variant(new)
    else:
        variant = new
    if campaign.workloads.filter(pk=variant.pk).exists():
        raise Refused(Problem("name", "workload_measured_already", {"workload": variant.name}))
    campaign.workloads.add(variant)
    campaign.test_suite.remove(variant)
    campaign.retired.remove(variant)
    campaign_changed(campaign.pk)
    rig_changed(campaign.rig_id)
    return variant


@transaction.atomic
def retire_workload(campaign: Campaign, variant: Variant) -> None:
    """A workload that is no longer measured; its runs stay, and it can be brought back by adding it."""
    if not campaign.workloads.filter(pk=variant.pk).exists():
        raise Refused(Problem("workload", "workload_not_measured"))
    if campaign.workloads.count() == 1:
        raise Refused(Problem("workload", "last_workload"))
    campaign.workloads.remove(variant)
    _retire(campaign, [variant])
    campaign_changed(campaign.pk)
    rig_changed(campaign.rig_id)


@dataclass(frozen=True)
class Going:
    """What goes with a campaign that is deleted."""

    settings: int
    runs: int
    logs: int


def what_goes(campaign: Campaign) -> Going:
    logs = Series.objects.filter(run__campaign=campaign).count()
    return Going(campaign.settings.count(), campaign.runs.count(), logs)


@transaction.atomic
def archive(campaign: Campaign, now: datetime | None) -> Campaign:
    """Out of the list, all of it kept; `None` brings it back."""
    campaign.archived_at = now
    campaign.save(update_fields=["archived_at"])
    campaign_changed(campaign.pk)
    return campaign


@transaction.atomic
def delete_campaign(campaign: Campaign, name: str, now: datetime) -> Campaign:
    """Marks a campaign to be removed at the next start; until then it can be undone. Asked twice: its name is typed.

    Refused while a run of it is going on, and while a bench that lost contact may still send the rest of its run.
    """
    if name.strip() != campaign.name:
        raise Refused(Problem("name", "name_does_not_match", {"campaign": campaign.name}))
    states = set(LiveRun.objects.filter(run__campaign=campaign).values_list("state", flat=True))
    if LiveRun.State.OPEN in states:
        raise Refused(Problem("campaign", "campaign_has_a_run"))
    if LiveRun.State.LOST in states:
        raise Refused(Problem("campaign", "campaign_lost_a_run"))
    campaign.deleted_at = now
    campaign.save(update_fields=["deleted_at"])
    campaign_changed(campaign.pk)
    rig_changed(campaign.rig_id)
    return campaign


@transaction.atomic
def take_back_deletion(campaign: Campaign) -> Campaign:
    campaign.deleted_at = None
    campaign.save(update_fields=["deleted_at"])
    campaign_changed(campaign.pk)
    rig_changed(campaign.rig_id)
    return campaign


def remove_deleted() -> int:
    """At start: removes the campaigns that were deleted, and gives their space back; how many they were.

    One with a run that has not ended stays, so that nothing a bench still sends is lost.
    """
    with transaction.atomic():
        unended = LiveRun.objects.exclude(state=LiveRun.State.ENDED).values("run__campaign_id")
        gone = list(Campaign.objects.filter(deleted_at__isnull=False).exclude(pk__in=unended))
        for campaign in gone:
            # runs first: settings are protected by theirs
            campaign.runs.all().delete()
            campaign.delete()
    if gone:
        with connection.cursor() as cursor:
            cursor.execute("VACUUM")
    return len(gone)


def check_knobs(knobs: Sequence[Knob]) -> list[Problem]:
    """Problems of each knob, and keys that stand twice."""
    problems: list[Problem] = []
    seen: set[str] = set()
    for index, knob in enumerate(knobs):
        where = f"knobs.{index}"
        if not re.fullmatch(r"[a-z][a-z0-9_-]{0,23}", knob.key):
            problems.append(Problem(f"{where}.key", "knob_key_impossible", {"key": knob.key}))
        elif knob.key in seen:
            problems.append(Problem(f"{where}.key", "knob_key_twice", {"key": knob.key}))
        seen.add(knob.key)
        problems += check_knob(knob, where)
    return problems


def check_workloads(workloads: Sequence[WorkloadDraft]) -> list[Problem]:
    """Problems of each workload, and names that stand twice."""
    problems: list[Problem] = []
    seen: set[str] = set()
    for index, workload in enumerate(workloads):
        where = f"workloads.{index}"
        name = f"{workload.name.strip().lower()} {describe_options(workload.options)}".strip()
        if name in seen:
            problems.append(Problem(f"{where}.name", "workload_twice", {"workload": workload.name}))
        seen.add(name)
        if any(not option.strip() for option in workload.options):
            problems.append(Problem(f"{where}.options", "option_without_name"))
        if not (math.isfinite(workload.minutes) and 0 < workload.minutes <= 24 * 60):
            problems.append(Problem(f"{where}.minutes", "run_minutes_out_of_range", {"minutes": workload.minutes}))
        if workload.cap_fps is not None and not (math.isfinite(workload.cap_fps) and workload.cap_fps > 0):
            problems.append(Problem(f"{where}.cap_fps", "frame_cap_not_above_zero"))
        if workload.measure != "nothing" and not workload.unit.strip():
            problems.append(Problem(f"{where}.unit", "result_without_unit"))
        if workload.measure == "time" and workload.higher_is_better:
            problems.append(Problem(f"{where}.higher_is_better", "longer_is_not_better"))
        if workload.measure == "frame rate" and not workload.higher_is_better:
            problems.append(Problem(f"{where}.higher_is_better", "lower_rate_is_not_better"))
    return problems
