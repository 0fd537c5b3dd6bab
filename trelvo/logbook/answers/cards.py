"""The list of campaigns: what each shows is worked out once, and again only when something that it rests on has changed."""

import json
import time
from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any

import trelvo
from trelvo.core.climb.steepness import Seen
from trelvo.logbook.answers.campaign import Summary, summary_of
from trelvo.logbook.answers.climb_line import Shown, knowing_of, shown_by
from trelvo.logbook.answers.with_others import MOST_EARLIER, newest_others, read_judged
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.kept_cards import KeptCard, read_cards, write_cards
from trelvo.logbook.rows.kept_data import data_of_many
from trelvo.logbook.rows.stamps import read_stamps

# What took less is worked out again after a start; to keep it would cost a write with every look at the list.
WORTH_KEEPING_S = 1.0
Card = dict[str, Any]


def cards_of(campaigns: Sequence[Campaign], now: datetime, card: Callable[[CampaignData, Summary], Card]) -> list[Card]:
    """What is shown of each campaign, in the order given. card: puts it together, of values that JSON can have"""
    others = newest_others(campaigns)
    every = {one.pk: one for one in (*campaigns, *others)}
    marks = _marks_of(list(every.values()))
    kept = {pk: one for pk, one in read_cards(every).items() if one.mark in (marks[pk], _of_hour(marks[pk], now))}
    begun = time.monotonic()
    data = {one.id: one for one in data_of_many([one for pk, one in every.items() if pk not in kept])}
    asked = {one.pk for one in campaigns}
    read_judged([one for pk, one in data.items() if pk in asked])
    shown = {pk: _from_json(kept[pk].shown) if pk in kept else shown_by(data[pk]) for pk in every}
    learnt = {one.pk: [each for pk in _earlier(one, others) for each in shown[pk]] for one in campaigns}
    # what others have shown since may move what is shown of one that has not changed itself
    moved = [one for one in campaigns if one.pk in kept and kept[one.pk].learnt != _as_text(learnt[one.pk])]
    data |= {one.id: one for one in data_of_many(moved)}
    found = {pk: one.card for pk, one in kept.items()}
    made = []
    for one in campaigns:
        if one.pk in data:
            knowing = knowing_of(data[one.pk], learnt[one.pk])
            found[one.pk] = card(knowing, summary_of(knowing, now))
            mark = _of_hour(marks[one.pk], now) if knowing.in_use.keepers else marks[one.pk]
            made.append(KeptCard(one.pk, mark, _as_text(learnt[one.pk]), _to_json(shown[one.pk]), found[one.pk]))
    if time.monotonic() - begun > WORTH_KEEPING_S:
        write_cards([one for one in made if one.mark])
    return [found[one.pk] for one in campaigns]


def _earlier(campaign: Campaign, others: Sequence[Campaign]) -> list[int]:
    return [one.pk for one in others if one.pk != campaign.pk][:MOST_EARLIER]


def _marks_of(campaigns: Sequence[Campaign]) -> dict[int, str]:
    """What each card is made of, this program too; empty where the database does not tell."""
    stamps = read_stamps([one.pk for one in campaigns], {one.rig_id for one in campaigns}, {})
    found = {one.pk: stamps.of(one.pk, one.rig_id) for one in campaigns}
    return {pk: f"{trelvo.__version__} {' '.join(map(str, one))}" if one else "" for pk, one in found.items()}


def _of_hour(mark: str, now: datetime) -> str:
    """For what hangs on the time too: hours of use, and how old a proof is."""
    return f"{mark} at {now:%Y-%m-%d %H}" if mark else ""


def _as_text(shown: Sequence[Shown]) -> str:
    return json.dumps(_to_json(shown))


def _to_json(shown: Sequence[Shown]) -> list[list[Any]]:
    return [[*like, seen.decade, seen.deviation] for like, seen in shown]


def _from_json(rows: Sequence[Sequence[Any]]) -> list[Shown]:
    return [((role, part, unit), Seen(decade, deviation)) for role, part, unit, decade, deviation in rows]
