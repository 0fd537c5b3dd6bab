import uuid

from django.db import models

from trelvo.logbook.models.run import Run


class Series(models.Model):
    """A log beside its run: Parquet bytes (zstd) with a `time_s` column and one column a channel.

    channels: for each column its quantity, unit and the header it had; summary: figures computed when it came in
    digest: of the dropped file's text, to know it again; empty for what came in live
    """

    class Kind(models.TextChoices):
        TELEMETRY = "telemetry", "Telemetry"
        FRAMES = "frames", "Frame times"

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="series")
    kind = models.CharField(max_length=12, choices=Kind.choices)
    file_name = models.CharField(max_length=200)
    rows = models.PositiveIntegerField()
    channels = models.JSONField()
    summary = models.JSONField()
    parquet = models.BinaryField()
    # how the start of a telemetry log flatters: for how long, and by what share; null where it does not
    first_pass_s = models.FloatField(null=True)
    first_pass_ahead = models.FloatField(null=True)
    digest = models.CharField(max_length=64, default="", blank=True, db_index=True)
    added_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.file_name
