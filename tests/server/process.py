"""The real server in its own process, to be killed and started again; and a line to it that can be cut."""

import itertools
import json
import os
import re
import select
import signal
import socket
import sqlite3
import subprocess
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from functools import cache
from pathlib import Path
from typing import Any

from tests.server.nursery import Forked
from tests.server.templates import fill

ROOT = Path(__file__).resolve().parents[2]
# Ports of servers that have ended. The next takes one of them: to the browser it is the same place, with its screens compiled.
_ports: list[int] = []
# Below those that the system gives to whoever asks, so that nobody else comes to one in between.
FIRST_PORT, RANGE, RANGES = 20_000, 100, 100
_held: list[socket.socket] = []


@cache
def _own_range() -> Iterator[int]:
    """Ports that no other test run on this machine takes: who listens at the first of a hundred has the others."""
    for first in range(FIRST_PORT, FIRST_PORT + RANGE * RANGES, RANGE):
        with suppress(OSError):
            _held.append(socket.create_server(("127.0.0.1", first)))
            return itertools.count(first + 1)
    raise AssertionError("every range of ports is taken")


def _port() -> int:
    """A port that nobody listens at, the last one that was left where there is one."""
    while True:
        port = _ports.pop() if _ports else next(_own_range())
        with suppress(OSError), socket.create_server(("127.0.0.1", port)):
            return port


class Served:
    """One data folder, one port; start, kill, start again."""

    def __init__(self, folder, *more):
        self.folder, self.more, self.port = folder, more, 0
        self.process: Any = None

    def start(self):
        fill(Path(self.folder), demo="--demo" in self.more)
        self.port = self.port or _port()
        words = ["trelvo", "serve", "--port", str(self.port), "--no-browser", *self.more]
        environment = {
            **os.environ,
            "TRELVO_DATA": str(self.folder),
            "DJANGO_SETTINGS_MODULE": "trelvo.server.settings",
        }
        self.process = Forked(words, environment)
        for line in self.process.stdout:
            if found := re.search(r"ready at https?://\S+:(\d+)/", line):
                self.port = int(found[1])
                return self
        raise AssertionError(f"the server ended with {self.process.wait()} before it was ready")

    @property
    def address(self):
        return f"http://127.0.0.1:{self.port}"

    def kill(self):
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.process.stdout.close()

    def integrity(self):
        """What SQLite says of the file that the kill left behind."""
        with sqlite3.connect(self.folder / "trelvo.sqlite3") as file:
            answer = file.execute("PRAGMA integrity_check").fetchall()
            broken = file.execute("PRAGMA foreign_key_check").fetchall()
        file.close()
        return answer, broken

    def ask(self, path, body=None, token=None, method=None):
        return ask(self.address + path, body, token, method)

    def __enter__(self):
        return self.start()

    def __exit__(self, *trouble):
        if self.process.poll() is None:
            self.process.terminate()
            with suppress(subprocess.TimeoutExpired):
                self.process.wait(timeout=20)
        if self.process.poll() is None:
            self.process.kill()
            self.process.wait()
        self.process.stdout.close()
        _ports.append(self.port)


@contextmanager
def serving(folder, *more):
    """The address of a server that runs as long as it is looked at."""
    with Served(folder, *more) as server:
        yield server.address


def ask(url, body=None, token=None, method=None):
    """The answer's JSON; an answer of refusal raises."""
    headers = {"Content-Type": "application/json"} | ({"Authorization": f"Bearer {token}"} if token else {})
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url, data, headers, method=method or ("GET" if body is None else "POST"))
    with urllib.request.urlopen(request, timeout=300) as answer:
        return json.loads(answer.read() or b"null")


def simulator_campaign(server, name="Up", seed=71, real=False):
    """A campaign on a fresh simulator card, or on a real one: its number, stock setting and workloads by name."""
    dome = next(kind for kind in server.ask("/api/simulator") if kind["key"] == "dome")
    campaign = server.ask(
        "/api/campaigns",
        {
            "name": name,
            "goal": "speed",
            "rig": {"name": f"{name} rig", "build": {}}
            | ({} if real else {"simulator": "dome", "simulator_seed": seed}),
            "knobs": dome["knobs"],
            "workloads": dome["workloads"],
        },
    )
    settings = server.ask(f"/api/campaigns/{campaign['id']}/settings")
    return campaign, settings[0]["id"], {one["name"]: one["id"] for one in campaign["workloads"]}


def wait_for(what, at_most_s=300.0):
    """The first true answer of `what`, asked again and again."""
    until = time.monotonic() + at_most_s
    while time.monotonic() < until:
        with suppress(urllib.error.URLError, ConnectionError):
            if found := what():
                return found
        time.sleep(0.1)
    raise AssertionError(f"not within {at_most_s} s")


class CutLine:
    """A line to the server that can be cut: nothing gets through, and nobody is told."""

    def __init__(self, port):
        self.target, self.cut, self._stop = port, threading.Event(), threading.Event()
        self.listener = socket.create_server(("127.0.0.1", 0))
        self.port = self.listener.getsockname()[1]
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def _serve(self):
        while not self._stop.wait(0.02):
            if select.select([self.listener], [], [], 0.1)[0]:
                near, _ = self.listener.accept()
                threading.Thread(target=self._carry, args=(near,), daemon=True).start()

    def _carry(self, near):
        with near, suppress(OSError):
            if self.cut.is_set():
                return
            with socket.create_connection(("127.0.0.1", self.target), timeout=300) as far:
                while not self.cut.is_set():
                    for source in select.select([near, far], [], [], 0.1)[0]:
                        data = source.recv(65536)
                        if not data:
                            return
                        (far if source is near else near).sendall(data)

    def close(self):
        self._stop.set()
        self._thread.join()
        self.listener.close()
