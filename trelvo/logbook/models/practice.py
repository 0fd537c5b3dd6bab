from django.db import models


class Practice(models.Model):
    """A climb for practice on a hidden specimen of the simulator: same seed, same specimen, same luck.

    tests: each with value, minutes (until the failure where it failed) and outcome; advised: tests that followed the advice
    kept: the value that was kept at the end, which ends it and shows the truth
    """

    seed = models.PositiveIntegerField()
    budget_minutes = models.FloatField()
    accepted_hours = models.FloatField()
    created_at = models.DateTimeField()
    tests = models.JSONField(default=list)
    advised = models.PositiveIntegerField(default=0)
    kept = models.FloatField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        db_table = "logbook_practice"
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"practice on specimen {self.seed}"
