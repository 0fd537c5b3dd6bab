import uuid
from typing import Any, cast, get_args

from django.db import models

from trelvo.core.base.instruments import Point
from trelvo.core.base.runs import Outcome, RunFacts
from trelvo.logbook.models.campaign import Campaign
from trelvo.logbook.models.rig import Fitting
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.workload import Workload


class Run(models.Model):
    """One workload at one setting, with conditions, outcome and numbers.

    core_mhz, memory_mhz, voltage_v: what was reached (the clock set is not the clock got)
    typed: what had been typed for figures that a log later replaced; log_figures: which figures come from a log
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="runs")
    setting = models.ForeignKey(Setting, on_delete=models.PROTECT, related_name="runs")
    workload = models.ForeignKey(Workload, on_delete=models.PROTECT, related_name="runs")
    fitting = models.ForeignKey(Fitting, on_delete=models.PROTECT, related_name="runs")
    started_at = models.DateTimeField()
    outcome = models.CharField(max_length=30, choices=[(word, word) for word in get_args(Outcome)])
    duration_s = models.FloatField(null=True)
    value = models.FloatField(null=True)
    low_1_fps = models.FloatField(null=True)
    low_01_fps = models.FloatField(null=True)
    power_w = models.FloatField(null=True)
    power_point = models.CharField(max_length=12, choices=[(word, word) for word in get_args(Point)], default="unknown")
    temp_max_c = models.FloatField(null=True)
    temp_mean_c = models.FloatField(null=True)
    temp_start_c = models.FloatField(null=True)
    frames = models.PositiveIntegerField(null=True)
    room_c = models.FloatField(null=True)
    fan = models.CharField(max_length=60, blank=True)
    core_mhz = models.FloatField(null=True)
    memory_mhz = models.FloatField(null=True)
    voltage_v = models.FloatField(null=True)
    note = models.TextField(blank=True)
    typed = models.JSONField(default=dict)
    log_figures = models.JSONField(default=list)
    set_aside_at = models.DateTimeField(null=True)
    set_aside_reason = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["started_at", "id"]
        indexes = [models.Index(fields=["campaign", "workload", "setting"])]

    def __str__(self) -> str:
        return f"run {self.pk}"

    def facts(self) -> RunFacts:
        return _facts(*(getattr(self, column) for column in FACT_COLUMNS))


# What the core needs of a run, in the order that `_facts` takes it.
FACT_COLUMNS = (
    "pk", "setting_id", "workload_id", "outcome", "value", "set_aside_at", "power_w", "power_point", "temp_max_c", "room_c",
    "low_1_fps", "low_01_fps", "core_mhz", "memory_mhz", "temp_start_c", "frames",
)  # fmt: skip


def facts_of(runs: "models.QuerySet[Run]") -> list[RunFacts]:
    """The runs as the core takes them, read without making a model of each."""
    return [_facts(*row) for row in runs.values_list(*FACT_COLUMNS)]


def _facts(
    pk: int, setting_id: int, workload_id: int, outcome: str, value: float | None, set_aside_at: Any, power_w: float | None,
    power_point: str, temp_max_c: float | None, room_c: float | None, low_1_fps: float | None, low_01_fps: float | None,
    core_mhz: float | None, memory_mhz: float | None, temp_start_c: float | None, frames: int | None,
) -> RunFacts:  # fmt: skip
    return RunFacts(
        id=pk,
        setting_id=setting_id,
        workload_id=workload_id,
        outcome=cast(Outcome, outcome),
        value=value,
        set_aside=set_aside_at is not None,
        power_w=power_w,
        power_point=cast(Point, power_point),
        temp_max_c=temp_max_c,
        room_c=room_c,
        low_1_fps=low_1_fps,
        low_01_fps=low_01_fps,
        core_mhz=core_mhz,
        memory_mhz=memory_mhz,
        temp_start_c=temp_start_c,
        frames=frames,
    )
