import uuid

from django.db import models

from trelvo.logbook.models.campaign import Campaign


class Target(models.Model):
    """A rival's results to be reached, as told elsewhere: typed, with their source and conditions.

    results: value by workload uid, in the workload's unit
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="targets")
    name = models.CharField(max_length=120)
    price = models.FloatField(null=True)
    source = models.CharField(max_length=300, blank=True)
    conditions = models.CharField(max_length=300, blank=True)
    results = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name
