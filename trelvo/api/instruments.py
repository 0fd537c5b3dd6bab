from datetime import datetime

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.core.base.figures import NAMED, PARTS, STATISTICS, Part, Statistic
from trelvo.core.base.instruments import INSTRUMENT_KINDS, TRUSTS, InstrumentKind, Trust
from trelvo.core.registry.quantities import QUANTITIES, Quantity
from trelvo.core.registry.roles import FACTS, Effect, Role
from trelvo.logbook.acts.instruments import InstrumentDraft, keep_instrument
from trelvo.logbook.answers.agreement import AgreementView, By, agreement_of
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


class FigureWords(Schema):
    """A figure as forms, tables and the quick line know it. form: whether the form for a run asks for it"""

    word: str
    name: str
    quantity: Quantity
    part: Part
    statistic: Statistic
    unit: str
    decimals: int
    line: str


class QuantityWords(Schema):
    quantity: Quantity
    unit: str
    units: list[str]
    decimals: int
    low: float | None
    high: float | None


class RoleWords(Schema):
    """A knob role. moves: word of the figure that should follow it, empty where there is none

    raising: what a higher value does to stability; tested: whether a stability test finds its limit
    processor: only a processor or its board has such a knob
    """

    role: Role
    moves: str
    raising: Effect
    tested: bool
    processor: bool


class Declared(Schema):
    """Everything that figures, instruments and knobs can be, declared once."""

    figures: list[FigureWords]
    quantities: list[QuantityWords]
    parts: list[Part]
    statistics: list[Statistic]
    instrument_kinds: list[InstrumentKind]
    trusts: list[Trust]
    roles: list[RoleWords]


@router.get("/figures", response=Declared)
def declared(request: HttpRequest) -> Declared:
    """Figures with their names, units, ranges and decimals; what instruments and knobs can be."""
    figures = [
        FigureWords(
            word=kind.word,
            name=kind.name,
            quantity=kind.key.quantity,
            part=kind.key.part,
            statistic=kind.key.statistic,
            unit=QUANTITIES[kind.key.quantity].unit,
            decimals=QUANTITIES[kind.key.quantity].decimals,
            line=kind.line_word or (kind.line_units[0] if kind.line_units else ""),
        )
        for kind in NAMED
    ]
    quantities = [
        QuantityWords(
            quantity=quantity,
            unit=kind.unit,
            units=list(kind.units()),
            decimals=kind.decimals,
            low=None if quantity == "other" else kind.low,
            high=None if quantity == "other" else kind.high,
        )
        for quantity, kind in QUANTITIES.items()
    ]
    return Declared(
        figures=figures,
        quantities=quantities,
        parts=list(PARTS),
        statistics=list(STATISTICS),
        instrument_kinds=list(INSTRUMENT_KINDS),
        trusts=list(TRUSTS),
        roles=[
            RoleWords(role=one.role, moves=one.moves, raising=one.raising, tested=one.tested, processor=one.processor)
            for one in FACTS.values()
        ],
    )


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
    """An instrument described anew: corrected, doubted, replaced. What it has read stays as it was read."""
    row = get_object_or_404(InstrumentRow.objects.select_related("rig"), pk=instrument_id)
    check_seen(f"The instrument {row.name}", body.seen, InstrumentOut.from_orm(row))
    return keep_instrument(row.rig, body.draft(), row)


@router.get("/instruments/{int:instrument_id}/agreement", response={200: AgreementView, 404: Problems, 422: Problems})
def show_agreement(
    request: HttpRequest, instrument_id: int, second: Query[int], by: Query[By | None] = None
) -> AgreementView:
    """How an instrument reads against another of the same rig: run by run, or by the moments of the logs in which both read."""
    row = get_object_or_404(InstrumentRow, pk=instrument_id)
    return agreement_of(row, get_object_or_404(InstrumentRow, pk=second, rig_id=row.rig_id), by)
