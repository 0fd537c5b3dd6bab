import contextlib
import gc
import os
import signal
import socket
import threading
import webbrowser
from argparse import ArgumentParser
from typing import Any

import uvicorn
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import DatabaseError, connection
from django.utils import timezone

from trelvo.bench.driver import Driver
from trelvo.bench.queue import hold_after_stop
from trelvo.exchange.store.copies import clear_unfinished
from trelvo.logbook.commands.campaigns import remove_deleted
from trelvo.logbook.commands.live import find_left_open
from trelvo.server.daily import DailyCopies
from trelvo.server.lock import FolderLock
from trelvo.server.migrating import bring_up_to_date
from trelvo.server.network import Reach, allow
from trelvo.server.prompt_headers import PromptHeaders


class Command(BaseCommand):
    help = "Migrates, loads the demo data where asked, and serves API and screens; to this machine alone unless told."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--port", type=int, default=8737)
        parser.add_argument("--demo", action="store_true", help="load the demo data if it is not there yet")
        parser.add_argument("--no-browser", action="store_true")
        parser.add_argument(
            "--host", default="127.0.0.1", help="address to listen on; other than loopback needs accounts"
        )
        parser.add_argument("--name", action="append", default=[], help="another name that this machine is called by")
        parser.add_argument("--cert", default="", help="certificate file for https")
        parser.add_argument("--key", default="", help="its private key")
        parser.add_argument("--plain-http", action="store_true", help="no https, although others can listen in")
        parser.add_argument(
            "--proxy",
            action="append",
            default=[],
            help="address of a proxy in front, whose X-Forwarded-For is believed",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        collect_seldom()
        reach = Reach(options["host"], options["cert"], options["key"], options["plain_http"], tuple(options["name"]))
        if os.name != "nt":
            # database, key and logs are for this user alone
            os.umask(0o077)
        lock = FolderLock(settings.DATA)
        lock.take("starting")
        listener = listen(reach.host, options["port"])
        clear_unfinished(settings.DATA)
        told = bring_up_to_date(settings.DATA / "trelvo.sqlite3", timezone.now())
        said = [*told, *allow(reach)]
        if gone := remove_deleted():
            said.append(f"Removed for good: {gone} deleted campaign{'s' if gone > 1 else ''}.")
        if options["demo"]:
            call_command("load_demo")
        find_left_open(timezone.now())
        hold_after_stop()
        shown = reach.names[0] if reach.names else "127.0.0.1" if reach.host == "0.0.0.0" else reach.host
        address = f"{reach.scheme}://{shown}:{listener.getsockname()[1]}/"
        for line in said:
            self.stdout.write(line)
        lock.say(f"serving at {address}")
        self.stdout.write(
            f"Trelvo keeps its data in {settings.DATA}; what goes wrong is written to {settings.LOG_FILE}"
        )
        self.stdout.write(f"Trelvo is ready at {address}  (stop it with Ctrl+C)")
        self.stdout.flush()
        if not options["no_browser"]:
            threading.Timer(1.0, webbrowser.open, [address]).start()
        driver = Driver()
        thread = threading.Thread(target=driver.serve, name="simulator", daemon=True)
        thread.start()
        copying = DailyCopies(settings.DATA / "trelvo.sqlite3")
        copying.start()
        server = uvicorn.Server(server_config(reach, options["proxy"]))
        end_on_sigterm(server)
        with contextlib.suppress(KeyboardInterrupt):
            server.run(sockets=[listener])
        driver.stop()
        thread.join(timeout=5)
        copying.stop()
        merge_writes()
        lock.release()


def end_on_sigterm(server: uvicorn.Server) -> None:
    """End the server on SIGTERM, also where it comes before the server listens to signals itself.

    The server passes the signal that ended it on to this handler; what is left to do after it is done all the same.
    """
    signal.signal(signal.SIGTERM, lambda *_: setattr(server, "should_exit", True))


def server_config(reach: Reach, proxies: list[str]) -> uvicorn.Config:
    """How the server listens. proxies: addresses whose X-Forwarded-For names the caller; nobody else's is believed"""
    return uvicorn.Config(
        "trelvo.server.asgi:application",
        http=PromptHeaders,
        log_level="warning",
        lifespan="off",
        timeout_graceful_shutdown=1,
        ssl_certfile=reach.cert or None,
        ssl_keyfile=reach.key or None,
        proxy_headers=bool(proxies),
        forwarded_allow_ips=proxies or None,
    )


def collect_seldom() -> None:
    """What is loaded, and kept in memory later, are many small things that stay: to look them over again and again takes time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
    gc.enable()


def merge_writes() -> None:
    """Brings what is in the write-ahead log into the database, so that the one file is whole."""
    with contextlib.suppress(DatabaseError), connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()


def listen(host: str, port: int) -> socket.socket:
    """A listening socket, before anything else is done: from here on a caller waits instead of being refused."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    # where others could bind the same port too, it is taken for this server alone; elsewhere a restart need not wait for it
    if os.name == "nt":
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_EXCLUSIVEADDRUSE, 1)  # type: ignore[attr-defined,unused-ignore]
    else:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
        listener.listen()
    except OSError as trouble:
        raise CommandError(
            f"Port {port} cannot be used ({trouble.strerror}). Give another with --port N, or 0."
        ) from trouble
    return listener
