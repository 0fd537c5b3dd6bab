from typing import cast, get_args

from django.db import models

from trelvo.core.watch.safety_limits import Kind, SafetyLimit
from trelvo.logbook.models.campaign import Campaign


class SafetyLimitRow(models.Model):
    """A limit of a campaign, as kept; `as_safety_limit` gives what the core checks with."""

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="safety_limits")
    position = models.PositiveIntegerField()
    kind = models.CharField(max_length=20, choices=[(word, word) for word in get_args(Kind)])
    limit = models.FloatField()
    channel = models.CharField(max_length=120, blank=True)

    class Meta:
        db_table = "logbook_safety_limit"
        ordering = ["position"]

    def __str__(self) -> str:
        return f"{self.kind} {self.limit:g}"

    def as_safety_limit(self) -> SafetyLimit:
        return SafetyLimit(cast(Kind, self.kind), self.limit, self.channel)
