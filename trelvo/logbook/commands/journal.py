"""Writes a rig's journal, and the clear yes to a caution."""

from datetime import datetime, timedelta

from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Campaign, CautionYes, JournalEntry, JournalKind, Rig
from trelvo.logbook.tokens import campaign_changed, rig_changed

MOST_TEXT = 20_000
ROOM_C = (-30.0, 60.0)
# A clock may be a little off.
AHEAD = timedelta(days=1)


@transaction.atomic
def write_entry(
    rig: Rig, kind: str, text: str, at: datetime, now: datetime, room_c: float | None = None
) -> JournalEntry:
    """A dated entry. text: Markdown"""
    _check(kind, text, at, now, room_c)
    rig_changed(rig.pk)
    return JournalEntry.objects.create(rig=rig, kind=kind, text=text.strip(), at=at, room_c=room_c, made_at=now)


@transaction.atomic
def correct_entry(
    entry: JournalEntry, kind: str, text: str, at: datetime, now: datetime, room_c: float | None
) -> JournalEntry:
    """Changes an entry; what stood there before is kept beside it."""
    _check(kind, text, at, now, room_c)
    before = {"kind": entry.kind, "text": entry.text, "at": entry.at.isoformat(), "until": now.isoformat()}
    if (entry.kind, entry.text, entry.at, entry.room_c) != (kind, text.strip(), at, room_c):
        entry.earlier = [*entry.earlier, before]
    entry.kind, entry.text, entry.at, entry.room_c = kind, text.strip(), at, room_c
    entry.save(update_fields=["kind", "text", "at", "room_c", "earlier"])
    rig_changed(entry.rig_id)
    return entry


@transaction.atomic
def take_out(entry: JournalEntry, now: datetime | None) -> JournalEntry:
    """Out of the journal; None brings it back."""
    entry.taken_out_at = now
    entry.save(update_fields=["taken_out_at"])
    rig_changed(entry.rig_id)
    return entry


def _check(kind: str, text: str, at: datetime, now: datetime, room_c: float | None) -> None:
    if problems := check_entry(kind, text, at, now, room_c):
        raise Refused(*problems)


def check_entry(kind: str, text: str, at: datetime, now: datetime, room_c: float | None) -> list[Problem]:
    """What cannot be in an entry of the journal."""
    problems = []
    if kind not in JournalKind.values:
        problems.append(Problem("kind", "unknown_journal_kind", {"kind": kind, "known": tuple(JournalKind.values)}))
    if not text.strip():
        problems.append(Problem("text", "journal_text_missing"))
    if len(text) > MOST_TEXT:
        problems.append(Problem("text", "text_too_long", {"count": len(text), "most": MOST_TEXT}))
    if at > now + AHEAD:
        problems.append(Problem("at", "day_to_come"))
    if room_c is not None and not ROOM_C[0] <= room_c <= ROOM_C[1]:
        problems.append(
            Problem("room_c", "room_out_of_range", {"room_c": room_c, "low_c": ROOM_C[0], "high_c": ROOM_C[1]})
        )
    return problems


@transaction.atomic
def say_yes(campaign: Campaign, key: str, words: str, now: datetime) -> CautionYes:
    """A clear yes to a caution, kept with its words and its date; said once."""
    yes, _ = CautionYes.objects.get_or_create(campaign=campaign, key=key, defaults={"words": words, "said_at": now})
    campaign_changed(campaign.pk)
    return yes
