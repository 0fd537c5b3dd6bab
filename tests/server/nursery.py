"""Servers for tests, forked from a process that has loaded the program already: loading takes most of a start.

What is started is the program's own command with its own environment; the tests of the start itself start it again. As a script
it is that process: it reads calls from a socket, and ends with whoever has begun it.
"""

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
# the process of this test run: its input ends with the run, and it with that
_KEPT: list[subprocess.Popen[str]] = []


class Forked:
    """A process of the nursery, used as a `subprocess.Popen` with its output as text."""

    def __init__(self, words, environment):
        read, write = os.pipe()
        self._line = socket.socket(socket.AF_UNIX)
        self._line.connect(_nursery())
        call = json.dumps({"words": words, "environment": environment}).encode()
        with contextlib.closing(os.fdopen(write, "wb")):
            socket.send_fds(self._line, [len(call).to_bytes(4, "big")], [write])
            self._line.sendall(call)
        self.stdout = os.fdopen(read)
        self._said = b""
        self.pid = self._number(None)
        self.returncode = None

    def _number(self, timeout):
        """The next number that the nursery says: the process's own, then how it ended."""
        self._line.settimeout(timeout)
        while b"\n" not in self._said:
            more = self._line.recv(64)
            assert more, "the nursery has ended"
            self._said += more
        number, self._said = self._said.split(b"\n", 1)
        return int(number)

    def wait(self, timeout=None):
        if self.returncode is None:
            try:
                self.returncode = self._number(timeout)
            except TimeoutError as late:
                raise subprocess.TimeoutExpired("server", timeout) from late
            self._line.close()
        return self.returncode

    def poll(self):
        with contextlib.suppress(subprocess.TimeoutExpired):
            self.wait(0.01)
        return self.returncode

    def send_signal(self, number):
        if self.poll() is None:
            os.kill(self.pid, number)

    def terminate(self):
        self.send_signal(signal.SIGTERM)

    def kill(self):
        self.send_signal(signal.SIGKILL)


@cache
def _nursery():
    """The address of this test run's nursery."""
    address = str(Path(tempfile.mkdtemp(prefix="trelvo-nursery-")) / "line")
    environment = os.environ | {
        "TRELVO_DATA": tempfile.mkdtemp(prefix="trelvo-nursery-"),
        "DJANGO_SETTINGS_MODULE": "trelvo.server.settings",
    }
    call = [sys.executable, "-m", "tests.server.nursery", address]
    begun = subprocess.Popen(call, cwd=ROOT, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert begun.stdout is not None
    assert begun.stdout.readline() == "ready\n"
    _KEPT.append(begun)
    return address


def _serve(address):
    import django

    django.setup()
    # what an answer loads when it first needs it, every server would load for itself
    import ruptures  # noqa: F401

    import trelvo.server.management.commands.serve
    import trelvo.server.urls  # noqa: F401  all of the API

    listener = socket.socket(socket.AF_UNIX)
    listener.bind(address)
    listener.listen()
    print("ready", flush=True)
    threading.Thread(target=_until_left, daemon=True).start()
    while True:
        line, _ = listener.accept()
        head, files, _, _ = socket.recv_fds(line, 4, 1)
        call = json.loads(_exactly(line, int.from_bytes(head, "big")))
        pid = os.fork()
        if pid == 0:
            listener.close()
            line.close()
            _become(call, files[0])
        os.close(files[0])
        threading.Thread(target=_tell_end, args=(line, pid), daemon=True).start()


def _until_left():
    sys.stdin.read()
    os._exit(0)


def _exactly(line, size):
    found = b""
    while len(found) < size:
        found += line.recv(size - len(found))
    return found


def _tell_end(line, pid):
    with contextlib.suppress(OSError), line:
        line.sendall(f"{pid}\n".encode())
        ended = os.waitstatus_to_exitcode(os.waitpid(pid, 0)[1])
        line.sendall(f"{ended}\n".encode())


def _become(call, output):
    """The forked process: everything that hangs on the environment is rebuilt, then the command is run."""
    import importlib

    from django.conf import settings
    from django.core.management import execute_from_command_line
    from django.db import connections
    from django.utils.functional import empty
    from django.utils.log import configure_logging

    code = 1
    try:
        os.setsid()
        os.dup2(output, 1)
        sys.stdout = os.fdopen(1, "w")
        sys.stdin = open(os.devnull)  # noqa: SIM115, PTH123
        os.environ.clear()
        os.environ.update(call["environment"])
        importlib.reload(importlib.import_module(os.environ["DJANGO_SETTINGS_MODULE"]))
        for name in [name for name in settings.__dict__ if name.isupper()]:
            del settings.__dict__[name]
        settings._wrapped = empty
        configure_logging(settings.LOGGING_CONFIG, settings.LOGGING)
        for alias in connections:
            with contextlib.suppress(AttributeError):
                del connections[alias]
        # what it knows of databases, it has from the settings before
        vars(connections).update(_settings=None)
        vars(connections).pop("settings", None)
        execute_from_command_line(call["words"])
        code = 0
    except SystemExit as end:
        code = end.code if isinstance(end.code, int) else int(bool(end.code))
    finally:
        with contextlib.suppress(Exception):
            sys.stdout.flush()
        os._exit(code)


if __name__ == "__main__":
    _serve(sys.argv[1])
