from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate


class LogbookConfig(AppConfig):
    """Everything that is kept: rigs, campaigns, settings, runs and their series."""

    name = "trelvo.logbook"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        pre_migrate.connect(_before_migration, sender=self)
        post_migrate.connect(_after_migration, sender=self)


def _before_migration(**_: Any) -> None:
    from trelvo.logbook.rows.stamps import take_down_stamps

    take_down_stamps()


def _after_migration(**_: Any) -> None:
    from trelvo.logbook.rows.stamps import set_up_stamps

    set_up_stamps()
