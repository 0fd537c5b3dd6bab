"""What is acknowledged is on the disk: the server's own system calls, seen by strace, between a request and its answer."""

import re
import subprocess
import time
import uuid
from contextlib import contextmanager

import pytest

from tests.server.process import Served

TURNED_TO_DISK = re.compile(r"^\d+ +(\d+\.\d+) (?:fdatasync|fsync)\(", re.MULTILINE)


@pytest.fixture
def server(tmp_path):
    with Served(tmp_path / "data") as running:
        yield running


@contextmanager
def traced(pid, file):
    """Write every fsync and fdatasync of a process and its threads to a file, with the time of each."""
    words = ["strace", "-f", "-ttt", "-e", "trace=fsync,fdatasync", "-p", str(pid), "-o", str(file)]
    with subprocess.Popen(words, stderr=subprocess.PIPE, text=True) as tracer:
        # it says so once it has attached
        for line in tracer.stderr:
            if "attached" in line:
                break
        try:
            yield
        finally:
            tracer.terminate()


def made(server):
    body = {
        "name": "Disk",
        "goal": "speed",
        "rig": {"name": "Bench", "build": {"parts": [{"role": "Graphics card", "name": "Card"}], "driver": "1.0"}},
        "knobs": [
            {"key": "core", "name": "Core clock", "unit": "MHz", "stock": 0, "step": 15, "low": -300, "high": 300}
        ],
        "workloads": [
            {"name": "Gorge", "measure": "frame rate", "unit": "fps", "higher_is_better": True, "minutes": 2}
        ],
    }
    return server.ask("/api/campaigns", body)


def timed(call):
    """When a call began and ended."""
    begun = time.time()
    call()
    return begun, time.time()


def test_a_typed_run_an_opening_and_an_end_are_on_the_disk_when_they_are_answered(server, tmp_path):
    campaign = made(server)
    base = f"/api/campaigns/{campaign['id']}"
    token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "desk"})["words"]
    opening = {
        "uid": str(uuid.uuid4()), "bench": "desk", "campaign_id": campaign["id"], "workload": "gorge",
        "channels": [{"name": "die", "quantity": "temperature"}],
    }  # fmt: skip
    run_id = server.ask("/api/bench/runs", opening, token=token)["run_id"]
    opening["uid"] = str(uuid.uuid4())

    def send(number):
        batch = {"sequence": number, "time_s": [number, number + 0.5], "values": {"die": [60, 61]}}
        return server.ask(f"/api/bench/runs/{run_id}/batches", batch, token)

    end = {"outcome": "completed", "value": 91.0}
    file = tmp_path / "calls"
    with traced(server.process.pid, file):
        waiting = [
            timed(lambda: server.ask(f"{base}/quick-line", {"line": "stock gorge 93.4 ok"})),
            timed(lambda: server.ask(f"{base}/quick-line", {"line": "core 30 gorge 95.1 ok"})),
            timed(lambda: server.ask("/api/bench/runs", opening, token)),
        ]
        sent = [timed(lambda number=number: send(number)) for number in range(1, 9)]
        waiting.append(timed(lambda: server.ask(f"/api/bench/runs/{run_id}/finish", end, token)))
    # strace has ended, so that all of it is written
    moments = [float(one) for one in TURNED_TO_DISK.findall(file.read_text())]

    def waits(span):
        return sum(span[0] <= at <= span[1] for at in moments)

    assert all(waits(span) for span in waiting)
    # readings come twice a second; the next thing that waits takes them along (a daily copy may fall into one of them)
    assert sum(waits(span) == 0 for span in sent) >= len(sent) / 2
