"""The terms of today in tables, columns and values; every number stays."""

from django.db import migrations

MODELS = (("Keeper", "KeptSetting"),)
FIELDS = (
    ("Rig", "standin", "simulator"),
    ("Rig", "standin_seed", "simulator_seed"),
    ("Rig", "standin_fault", "simulator_fault"),
    ("LiveRun", "standin", "simulator"),
    ("InUse", "keeper", "kept_setting"),
    ("UseEntry", "keeper", "kept_setting"),
)


class Migration(migrations.Migration):
    dependencies = [("logbook", "0016_first_pass")]

    operations = [
        *(migrations.RenameModel(*names) for names in MODELS),
        *(migrations.RenameField(*names) for names in FIELDS),
    ]
