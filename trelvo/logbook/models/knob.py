from typing import cast

from django.db import models

from trelvo.core.base.figures import PARTS, Part
from trelvo.core.base.knobs import Knob
from trelvo.core.registry.roles import ROLES, Role
from trelvo.logbook.models.campaign import Campaign


class KnobRow(models.Model):
    """A knob of a campaign, as kept; `as_knob` gives what the core computes with."""

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="knobs")
    position = models.PositiveIntegerField()
    key = models.SlugField(max_length=24)
    name = models.CharField(max_length=80)
    unit = models.CharField(max_length=12, blank=True)
    stock = models.FloatField()
    step = models.FloatField()
    low = models.FloatField()
    high = models.FloatField()
    away = models.SmallIntegerField()
    role = models.CharField(max_length=16, choices=[(word, word) for word in ROLES], default="other")
    part = models.CharField(max_length=20, choices=[(word, word) for word in PARTS], default="tuned part")
    retired_at = models.DateTimeField(null=True)
    component = models.CharField(max_length=80, blank=True, default="")

    class Meta:
        db_table = "logbook_knob"
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["campaign", "key"], name="one_knob_a_key")]

    def __str__(self) -> str:
        return self.name

    def as_knob(self) -> Knob:
        return Knob(
            key=self.key,
            name=self.name,
            unit=self.unit,
            stock=self.stock,
            step=self.step,
            low=self.low,
            high=self.high,
            away=1 if self.away > 0 else -1,
            role=cast(Role, self.role),
            part=cast(Part, self.part),
            retired=self.retired_at is not None,
            component=self.component,
        )
