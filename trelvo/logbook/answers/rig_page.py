"""A rig over the years: its builds, campaigns, kept settings, checks, failures and journal, as one line of time."""

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal

import nh3
from markdown_it import MarkdownIt

from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.logbook.models import Build, Campaign, JournalEntry, KeptSetting, KnobRow, Rig, UseEntry

EventKind = Literal["build", "campaign", "kept", "in use", "failure", "journal"]
# Without HTML of its own; cleaned once more after rendering.
_MARKDOWN = MarkdownIt("commonmark", {"html": False}).enable("table")
_TAGS = {
    "p", "br", "em", "strong", "code", "pre", "blockquote", "ul", "ol", "li", "a", "h1", "h2", "h3", "h4", "hr", "table", "thead",
    "tbody", "tr", "th", "td",
}  # fmt: skip


@dataclass(frozen=True)
class Entry:
    """A journal entry. html: its Markdown, rendered and cleaned; earlier: how often it was corrected"""

    id: int
    kind: str
    at: datetime
    text: str
    html: str
    room_c: float | None
    corrected: int


@dataclass(frozen=True)
class Event:
    """Something on the line of time. until: where it lasted; where: address it leads to inside the program, or empty"""

    kind: EventKind
    at: datetime
    until: datetime | None
    title: str
    says: str
    where: str = ""


@dataclass(frozen=True)
class RigPage:
    id: int
    name: str
    simulator: bool
    events: list[Event]
    journal: list[Entry]


def rig_page(rig: Rig) -> RigPage:
    """Everything about a rig that is dated, oldest first."""
    kept_settings = list(
        KeptSetting.objects.filter(rig=rig, campaign__deleted_at=None)
        .select_related("setting")
        .prefetch_related("spans")
    )
    knobs: dict[int, list[Knob]] = defaultdict(list)
    for row in KnobRow.objects.filter(campaign__kept_settings__in=kept_settings).distinct():
        knobs[row.campaign_id].append(row.as_knob())
    journal = list(JournalEntry.objects.filter(rig=rig, taken_out_at=None))
    builds = list(Build.objects.filter(rig=rig).prefetch_related("parts"))
    failures = (
        UseEntry.objects.filter(kept_setting__rig=rig)
        .exclude(outcome="")
        .select_related("kept_setting", "variant__workload")
    )
    events = [
        *_builds(builds),
        *_campaigns(list(Campaign.objects.present().filter(rig=rig))),
        *_kept_settings(kept_settings, knobs),
        *[
            Event(
                "failure", one.at, None, f"{one.kept_setting.name} failed",
                f"{one.outcome}{' in ' + one.variant.name if one.variant else ''}"
                + (f": {one.verdict}" if one.verdict else ": cause not known yet"),
                f"/campaigns/{one.kept_setting.campaign_id}/keep",
            )
            for one in failures
        ],
        *[Event("journal", one.at, None, one.get_kind_display(), _first_line(one.text)) for one in journal],
    ]  # fmt: skip
    return RigPage(
        rig.pk,
        rig.name,
        bool(rig.simulator),
        sorted(events, key=lambda one: one.at),
        [entry_view(one) for one in reversed(journal)],
    )


def entry_view(one: JournalEntry) -> Entry:
    return Entry(one.pk, one.kind, one.at, one.text, rendered(one.text), one.room_c, len(one.earlier))


def rendered(text: str) -> str:
    """Markdown as HTML that can do no harm: no scripts, no styles, no pictures, links that open apart."""
    return nh3.clean(
        _MARKDOWN.render(text),
        tags=_TAGS,
        attributes={"a": {"href"}},
        url_schemes={"http", "https"},
        link_rel="noopener noreferrer",
    )


def _first_line(text: str) -> str:
    line = re.sub(r"[*_`#>]+", "", text.strip().splitlines()[0]).strip()
    return line if len(line) <= 120 else f"{line[:117]}..."


def _builds(builds: Sequence[Build]) -> list[Event]:
    found = []
    if builds:
        found.append(Event("build", builds[0].since, None, "Described", _told(builds[0])))
    for before, after in pairwise(builds):
        found.append(Event("build", after.since, None, f"Build {after.number}", _changed(before, after)))
    return found


_WORDS = ("driver", "firmware", "system", "cooling", "enclosure")


def _told(one: Build) -> str:
    return ", ".join(part.name for part in one.placed) or one.cooling or "no parts named"


def _changed(before: Build, after: Build) -> str:
    said = [
        f"{word} {getattr(after, word) or 'not said'}"
        for word in _WORDS
        if getattr(before, word) != getattr(after, word)
    ]
    old, new = ({part.role: (part.name, part.specimen) for part in one.placed} for one in (before, after))
    said += [f"{role}: {name[0]}" for role, name in new.items() if old.get(role) != name]
    said += [f"{role} taken out" for role in old if role not in new]
    return ", ".join(said) or after.note or "nothing that is named"


def _campaigns(campaigns: Sequence[Campaign]) -> list[Event]:
    return [
        Event("campaign", one.created_at, None, one.name, one.get_goal_display(), f"/campaigns/{one.pk}/climb")
        for one in campaigns
    ]


def _kept_settings(kept_settings: Sequence[KeptSetting], knobs: Mapping[int, Sequence[Knob]]) -> list[Event]:
    found = []
    for one in kept_settings:
        where, title = (
            f"/campaigns/{one.campaign_id}/keep",
            describe_setting(knobs[one.campaign_id], one.setting.values),
        )
        found.append(Event("kept", one.kept_at, one.taken_back_at, f"Kept: {one.name}", title, where))
        found += [Event("in use", s.since, s.until, f"In use: {one.name}", title, where) for s in one.spans.all()]
    return found
