"""Stamps: whether anything that an answer rests on has changed since it was worked out, told by the database itself.

Triggers mark a campaign, a rig, or all of them anew with every change of a row that belongs to it, whoever makes it: a mark is
drawn by chance, so that one that comes again means that everything is as it was, after a change that was taken back or a copy
that was put back too. Runs are noted besides one by one, so that only those that changed are read again.
The tables are the database's own bookkeeping, no models: nothing of them is exported, and where they are missing they are made.
"""

import json
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from django.db import OperationalError, connection

Kind = Literal["campaign", "rig", "all"]

_OF_RUN = "(SELECT campaign_id FROM logbook_run WHERE id = {row}.run_id)"
_OF_KEEPER = "(SELECT campaign_id FROM logbook_keeper WHERE id = {row}.keeper_id)"
_OF_FITTING = "(SELECT rig_id FROM logbook_fitting WHERE id = {row}.fitting_id)"

# What a change of a row of each table marks anew: whose, and where its number stands.
_CAMPAIGN: tuple[Kind, str] = ("campaign", "{row}.campaign_id")
# what a campaign measures is in use on its rig, for the keepers of the rig's other campaigns too
_ITS_RIG: tuple[Kind, str] = ("rig", "(SELECT rig_id FROM logbook_campaign WHERE id = {row}.campaign_id)")
STAMPED: dict[str, tuple[tuple[Kind, str], ...]] = {
    "campaign": (("campaign", "{row}.id"), ("rig", "{row}.rig_id")),
    "campaign_workloads": (_CAMPAIGN, _ITS_RIG),
    "campaign_battery": (_CAMPAIGN, _ITS_RIG),
    "campaign_retired": (_CAMPAIGN, _ITS_RIG),
    "knob": (_CAMPAIGN,),
    "setting": (_CAMPAIGN,),
    "guard_rail": (_CAMPAIGN,),
    "target": (_CAMPAIGN,),
    "cautionyes": (_CAMPAIGN,),
    "run": (_CAMPAIGN,),
    "figure": (("campaign", _OF_RUN),),
    "mark": (("campaign", _OF_RUN),),
    "series": (("campaign", _OF_RUN),),
    "keeper": (_CAMPAIGN,),
    "inuse": (("campaign", _OF_KEEPER),),
    "useentry": (("campaign", _OF_KEEPER),),
    "rig": (("rig", "{row}.id"),),
    "fitting": (("rig", "{row}.rig_id"),),
    "part": (("rig", _OF_FITTING),),
    "instrument": (("rig", "{row}.rig_id"),),
    "journalentry": (("rig", "{row}.rig_id"),),
    "workload": (("all", "0"),),
    "variant": (("all", "0"),),
}
# What no kept answer rests on: benches at work, and what is remembered for forms.
UNSTAMPED = ("benchaccount", "benchtoken", "live_run", "chunk", "queue", "queue_item", "columnmapping", "practice")
# Whose run has changed, where a row of these does.
_RUN = {"run": "{row}.id", "figure": "{row}.run_id"}

_TABLES = (
    "CREATE TABLE IF NOT EXISTS stamp (kind TEXT NOT NULL, number INTEGER NOT NULL, mark INTEGER NOT NULL, "
    "PRIMARY KEY (kind, number)) WITHOUT ROWID",
    "CREATE TABLE IF NOT EXISTS touched (serial INTEGER PRIMARY KEY AUTOINCREMENT, run_id INTEGER NOT NULL, "
    "campaign_id INTEGER NOT NULL, mark INTEGER NOT NULL)",
    "CREATE TABLE IF NOT EXISTS kept_card (campaign_id INTEGER PRIMARY KEY, mark TEXT NOT NULL, learnt TEXT NOT NULL, "
    "shown TEXT NOT NULL, card TEXT NOT NULL)",
    "CREATE INDEX IF NOT EXISTS touched_of ON touched (campaign_id, serial)",
    "INSERT OR IGNORE INTO stamp VALUES ('all', 0, random())",
    "INSERT INTO touched (run_id, campaign_id, mark) SELECT 0, 0, random() WHERE NOT EXISTS (SELECT 1 FROM touched)",
    "INSERT OR IGNORE INTO stamp SELECT 'campaign', id, random() FROM logbook_campaign",
    "INSERT OR IGNORE INTO stamp SELECT 'rig', id, random() FROM logbook_rig",
)


def set_up_stamps() -> None:
    """Makes tables and triggers, or makes the triggers anew; none in a database that is not brought to this version yet."""
    with connection.cursor() as cursor:
        there = set(connection.introspection.table_names(cursor))
        if not {f"logbook_{table}" for table in STAMPED} <= there:
            return
        triggers = _triggers()
        cursor.execute("SELECT count(*) FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'stamp!_%' ESCAPE '!'")
        told = cursor.fetchone()[0] == len(triggers)
        for statement in (*_TABLES, *_drops(), *triggers):
            cursor.execute(statement)
        if not told:
            # what changed meanwhile was told by nobody
            cursor.execute("UPDATE stamp SET mark = random()")


def take_down_stamps() -> None:
    """Takes the triggers away: before a migration, which makes tables anew under other names."""
    with connection.cursor() as cursor:
        for statement in _drops():
            cursor.execute(statement)


def forget_touched() -> None:
    """Clears the notes of single runs; for the start of a server, which keeps nothing yet."""
    with connection.cursor() as cursor:
        # the last one stays, as the place from which the next are counted
        cursor.execute("DELETE FROM touched WHERE serial < (SELECT max(serial) FROM touched)")


# which rows a change has: as it was, as it is
_SIDES = {"INSERT": ("NEW",), "UPDATE": ("OLD", "NEW"), "DELETE": ("OLD",)}
# The names of all triggers that are made here.
TRIGGERS = tuple(f"stamp_{table}_{verb.lower()}" for table in STAMPED for verb in _SIDES)


def _drops() -> list[str]:
    return [f"DROP TRIGGER IF EXISTS {name}" for name in TRIGGERS]


def _triggers() -> list[str]:
    made = []
    for table, stamped in STAMPED.items():
        for verb, sides in _SIDES.items():
            body = [_marking(kind, number.format(row=side)) for kind, number in stamped for side in sides]
            if table in _RUN:
                _, campaign = stamped[0]
                body += [_noting(_RUN[table].format(row=side), campaign.format(row=side)) for side in sides]
            if table in ("campaign", "rig") and verb == "INSERT":
                body.insert(0, f"INSERT INTO stamp VALUES ('{table}', NEW.id, random());")
            if table in ("campaign", "rig") and verb == "DELETE":
                body.append(f"DELETE FROM stamp WHERE kind = '{table}' AND number = OLD.id;")
            made.append(
                f"CREATE TRIGGER stamp_{table}_{verb.lower()} AFTER {verb} ON logbook_{table} BEGIN {' '.join(body)} END"
            )
    return made


def _marking(kind: Kind, number: str) -> str:
    return f"UPDATE stamp SET mark = random() WHERE kind = '{kind}' AND number = {number};"


def _noting(run: str, campaign: str) -> str:
    """Notes a run; once where it is noted again and again, so that ten figures are one note."""
    return (
        f"INSERT INTO touched (run_id, campaign_id, mark) SELECT {run}, campaign, random() FROM "
        f"(SELECT {campaign} AS campaign) WHERE campaign IS NOT NULL AND NOT EXISTS (SELECT 1 FROM touched "
        f"WHERE serial = (SELECT max(serial) FROM touched) AND run_id = {run});"
    )


class Place(NamedTuple):
    """How far the notes of single runs go: the last one, and its mark."""

    serial: int
    mark: int


NOWHERE = Place(0, 0)


@dataclass(frozen=True)
class Stamps:
    """What the database says of some campaigns at one moment. marks: by kind and number; place: the last note there is

    changed: by campaign, the runs noted since the place one asked from; campaigns whose place is no more are left out
    """

    marks: Mapping[tuple[str, int], int] = field(default_factory=dict)
    place: Place = NOWHERE
    changed: Mapping[int, frozenset[int]] = field(default_factory=dict)

    def of(self, campaign_id: int, rig_id: int) -> tuple[int, int, int] | None:
        """What must be the same for an answer about a campaign to be the same; None where the database does not tell."""
        found = [self.marks.get(key) for key in (("campaign", campaign_id), ("rig", rig_id), ("all", 0))]
        campaign, rig, every = found
        return None if campaign is None or rig is None or every is None else (campaign, rig, every)


# json_each has each asked row as [kind, number], and each place as [campaign, serial, mark]
_ASKING = """
SELECT kind, number, mark FROM json_each(%s) AS asked
JOIN stamp ON kind = json_extract(asked.value, '$[0]') AND number = json_extract(asked.value, '$[1]')
UNION ALL SELECT * FROM (SELECT 'place', serial, mark FROM touched ORDER BY serial DESC LIMIT 1)
UNION ALL SELECT 'goes on', json_extract(place.value, '$[0]'), 0 FROM json_each(%s) AS place
JOIN touched ON serial = json_extract(place.value, '$[1]') AND mark = json_extract(place.value, '$[2]')
UNION ALL SELECT 'changed', campaign_id, run_id FROM json_each(%s) AS place
JOIN touched ON campaign_id = json_extract(place.value, '$[0]') AND serial >= json_extract(place.value, '$[1]')
"""


def read_stamps(campaign_ids: Collection[int], rig_ids: Collection[int], since: Mapping[int, Place]) -> Stamps:
    """Everything in one question. since: by campaign, the place up to which its runs are known"""
    asked = [("campaign", one) for one in campaign_ids] + [("rig", one) for one in rig_ids] + [("all", 0)]
    places = [(campaign_id, place.serial, place.mark) for campaign_id, place in since.items()]
    try:
        with connection.cursor() as cursor:
            cursor.execute(_ASKING, [json.dumps(asked), json.dumps(places), json.dumps(places)])
            rows: list[tuple[str, int, int]] = cursor.fetchall()
    except OperationalError as trouble:
        if "no such table" not in str(trouble):
            raise
        # nothing tells changes here, so nothing is kept
        return Stamps()
    changed: dict[int, set[int]] = {number: set() for kind, number, _ in rows if kind == "goes on"}
    marks: dict[tuple[str, int], int] = {}
    last = NOWHERE
    for kind, number, value in rows:
        if kind == "changed" and number in changed:
            changed[number].add(value)
        elif kind == "place":
            last = Place(number, value)
        elif kind in ("campaign", "rig", "all"):
            marks[kind, number] = value
    return Stamps(marks, last, {one: frozenset(some) for one, some in changed.items()})
