"""Names of relations and of choices, after the terms of today; no table changes."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("logbook", "0017_terms"),
    ]

    operations = [
        migrations.AlterField(
            model_name="build",
            name="rig",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="builds", to="logbook.rig"
            ),
        ),
        migrations.AlterField(
            model_name="campaign",
            name="test_suite",
            field=models.ManyToManyField(related_name="test_suite_of", to="logbook.variant"),
        ),
        migrations.AlterField(
            model_name="keptsetting",
            name="build",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="kept_settings", to="logbook.build"
            ),
        ),
        migrations.AlterField(
            model_name="keptsetting",
            name="campaign",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="kept_settings", to="logbook.campaign"
            ),
        ),
        migrations.AlterField(
            model_name="keptsetting",
            name="rig",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="kept_settings", to="logbook.rig"
            ),
        ),
        migrations.AlterField(
            model_name="keptsetting",
            name="setting",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="kept_settings", to="logbook.setting"
            ),
        ),
        migrations.AlterField(
            model_name="liverun",
            name="state",
            field=models.CharField(
                choices=[("open", "Open"), ("lost", "Connection lost"), ("ended", "Ended")],
                default="open",
                max_length=8,
            ),
        ),
        migrations.AlterField(
            model_name="mark",
            name="kind",
            field=models.CharField(
                choices=[
                    ("phase", "Phase"),
                    ("note", "Note"),
                    ("breach", "Safety limit"),
                    ("confirmation", "Confirmed beyond a ceiling"),
                    ("contact", "Contact"),
                    ("outcome", "Outcome"),
                    ("correction", "Correction"),
                ],
                max_length=14,
            ),
        ),
        migrations.AlterField(
            model_name="run",
            name="outcome",
            field=models.CharField(
                choices=[
                    ("completed", "completed"),
                    ("artifacts", "artifacts"),
                    ("program crash", "program crash"),
                    ("system crash", "system crash"),
                    ("no start", "no start"),
                    ("safety limit", "safety limit"),
                    ("stopped by hand", "stopped by hand"),
                    ("connection lost", "connection lost"),
                ],
                max_length=30,
            ),
        ),
        migrations.AlterField(
            model_name="safetylimitrow",
            name="campaign",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="safety_limits", to="logbook.campaign"
            ),
        ),
    ]
