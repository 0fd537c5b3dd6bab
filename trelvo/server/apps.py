from django.apps import AppConfig

from trelvo.exchange.store.write_gate import watch_writes


class ServerConfig(AppConfig):
    """Wiring: settings, addresses, commands and the demo scenario."""

    name = "trelvo.server"

    def ready(self) -> None:
        watch_writes()
