"""The agent, the server and the line between them, each a process of its own; killed, cut, and stopped."""

import os
import re
import signal
import subprocess
import sys
import time
import urllib.request

import pytest

from tests.drafts import read_of
from tests.server.process import ROOT, CutLine, Served, simulator_campaign, wait_for


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    with Served(tmp_path_factory.mktemp("served")) as running:
        yield running


@pytest.fixture
def bench(server, request):
    """A campaign of the test's own, on a rig of its own, with a token: tests share the server, never what it holds."""
    campaign, _, _ = simulator_campaign(server, request.node.name[:60])
    token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "desk"})["words"]
    return campaign["id"], token


def agent(address, bench, spool, *more):
    campaign, token = bench
    call = [
        sys.executable,
        "-m",
        "trelvo.agent",
        "--server",
        address,
        "--campaign",
        str(campaign),
        "--workload",
        "Kiln",
    ]
    call += ["--spool", str(spool), "--every", "0.1", "--tuning", "other", *more]
    environment = {**os.environ, "TRELVO_TOKEN": token, "PYTHONUNBUFFERED": "1"}
    return subprocess.Popen(
        call, cwd=ROOT, env=environment, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )  # fmt: skip


def opened(process):
    for line in process.stdout:
        if found := re.search(r"Run (\d+) is open", line):
            return int(found[1])
    raise AssertionError(f"the agent ended with {process.wait()}")


def times_of(server, run):
    """Times of the readings that are kept beside a run, and the run."""
    shown = server.ask(f"/api/runs/{run}")
    telemetry = next(series for series in shown["series"] if series["kind"] == "telemetry")
    points = server.ask(f"/api/series/{telemetry['id']}?most=20000")["channels"][0]["time_s"]
    return points, shown


def test_a_run_from_a_machine_and_the_file_that_another_program_writes(server, bench, tmp_path):
    log = tmp_path / "other.csv"
    log.write_text("when;Hot spot [°C];board W\n0;11,5;1\n")
    columns = ["--csv", str(log), "--column", "Hot spot [°C]=temperature", "--column", "board W=power"]
    process = agent(server.address, bench, tmp_path / "spool", "--minutes", "0.06", "--value", "5200", *columns)
    run = opened(process)
    with log.open("a") as file:
        for degrees in range(50, 80):
            file.write(f"1;{degrees},5;200\n")
            file.flush()
            time.sleep(0.1)
    said = process.communicate(timeout=300)[0]
    assert process.returncode == 0, said
    _, shown = times_of(server, run)
    assert (shown["outcome"], shown["value"], read_of(shown, "power_w")) == ("completed", 5200, pytest.approx(200))
    # what stood in the file before the run is not of the run
    assert 50 < read_of(shown, "temp_max_c") < 80
    assert list((tmp_path / "spool").iterdir()) == []


def test_a_machine_without_anything_but_python(server, bench, tmp_path):
    """The agent is fetched as one file and run without the packages that are installed here; its result is typed afterwards."""
    file = tmp_path / "trelvo-agent.pyz"
    with urllib.request.urlopen(f"{server.address}/api/bench/agent.pyz") as answer:
        file.write_bytes(answer.read())
    campaign, token = bench
    call = [sys.executable, "-I", "-S", str(file), "--server", server.address, "--campaign", str(campaign)]
    call += ["--workload", "Kiln", "--minutes", "0.05", "--every", "0.2", "--spool", str(tmp_path / "spool")]
    ran = subprocess.run(
        [*call, "--tuning", "processor"], cwd=tmp_path, env={**os.environ, "TRELVO_TOKEN": token}, timeout=300,
        stdin=subprocess.DEVNULL, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert ran.returncode == 0, ran.stdout + ran.stderr
    run = int(re.search(r"Run (\d+) is open", ran.stdout)[1])
    points, shown = times_of(server, run)
    assert (shown["outcome"], shown["value"]) == ("completed", None)
    assert len(points) > 5
    body = {"outcome": "completed", "value": 5012.0, "duration_s": shown["duration_s"], "why": ""}
    assert server.ask(f"/api/runs/{run}/correct", body)["value"] == 5012.0


def test_a_cut_line_loses_nothing(server, bench, tmp_path):
    line = CutLine(server.port)
    process = agent(f"http://127.0.0.1:{line.port}", bench, tmp_path, "--minutes", "0.25")
    run = opened(process)
    time.sleep(3)
    line.cut.set()
    cut_at = server.ask(f"/api/runs/{run}/live")["standing"]["elapsed_s"]
    wait_for(lambda: server.ask(f"/api/runs/{run}/live")["standing"]["state"] == "lost")
    line.cut.clear()
    said = process.communicate(timeout=300)[0]
    assert process.returncode == 0, said
    times, shown = times_of(server, run)
    assert shown["outcome"] == "completed"
    # readings from the time of the silence are there, as close together as the others
    during = [at for at in times if cut_at < at < cut_at + 5]
    assert len(during) > 25
    marks = [mark["text"] for mark in server.ask(f"/api/runs/{run}/live")["marks"]]
    assert any("No word from the bench" in text for text in marks)
    assert any("The bench is back" in text for text in marks)
    line.close()


def test_a_killed_agent_leaves_its_readings_and_a_question(server, bench, tmp_path):
    process = agent(server.address, bench, tmp_path, "--minutes", "5")
    run = opened(process)
    time.sleep(3)
    process.send_signal(signal.SIGKILL)
    process.communicate()
    own = {"campaign_id": bench[0], "run_id": run}

    def lost():
        known = [live for live in server.ask("/api/live") if live.items() >= own.items()]
        return [live for live in known if live["standing"]["state"] == "lost"]

    assert wait_for(lost)[0]["likely"]["outcome"] == "system crash"
    (left,) = tmp_path.glob("*.run")
    # a half-written line, as a crash leaves it
    with left.open("ab") as file:
        file.write(b'{"kind": "batches", "bo')
    again = agent(server.address, bench, tmp_path, "--send-only")
    said = again.communicate(timeout=300)[0]
    assert again.returncode == 0, said
    assert list(tmp_path.glob("*.run")) == []
    server.ask(f"/api/runs/{run}/live/end", {"outcome": "system crash"})
    times, shown = times_of(server, run)
    assert shown["outcome"] == "system crash"
    assert times[-1] > 1.5


def test_a_safety_limit_stops_the_machines_run_too(server, bench, tmp_path):
    campaign, _ = bench
    path = f"/api/campaigns/{campaign}/safety-limits"
    server.ask(path, {"safety_limits": [{"kind": "hours", "limit": 0.001, "channel": ""}]}, method="PUT")
    process = agent(server.address, bench, tmp_path, "--minutes", "5")
    run = opened(process)
    said = process.communicate(timeout=300)[0]
    server.ask(path, {"safety_limits": []}, method="PUT")
    assert process.returncode == 1
    assert "lasted longer than 0.001 h" in said
    assert server.ask(f"/api/runs/{run}")["outcome"] == "safety limit"


def test_a_server_that_is_away_starts_no_run(bench, tmp_path):
    process = agent("http://127.0.0.1:9", bench, tmp_path, "--minutes", "1")
    said = process.communicate(timeout=300)[0]
    assert process.returncode == 1
    assert "Not started: The server does not answer" in said
    assert list(tmp_path.glob("*.run")) == []
