"""Uploads over the limit are refused before they are read; changes asked for from elsewhere are refused at all."""

import asyncio
import json
import select
import socket
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack

import pytest

from tests.server.process import Served
from trelvo.exchange.limits import FORM_BYTES, LOG_BYTES
from trelvo.server.bounds import ENVELOPE_BYTES, BoundedBodies, limit_for


def ask(path, chunks, headers=((b"transfer-encoding", b"chunked"),), stalls=False, admit=None):
    """Sends chunks through the wrapper to an application that reads everything; status, problems, bytes read.

    stalls: more is announced after the last chunk, and never comes
    """
    sent, read = [], []
    waiting = [
        {"type": "http.request", "body": chunk, "more_body": stalls or i < len(chunks) - 1}
        for i, chunk in enumerate(chunks)
    ]

    async def application(scope, receive, send):
        while True:
            message = await receive()
            read.append(len(message["body"]))
            if not message["more_body"]:
                break
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b"{}"})

    async def receive():
        if not waiting:
            await asyncio.sleep(3600)
        return waiting.pop(0)

    async def send(message):
        sent.append(message)

    scope = {"type": "http", "path": path, "headers": list(headers)}
    call = BoundedBodies(application, silent_s=0.05, admit=admit)(scope, receive, send)
    with ThreadPoolExecutor(1) as elsewhere:
        elsewhere.submit(asyncio.run, call).result()
    return sent[0]["status"], json.loads(sent[1]["body"]), sum(read)


def test_300_mb_announced_are_refused_without_reading_a_byte():
    size = str(300 * 1024 * 1024).encode()
    status, answer, read = ask("/api/runs/3/logs", [b"x"], [(b"content-length", size)])
    assert (status, read) == (413, 0)
    assert "300 MiB; the most that is taken here is 64 MiB" in answer["problems"][0]["what"]
    assert answer["problems"][0]["todo"]


def test_a_body_that_announces_nothing_is_cut_at_the_limit():
    chunk = b"x" * 1024 * 1024
    status, _, read = ask("/api/campaigns", [chunk] * 9)
    assert status == 413
    assert read <= FORM_BYTES + ENVELOPE_BYTES


def test_a_body_within_the_limit_passes():
    assert ask("/api/campaigns", [b"{}"], [(b"content-length", b"2")]) == (200, {}, 2)


def test_a_large_body_arrives_whole():
    status, _, read = ask("/api/logs/preview", [b"x" * 700_000] * 4)
    assert (status, read) == (200, 2_800_000)


def test_a_body_that_stalls_is_told_so_and_reaches_no_worker():
    status, answer, read = ask("/api/campaigns", [b'{"name": '], stalls=True)
    assert (status, read) == (408, 0)
    assert answer["problems"][0]["todo"] == "Send it again. Nothing was stored."


def test_stalled_uploads_freeze_nothing(tmp_path):
    """Twelve senders that go silent, more than there are workers; the thirteenth caller is answered all the same."""
    with Served(tmp_path) as server, ExitStack() as stalled:
        server.ask("/api/campaigns")
        lines = [stalled.enter_context(socket.create_connection(("127.0.0.1", server.port))) for _ in range(12)]
        for line in lines:
            line.sendall(b"POST /api/campaigns HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\n{")
        assert server.ask("/api/campaigns") == []
        # and not only once the silent ones were sent away
        assert select.select(lines, [], [], 0)[0] == []


@pytest.mark.parametrize(("path", "limit"), [("/api/logs/preview", LOG_BYTES), ("/api/campaigns", FORM_BYTES)])
def test_limits_by_address(path, limit):
    assert limit_for(path) == limit


@pytest.mark.django_db
def test_a_page_from_elsewhere_may_read_nothing_new_into_the_logbook(client):
    answer = client.post(
        "/api/rigs", {}, content_type="application/json", headers={"origin": "https://elsewhere.invalid"}
    )
    assert answer.status_code == 403
    assert "Trelvo's own pages" in answer.json()["problems"][0]["what"]
    own = client.post("/api/rigs", {}, content_type="application/json", headers={"origin": "http://testserver"})
    assert own.status_code == 422


@pytest.mark.django_db
def test_another_name_for_this_machine_is_refused(client):
    assert client.get("/api/health", headers={"host": "elsewhere.invalid"}).status_code == 400


def test_an_archive_may_be_as_large_as_a_copy():
    assert limit_for("/api/archive/plan") == limit_for("/api/archive/import") == limit_for("/api/copies/restore-file")
    assert limit_for("/api/campaigns/1/runs") < limit_for("/api/archive/plan")
