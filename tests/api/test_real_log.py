"""A log of the very machine that runs this test goes through preview, check and storage like a user's own."""

import csv
import json
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.drafts import read_of, run_draft
from trelvo.logbook.commands.runs import log_run

SCRIPT = Path(__file__).resolve().parents[2] / "scripts" / "log_this_machine.py"


@pytest.fixture(scope="module")
def logs(tmp_path_factory):
    folder = tmp_path_factory.mktemp("logs")
    subprocess.run([sys.executable, SCRIPT, folder, "2"], check=True, timeout=300)
    return folder


def give(client, path, file, **fields):
    return client.post(path, {"file": SimpleUploadedFile(file.name, file.read_bytes()), **fields})


def test_frame_times_of_this_machine(client, campaign, stock, gorge, now, logs):
    run = log_run(campaign, stock, gorge, run_draft("completed", now), now)
    choice = give(client, "/api/logs/preview", logs / "frames.csv").json()["choice"]
    assert choice["kind"] == "frames"
    assert give(
        client, f"/api/runs/{run.pk}/logs", logs / "frames.csv", choice=json.dumps(choice), store=True, sure=True
    ).json()["stored"]
    run.refresh_from_db()
    rows = csv.DictReader((logs / "frames.csv").read_text().splitlines())
    times = [float(row["frame time ms"]) for row in rows]
    assert run.value == pytest.approx(1000 * len(times) / sum(times))
    assert read_of(run, "low_1_fps") <= run.value
    assert run.log_figures == ["duration_s", "frames", "value"]


def test_telemetry_of_this_machine(client, campaign, stock, gorge, now, logs):
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 60.0), now)
    choice = give(client, "/api/logs/preview", logs / "telemetry.csv").json()["choice"]
    assert choice["time_column"] == "elapsed s"
    assert ("load %", "load", "%") in [(one["header"], one["quantity"], one["unit"]) for one in choice["columns"]]
    answer = give(
        client, f"/api/runs/{run.pk}/logs", logs / "telemetry.csv", choice=json.dumps(choice), store=True, sure=True
    ).json()
    assert answer["stored"]
    assert 1 < answer["covers_s"] < 4
    assert 0 <= answer["summary"]["channels"]["load %"]["mean"] <= 100
