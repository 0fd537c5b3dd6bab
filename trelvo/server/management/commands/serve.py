import socket
import threading
import warnings
import webbrowser
from argparse import ArgumentParser
from typing import Any

import uvicorn
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    help = "Migrates, loads the demo data where asked, and serves API and screens on this machine's loopback address."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--port", type=int, default=8737)
        parser.add_argument("--demo", action="store_true", help="load the demo data if it is not there yet")
        parser.add_argument("--no-browser", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind(("127.0.0.1", options["port"]))
            listener.listen()  # from here on a caller waits instead of being refused
        except OSError as trouble:
            raise CommandError(
                f"Port {options['port']} cannot be used ({trouble.strerror}). Give another with --port N, or 0."
            ) from trouble
        # WhiteNoise hands out its few, small files by a plain iterator; that Django reads it in one go does no harm
        warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
        call_command("migrate", verbosity=0)
        if options["demo"]:
            call_command("load_demo")
        address = f"http://127.0.0.1:{listener.getsockname()[1]}/"
        self.stdout.write(f"Trelvo keeps its data in {settings.DATA}")
        self.stdout.write(f"Trelvo is ready at {address}  (stop it with Ctrl+C)")
        self.stdout.flush()
        if not options["no_browser"]:
            threading.Timer(1.0, webbrowser.open, [address]).start()
        config = uvicorn.Config(
            "trelvo.server.asgi:application", log_level="warning", lifespan="off", timeout_graceful_shutdown=1
        )
        uvicorn.Server(config).run(sockets=[listener])
