from django.db import models

from trelvo.logbook.models.rig import Rig


class BenchToken(models.Model):
    """What a real machine's agent shows to be let in: for one rig only. The token itself is not kept, only its digest."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="bench_tokens")
    name = models.CharField(max_length=80)
    digest = models.CharField(max_length=64, unique=True)
    created_at = models.DateTimeField()
    heard_at = models.DateTimeField(null=True)
    revoked_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name
