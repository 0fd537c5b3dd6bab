from django.db import models

from trelvo.logbook.models.bench_token import BenchToken
from trelvo.logbook.models.run import Run


class LiveRun(models.Model):
    """What a run has beside it because a bench sends it in as it happens.

    The run itself is written before it starts, with the outcome *connection lost*: should everything go dark now, that is true
    already. It stays beside the run when it has ended.

    channels: for each column its name, quantity, unit, the part (empty: what is tuned) and, for power, where it is measured
    limits: what the part is allowed (power_w, temp_c), as its bench said
    safety limits: the campaign's safety limits, kept here too so that each batch is checked without another look-up
    through: every batch up to this number is there; beyond: numbers above it that are there already
    elapsed_s: time of the newest reading
    asked: whether what happened is to be asked; server_stopped: Trelvo went down while the run was open
    """

    class State(models.TextChoices):
        OPEN = "open", "Open"
        LOST = "lost", "Connection lost"
        ENDED = "ended", "Ended"

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="live")
    bench = models.CharField(max_length=120)
    token = models.ForeignKey(BenchToken, on_delete=models.SET_NULL, null=True, related_name="live_runs")
    simulator = models.BooleanField(default=False)
    speed = models.FloatField(default=1.0)
    planned_s = models.FloatField()
    channels = models.JSONField()
    limits = models.JSONField(default=dict)
    safety_limits = models.JSONField(default=list)
    state = models.CharField(max_length=8, choices=State.choices, default=State.OPEN)
    opened_at = models.DateTimeField()
    heard_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    elapsed_s = models.FloatField(default=0.0)
    phase = models.CharField(max_length=60, blank=True)
    through = models.PositiveIntegerField(default=0)
    beyond = models.JSONField(default=list)
    server_stopped = models.BooleanField(default=False)

    class Meta:
        db_table = "logbook_live_run"
        ordering = ["id"]
        indexes = [models.Index(fields=["state"])]

    def __str__(self) -> str:
        return f"live run {self.run_id}"


class Chunk(models.Model):
    """A batch of readings as it came in, kept until the run has ended and all of it is in one series.

    readings: rows of time_s and one number a channel; frames: frame times in ms; digest: of what was sent, to tell a
    repeat from something else under the same number
    """

    live = models.ForeignKey(LiveRun, on_delete=models.CASCADE, related_name="chunks")
    sequence = models.PositiveIntegerField()
    rows = models.PositiveIntegerField()
    readings = models.BinaryField()
    frames = models.BinaryField(default=b"")
    digest = models.CharField(max_length=32)

    class Meta:
        ordering = ["sequence"]
        constraints = [models.UniqueConstraint(fields=["live", "sequence"], name="one_chunk_a_number")]

    def __str__(self) -> str:
        return f"batch {self.sequence}"
