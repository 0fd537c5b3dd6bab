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
        "rig": {"name": "Bench", "fitting": {"parts": [{"role": "Graphics card", "name": "Card"}], "driver": "1.0"}},
        "knobs": [
            {"key": "core", "name": "Core clock", "unit": "MHz", "stock": 0, "step": 15, "low": -300, "high": 300}
        ],
        "workloads": [
            {"name": "Gorge", "measure": "frame rate", "unit": "fps", "higher_is_better": True, "minutes": 2}
        ],
    }
    return server.ask("/api/campaigns", body)


def waited_for(file, calls):
    """By call, how often the disk was waited for between its beginning and its end."""
    with_times = []
    for call in calls:
        begun = time.time()
        call()
        with_times.append((begun, time.time()))
    time.sleep(0.3)
    moments = [float(one) for one in TURNED_TO_DISK.findall(file.read_text())]
    return [sum(begun <= at <= ended for at in moments) for begun, ended in with_times]


def test_a_typed_run_an_opening_and_an_end_are_on_the_disk_when_they_are_answered(server, tmp_path):
    campaign = made(server)
    base = f"/api/campaigns/{campaign['id']}"
    token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "desk"})["words"]
    opening = {
        "uid": str(uuid.uuid4()), "bench": "desk", "campaign_id": campaign["id"], "workload": "gorge",
        "channels": [{"name": "die", "quantity": "temperature"}],
    }  # fmt: skip
    run_id = server.ask("/api/bench/runs", opening, token=token)["run_id"]
    batch = {"sequence": 1, "time_s": [1, 1.5], "values": {"die": [60, 61]}}
    opening["uid"] = str(uuid.uuid4())
    file = tmp_path / "calls"
    with traced(server.process.pid, file):
        typed, quick, opened, sent, ended = waited_for(
            file,
            [
                lambda: server.ask(f"{base}/quick-line", {"line": "stock gorge 93.4 ok"}),
                lambda: server.ask(f"{base}/quick-line", {"line": "core 30 gorge 95.1 ok"}),
                lambda: server.ask("/api/bench/runs", opening, token=token),
                lambda: server.ask(f"/api/bench/runs/{run_id}/batches", batch, token=token),
                lambda: server.ask(
                    f"/api/bench/runs/{run_id}/finish", {"outcome": "completed", "value": 91.0}, token=token
                ),
            ],
        )
    assert min(typed, quick, opened, ended) >= 1
    # readings come twice a second; the next thing that waits takes them along
    assert sent == 0
