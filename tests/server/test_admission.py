"""Before sign-in: a large body is refused before any of it is read, and nothing of it is in memory or on the disk."""

import json
import os
import socket
import subprocess
import sys
import time
from contextlib import closing, suppress
from http.client import HTTPConnection
from pathlib import Path

import pytest

from tests.server.process import ROOT, Served
from tests.server.test_bounds import ask
from trelvo.core.problems import Problem
from trelvo.server.refusing import Refusal

MEBIBYTE = 1024 * 1024
PASSWORD = "long and odd enough"
LARGE = {"Content-Type": "multipart/form-data; boundary=x", "Content-Length": str(30 * MEBIBYTE)}


def test_what_is_not_admitted_is_not_read():
    async def refused(scope):
        return Refusal(401, Problem("account", "not_signed_in"))

    status, answer, read = ask("/api/logs/preview", [b"x" * MEBIBYTE] * 3, admit=refused)
    assert (status, answer["problems"][0]["where"], read) == (401, "account", 0)

    async def admitted(scope):
        return None

    assert ask("/api/logs/preview", [b"x" * MEBIBYTE] * 3, admit=admitted)[::2] == (200, 3 * MEBIBYTE)


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    folder = tmp_path_factory.mktemp("admission")
    environment = {**os.environ, "TRELVO_DATA": str(folder), "TRELVO_PASSWORD": PASSWORD}
    for words in (("ada",), ("ben", "--bench")):
        call = [sys.executable, "-m", "trelvo.server", "add_account", *words]
        subprocess.run(call, cwd=ROOT, env=environment, check=True, capture_output=True, timeout=300)
    with Served(folder, "--host", "0.0.0.0", "--plain-http") as running:
        yield running


def send_head(server, path, headers):
    """A line on which the head of a POST was sent, and nothing of its body."""
    line = socket.create_connection(("127.0.0.1", server.port), timeout=60)
    fields = "".join(f"{name}: {value}\r\n" for name, value in {"Host": "127.0.0.1", **headers}.items())
    line.sendall(f"POST {path} HTTP/1.1\r\n{fields}\r\n".encode())
    return line


def answer_of(line):
    """Status and body that come although the request's own body was never sent."""
    received = b""
    while piece := line.recv(65536):
        received += piece
    head, _, body = received.partition(b"\r\n\r\n")
    return int(head.split()[1]), body


def post(server, path, body):
    """Status and headers of a whole request without a cookie."""
    with closing(HTTPConnection("127.0.0.1", server.port, timeout=60)) as line:
        line.request("POST", path, json.dumps(body), {"Content-Type": "application/json"})
        answer = line.getresponse()
        answer.read()
        return answer.status, answer.headers


def sign_in(server, name):
    status, headers = post(server, "/api/session", {"name": name, "password": PASSWORD})
    assert status == 200
    return {"Cookie": headers["Set-Cookie"].split(";")[0]}


@pytest.mark.parametrize(
    ("path", "headers", "status"),
    [
        ("/api/runs/1/logs", LARGE, 401),
        ("/api/copies/restore-file", LARGE, 401),
        ("/api/session", {"Content-Length": str(MEBIBYTE)}, 413),
        ("/logbook", {"Content-Length": str(MEBIBYTE)}, 413),
        ("/api/bench/runs", {"Content-Length": str(MEBIBYTE), "Authorization": "Bearer of nothing"}, 401),
        # nothing announced: it may be of any size
        ("/api/runs/1/logs", {"Transfer-Encoding": "chunked"}, 401),
    ],
)
def test_strangers_are_answered_before_they_have_sent_anything(server, path, headers, status):
    with send_head(server, path, headers) as line:
        assert answer_of(line)[0] == status


def test_an_account_sends_what_its_role_allows(server):
    bench, owner = sign_in(server, "ben"), sign_in(server, "ada")
    with send_head(server, "/api/archive/import", {**LARGE, **bench}) as line:
        assert answer_of(line)[0] == 403
    for who, path in ((bench, "/api/logs/preview"), (owner, "/api/archive/import")):
        with send_head(server, path, {**LARGE, **who}) as line:
            line.sendall(b"x" * 100_000)
            # its body is waited for: no answer comes
            line.settimeout(1)
            with pytest.raises(TimeoutError):
                line.recv(100)


def test_small_bodies_of_strangers_are_refused_as_before(server):
    assert post(server, "/api/campaigns", {})[0] == 401


def open_files_bytes(server):
    """How much the server's open files hold that have no name any more, such as bodies on their way."""
    held = 0
    for one in Path(f"/proc/{server.process.pid}/fd").iterdir():
        with suppress(OSError):
            if str(one.readlink()).endswith("(deleted)"):
                held += one.stat().st_size
    return held


def test_six_strangers_of_30_mib_leave_nothing_on_the_disk(server):
    lines = [send_head(server, "/api/runs/1/logs", LARGE) for _ in range(6)]
    for _ in range(20):
        for line in lines:
            # answered and closed
            with suppress(OSError):
                line.sendall(b"x" * 100_000)
        time.sleep(0.01)
    assert open_files_bytes(server) < MEBIBYTE
    for line in lines:
        line.close()
