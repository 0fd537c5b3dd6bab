from django.db import models

from trelvo.logbook.models.campaign import Campaign
from trelvo.logbook.models.run import Run
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.workload import Variant


class Queue(models.Model):
    """The runs that the simulator is to work through for a campaign, and how."""

    campaign = models.OneToOneField(Campaign, on_delete=models.CASCADE, related_name="queue")
    paused = models.BooleanField(default=False)
    speed = models.FloatField(default=60.0)

    def __str__(self) -> str:
        return f"queue of {self.campaign_id}"


class QueueItem(models.Model):
    """One run to come. why: what became of it where it was left out."""

    class State(models.TextChoices):
        WAITING = "waiting", "Waiting"
        RUNNING = "running", "Running"
        DONE = "done", "Done"
        LEFT_OUT = "left out", "Left out"

    queue = models.ForeignKey(Queue, on_delete=models.CASCADE, related_name="items")
    setting = models.ForeignKey(Setting, on_delete=models.CASCADE)
    variant = models.ForeignKey(Variant, on_delete=models.CASCADE)
    confirmation = models.CharField(max_length=300, blank=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    run = models.OneToOneField(Run, on_delete=models.SET_NULL, null=True, related_name="queue_item")
    why = models.CharField(max_length=300, blank=True)

    class Meta:
        db_table = "logbook_queue_item"
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.state}: {self.variant} at {self.setting}"
