from django.db import models


class ChangeToken(models.Model):
    """A random word that is replaced whenever something changes on which answers rest.

    subject: "campaign 12", "rig 3", or "workloads" for all of them
    """

    subject = models.CharField(max_length=40, primary_key=True)
    token = models.CharField(max_length=32)

    def __str__(self) -> str:
        return f"{self.subject}: {self.token}"
