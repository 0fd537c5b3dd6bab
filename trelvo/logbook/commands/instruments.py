"""Writes instruments: what reads on a rig, how far it is trusted, what corrects it, and which of several counts."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from trelvo.core.base.figures import Part
from trelvo.core.base.instruments import (
    KIND_AT,
    NAME_AT,
    PART_AT,
    Instrument,
    InstrumentKind,
    Point,
    Trust,
    check_instrument,
)
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import QUANTITIES, Quantity
from trelvo.logbook.models import Campaign, InstrumentRow, Rig
from trelvo.logbook.tokens import campaign_changed, rig_changed


@dataclass(frozen=True)
class InstrumentDraft:
    """An instrument as described. Numbers in its quantity's unit; replaced_by: the instrument that took its place."""

    name: str
    kind: InstrumentKind
    quantity: Quantity
    part: Part = "tuned part"
    place: str = ""
    resolution: float | None = None
    offset: float = 0.0
    offset_sd: float = 0.0
    factor: float = 1.0
    factor_sd: float = 0.0
    trust: Trust = "trusted"
    trust_since: datetime | None = None
    trust_why: str = ""
    replaced_by_id: int | None = None


@transaction.atomic
def keep_instrument(rig: Rig, draft: InstrumentDraft, row: InstrumentRow | None = None) -> InstrumentRow:
    """A new instrument of a rig, or one described again. What it has read stays as it was read."""
    problems = check_instrument(
        Instrument(
            id=row.pk if row else 0,
            name=draft.name,
            kind=draft.kind,
            quantity=draft.quantity,
            part=draft.part,
            resolution=draft.resolution,
            offset=draft.offset,
            offset_sd=draft.offset_sd,
            factor=draft.factor,
            factor_sd=draft.factor_sd,
            trust=draft.trust,
            trust_since=draft.trust_since,
        )
    )
    others = rig.instruments.exclude(pk=row.pk if row else 0)
    if others.filter(name__iexact=draft.name.strip(), quantity=draft.quantity).exists():
        problems.append(
            Problem("name", "instrument_name_taken", {"name": draft.name.strip(), "quantity": draft.quantity})
        )
    if draft.replaced_by_id is not None and not others.filter(pk=draft.replaced_by_id).exists():
        problems.append(Problem("replaced_by_id", "no_such_other_instrument"))
    if row and row.quantity != draft.quantity and row.figures.exists():
        problems.append(Problem("quantity", "instrument_quantity_fixed", {"quantity": row.quantity}))
    if draft.trust != "trusted" and not draft.trust_why.strip():
        problems.append(Problem("trust_why", "instrument_doubt_without_reason"))
    if problems:
        raise Refused(*problems)
    row = row or InstrumentRow(rig=rig)
    for field in InstrumentDraft.__dataclass_fields__:
        value = getattr(draft, field)
        setattr(row, field, value.strip() if isinstance(value, str) else value)
    row.save()
    rig_changed(rig.pk)
    return row


def instrument_at(rig: Rig, point: Point, quantity: Quantity = "power") -> InstrumentRow | None:
    """The rig's instrument at a measuring point, made where there is none yet; None where the point is not known."""
    if point not in KIND_AT:
        return None
    if found := rig.instruments.filter(kind=KIND_AT[point], quantity=quantity).first():
        return found
    made = InstrumentRow.objects.create(
        rig=rig, name=NAME_AT[point], kind=KIND_AT[point], quantity=quantity, part=PART_AT.get(point, "tuned part")
    )
    rig_changed(rig.pk)
    return made


@transaction.atomic
def set_counting(campaign: Campaign, counting: Mapping[Quantity, int]) -> Campaign:
    """Which instrument counts for what, where several read it. Quantities left out: the older instrument counts."""
    rows = {row.pk: row for row in campaign.rig.instruments.all()}
    problems = []
    for quantity, instrument_id in counting.items():
        row = rows.get(instrument_id)
        if row is None:
            problems.append(Problem(f"counting.{quantity}", "no_such_instrument"))
        elif row.quantity != quantity:
            problems.append(
                Problem(
                    f"counting.{quantity}",
                    "instrument_reads_other",
                    {"instrument": row.name, "quantity": row.quantity, "wanted": quantity},
                )
            )
    if unknown := [quantity for quantity in counting if quantity not in QUANTITIES]:
        problems.append(Problem("counting", "unknown_quantity", {"quantity": unknown[0], "known": tuple(QUANTITIES)}))
    if problems:
        raise Refused(*problems)
    campaign.counting = {quantity: str(rows[instrument_id].uid) for quantity, instrument_id in counting.items()}
    campaign.save(update_fields=["counting"])
    campaign_changed(campaign.pk)
    return campaign
