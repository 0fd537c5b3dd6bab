"""The server is killed in the middle of live runs: the file stays whole, no run is lost, each is found and asked about.

`./run.py bench -k kill` does the same fifty times and counts what is missing.
"""

import os
import random
import sqlite3
import subprocess
import sys
import time
from contextlib import closing

from tests.server.process import ROOT, Served, simulator_campaign, wait_for
from trelvo.exchange.store.database_file import look_over


def killed_rounds(folder, rounds, seed):
    """Seconds of bench time that were missing after each kill, and what Trelvo asked about after each start."""
    chance, missing, asked = random.Random(seed), [], []
    with Served(folder) as server:
        campaign, stock, workloads = simulator_campaign(server)
        body = {"setting_id": stock, "workload_id": workloads["Kiln"], "speed": 1}
        for done in range(rounds):
            run = server.ask(f"/api/campaigns/{campaign['id']}/live", body)["run_id"]

            def elapsed(run=run):
                return server.ask(f"/api/runs/{run}/live")["standing"]["elapsed_s"]

            began = time.monotonic() - wait_for(elapsed)
            time.sleep(chance.uniform(0.0, 2.0))
            seen = elapsed()
            server.kill()
            lasted = time.monotonic() - began
            assert server.integrity() == ([("ok",)], [])
            server.start()
            lives = server.ask("/api/live")
            found = next(live for live in lives if live["run_id"] == run)
            assert server.ask(f"/api/campaigns/{campaign['id']}/runs")["total"] == done + 1
            assert found["standing"]["elapsed_s"] >= seen
            missing.append(lasted - found["standing"]["elapsed_s"])
            asked.append((found["standing"]["state"], found["likely"]["outcome"], len(lives)))
            if done % 2:
                for live in lives:
                    server.ask(f"/api/runs/{live['run_id']}/live/end", {"outcome": "connection lost"})
        runs = server.ask(f"/api/campaigns/{campaign['id']}/runs")["runs"]
        for number, run in enumerate(runs):
            # what had come in before the kill lies beside each run that was answered
            if run["live_state"] == "ended":
                assert run["series"][0]["rows"] > 0, number
    return missing, asked


def test_killed_in_the_middle_of_a_run(tmp_path):
    _, asked = killed_rounds(tmp_path, 2, seed=5)
    assert asked == [("lost", "connection lost", 1), ("lost", "connection lost", 2)]


def killed_copies(folder, rounds, seed):
    """Kills a copy being made, and one being restored, at any moment; what is then in the logbook, each time."""
    chance, held = random.Random(seed), []
    with Served(folder, "--demo") as server:
        whole = len(server.ask("/api/campaigns"))
    copy = folder / "whole.sqlite3"
    environment = {**os.environ, "TRELVO_DATA": str(folder)}

    def begin(*words):
        return subprocess.Popen(
            [sys.executable, "-m", "trelvo", *words],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )

    assert begin("backup", str(copy)).wait() == 0
    lasts = time.monotonic()
    assert begin("restore", str(copy), "--yes").wait() == 0
    lasts = time.monotonic() - lasts
    for done in range(rounds):
        words = ("restore", str(copy), "--yes") if done % 2 else ("backup", str(folder / "other.sqlite3"))
        process = begin(*words)
        time.sleep(chance.uniform(0.4, 1.0) * lasts)
        process.kill()
        process.wait()
        with closing(sqlite3.connect(folder / "trelvo.sqlite3")) as base:
            assert base.execute("PRAGMA integrity_check").fetchone() == ("ok",)
            held.append(base.execute("SELECT count(*) FROM logbook_campaign").fetchone()[0])
        other = folder / "other.sqlite3"
        # a copy is there whole, or not at all
        if other.exists():
            assert look_over(other, thorough=True).campaigns == whole
            other.unlink()
    with Served(folder) as server:
        left = [file.name for file in folder.rglob("*.unfinished")]
        assert (left, len(server.ask("/api/campaigns"))) == ([], whole)
    return whole, held


def test_a_copy_or_a_restore_that_is_killed_leaves_the_logbook_whole(tmp_path):
    whole, held = killed_copies(tmp_path, 6, 3)
    assert held == [whole] * 6
