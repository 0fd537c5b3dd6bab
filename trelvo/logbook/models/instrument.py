import uuid
from typing import cast

from django.db import models

from trelvo.core.base import figures, instruments
from trelvo.core.registry.quantities import Quantity
from trelvo.logbook.models.rig import Rig


class InstrumentRow(models.Model):
    """An instrument of a rig, as kept; `as_instrument` gives what the core computes with.

    place: where it reads, in words; replaced_by: the instrument that took its place
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="instruments")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=20, choices=[(kind, kind) for kind in instruments.INSTRUMENT_KINDS])
    quantity = models.CharField(max_length=20)
    part = models.CharField(max_length=20, choices=[(part, part) for part in figures.PARTS], default="tuned part")
    place = models.CharField(max_length=160, blank=True)
    resolution = models.FloatField(null=True)
    offset = models.FloatField(default=0.0)
    offset_sd = models.FloatField(default=0.0)
    factor = models.FloatField(default=1.0)
    factor_sd = models.FloatField(default=0.0)
    trust = models.CharField(max_length=10, choices=[(word, word) for word in instruments.TRUSTS], default="trusted")
    trust_since = models.DateTimeField(null=True)
    trust_why = models.CharField(max_length=300, blank=True)
    replaced_by = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="replaces")

    class Meta:
        db_table = "logbook_instrument"
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["rig", "name", "quantity"], name="one_instrument_a_name")]

    def __str__(self) -> str:
        return self.name

    def as_instrument(self) -> instruments.Instrument:
        return instruments.Instrument(
            id=self.pk,
            name=self.name,
            kind=cast(instruments.InstrumentKind, self.kind),
            quantity=cast(Quantity, self.quantity),
            part=cast(figures.Part, self.part),
            resolution=self.resolution,
            offset=self.offset,
            offset_sd=self.offset_sd,
            factor=self.factor,
            factor_sd=self.factor_sd,
            trust=cast(instruments.Trust, self.trust),
            trust_since=self.trust_since,
        )
