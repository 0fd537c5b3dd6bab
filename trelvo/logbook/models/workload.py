import uuid
from typing import cast

from django.db import models

from trelvo.core import campaign
from trelvo.core.base.load_kinds import KINDS, Load, LoadKind
from trelvo.core.base.workloads import Measure, describe_options


class Workload(models.Model):
    """A benchmark, title, stress test or everyday task: the same one on every rig.

    parts, techniques: what it touches, for the breadth of a proof
    corrections: what was corrected of it or of its variants, oldest first: when, and from what to what
    """

    class Measure(models.TextChoices):
        FRAME_RATE = "frame rate", "Frame rate"
        SCORE = "score", "Score"
        TIME = "time", "Time"
        NOTHING = "nothing", "Nothing but figures"

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    name = models.CharField(max_length=120)
    measure = models.CharField(max_length=20, choices=Measure.choices)
    unit = models.CharField(max_length=20)
    higher_is_better = models.BooleanField()
    kind = models.CharField(max_length=20, choices=[(kind, kind) for kind in KINDS], default="title")
    parts = models.JSONField(default=list)
    techniques = models.JSONField(default=list)
    corrections = models.JSONField(default=list)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name


class VariantRows(models.QuerySet["Variant"]):
    def whole(self) -> "VariantRows":
        return self.select_related("workload")


class VariantManager(models.Manager.from_queryset(VariantRows)):  # type: ignore[misc]
    """A variant is nothing without its workload: both are read in one question."""

    def get_queryset(self) -> VariantRows:
        return VariantRows(self.model, using=self._db).select_related("workload")


class Variant(models.Model):
    """A workload with one set of options, which runs are made of; compared only with itself.

    options: named values, such as resolution and preset; minutes: how long one run lasts; cap_fps: a frame cap in force
    position: where it is in lists
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    workload = models.ForeignKey(Workload, on_delete=models.PROTECT, related_name="variants")
    options = models.JSONField(default=dict)
    minutes = models.FloatField()
    cap_fps = models.FloatField(null=True, blank=True)
    position = models.PositiveIntegerField()

    objects = VariantManager()

    class Meta:
        ordering = ["position", "id"]
        base_manager_name = "objects"

    def __str__(self) -> str:
        return self.name

    @property
    def name(self) -> str:
        return self.workload.name

    @property
    def measure(self) -> Measure:
        return cast(Measure, self.workload.measure)

    @property
    def unit(self) -> str:
        return self.workload.unit

    @property
    def higher_is_better(self) -> bool:
        return self.workload.higher_is_better

    @property
    def kind(self) -> LoadKind:
        return cast(LoadKind, self.workload.kind)

    @property
    def options_in_words(self) -> str:
        return describe_options(self.options)

    def in_full(self) -> str:
        """With its options, for lists in which it is next to another variant of the same workload."""
        return self.as_variant().in_full()

    def as_load(self) -> Load:
        """The workload as a test of stability."""
        return self.as_variant().as_load()

    def as_variant(self) -> campaign.Variant:
        """The variant as the core computes with it."""
        of = self.workload
        workload = campaign.Workload(
            id=of.pk,
            name=of.name,
            measure=self.measure,
            unit=of.unit,
            higher_is_better=of.higher_is_better,
            kind=self.kind,
            parts=tuple(of.parts),
            techniques=tuple(of.techniques),
        )
        return campaign.Variant(self.pk, self.uid, workload, self.minutes, self.options, self.cap_fps, self.position)
