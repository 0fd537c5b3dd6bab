"""The plan of an evening as a calendar (RFC 5545), one event a stretch of work."""

from datetime import UTC, datetime

from icalendar import Calendar, Event

from trelvo.core.tonight.plan import Tonight
from trelvo.messages.texts import text_of


def evening_ics(plan: Tonight, campaign: str, campaign_uid: str, now: datetime) -> bytes:
    """The calendar as bytes, times in UTC. campaign: its name; campaign_uid: makes the events' identities; now: when it was made

    A plan made again for the same begin has the same identities: a calendar replaces the events instead of doubling them.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Trelvo//Tonight//EN")
    calendar.add("version", "2.0")
    for number, stretch in enumerate(plan.stretches):
        event = Event()
        event.add("uid", f"{campaign_uid}-{plan.begins_at:%Y%m%dT%H%M}-{number}@trelvo")
        event.add("dtstamp", now)
        event.add("dtstart", stretch.begins_at.astimezone(UTC))
        event.add("dtend", stretch.ends_at.astimezone(UTC))
        event.add("summary", text_of(stretch.title))
        event.add(
            "description",
            f"{campaign}. {text_of(stretch.counted)}. {text_of(stretch.known) if stretch.known else ''}".strip(),
        )
        calendar.add_component(event)
    return bytes(calendar.to_ical())
