from typing import Any

from django.apps import AppConfig
from django.db.models.signals import pre_migrate


class LogbookConfig(AppConfig):
    """Everything that is kept: rigs, campaigns, settings, runs and their series."""

    name = "trelvo.logbook"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        pre_migrate.connect(_before_migration, sender=self)


def _before_migration(**_: Any) -> None:
    from trelvo.logbook.earlier_triggers import drop_earlier_triggers

    drop_earlier_triggers()
