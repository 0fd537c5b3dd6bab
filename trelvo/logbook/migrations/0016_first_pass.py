"""How the start of each log flatters is kept with it, instead of read from its file for every comparison."""

from django.db import migrations, models


def read_logs(apps, schema_editor):
    from trelvo.logbook.kept_logs import first_pass_columns

    logs = apps.get_model("logbook", "Series").objects
    for pk in list(logs.filter(kind="telemetry").values_list("pk", flat=True)):
        log = logs.get(pk=pk)
        found = first_pass_columns(log.kind, bytes(log.parquet), log.channels, log.summary)
        if found:
            logs.filter(pk=pk).update(**found)


class Migration(migrations.Migration):
    dependencies = [("logbook", "0015_tokens_and_summaries")]

    operations = [
        migrations.AddField("Series", "first_pass_s", models.FloatField(null=True)),
        migrations.AddField("Series", "first_pass_ahead", models.FloatField(null=True)),
        migrations.RunPython(read_logs, migrations.RunPython.noop),
    ]
