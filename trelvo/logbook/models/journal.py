import uuid

from django.db import models

from trelvo.logbook.models.campaign import Campaign
from trelvo.logbook.models.rig import Rig


class JournalKind(models.TextChoices):
    DRIVER = "driver", "Driver"
    FIRMWARE = "firmware", "Firmware"
    PART = "part", "Part"
    DUST = "dust", "Dust and cleaning"
    MOVE = "move", "Moved"
    SEASON = "season", "Season"
    CRASH = "crash", "Crash in use"
    THOUGHT = "thought", "Thought"


class JournalEntry(models.Model):
    """What changed or went wrong on a rig outside runs. text: Markdown; earlier: what stood there before, oldest first

    room_c: where the entry says how warm the room is now
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="journal")
    kind = models.CharField(max_length=10, choices=JournalKind.choices)
    at = models.DateTimeField()
    text = models.TextField()
    room_c = models.FloatField(null=True)
    earlier = models.JSONField(default=list)
    made_at = models.DateTimeField()
    taken_out_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.kind}: {self.text[:40]}"


class CautionYes(models.Model):
    """A clear yes to a caution, with the words as they stood."""

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="cautions")
    key = models.CharField(max_length=40)
    words = models.TextField()
    said_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["campaign", "key"], name="one_yes_a_caution")]

    def __str__(self) -> str:
        return self.key
