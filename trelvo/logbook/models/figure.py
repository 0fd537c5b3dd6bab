from typing import cast

from django.db import models

from trelvo.core.base import figures
from trelvo.core.base.figures import FigureKey
from trelvo.core.registry.quantities import QUANTITIES, Quantity
from trelvo.logbook.models.instrument import InstrumentRow
from trelvo.logbook.models.run import Run


class Figure(models.Model):
    """One number of a run, as it was read, in its quantity's own unit. A correction is applied when it is used, never here.

    instrument: which one read it, empty where nobody said
    source: typed, from a log, or live; a typed figure that a log's replaced stays, with `replaced` set
    """

    class Source(models.TextChoices):
        TYPED = "typed", "Typed"
        LOG = "log", "From a log"
        LIVE = "live", "Live"

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="figures")
    quantity = models.CharField(max_length=20, choices=[(word, word) for word in QUANTITIES])
    part = models.CharField(max_length=20, choices=[(word, word) for word in figures.PARTS])
    statistic = models.CharField(max_length=12, choices=[(word, word) for word in figures.STATISTICS])
    instrument = models.ForeignKey(InstrumentRow, on_delete=models.PROTECT, null=True, related_name="figures")
    value = models.FloatField()
    source = models.CharField(max_length=6, choices=Source.choices, default=Source.TYPED)
    replaced = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["run", "quantity", "part", "statistic", "instrument"],
                condition=models.Q(replaced=False),
                name="one_reading_an_instrument",
            )
        ]

    def __str__(self) -> str:
        return f"{figures.name_of(self.key)} {self.value:g}"

    @property
    def key(self) -> FigureKey:
        return FigureKey(
            cast(Quantity, self.quantity),
            cast(figures.Part, self.part),
            cast(figures.Statistic, self.statistic),
        )
