import uuid

from django.db import models

from trelvo.core.base.what_counts import SMALLEST_GAIN, STALE_DAYS, WISHED_RESOLUTION
from trelvo.core.registry.goals import GOALS
from trelvo.logbook.models.rig import Rig
from trelvo.logbook.models.workload import Variant


class Goal(models.TextChoices):
    SPEED = "speed", GOALS["speed"].label
    EFFICIENCY = "efficiency", GOALS["efficiency"].label
    QUIET = "quiet", GOALS["quiet"].label
    POWER_BUDGET = "power budget", GOALS["power budget"].label
    TARGET = "target", GOALS["target"].label
    FRAME_RATE = "frame rate", GOALS["frame rate"].label
    RECORD = "record", GOALS["record"].label
    REVIVE = "revive", GOALS["revive"].label
    DECIDE = "decide", GOALS["decide"].label


class CampaignRows(models.QuerySet["Campaign"]):
    def present(self) -> "CampaignRows":
        """Those that are not deleted. What is deleted stays until the next start, so that it can be undone."""
        return self.filter(deleted_at__isnull=True)


class Campaign(models.Model):
    """One tuning effort on one rig towards one goal.

    workloads: what is measured and compared; test suite: what a setting is proved with besides
    retired: what was measured once and no longer is; its runs stay
    counting: which instrument counts for a quantity, by its uid, where several read it
    weights: how much each workload counts in the overall gain, by its uid; 1 where nothing is said
    terms: the goal's numbers as far as the user has changed them; way: how the user climbs and proves
    curve: the part's clock over voltage as it was typed or read from a file: points of voltage_v and core_mhz
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="campaigns")
    name = models.CharField(max_length=160)
    goal = models.CharField(max_length=20, choices=Goal.choices)
    aim = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField()
    workloads = models.ManyToManyField(Variant, related_name="campaigns")
    test_suite = models.ManyToManyField(Variant, related_name="test_suite_of")
    retired = models.ManyToManyField(Variant, related_name="retired_from")
    archived_at = models.DateTimeField(null=True)
    deleted_at = models.DateTimeField(null=True)

    # what counts: the smallest relative gain that matters, how finely stock is to be known, how old it may be
    smallest_gain = models.FloatField(default=SMALLEST_GAIN)
    wished_resolution = models.FloatField(default=WISHED_RESOLUTION)
    stale_days = models.FloatField(default=STALE_DAYS)
    enough_said_at = models.DateTimeField(null=True)
    weights = models.JSONField(default=dict)
    counting = models.JSONField(default=dict)
    terms = models.JSONField(default=dict)
    way = models.JSONField(default=dict)
    curve = models.JSONField(default=list)
    temp_limit_c = models.FloatField(null=True)
    power_limit_w = models.FloatField(null=True)
    price = models.FloatField(null=True)
    currency = models.CharField(max_length=8, blank=True, default="")

    objects = CampaignRows.as_manager()

    class Meta:
        ordering = ["-created_at"]

    def __str__(self) -> str:
        return self.name
