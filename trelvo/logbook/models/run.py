import uuid
from typing import get_args

from django.db import models

from trelvo.core.registry.outcomes import Outcome
from trelvo.logbook.models.campaign import Campaign
from trelvo.logbook.models.rig import Build
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.workload import Variant


class Run(models.Model):
    """One workload at one setting, with conditions, outcome and result; what else was read is in its figures.

    value: the result, in the workload's unit; frames: how many, where a log of frame times came with it
    typed: result, duration and frames as they had been typed, where a log later replaced them; log_figures: which of
    these come from a log
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="runs")
    setting = models.ForeignKey(Setting, on_delete=models.PROTECT, related_name="runs")
    variant = models.ForeignKey(Variant, on_delete=models.PROTECT, related_name="runs")
    build = models.ForeignKey(Build, on_delete=models.PROTECT, related_name="runs")
    started_at = models.DateTimeField(db_index=True)
    outcome = models.CharField(max_length=30, choices=[(word, word) for word in get_args(Outcome)])
    duration_s = models.FloatField(null=True)
    value = models.FloatField(null=True)
    frames = models.PositiveIntegerField(null=True)
    fan = models.CharField(max_length=60, blank=True)
    note = models.TextField(blank=True)
    typed = models.JSONField(default=dict)
    log_figures = models.JSONField(default=list)
    set_aside_at = models.DateTimeField(null=True)
    set_aside_reason = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["started_at", "id"]
        indexes = [models.Index(fields=["campaign", "variant", "setting"])]

    def __str__(self) -> str:
        return f"run {self.pk}"
