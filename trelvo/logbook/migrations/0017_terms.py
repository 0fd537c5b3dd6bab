"""The terms of today in tables, columns and values; every number stays."""

from django.db import migrations, models

MODELS = (("Fitting", "Build"), ("Keeper", "KeptSetting"), ("GuardRailRow", "SafetyLimitRow"))
FIELDS = (
    ("Rig", "standin", "simulator"),
    ("Rig", "standin_seed", "simulator_seed"),
    ("Rig", "standin_fault", "simulator_fault"),
    ("LiveRun", "standin", "simulator"),
    ("LiveRun", "rails", "safety_limits"),
    ("Part", "fitting", "build"),
    ("Run", "fitting", "build"),
    ("KeptSetting", "fitting", "build"),
    ("InUse", "keeper", "kept_setting"),
    ("UseEntry", "keeper", "kept_setting"),
    ("Campaign", "battery", "test_suite"),
)
OUTCOMES = {
    "odd numbers": "artifacts",
    "program closed": "program crash",
    "machine down": "system crash",
    "stopped by a guard rail": "safety limit",
    "contact lost": "connection lost",
}
STRATEGIES = {"by the numbers": "adaptive", "halving": "bisection"}
APPROACHES = {"by the numbers": "statistical"}


def rename_values(apps, schema_editor):
    def rows(name):
        return apps.get_model("logbook", name).objects

    for old, new in OUTCOMES.items():
        rows("Run").filter(outcome=old).update(outcome=new)
        rows("UseEntry").filter(outcome=old).update(outcome=new)
    for campaign in rows("Campaign").exclude(way={}):
        campaign.way = way_of_today(campaign.way)
        campaign.save(update_fields=["way"])
    for kept in rows("KeptSetting").all():
        kept.evidence = evidence_of_today(kept.evidence)
        kept.save(update_fields=["evidence"])
    for practice in rows("Practice").all():
        practice.tests = [
            {**test, "outcome": OUTCOMES.get(test["outcome"], test["outcome"])} for test in practice.tests
        ]
        practice.save(update_fields=["tests"])
    # cards of the list are computed again
    rows("CampaignSummary").all().delete()


def way_of_today(way):
    names = {"wary": "cautious", "school": "approach"}
    values = {"strategy": STRATEGIES, "school": APPROACHES}
    return {
        names.get(name, name): values.get(name, {}).get(value, value) if name in values else value
        for name, value in way.items()
    }


def evidence_of_today(evidence):
    names = {"schools": "approaches", "fitting": "build"}
    found = {names.get(name, name): value for name, value in evidence.items()}
    if "approaches" in found:
        found["approaches"] = [APPROACHES.get(one, one) for one in found["approaches"]]
    return found


class Migration(migrations.Migration):
    dependencies = [("logbook", "0016_first_pass")]

    operations = [
        migrations.RemoveConstraint("Fitting", "one_fitting_a_number"),
        *(migrations.RenameModel(*names) for names in MODELS),
        *(migrations.RenameField(*names) for names in FIELDS),
        migrations.AlterModelTable("SafetyLimitRow", "logbook_safety_limit"),
        migrations.AddConstraint("Build", models.UniqueConstraint(fields=["rig", "number"], name="one_build_a_number")),
        migrations.RunPython(rename_values, migrations.RunPython.noop),
    ]
