"""Writes what the user wants to judge by: the smallest gain that matters, weights, limits."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.seen import refuse_if_changed
from trelvo.logbook.models import Campaign
from trelvo.logbook.tokens import campaign_changed


@dataclass(frozen=True)
class WhatCounts:
    """weights: by workload id; price: what the tuned part costs or would fetch, in `currency`."""

    smallest_gain: float
    wished_resolution: float
    stale_days: float
    weights: Mapping[int, float]
    temp_limit_c: float | None = None
    power_limit_w: float | None = None
    price: float | None = None
    currency: str = ""


@transaction.atomic
def set_what_counts(campaign: Campaign, draft: WhatCounts, seen: Mapping[str, Any] | None = None) -> Campaign:
    """Takes over all of the draft, or refuses it with every field that cannot be. seen: the same as it stood in the form"""
    uids = {pk: str(uid) for pk, uid in campaign.workloads.values_list("pk", "uid")}
    refuse_if_changed("what_counts_changed", _without_ones(seen or {}), _as_it_is(campaign, uids))
    problems = check_limits(draft)
    for workload_id, weight in draft.weights.items():
        if workload_id not in uids:
            problems.append(Problem(f"weights.{workload_id}", "no_such_workload_here"))
        elif not (math.isfinite(weight) and weight >= 0):
            problems.append(Problem(f"weights.{workload_id}", "negative_weight"))
    if uids and all(draft.weights.get(pk, 1.0) == 0 for pk in uids):
        problems.append(nothing_left())
    if problems:
        raise Refused(*problems)
    campaign.smallest_gain = draft.smallest_gain
    campaign.wished_resolution = draft.wished_resolution
    campaign.stale_days = draft.stale_days
    campaign.weights = {uids[pk]: weight for pk, weight in draft.weights.items() if weight != 1.0}
    campaign.temp_limit_c, campaign.power_limit_w = draft.temp_limit_c, draft.power_limit_w
    campaign.price, campaign.currency = draft.price, draft.currency.strip()
    campaign.save()
    campaign_changed(campaign.pk)
    return campaign


def _as_it_is(campaign: Campaign, uids: Mapping[int, str]) -> dict[str, Any]:
    fields = ("smallest_gain", "wished_resolution", "stale_days", "temp_limit_c", "power_limit_w", "price", "currency")
    weights = {pk: campaign.weights[uid] for pk, uid in uids.items() if uid in campaign.weights}
    return _without_ones({name: getattr(campaign, name) for name in fields} | {"weights": weights})


def _without_ones(said: Mapping[str, Any]) -> dict[str, Any]:
    """The same with only those weights that differ from one."""
    weights = {pk: weight for pk, weight in said.get("weights", {}).items() if weight != 1.0}
    return {**said, "weights": weights} if "weights" in said else dict(said)


def nothing_left() -> Problem:
    return Problem("weights", "weights_all_zero")


# Above these a limit or price is a slip of the hand; common practice.
MOST_LIMIT = (("temp_limit_c", " °C", 300.0), ("power_limit_w", " W", 100_000.0), ("price", "", 1e9))


def check_limits(draft: WhatCounts) -> list[Problem]:
    """What cannot be in thresholds, limits and price; weights are checked where the workloads are known."""
    problems = []
    for name, figure in (("smallest_gain", draft.smallest_gain), ("wished_resolution", draft.wished_resolution)):
        if not 0 < figure < 0.5:
            problems.append(Problem(name, "limit_percent_out_of_range", {"value": figure * 100}))
    if not 0 < draft.stale_days <= 3650:
        problems.append(Problem("stale_days", "stale_days_out_of_range"))
    for name, unit, most in MOST_LIMIT:
        limit = getattr(draft, name)
        if limit is not None and not 0 < limit <= most:
            code = "limit_not_above_zero" if not limit > 0 else "limit_too_high"
            problems.append(Problem(name, code, {"limit": limit, "most": most, "unit": unit}))
    return problems


@transaction.atomic
def say_enough(campaign: Campaign, now: datetime | None) -> Campaign:
    """Calls the baseline done although it does not distinguish what was wished; `None` takes that back."""
    campaign.enough_said_at = now
    campaign.save(update_fields=["enough_said_at"])
    campaign_changed(campaign.pk)
    return campaign
