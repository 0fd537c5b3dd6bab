from django.db import models

from trelvo.logbook.models.campaign import Campaign


class CampaignSummary(models.Model):
    """What the list shows of a campaign, so that it need not compute a hundred of them.

    made_from: the tokens and, where the card depends on the time, the hour; priors: what other campaigns had taught it
    shown: what it has shown the others; card: as the API sends it
    """

    campaign = models.OneToOneField(Campaign, on_delete=models.CASCADE, primary_key=True, related_name="summary")
    made_from = models.CharField(max_length=200)
    priors = models.TextField()
    shown = models.JSONField(default=list)
    card = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"summary of campaign {self.campaign_id}"
