"""Corrects a workload that was described wrongly, in every campaign that uses it. What stood there before is kept beside it."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Q

from trelvo.core.base.workloads import describe_options
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.campaigns import WorkloadDraft, check_workloads
from trelvo.logbook.models import Campaign, Run, Variant, Workload
from trelvo.logbook.tokens import workloads_changed

_NAMES = {
    "name": "Name", "measure": "Measure", "unit": "Unit", "higher_is_better": "Better is", "kind": "Kind", "parts": "Works on",
    "techniques": "Uses", "options": "Options", "minutes": "Minutes a run", "cap_fps": "Frame cap",
}  # fmt: skip
_OF_THE_VARIANT = ("options", "minutes", "cap_fps")
# With runs behind it these would make other numbers of them.
_FIXED_BY_RUNS = ("measure", "higher_is_better")


@transaction.atomic
def correct_workload(variant: Variant, draft: WorkloadDraft, now: datetime) -> Variant:
    """Takes over what differs. Refused where it would become another workload that is there, or change what its runs mean."""
    workload = variant.workload
    wished: dict[str, Any] = {
        "name": draft.name.strip(),
        "measure": draft.measure,
        "unit": draft.unit.strip(),
        "higher_is_better": draft.higher_is_better,
        "kind": draft.kind,
        "parts": sorted(draft.parts),
        "techniques": sorted(draft.techniques),
        "options": {name.strip(): value.strip() for name, value in draft.options.items() if value.strip()},
        "minutes": draft.minutes,
        "cap_fps": draft.cap_fps,
    }
    changed = {name: value for name, value in wished.items() if value != _standing(variant, name)}
    problems = check_workloads([draft]) + _problems(variant, changed, wished)
    if problems:
        raise Refused(*problems)
    for name, value in changed.items():
        text = f"{_NAMES[name]} corrected from {_told(_standing(variant, name))} to {_told(value)}"
        workload.corrections = [*workload.corrections, {"at": now.isoformat(), "text": text}]
        setattr(variant if name in _OF_THE_VARIANT else workload, name, value)
    workload.save()
    variant.save()
    workloads_changed()
    return variant


def _standing(variant: Variant, name: str) -> Any:
    value = getattr(variant if name in _OF_THE_VARIANT else variant.workload, name)
    return sorted(value) if name in ("parts", "techniques") else value


def _problems(variant: Variant, changed: dict[str, Any], wished: dict[str, Any]) -> list[Problem]:
    where = "workloads.0"
    if not changed:
        return [Problem(where, "nothing_redescribed")]
    problems = []
    workload = variant.workload
    if any(name in changed for name in _FIXED_BY_RUNS) and Run.objects.filter(variant__workload=workload).exists():
        problems.append(Problem(f"{where}.measure", "measure_fixed_by_runs"))
    used = Q(workloads__workload=workload) | Q(test_suite__workload=workload)
    if "name" in changed and Campaign.objects.exclude(rig__simulator="").filter(used).exists():
        problems.append(Problem(f"{where}.name", "simulator_fixes_name"))
    alike = Workload.objects.filter(name__iexact=wished["name"], measure=wished["measure"], unit=wished["unit"])
    if "name" in changed and alike.exclude(pk=workload.pk).exists():
        problems.append(Problem(f"{where}.name", "workload_name_exists", {"name": wished["name"]}))
    twins = workload.variants.exclude(pk=variant.pk).filter(minutes=wished["minutes"], cap_fps=wished["cap_fps"])
    if any(twin.options == wished["options"] for twin in twins):
        problems.append(Problem(f"{where}.options", "same_options"))
    return problems


def _told(value: object) -> str:
    if value in (None, "", [], {}):
        return "nothing"
    if isinstance(value, bool):
        return "higher" if value else "lower"
    if isinstance(value, dict):
        return describe_options(value)
    if isinstance(value, list):
        return ", ".join(value)
    return f"{value:g}" if isinstance(value, float) else str(value)
