"""Writes campaigns with their knobs, workloads and stock setting."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from trelvo.core.base.knobs import Knob, check_knob
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.core.base.problems import Problem, Refused
from trelvo.logbook.models import Campaign, KnobRow, Rig, Setting, Workload


@dataclass(frozen=True)
class WorkloadDraft:
    name: str
    measure: str
    unit: str
    higher_is_better: bool
    minutes: float
    options: str = ""
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
    kept_workloads: Sequence[Workload] = (),
) -> Campaign:
    """A campaign, complete or not at all: knobs and workloads checked together, its stock setting made with it.

    kept_workloads: workloads the rig already has that this campaign uses too
    """
    problems = check_knobs(knobs) + check_workloads(workloads)
    if not knobs:
        problems.append(Problem("knobs", "There is no knob to turn.", "Add at least one knob."))
    if not workloads and not kept_workloads:
        problems.append(Problem("workloads", "There is nothing to measure.", "Add at least one workload."))
    if problems:
        raise Refused(*problems)
    campaign = Campaign.objects.create(rig=rig, name=name.strip(), goal=goal, aim=aim.strip(), created_at=now)
    KnobRow.objects.bulk_create(knob_row(campaign, position, knob) for position, knob in enumerate(knobs))
    campaign.workloads.set([*kept_workloads, *add_workloads(rig, workloads)])
    Setting.objects.create(campaign=campaign, values={}, fingerprint="", created_at=now)
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
    )


def add_workloads(rig: Rig, drafts: Sequence[WorkloadDraft]) -> list[Workload]:
    """New workloads of a rig, after those it has."""
    start = rig.workloads.count()
    return [
        Workload.objects.create(
            rig=rig,
            position=start + offset,
            name=draft.name.strip(),
            measure=draft.measure,
            unit=draft.unit.strip(),
            higher_is_better=draft.higher_is_better,
            options=draft.options.strip(),
            minutes=draft.minutes,
            cap_fps=draft.cap_fps,
            kind=draft.kind,
            parts=list(draft.parts),
            techniques=list(draft.techniques),
        )
        for offset, draft in enumerate(drafts)
    ]


@transaction.atomic
def set_battery(campaign: Campaign, kept: Sequence[Workload], new: Sequence[WorkloadDraft]) -> None:
    """What the campaign proves with besides its own workloads: some that the rig has, and new ones."""
    own = set(campaign.workloads.all())
    for workload in kept:
        if workload.rig_id != campaign.rig_id:
            raise Refused(Problem("workload_ids", f"{workload.name} belongs to another rig.", "Choose this rig's."))
    if problems := check_workloads(new):
        raise Refused(*problems)
    taken = {name.lower() for name in campaign.rig.workloads.values_list("name", flat=True)}
    for index, draft in enumerate(new):
        if draft.name.strip().lower() in taken:
            what = f"The rig has a workload {draft.name.strip()} already."
            raise Refused(Problem(f"workloads.{index}.name", what, "Choose it from the list, or give another name."))
    campaign.battery.set([one for one in [*kept, *add_workloads(campaign.rig, new)] if one not in own])


def check_knobs(knobs: Sequence[Knob]) -> list[Problem]:
    """Problems of each knob, and keys that stand twice."""
    problems: list[Problem] = []
    seen: set[str] = set()
    for index, knob in enumerate(knobs):
        where = f"knobs.{index}"
        if not re.fullmatch(r"[a-z][a-z0-9_-]{0,23}", knob.key):
            problems.append(
                Problem(
                    f"{where}.key", f"“{knob.key}” cannot be a key.", "Use one short word: small letters and digits."
                )
            )
        elif knob.key in seen:
            problems.append(Problem(f"{where}.key", f"Two knobs have the key {knob.key}.", "Give each its own key."))
        seen.add(knob.key)
        problems += check_knob(knob, where)
    return problems


def check_workloads(workloads: Sequence[WorkloadDraft]) -> list[Problem]:
    """Problems of each workload, and names that stand twice."""
    problems: list[Problem] = []
    seen: set[str] = set()
    for index, workload in enumerate(workloads):
        where = f"workloads.{index}"
        name = workload.name.strip().lower()
        if name in seen:
            problems.append(Problem(f"{where}.name", f"{workload.name} stands twice.", "Give each its own name."))
        seen.add(name)
        if not (math.isfinite(workload.minutes) and 0 < workload.minutes <= 24 * 60):
            problems.append(
                Problem(
                    f"{where}.minutes", f"{workload.minutes:g} minutes is no length for a run.", "Type 0.1 to 1440."
                )
            )
        if workload.cap_fps is not None and not (math.isfinite(workload.cap_fps) and workload.cap_fps > 0):
            problems.append(
                Problem(f"{where}.cap_fps", "A frame cap is above zero.", "Type the cap, or leave it empty for none.")
            )
        if workload.measure == "time" and workload.higher_is_better:
            problems.append(
                Problem(
                    f"{where}.higher_is_better",
                    "A longer time is not better.",
                    "Say that lower is better, or choose score.",
                )
            )
        if workload.measure == "frame rate" and not workload.higher_is_better:
            problems.append(
                Problem(f"{where}.higher_is_better", "A lower frame rate is not better.", "Say that higher is better.")
            )
    return problems
