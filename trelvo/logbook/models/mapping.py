from django.db import models


class ColumnMapping(models.Model):
    """What the user said last time about columns under these headers, offered as the guess the next time."""

    headers = models.CharField(max_length=64, unique=True)
    choice = models.JSONField()
    used_at = models.DateTimeField()

    def __str__(self) -> str:
        return self.headers
