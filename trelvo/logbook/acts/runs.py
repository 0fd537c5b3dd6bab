"""Writes runs. A run is never edited into another result: it can be set aside with a reason, and taken back."""

import math
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import cast

from django.db import transaction

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.runs import FAILURES
from trelvo.core.base.workloads import Measure, check_result
from trelvo.logbook.acts.campaigns import WorkloadDraft
from trelvo.logbook.models import Campaign, Fitting, Run, Setting, Workload
from trelvo.logbook.rows.facts import testable


@dataclass(frozen=True)
class RunDraft:
    """A run as typed. Figures may be left out; a completed run needs its value, here or from a log."""

    outcome: str
    started_at: datetime | None = None
    value: float | None = None
    duration_s: float | None = None
    low_1_fps: float | None = None
    low_01_fps: float | None = None
    power_w: float | None = None
    power_point: str = "unknown"
    temp_max_c: float | None = None
    room_c: float | None = None
    core_mhz: float | None = None
    memory_mhz: float | None = None
    voltage_v: float | None = None
    fan: str = ""
    note: str = ""


# Lowest and highest reading that is physically possible, for figures that have such limits.
POSSIBLE: dict[str, tuple[float, float, str]] = {
    "low_1_fps": (0.0, 100_000.0, "fps"),
    "low_01_fps": (0.0, 100_000.0, "fps"),
    "duration_s": (0.0, 30 * 86_400.0, "s"),
    "power_w": (0.0, 3_000.0, "W"),
    "temp_max_c": (-200.0, 150.0, "°C"),
    "room_c": (-30.0, 60.0, "°C"),
    "core_mhz": (0.0, 20_000.0, "MHz"),
    "memory_mhz": (0.0, 40_000.0, "MHz"),
    "voltage_v": (0.0, 20.0, "V"),
}
POSITIVE = ("low_1_fps", "low_01_fps", "power_w", "duration_s")


def check_run(draft: RunDraft, now: datetime, workload: Workload | WorkloadDraft | None = None) -> list[Problem]:
    """What cannot be in a run as typed. workload: what its result is a result of; its value is not checked without"""
    problems: list[Problem] = []
    if draft.value is not None and workload is not None:
        wrong = check_result(cast(Measure, workload.measure), float(draft.value), workload.unit, "value")
        problems += [wrong] if wrong else []
    for field, figure in asdict(draft).items():
        if not isinstance(figure, float) or field == "value":
            continue
        if not math.isfinite(figure):
            problems.append(Problem(field, "This is not a number.", "Type a number or leave it empty."))
        elif field in POSITIVE and figure <= 0:
            problems.append(Problem(field, f"{figure:g} is not above zero.", "Correct it or leave it empty."))
        elif field in POSSIBLE:
            low, high, unit = POSSIBLE[field]
            if not low <= figure <= high:
                problems.append(
                    Problem(
                        field, f"{figure:g} {unit} cannot be ({low:g} to {high:g} {unit}).", "Check number and unit."
                    )
                )
    cold = draft.temp_max_c is not None and 0 < draft.temp_max_c < (draft.room_c or 0.0) - 5
    if cold:
        problems.append(Problem("temp_max_c", "The part cannot stay colder than its room.", "Check both temperatures."))
    if draft.outcome == "no start" and draft.value is not None:
        problems.append(Problem("value", "A run that did not start has no value.", "Clear the value or the outcome."))
    if draft.started_at and draft.started_at > now + timedelta(days=1):
        problems.append(Problem("started_at", "This time is in the future.", "Check date and time."))
    return problems


@transaction.atomic
def log_run(
    campaign: Campaign,
    setting: Setting,
    workload: Workload,
    draft: RunDraft,
    now: datetime,
    fitting: Fitting | None = None,
) -> Run:
    """A run that has taken place, under the rig's present fitting unless another is given."""
    if setting.campaign_id != campaign.pk:
        raise Refused(Problem("setting", "This setting belongs to another campaign.", "Choose a rung of this one."))
    if workload not in testable(campaign):
        raise Refused(Problem("workload", "This campaign does not use that workload.", "Choose one of its workloads."))
    fitting = fitting or campaign.rig.present_fitting()
    if fitting is None:
        raise Refused(Problem("rig", "The rig is not described yet.", "Describe its fitting first."))
    if problems := check_run(draft, now, workload):
        raise Refused(*problems)
    figures = asdict(draft)
    started_at = figures.pop("started_at") or now
    return Run.objects.create(
        campaign=campaign, setting=setting, workload=workload, fitting=fitting, started_at=started_at, **figures
    )


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
    return run


@transaction.atomic
def take_back(run: Run) -> Run:
    """Undoes `set_aside`: the run counts again."""
    run.set_aside_at, run.set_aside_reason = None, ""
    run.save(update_fields=["set_aside_at", "set_aside_reason"])
    return run
