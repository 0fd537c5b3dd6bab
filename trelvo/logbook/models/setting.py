import uuid

from django.db import models

from trelvo.logbook.models.campaign import Campaign


class Setting(models.Model):
    """One value for every knob of a campaign. A knob added later is at stock in settings made before it.

    fingerprint: the values that differ from stock, in one canonical string, so that no setting exists twice
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="settings")
    values = models.JSONField()
    fingerprint = models.CharField(max_length=400)
    note = models.TextField(blank=True)
    created_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["campaign", "fingerprint"], name="no_setting_twice")]

    def __str__(self) -> str:
        return self.fingerprint or "stock"

    @property
    def is_stock(self) -> bool:
        return self.fingerprint == ""
