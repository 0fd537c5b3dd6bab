"""Writes targets: rivals' results to be reached."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction

from trelvo.core.base.workloads import Measure, check_result
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Campaign, Target
from trelvo.logbook.tokens import campaign_changed


@dataclass(frozen=True)
class TargetDraft:
    """A rival's results by workload id, as told by `source` under `conditions`."""

    name: str
    price: float | None = None
    source: str = ""
    conditions: str = ""
    results: Mapping[Any, float] = field(default_factory=dict)


def check_target(draft: TargetDraft, workloads: Mapping[Any, tuple[Measure, str]]) -> list[Problem]:
    """What cannot be in a target. workloads: measure and unit of each, by what the draft's results name them by"""
    problems = []
    if not draft.results:
        problems.append(Problem("results", "target_without_results"))
    for workload, value in draft.results.items():
        if workload not in workloads:
            problems.append(Problem(f"results.{workload}", "no_such_workload_here"))
        elif wrong := check_result(workloads[workload][0], value, workloads[workload][1], f"results.{workload}"):
            problems.append(wrong)
    if draft.price is not None and not (math.isfinite(draft.price) and draft.price > 0):
        problems.append(Problem("price", "target_price_impossible", {"price": draft.price}))
    return problems


@transaction.atomic
def keep_target(campaign: Campaign, draft: TargetDraft, target: Target | None = None) -> Target:
    """A new target, or a target told again."""
    workloads = {workload.pk: workload for workload in campaign.workloads.all()}
    uids = {pk: str(workload.uid) for pk, workload in workloads.items()}
    if problems := check_target(draft, {pk: (one.measure, one.unit) for pk, one in workloads.items()}):
        raise Refused(*problems)
    target = target or Target(campaign=campaign)
    target.name, target.price = draft.name.strip(), draft.price
    target.source, target.conditions = draft.source.strip(), draft.conditions.strip()
    target.results = {uids[pk]: value for pk, value in draft.results.items()}
    target.save()
    campaign_changed(campaign.pk)
    return target


@transaction.atomic
def remove_target(target: Target) -> None:
    """Take a target off the comparison."""
    target.delete()
    campaign_changed(target.campaign_id)
