from django.db import models

from trelvo.logbook.models.run import Run


class Mark(models.Model):
    """Something said or noticed during a run: a phase, a note, a breach, a typed yes, connection lost and found."""

    class Kind(models.TextChoices):
        PHASE = "phase", "Phase"
        NOTE = "note", "Note"
        BREACH = "breach", "Safety limit"
        CONFIRMATION = "confirmation", "Confirmed beyond a ceiling"
        CONTACT = "contact", "Contact"
        OUTCOME = "outcome", "Outcome"
        CORRECTION = "correction", "Correction"

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="marks")
    kind = models.CharField(max_length=14, choices=Kind.choices)
    made_at = models.DateTimeField()
    at_s = models.FloatField(null=True)
    text = models.CharField(max_length=1000)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.kind}: {self.text}"
