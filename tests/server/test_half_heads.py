"""Requests whose head does not come to its end are dropped; whoever sends whole ones is served as before."""

import socket
import time

import pytest

from tests.server.process import Served

HEAD = b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\n"


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    with Served(tmp_path_factory.mktemp("heads")) as running:
        yield running


def until_closed_s(line, each=b""):
    """Seconds until the server closes a line that sends something now and then."""
    began = time.monotonic()
    line.settimeout(1)
    while time.monotonic() - began < 120:
        try:
            if each:
                line.sendall(each)
            if line.recv(100) == b"":
                return time.monotonic() - began
        except TimeoutError:
            continue
        except OSError:
            return time.monotonic() - began
    raise AssertionError("still open after two minutes")


@pytest.mark.parametrize(("first", "each"), [(b"", b""), (HEAD, b""), (HEAD, b"X-Slow: 1\r\n")])
def test_a_head_that_does_not_come_is_not_waited_for(server, first, each):
    line = socket.create_connection(("127.0.0.1", server.port))
    line.sendall(first)
    assert until_closed_s(line, each) > 5
    line.close()


def test_whole_heads_one_after_the_other_are_answered(server):
    with socket.create_connection(("127.0.0.1", server.port), timeout=60) as line:
        for _ in range(3):
            line.sendall(HEAD[:20])
            time.sleep(0.1)
            line.sendall(HEAD[20:] + b"\r\n")
            answer = b""
            while not answer.endswith(b"0\r\n\r\n"):
                answer += line.recv(65536)
            assert answer.startswith(b"HTTP/1.1 200")
