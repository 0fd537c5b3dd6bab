"""What the list of campaigns shows of each, kept in the database: after a start nothing has to be read that has not changed."""

import json
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import DatabaseError, connection, transaction


@dataclass(frozen=True)
class KeptCard:
    """mark: what it was made of, of its own campaign; learnt: the same of the others; shown: what it shows the others"""

    campaign_id: int
    mark: str
    learnt: str
    shown: list[list[Any]]
    card: dict[str, Any]


def read_cards(campaign_ids: Collection[int]) -> dict[int, KeptCard]:
    """By campaign, what is kept."""
    with connection.cursor() as cursor:
        try:
            cursor.execute(
                "SELECT campaign_id, mark, learnt, shown, card FROM kept_card "
                "WHERE campaign_id IN (SELECT value FROM json_each(%s))",
                [json.dumps(list(campaign_ids))],
            )
        except DatabaseError as trouble:
            if "no such table" not in str(trouble):
                raise
            return {}
        rows = cursor.fetchall()
    return {
        pk: KeptCard(pk, mark, learnt, json.loads(shown), json.loads(card)) for pk, mark, learnt, shown, card in rows
    }


def write_cards(cards: Sequence[KeptCard]) -> None:
    """Keeps some. Where the database cannot be written nothing is lost: they are worked out again."""
    rows = [(one.campaign_id, one.mark, one.learnt, json.dumps(one.shown), json.dumps(one.card)) for one in cards]
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.executemany("INSERT OR REPLACE INTO kept_card VALUES (%s, %s, %s, %s, %s)", rows)
    except DatabaseError:
        return
