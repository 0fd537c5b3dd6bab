from django.apps import AppConfig


class ServerConfig(AppConfig):
    """Wiring: settings, addresses, commands and the demo scenario."""

    name = "trelvo.server"
