from typing import cast, get_args

from django.db import models

from trelvo.core.watch.guard_rails import GuardRail, Kind
from trelvo.logbook.models.campaign import Campaign


class GuardRailRow(models.Model):
    """A limit of a campaign, as kept; `as_rail` gives what the core checks with."""

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="guard_rails")
    position = models.PositiveIntegerField()
    kind = models.CharField(max_length=20, choices=[(word, word) for word in get_args(Kind)])
    limit = models.FloatField()
    channel = models.CharField(max_length=120, blank=True)

    class Meta:
        db_table = "logbook_guard_rail"
        ordering = ["position"]

    def __str__(self) -> str:
        return f"{self.kind} {self.limit:g}"

    def as_rail(self) -> GuardRail:
        return GuardRail(cast(Kind, self.kind), self.limit, self.channel)
