from django.conf import settings
from django.db import models

from trelvo.logbook.models.rig import Rig


class BenchAccount(models.Model):
    """The one rig that an account of role bench may log on; without a row it may log on every rig."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="bench_account")
    # without the rig the account would be let in everywhere
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="bench_accounts")

    def __str__(self) -> str:
        return f"{self.user} on {self.rig}"
