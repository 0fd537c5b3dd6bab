"""The list of campaigns: what each shows is worked out once, and again only when something that it rests on has changed."""

import json
import time
from collections.abc import Callable, Container, Iterable, Mapping, Sequence
from dataclasses import astuple
from datetime import datetime
from typing import Any

from django.db.models import Count

import trelvo
from trelvo.core.climb.steepness import Seen
from trelvo.core.climb.stress import Offset
from trelvo.logbook.answers.campaign import Summary, summary_of
from trelvo.logbook.answers.climb_line import Shown, knowing_of
from trelvo.logbook.answers.with_others import earlier_than, newest_others, read_judged, shown_or_nothing
from trelvo.logbook.models import Campaign, Run
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.kept_cards import KeptCard, read_cards, write_cards
from trelvo.logbook.rows.kept_data import at_hand, data_of_many
from trelvo.logbook.rows.stamps import read_stamps

# What took less is worked out again after a start; to keep it would cost a write with every look at the list.
WORTH_KEEPING_S = 1.0
# So many runs are read and judged for one answer where it may come in parts: about a second's work.
PART_RUNS = 4000
# Raised when a card is made of something else than before: what an earlier program kept is then made anew.
MADE = 2
Card = dict[str, Any]


def cards_of(
    campaigns: Sequence[Campaign],
    now: datetime,
    card: Callable[[CampaignData, Summary], Card],
    waiting: Callable[[Campaign, int], Card] | None = None,
) -> list[Card]:
    """What is shown of each campaign, in the order given. card: puts it together, of values that JSON can have

    waiting: what stands for one that is still to be worked out, with its runs: then one answer works out a part of what is
    missing, as many campaigns as have `PART_RUNS` runs together, and asking again goes on; all of them where it is left out
    """
    others = newest_others(campaigns)
    every = {one.pk: one for one in (*campaigns, *others)}
    marks = _marks_of(list(every.values()))
    kept = {pk: one for pk, one in read_cards(every).items() if one.mark in (marks[pk], _of_hour(marks[pk], now))}
    begun = time.monotonic()
    # what the others have shown comes first, since every card rests on it
    order = dict.fromkeys([one.pk for one in (*others, *campaigns) if one.pk not in kept])
    runs = _run_counts(order) if waiting and order else {}
    read = order if waiting is None else _part(order, runs, at_hand([every[pk] for pk in order]))
    data = {one.id: one for one in data_of_many([every[pk] for pk in read])}
    asked = {one.pk for one in campaigns}
    read_judged([one for pk, one in data.items() if pk in asked])
    shown = {pk: _from_json(one.shown) for pk, one in kept.items()} | {
        pk: shown_or_nothing(one) for pk, one in data.items()
    }
    ready = all(one.pk in shown for one in others)
    learnt = {one.pk: [each for pk in earlier_than(one.pk, others) for each in shown[pk]] for one in campaigns if ready}
    # what others have shown since may move what is shown of one that has not changed itself
    moved = [one for one in campaigns if ready and one.pk in kept and kept[one.pk].learnt != _as_text(learnt[one.pk])]
    data |= {one.id: one for one in data_of_many(moved)}
    # a card may have been moved by what is not read yet: it waits with the others
    found = {pk: one.card if ready else one.card | {"waiting": True} for pk, one in kept.items()}
    made = []
    worth = dict.fromkeys(one.pk for one in campaigns if ready and one.pk in data)
    for pk in worth if waiting is None else _part(worth, runs):
        knowing = knowing_of(data[pk], learnt[pk])
        found[pk] = card(knowing, summary_of(knowing, now))
        mark = _of_hour(marks[pk], now) if knowing.in_use.keepers else marks[pk]
        made.append(KeptCard(pk, mark, _as_text(learnt[pk]), _to_json(shown[pk]), found[pk]))
    left = [one.pk for one in campaigns if one.pk not in found]
    if made and (left or time.monotonic() - begun > WORTH_KEEPING_S):
        write_cards([one for one in made if one.mark])
    # without `waiting` none is left
    return [found[one.pk] if one.pk in found or waiting is None else waiting(one, runs[one.pk]) for one in campaigns]


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
    """What each card is made of, this program too; empty where the database does not tell."""
    stamps = read_stamps([one.pk for one in campaigns], {one.rig_id for one in campaigns}, {})
    found = {one.pk: stamps.of(one.pk, one.rig_id) for one in campaigns}
    return {pk: f"{trelvo.__version__}.{MADE} {' '.join(map(str, one))}" if one else "" for pk, one in found.items()}


def _of_hour(mark: str, now: datetime) -> str:
    """For what hangs on the time too: hours of use, and how old a proof is."""
    return f"{mark} at {now:%Y-%m-%d %H}" if mark else ""


def _as_text(shown: Sequence[Shown]) -> str:
    return json.dumps(_to_json(shown))


def _to_json(shown: Sequence[Shown]) -> list[list[Any]]:
    return [[*like, *astuple(one)] for like, one in shown]


def _from_json(rows: Sequence[Sequence[Any]]) -> list[Shown]:
    return [
        ((what, of, by), Offset(value, deviation) if what == "stress" else Seen(value, deviation))
        for what, of, by, value, deviation in rows
    ]
