"""Writes what a campaign is for, in numbers, and the way someone works towards it."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any, cast

from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.goals import ALWAYS, GOALS, GoalWord
from trelvo.core.terms import refusals, terms_from
from trelvo.core.way import Way, refusals_of_way
from trelvo.logbook.commands.seen import refuse_if_changed
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.lookups import knobs_of
from trelvo.logbook.tokens import campaign_changed


def with_terms(
    goal: GoalWord, terms: Mapping[str, Any], said: Mapping[str, float | bool | str | None]
) -> dict[str, Any]:
    """A goal's numbers as said so far, with some of them changed. Refuses all of it with every field that cannot be."""
    allowed = {*GOALS[goal].changeable, *ALWAYS}
    unknown = [word for word in said if word not in allowed]
    if unknown:
        raise Refused(*(Problem(word, "not_asked_by_goal") for word in unknown))
    empty = [word for word in (*ALWAYS, "quiet_by") if word in said and said[word] is None]
    if empty:
        raise Refused(*(Problem(word, "number_needed") for word in empty))
    merged = {**terms, **said}
    problems = refusals(terms_from(goal, merged))
    if problems:
        raise Refused(*problems)
    return merged


@transaction.atomic
def set_terms(
    campaign: Campaign, said: Mapping[str, float | bool | str | None], seen: Mapping[str, Any] | None = None
) -> Campaign:
    """Changes some of the goal's numbers; what is not named stays. seen: as they stood in the form, where that is known"""
    refuse_if_changed("goal_changed", seen or {}, asdict(terms_from(cast(GoalWord, campaign.goal), campaign.terms)))
    campaign.terms = with_terms(cast(GoalWord, campaign.goal), campaign.terms, said)
    campaign.save(update_fields=["terms"])
    campaign_changed(campaign.pk)
    return campaign


@transaction.atomic
def set_goal(
    campaign: Campaign, goal: str, aim: str, name: str | None = None, seen: Mapping[str, Any] | None = None
) -> Campaign:
    """Changes what the campaign is for, and is called; numbers that both goals know stay as they were said.

    seen: goal, aim and name as they stood in the form, where that is known
    """
    refuse_if_changed(
        "goal_changed", seen or {}, {"goal": str(campaign.goal), "aim": campaign.aim, "name": campaign.name}
    )
    if name is not None and not name.strip():
        raise Refused(Problem("name", "campaign_name_missing"))
    campaign.goal, campaign.aim, campaign.name = goal, aim.strip(), name.strip() if name else campaign.name
    campaign.save(update_fields=["goal", "aim", "name"])
    campaign_changed(campaign.pk)
    return campaign


@transaction.atomic
def set_way(campaign: Campaign, way: Way) -> Campaign:
    """Takes over the way of working, or refuses it with every field that cannot be."""
    problems = refusals_of_way(way, knobs_of(campaign))
    if problems:
        raise Refused(*problems)
    kept: dict[str, Any] = {"strategy": way.strategy, "cautious": way.cautious, "approach": way.approach}
    campaign.way = {**kept, "largest_steps": dict(way.largest_steps)}
    campaign.save(update_fields=["way"])
    campaign_changed(campaign.pk)
    return campaign
