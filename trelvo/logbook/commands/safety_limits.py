"""Writes the safety limits of a campaign."""

from collections.abc import Sequence
from dataclasses import asdict

from django.db import transaction

from trelvo.core.base.cooling import is_cold
from trelvo.core.problems import Problem, Refused
from trelvo.core.watch.safety_limits import SafetyLimit, check_safety_limit
from trelvo.logbook.commands.seen import refuse_if_changed
from trelvo.logbook.models import Campaign, LiveRun, SafetyLimitRow
from trelvo.logbook.rows.lookups import knobs_of, safety_limits_of
from trelvo.logbook.tokens import campaign_changed


def _in_words(safety_limits: Sequence[SafetyLimit]) -> str:
    return ", ".join(f"{one.kind} {one.channel} {one.limit:g}".replace("  ", " ") for one in safety_limits)


@transaction.atomic
def set_safety_limits(
    campaign: Campaign, safety_limits: Sequence[SafetyLimit], seen: Sequence[SafetyLimit] | None = None
) -> None:
    """The campaign's safety limits from now on, in this order, all or none of them. seen: as they stood in the form"""
    if seen is not None:
        refuse_if_changed(
            "limits_changed", {"limits": _in_words(seen)}, {"limits": _in_words(safety_limits_of(campaign))}
        )
    knobs = knobs_of(campaign)
    build = campaign.rig.present_build()
    cold = is_cold(build.cooling if build else "", campaign.goal)
    problems = [
        problem
        for i, safety_limit in enumerate(safety_limits)
        for problem in check_safety_limit(safety_limit, f"safety_limits.{i}", knobs, cold=cold)
    ]
    marks: set[tuple[str, str]] = set()
    for i, safety_limit in enumerate(safety_limits):
        mark = (safety_limit.kind, safety_limit.channel.casefold())
        if mark in marks:
            problems.append(Problem(f"safety_limits.{i}.kind", "limit_twice", {"kind": safety_limit.kind}))
        marks.add(mark)
    if problems:
        raise Refused(*problems)
    campaign.safety_limits.all().delete()
    SafetyLimitRow.objects.bulk_create(
        SafetyLimitRow(
            campaign=campaign,
            position=i,
            kind=safety_limit.kind,
            limit=safety_limit.limit,
            channel=safety_limit.channel.strip(),
        )
        for i, safety_limit in enumerate(safety_limits)
    )
    campaign_changed(campaign.pk)
    # runs that go on are checked against the new ones from their next batch on
    going = LiveRun.objects.filter(run__campaign=campaign).exclude(state=LiveRun.State.ENDED)
    going.update(safety_limits=[asdict(safety_limit) for safety_limit in safety_limits_of(campaign)])
