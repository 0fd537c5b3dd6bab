from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """Everything that is kept: rigs, campaigns, settings, runs and their series."""

    name = "trelvo.logbook"
    default_auto_field = "django.db.models.BigAutoField"
