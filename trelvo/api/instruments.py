from datetime import datetime

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.core.base.figures import Part
from trelvo.core.base.instruments import InstrumentKind, Trust
from trelvo.core.registry.quantities import Quantity
from trelvo.logbook.answers.agreement import AgreementView, By, agreement_of
from trelvo.logbook.commands.instruments import InstrumentDraft, keep_instrument
from trelvo.logbook.models import InstrumentRow, Rig

router = Router(tags=["instruments"])


class InstrumentIn(Schema):
    """Numbers in the unit of its quantity: a corrected reading is reading · factor + offset."""

    name: str = Field(min_length=1, max_length=80)
    kind: InstrumentKind
    quantity: Quantity
    part: Part = "tuned part"
    place: str = Field("", max_length=160)
    resolution: float | None = None
    offset: float = 0.0
    offset_sd: float = 0.0
    factor: float = 1.0
    factor_sd: float = 0.0
    trust: Trust = "trusted"
    trust_since: datetime | None = None
    trust_why: str = Field("", max_length=300)
    replaced_by_id: int | None = None

    def draft(self) -> InstrumentDraft:
        return InstrumentDraft(**self.dict())


class InstrumentChange(InstrumentIn):
    """seen: the instrument as it stood in the form"""

    seen: Seen = None

    def draft(self) -> InstrumentDraft:
        return InstrumentDraft(**self.dict(exclude={"seen"}))


class InstrumentOut(InstrumentIn):
    id: int
    rig_id: int


@router.get("/rigs/{int:rig_id}/instruments", response={200: list[InstrumentOut], 404: Problems})
def list_instruments(request: HttpRequest, rig_id: int) -> list[InstrumentRow]:
    """A rig's instruments, oldest first."""
    return list(get_object_or_404(Rig, pk=rig_id).instruments.all())


@router.post("/rigs/{int:rig_id}/instruments", response={201: InstrumentOut, 404: Problems, 422: Problems})
def make_instrument(request: HttpRequest, rig_id: int, body: InstrumentIn) -> Status[InstrumentRow]:
    """A new instrument."""
    return Status(201, keep_instrument(get_object_or_404(Rig, pk=rig_id), body.draft()))


@router.put("/instruments/{int:instrument_id}", response={200: InstrumentOut, 404: Problems, 422: Problems})
@transaction.atomic
def change_instrument(request: HttpRequest, instrument_id: int, body: InstrumentChange) -> InstrumentRow:
    """An instrument described again: corrected, doubted, replaced. What it has read stays as it was read."""
    row = get_object_or_404(InstrumentRow.objects.select_related("rig"), pk=instrument_id)
    check_seen("instrument_changed", body.seen, InstrumentOut.from_orm(row), row.name)
    return keep_instrument(row.rig, body.draft(), row)


@router.get("/instruments/{int:instrument_id}/agreement", response={200: AgreementView, 404: Problems, 422: Problems})
def show_agreement(
    request: HttpRequest, instrument_id: int, second: Query[int], by: Query[By | None] = None
) -> AgreementView:
    """How an instrument reads against another of the same rig: run by run, or by the moments of the logs in which both read."""
    row = get_object_or_404(InstrumentRow, pk=instrument_id)
    return agreement_of(row, get_object_or_404(InstrumentRow, pk=second, rig_id=row.rig_id), by)
