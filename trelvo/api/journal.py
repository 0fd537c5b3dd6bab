from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_case, found_row_and_case
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.core.goal.cautions import CautionSaid, cautions_of
from trelvo.core.keep.ageing import AgeingView, ageing_of
from trelvo.core.laws.cautions import (
    CONNECTORS_W,
    Caution,
    ConnectorSum,
    OxygenSum,
    connector_load,
    oxygen_after,
)
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.answers.rig_page import Entry, RigPage, entry_view, rig_page
from trelvo.logbook.commands.journal import MOST_TEXT, correct_entry, say_yes, take_out, write_entry
from trelvo.logbook.models import Campaign, JournalEntry, JournalKind, Rig
from trelvo.logbook.store import latest_of
from trelvo.messages.cautions import FIRST, agreed_text

router = Router(tags=["rigs"])


class EntryIn(Schema):
    """text: Markdown; at: when it happened, now where left out; room_c: how warm the room is, where that is the point"""

    kind: JournalKind = JournalKind.THOUGHT
    text: str = Field(max_length=MOST_TEXT)
    at: datetime | None = None
    room_c: float | None = None

    @property
    def happened_at(self) -> datetime:
        at = self.at or timezone.now()
        return at if at.tzinfo else at.replace(tzinfo=UTC)


class EntryChange(EntryIn):
    """seen: the entry as it stood in the form"""

    seen: Seen = None


@dataclass(frozen=True)
class CautionsOut:
    """first: what comes before all of them"""

    cautions: list[CautionSaid]
    first: str


class YesIn(Schema):
    key: str = Field(max_length=40)


class OxygenIn(Schema):
    room_m3: float = Field(gt=0, le=1e6)
    litres: float = Field(ge=0, le=1e6)


class ConnectorsIn(Schema):
    """connectors: by name, such as "8-pin"; slot_w: of the watts, through the slot"""

    watts: float = Field(gt=0, le=1e5)
    connectors: list[str] = Field(min_length=1, max_length=8)
    slot_w: float = Field(0.0, ge=0, le=1e5)


@router.get("/rigs/{int:rig_id}/page", response={200: RigPage, 404: Problems})
def show_rig(request: HttpRequest, rig_id: int) -> RigPage:
    """A rig over the years: builds, campaigns, kept settings, failures and journal, in one line of time."""
    return rig_page(get_object_or_404(Rig, pk=rig_id))


@router.get("/rigs/{int:rig_id}/ageing", response={200: list[AgeingView], 404: Problems})
def show_ageing(request: HttpRequest, rig_id: int) -> list[AgeingView]:
    """Whether the edge of its specimens moves over the years, from every climb that found one."""
    rig = get_object_or_404(Rig, pk=rig_id)
    return ageing_of(latest_of(list(Campaign.objects.present().filter(rig=rig))))


@router.post("/rigs/{int:rig_id}/journal", response={201: Entry, 404: Problems, 422: Problems})
def add_entry(request: HttpRequest, rig_id: int, body: EntryIn) -> Status[Entry]:
    """What changed or went wrong outside runs."""
    rig = get_object_or_404(Rig, pk=rig_id)
    entry = write_entry(rig, body.kind, body.text, body.happened_at, timezone.now(), body.room_c)
    return Status(201, entry_view(entry))


@router.put("/journal/{int:entry_id}", response={200: Entry, 404: Problems, 422: Problems})
@transaction.atomic
def change_entry(request: HttpRequest, entry_id: int, body: EntryChange) -> Entry:
    """Corrects an entry; what stood there before is kept beside it."""
    entry = get_object_or_404(JournalEntry.objects.filter(taken_out_at=None), pk=entry_id)
    as_it_is = {"kind": entry.kind, "text": entry.text, "room_c": entry.room_c}
    check_seen("entry_changed", body.seen, as_it_is)
    at = body.happened_at if body.at else entry.at
    return entry_view(correct_entry(entry, body.kind, body.text, at, timezone.now(), body.room_c))


@router.delete("/journal/{int:entry_id}", response={200: Entry, 404: Problems})
def remove_entry(request: HttpRequest, entry_id: int) -> Entry:
    """Takes an entry out of the journal; it can be brought back."""
    return entry_view(take_out(get_object_or_404(JournalEntry, pk=entry_id), timezone.now()))


@router.post("/journal/{int:entry_id}/bring-back", response={200: Entry, 404: Problems})
def bring_entry_back(request: HttpRequest, entry_id: int) -> Entry:
    return entry_view(take_out(get_object_or_404(JournalEntry, pk=entry_id), None))


@router.get("/campaigns/{int:campaign_id}/cautions", response={200: CautionsOut, 404: Problems})
def show_cautions(request: HttpRequest, campaign_id: int) -> Any:
    """Where this campaign can hurt someone or break something."""
    return CautionsOut(cautions_of(found_case(campaign_id)), FIRST)


@router.post("/campaigns/{int:campaign_id}/cautions", response={200: CautionsOut, 404: Problems, 422: Problems})
def accept_caution(request: HttpRequest, campaign_id: int, body: YesIn) -> Any:
    """A clear yes to a caution, kept with its words and date."""
    row, case = found_row_and_case(campaign_id)
    one: Caution | None = next((said.caution for said in cautions_of(case) if said.caution.key == body.key), None)
    if one is None or one.never:
        raise Refused(Problem("key", "no_such_caution", {"key": body.key}))
    say_yes(row, body.key, agreed_text(one), timezone.now())
    return CautionsOut(cautions_of(found_case(campaign_id)), FIRST)


@router.post("/sums/oxygen", response={200: OxygenSum, 422: Problems})
def sum_oxygen(request: HttpRequest, body: OxygenIn) -> Any:
    """Oxygen left in a room after so many litres of liquid nitrogen."""
    return oxygen_after(body.room_m3, body.litres)


@router.post("/sums/connectors", response={200: ConnectorSum, 422: Problems})
def sum_connectors(request: HttpRequest, body: ConnectorsIn) -> Any:
    """The load on a card's power connectors."""
    unknown = [connector for connector in body.connectors if connector not in CONNECTORS_W]
    if unknown:
        known = ", ".join(CONNECTORS_W)
        raise Refused(Problem("connectors", "unknown_connectors", {"unknown": tuple(unknown), "known": known}))
    if body.slot_w > body.watts:
        raise Refused(Problem("slot_w", "slot_above_total"))
    return connector_load(body.watts, body.connectors, body.slot_w)
