"""Campaigns begun while 90 % was the usual sureness of stability keep it; new ones begin with 95 %."""

from django.db import migrations

SURE_UNTIL_NOW = 0.9


def keep_what_was_usual(apps, schema_editor):
    campaigns = apps.get_model("logbook", "Campaign").objects
    for campaign in campaigns.all():
        if "sure" not in campaign.terms:
            campaign.terms = {**campaign.terms, "sure": SURE_UNTIL_NOW}
            campaign.save(update_fields=["terms"])


class Migration(migrations.Migration):

    dependencies = [
        ("logbook", "0011_workload_without_result"),
    ]

    operations = [
        migrations.RunPython(keep_what_was_usual, migrations.RunPython.noop),
    ]
