"""Writes the guard rails of a campaign."""

from collections.abc import Sequence
from dataclasses import asdict

from django.db import transaction

from trelvo.core.base.cooling import is_cold
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.watch.guard_rails import GuardRail, check_rail
from trelvo.logbook.models import Campaign, GuardRailRow, LiveRun
from trelvo.logbook.rows.lookups import knobs_of, rails_of


@transaction.atomic
def set_guard_rails(campaign: Campaign, rails: Sequence[GuardRail]) -> None:
    """The campaign's guard rails from now on, in this order, all or none of them."""
    knobs = knobs_of(campaign)
    fitting = campaign.rig.present_fitting()
    cold = is_cold(fitting.cooling if fitting else "", campaign.goal)
    problems = [problem for i, rail in enumerate(rails) for problem in check_rail(rail, f"rails.{i}", knobs, cold=cold)]
    seen: set[tuple[str, str]] = set()
    for i, rail in enumerate(rails):
        mark = (rail.kind, rail.channel.casefold())
        if mark in seen:
            problems.append(Problem(f"rails.{i}.kind", f"Two limits of {rail.kind} for one thing.", "Keep one."))
        seen.add(mark)
    if problems:
        raise Refused(*problems)
    campaign.guard_rails.all().delete()
    GuardRailRow.objects.bulk_create(
        GuardRailRow(campaign=campaign, position=i, kind=rail.kind, limit=rail.limit, channel=rail.channel.strip())
        for i, rail in enumerate(rails)
    )
    # runs that go on are checked against the new ones from their next batch on
    going = LiveRun.objects.filter(run__campaign=campaign).exclude(state=LiveRun.State.ENDED)
    going.update(rails=[asdict(rail) for rail in rails_of(campaign)])
