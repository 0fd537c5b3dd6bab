"""Screens that follow a run come and go in bursts: their number is bounded, the server answers, and nothing of them stays."""

import concurrent.futures
import socket
import time
import urllib.request
import uuid
from pathlib import Path

import psutil
import pytest

from tests.server.process import Served, simulator_campaign

BURST, MOST, BURSTS = 160, 100, 3
# Threads that answer requests or read for streams: eight, two, and those that the framework keeps.
CONNECTIONS = 16


@pytest.fixture
def followed(tmp_path):
    """A server, and a run of an hour that goes on: twelve channels, ten times a second."""
    with Served(tmp_path) as server:
        campaign, _, _ = simulator_campaign(server, "Followed")
        token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "desk"})["words"]
        channels = [{"name": f"channel {n}", "quantity": "temperature"} for n in range(12)]
        opening = {
            "uid": str(uuid.uuid4()), "bench": "long", "campaign_id": campaign["id"], "workload": "Kiln", "minutes": 360,
            "channels": channels,
        }  # fmt: skip
        run = server.ask("/api/bench/runs", opening, token)["run_id"]
        for number in range(1, 8):
            at = [round((number - 1) * 500 + i / 10, 1) for i in range(5000)]
            values = {f"channel {n}": [60.0 + n] * 5000 for n in range(12)}
            server.ask(f"/api/bench/runs/{run}/batches", {"sequence": number, "time_s": at, "values": values}, token)
        yield server, run


def follow(port, run):
    """A stream that was asked for: its socket, and the status that was answered."""
    line = socket.create_connection(("127.0.0.1", port), timeout=60)
    line.sendall(f"GET /api/runs/{run}/stream HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode())
    head = line.recv(4096)
    return line, int(head.split(b" ", 2)[1])


def health_s(server):
    began = time.monotonic()
    with urllib.request.urlopen(f"{server.address}/api/health", timeout=60) as answer:
        assert answer.status == 200
    return time.monotonic() - began


def open_databases(pid):
    return sum("trelvo.sqlite3" in str(one.readlink()) for one in Path(f"/proc/{pid}/fd").iterdir() if one.exists())


def watched(process):
    """How many lines to the server are still open on its side."""
    return sum(one.status in ("ESTABLISHED", "CLOSE_WAIT") for one in process.net_connections("tcp"))


def test_bursts_of_screens_are_bounded_and_leave_nothing(followed):
    server, run = followed
    process = psutil.Process(server.process.pid)
    memory, slowest = [], 0.0
    for _ in range(BURSTS):
        with concurrent.futures.ThreadPoolExecutor(BURST) as pool:
            lines = list(pool.map(lambda _: follow(server.port, run), range(BURST)))
        statuses = [status for _, status in lines]
        assert (statuses.count(200), statuses.count(422)) == (MOST, BURST - MOST)
        slowest = max(slowest, health_s(server))
        # a connection has up to three files (the database, its log of writes, what they share), and no stream has one
        assert open_databases(process.pid) <= 3 * CONNECTIONS
        for line, _ in lines:
            line.close()
        # who has left is noticed, and the places are free again
        deadline = time.monotonic() + 60
        while watched(process):
            assert time.monotonic() < deadline
            time.sleep(0.2)
        memory.append(process.memory_info().rss / 1e6)
    print(f"memory after each burst, MB: {[round(one) for one in memory]}; health at most {slowest:.2f} s", flush=True)
    assert memory[-1] - memory[0] < 50
