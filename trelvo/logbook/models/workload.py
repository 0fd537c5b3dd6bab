import uuid
from typing import cast

from django.db import models

from trelvo.core.base.loads import KINDS, Load, LoadKind, Part, Technique
from trelvo.logbook.models.rig import Rig


class Workload(models.Model):
    """A benchmark, title, stress test or everyday task on a rig, with its fixed options.

    parts, techniques: what it touches, for the breadth of a proof
    """

    class Measure(models.TextChoices):
        FRAME_RATE = "frame rate", "Frame rate"
        SCORE = "score", "Score"
        TIME = "time", "Time"

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="workloads")
    position = models.PositiveIntegerField()
    name = models.CharField(max_length=120)
    measure = models.CharField(max_length=20, choices=Measure.choices)
    unit = models.CharField(max_length=20)
    higher_is_better = models.BooleanField()
    options = models.CharField(max_length=300, blank=True)
    minutes = models.FloatField()
    cap_fps = models.FloatField(null=True, blank=True)
    kind = models.CharField(max_length=20, choices=[(kind, kind) for kind in KINDS], default="title")
    parts = models.JSONField(default=list)
    techniques = models.JSONField(default=list)

    class Meta:
        ordering = ["position"]

    def __str__(self) -> str:
        return self.name

    def as_load(self) -> Load:
        """The workload as a test of stability."""
        return Load(
            self.pk,
            self.name,
            cast(LoadKind, self.kind),
            self.minutes,
            frozenset(cast(list[Part], self.parts)),
            frozenset(cast(list[Technique], self.techniques)),
            by_itself=self.measure == self.Measure.TIME,
        )
