import uuid

from django.db import models

from trelvo.logbook.models.campaign import Campaign
from trelvo.logbook.models.rig import Build, Rig
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.workload import Variant


class KeptSettingUse(models.TextChoices):
    EVERY_DAY = "every day", "Every day"
    BENCH = "bench", "Bench"
    QUIET = "quiet", "Quiet"
    SUMMER = "summer", "Summer"
    TRAVEL = "travel", "Travel"
    RECORD = "record", "Record"


class KeptSetting(models.Model):
    """A setting kept for use.

    components: of those that the setting turns, the ones that are kept; evidence, proof: as they were when it was kept, never
    changed afterwards; taken_back_at: no longer kept, with the reason
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="kept_settings")
    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="kept_settings")
    setting = models.ForeignKey(Setting, on_delete=models.CASCADE, related_name="kept_settings")
    build = models.ForeignKey(Build, on_delete=models.PROTECT, related_name="kept_settings")
    name = models.CharField(max_length=80)
    use = models.CharField(max_length=12, choices=KeptSettingUse.choices)
    components = models.JSONField(default=list)
    evidence = models.JSONField()
    proof = models.JSONField()
    kept_at = models.DateTimeField()
    taken_back_at = models.DateTimeField(null=True)
    reason = models.CharField(max_length=400, blank=True, default="")

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name


class InUse(models.Model):
    """A time during which a rig ran with a kept setting; one at a time. until: None while it does"""

    kept_setting = models.ForeignKey(KeptSetting, on_delete=models.CASCADE, related_name="spans")
    since = models.DateTimeField()
    until = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.kept_setting} since {self.since:%Y-%m-%d}"


class UseEntry(models.Model):
    """Hours of use of a kept setting, that went well or ended in a failure.

    outcome: empty where it went well; minutes: how long it ran until it failed
    probes: what was tried to find the cause (which, whether it failed, minutes); verdict: who is to blame, empty while open
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    kept_setting = models.ForeignKey(KeptSetting, on_delete=models.CASCADE, related_name="entries")
    at = models.DateTimeField()
    hours = models.FloatField()
    outcome = models.CharField(max_length=24, blank=True, default="")
    minutes = models.FloatField(null=True)
    variant = models.ForeignKey(Variant, on_delete=models.PROTECT, null=True, related_name="+")
    room_c = models.FloatField(null=True)
    note = models.TextField(blank=True, default="")
    probes = models.JSONField(default=list)
    verdict = models.CharField(max_length=24, blank=True, default="")
    settled_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.hours:g} h {self.outcome or 'without a failure'}"
