"""The list of campaigns: what each shows is computed once, and again only when something that it rests on has changed."""

import json
import time
from collections.abc import Callable, Container, Iterable, Mapping, Sequence
from dataclasses import astuple
from datetime import datetime
from typing import Any

from django.db import DatabaseError, transaction
from django.db.models import Count

import trelvo
from trelvo.core.case import Case
from trelvo.core.climb.priors import Shown, priors_for
from trelvo.core.climb.steepness import Seen
from trelvo.core.climb.stress import Offset
from trelvo.core.next_step.summary import Summary, summary_of
from trelvo.logbook.cases import case_from, earlier_than, newest, shown_or_nothing
from trelvo.logbook.models import Campaign, CampaignSummary, Run
from trelvo.logbook.store import in_store, latest_of
from trelvo.logbook.tokens import read_tokens

# What took less is computed again after a start; to keep it would cost a write with every look at the list.
WORTH_KEEPING_S = 1.0
# So many runs are read and judged for one answer where it may come in parts: about a second's work.
PART_RUNS = 4000
# Raised when a card is made of something else than before: what an earlier program kept is then rebuilt.
MADE = 3
Card = dict[str, Any]


def cards_of(
    campaigns: Sequence[Campaign],
    now: datetime,
    card: Callable[[Campaign, Case, Summary], Card],
    waiting: Callable[[Campaign, int], Card] | None = None,
) -> list[Card]:
    """What is shown of each campaign, in the order given. card: puts it together, of values that JSON can have

    waiting: what stands for one that is still to be computed, with its runs: then one answer computes a part of what is
    missing, as many campaigns as have `PART_RUNS` runs together, and asking again goes on; all of them where it is left out
    """
    others = newest()
    every = {one.pk: one for one in (*campaigns, *others)}
    marks = _marks_of(list(every.values()))
    rows = CampaignSummary.objects.filter(campaign_id__in=every)
    kept = {
        row.campaign_id: row
        for row in rows
        if row.made_from in (marks[row.campaign_id], _of_hour(marks[row.campaign_id], now))
    }
    begun = time.monotonic()
    # what the others have shown comes first, since every card rests on it
    order = dict.fromkeys([one.pk for one in (*others, *campaigns) if one.pk not in kept])
    runs = _run_counts(order) if waiting and order else {}
    read = order if waiting is None else _part(order, runs, in_store([every[pk] for pk in order]))
    snapshots = {one.id: one for one in latest_of([every[pk] for pk in read])}
    shown = {pk: _from_json(row.shown) for pk, row in kept.items()} | {
        pk: list(shown_or_nothing(one)) for pk, one in snapshots.items()
    }
    ready = all(other.pk in shown for other in others)
    taught = {
        campaign.pk: [each for pk in earlier_than(campaign.pk, others) for each in shown[pk]]
        for campaign in campaigns
        if ready
    }
    # what others have shown since may move what is shown of one that has not changed itself
    moved = [
        campaign
        for campaign in campaigns
        if ready and campaign.pk in kept and kept[campaign.pk].priors != _as_text(taught[campaign.pk])
    ]
    snapshots |= {one.id: one for one in latest_of(moved)}
    # a card may have been moved by what is not read yet: it waits with the others
    found = {pk: row.card if ready else row.card | {"waiting": True} for pk, row in kept.items()}
    made = []
    worth = dict.fromkeys(campaign.pk for campaign in campaigns if ready and campaign.pk in snapshots)
    for pk in worth if waiting is None else _part(worth, runs):
        case = case_from(every[pk], snapshots[pk], priors_for(snapshots[pk], taught[pk]))
        found[pk] = card(every[pk], case, summary_of(case, now))
        mark = _of_hour(marks[pk], now) if case.campaign.in_use else marks[pk]
        made.append(
            CampaignSummary(
                campaign_id=pk,
                made_from=mark,
                priors=_as_text(taught[pk]),
                shown=_to_json(shown[pk]),
                card=found[pk],
            )
        )
    left = [campaign.pk for campaign in campaigns if campaign.pk not in found]
    if made and (left or time.monotonic() - begun > WORTH_KEEPING_S):
        _write(made)
    # without `waiting` none is left
    return [
        found[campaign.pk] if campaign.pk in found or waiting is None else waiting(campaign, runs[campaign.pk])
        for campaign in campaigns
    ]


def _write(summaries: Sequence[CampaignSummary]) -> None:
    """Where the database cannot be written nothing is lost: they are computed again."""
    fields = ["made_from", "priors", "shown", "card"]
    try:
        with transaction.atomic():
            CampaignSummary.objects.bulk_create(
                summaries, update_conflicts=True, unique_fields=["campaign"], update_fields=fields
            )
    except DatabaseError:
        return


def _run_counts(campaign_ids: Iterable[int]) -> dict[int, int]:
    ids = list(campaign_ids)
    counted = Run.objects.filter(campaign_id__in=ids).order_by().values_list("campaign_id").annotate(Count("pk"))
    return dict.fromkeys(ids, 0) | dict(counted)


def _part(ids: Iterable[int], runs: Mapping[int, int], free: Container[int] = ()) -> list[int]:
    """As many of the first as have `PART_RUNS` runs together, one at the least; those in `free` count for nothing."""
    found, left = [], PART_RUNS
    for pk in ids:
        costs = 0 if pk in free else runs.get(pk, 0)
        if costs and costs > left and left < PART_RUNS:
            break
        found.append(pk)
        left -= costs
    return found


def _marks_of(campaigns: Sequence[Campaign]) -> dict[int, str]:
    """What each card is made of, this program too."""
    tokens = read_tokens((campaign.pk, campaign.rig_id) for campaign in campaigns)
    return {pk: f"{trelvo.__version__}.{MADE} {' '.join(some)}" for pk, some in tokens.items()}


def _of_hour(mark: str, now: datetime) -> str:
    """For what hangs on the time too: hours of use, and how old a proof is."""
    return f"{mark} at {now:%Y-%m-%d %H}"


def _as_text(shown: Sequence[Shown]) -> str:
    return json.dumps(_to_json(shown))


def _to_json(shown: Sequence[Shown]) -> list[list[Any]]:
    return [[*like, *astuple(one)] for like, one in shown]


def _from_json(rows: Sequence[Sequence[Any]]) -> list[Shown]:
    return [
        ((what, of, by), Offset(value, deviation) if what == "stress" else Seen(value, deviation))
        for what, of, by, value, deviation in rows
    ]
