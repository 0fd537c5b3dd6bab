"""Triggers that databases of earlier versions hold: a migration that makes a table again would trip over them."""

from django.db import connection

_TABLES = (
    "campaign", "campaign_workloads", "campaign_test_suite", "campaign_retired", "knob", "setting", "safety_limit", "target",
    "cautionyes", "run", "figure", "mark", "series", "kept_setting", "inuse", "useentry", "rig", "build", "part", "instrument",
    "journalentry", "workload", "variant",
)  # fmt: skip
EARLIER_TRIGGERS = tuple(f"stamp_{table}_{verb}" for table in _TABLES for verb in ("insert", "update", "delete"))


def drop_earlier_triggers() -> None:
    """Call before any migration; without effect where there are none."""
    with connection.cursor() as cursor:
        for name in EARLIER_TRIGGERS:
            cursor.execute(f"DROP TRIGGER IF EXISTS {name}")
