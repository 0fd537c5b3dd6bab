"""Writes the guard rails of a campaign."""

from collections.abc import Sequence
from dataclasses import asdict

from django.db import transaction

from trelvo.core.base.cooling import is_cold
from trelvo.core.problems import Problem, Refused
from trelvo.core.watch.guard_rails import GuardRail, check_rail
from trelvo.logbook.commands.seen import refuse_if_changed
from trelvo.logbook.models import Campaign, GuardRailRow, LiveRun
from trelvo.logbook.rows.lookups import knobs_of, rails_of
from trelvo.logbook.tokens import campaign_changed


def _in_words(rails: Sequence[GuardRail]) -> str:
    return ", ".join(f"{one.kind} {one.channel} {one.limit:g}".replace("  ", " ") for one in rails)


@transaction.atomic
def set_guard_rails(campaign: Campaign, rails: Sequence[GuardRail], seen: Sequence[GuardRail] | None = None) -> None:
    """The campaign's guard rails from now on, in this order, all or none of them. seen: as they stood in the form"""
    if seen is not None:
        refuse_if_changed("limits_changed", {"limits": _in_words(seen)}, {"limits": _in_words(rails_of(campaign))})
    knobs = knobs_of(campaign)
    fitting = campaign.rig.present_fitting()
    cold = is_cold(fitting.cooling if fitting else "", campaign.goal)
    problems = [problem for i, rail in enumerate(rails) for problem in check_rail(rail, f"rails.{i}", knobs, cold=cold)]
    marks: set[tuple[str, str]] = set()
    for i, rail in enumerate(rails):
        mark = (rail.kind, rail.channel.casefold())
        if mark in marks:
            problems.append(Problem(f"rails.{i}.kind", "limit_twice", {"kind": rail.kind}))
        marks.add(mark)
    if problems:
        raise Refused(*problems)
    campaign.guard_rails.all().delete()
    GuardRailRow.objects.bulk_create(
        GuardRailRow(campaign=campaign, position=i, kind=rail.kind, limit=rail.limit, channel=rail.channel.strip())
        for i, rail in enumerate(rails)
    )
    campaign_changed(campaign.pk)
    # runs that go on are checked against the new ones from their next batch on
    going = LiveRun.objects.filter(run__campaign=campaign).exclude(state=LiveRun.State.ENDED)
    going.update(rails=[asdict(rail) for rail in rails_of(campaign)])
