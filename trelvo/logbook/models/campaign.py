import uuid

from django.db import models

from trelvo.logbook.models.rig import Rig
from trelvo.logbook.models.workload import Workload


class Goal(models.TextChoices):
    SPEED = "speed", "More speed"
    EFFICIENCY = "efficiency", "Same speed, less power"
    QUIET = "quiet", "Cooler and quieter"
    POWER_BUDGET = "power budget", "A power budget"
    TARGET = "target", "Catch a target"
    FRAME_RATE = "frame rate", "Hold a frame rate"
    RECORD = "record", "A record"
    REVIVE = "revive", "Revive an old machine"
    DECIDE = "decide", "Decide: tune or buy"


class Campaign(models.Model):
    """One tuning effort on one rig towards one goal."""

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="campaigns")
    name = models.CharField(max_length=160)
    goal = models.CharField(max_length=20, choices=Goal.choices)
    aim = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField()
    workloads = models.ManyToManyField(Workload, related_name="campaigns")

    class Meta:
        ordering = ["-created_at"]

    def __str__(self) -> str:
        return self.name
