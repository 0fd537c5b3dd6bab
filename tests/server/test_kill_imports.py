"""Killed in the middle of taking something in: a log, a package, an older database. All of it is there afterwards, or nothing.

`./run.py bench -k kill` does the same fifty times each.
"""

import gzip
import json
import os
import random
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import closing, suppress
from pathlib import Path

import requests

from tests.server.process import ROOT, Served, simulator_campaign
from trelvo.exchange.store.database_file import look_over

ROWS = 60_000
OLD = Path(__file__).parents[1] / "kept" / "version-1.db.gz"


def killed_while(server, call, after_s):
    """Makes a call that the server does not live to answer, or just does."""

    def attempt():
        with suppress(requests.RequestException):
            call(server.address)

    thread = threading.Thread(target=attempt)
    thread.start()
    time.sleep(after_s)
    server.kill()
    thread.join()
    assert server.integrity() == ([("ok",)], [])


def took(call, address):
    begin = time.monotonic()
    assert call(address).status_code < 300
    return time.monotonic() - begin


def killed_logs(folder, rounds, seed):
    """By round: rows of the log that lie beside the run after the kill; 0 for none."""
    chance, found = random.Random(seed), []
    lines = (f"{i / 10},{60 + i % 7},{200 + i % 11}" for i in range(ROWS))
    data = "elapsed s,core temp °C,board power W\n" + "\n".join(lines)
    with Served(folder) as server:
        campaign, stock, workloads = simulator_campaign(server, real=True)

        def run():
            body = {"setting_id": stock, "workload_id": workloads["Kiln"], "outcome": "completed", "value": 93.0}
            return server.ask(f"/api/campaigns/{campaign['id']}/runs", body | {"duration_s": ROWS / 10, "sure": True})[
                "id"
            ]

        def sending(number):
            def call(address):
                # each round another file, so that none is known already
                files = {"file": ("log.csv", f"{data}\n{ROWS / 10},{number % 90},200\n".encode())}
                preview = requests.post(f"{address}/api/logs/preview", files=files, timeout=300).json()
                given = {"choice": json.dumps(preview["choice"]), "store": "true", "sure": "true"}
                return requests.post(f"{address}/api/runs/{number}/logs", files=files, data=given, timeout=300)

            return call

        first = run()
        lasts = took(sending(first), server.address)
        for _ in range(rounds):
            number = run()
            killed_while(server, sending(number), chance.uniform(0.4, 1.1) * lasts)
            server.start()
            shown = server.ask(f"/api/runs/{number}")
            found.append(shown["series"][0]["rows"] if shown["series"] else 0)
            # figures of the log come with the log, or not at all
            assert bool(shown["series"]) == bool(shown["figures"])
    return found


def killed_packages(folder, rounds, seed):
    """By round: campaigns and runs after the kill; what the package holds."""
    chance, found = random.Random(seed), []
    (folder / "from").mkdir()
    with Served(folder / "from", "--demo") as server:
        package = requests.get(f"{server.address}/api/archive.zip", timeout=300).content
        whole = (len(server.ask("/api/campaigns")), server.ask("/api/logbook")["total"])

    def call(address):
        return requests.post(f"{address}/api/archive/import", files={"file": ("all.zip", package)}, timeout=300)

    (folder / "timed").mkdir()
    with Served(folder / "timed") as server:
        lasts = took(call, server.address)
    for number in range(rounds):
        into = folder / f"into{number}"
        into.mkdir()
        with Served(into) as server:
            killed_while(server, call, chance.uniform(0.1, 1.05) * lasts)
            server.start()
            found.append((len(server.ask("/api/campaigns")), server.ask("/api/logbook")["total"]))
    return whole, found


def killed_migrations(folder, rounds, seed):
    """By round: runs and campaigns in the file after a kill in the middle of its migration and another start."""
    chance, found = random.Random(seed), []
    old = gzip.decompress(OLD.read_bytes())
    folder.mkdir(exist_ok=True)

    def laid(name):
        (folder / name).mkdir()
        (folder / name / "trelvo.sqlite3").write_bytes(old)
        return folder / name

    def held(into):
        with closing(sqlite3.connect(into / "trelvo.sqlite3")) as base:
            assert base.execute("PRAGMA integrity_check").fetchone() == ("ok",)
            return tuple(
                base.execute(f"SELECT count(*) FROM logbook_{one}").fetchone()[0] for one in ("run", "campaign")
            )

    whole = held(laid("whole"))
    begin = time.monotonic()
    with Served(laid("timed")):
        lasts = time.monotonic() - begin
    for number in range(rounds):
        into = laid(f"old{number}")
        call = [sys.executable, "-m", "trelvo", "serve", "--port", "0", "--no-browser"]
        process = subprocess.Popen(
            call, cwd=ROOT, env={**os.environ, "TRELVO_DATA": str(into)}, stdout=subprocess.DEVNULL
        )
        time.sleep(chance.uniform(0.3, 1.0) * lasts)
        process.kill()
        process.wait()
        assert held(into) == whole
        with Served(into) as server:
            assert len(server.ask("/api/campaigns")) == whole[1]
        look_over(into / "trelvo.sqlite3", thorough=True)
        found.append(held(into))
    return whole, found


def test_a_log_whose_import_is_killed_is_there_whole_or_not_at_all(tmp_path):
    assert set(killed_logs(tmp_path, 2, 2)) <= {0, ROWS + 1}


def test_a_package_whose_import_is_killed_is_taken_in_whole_or_not_at_all(tmp_path):
    whole, found = killed_packages(tmp_path, 1, 2)
    assert set(found) <= {whole, (0, 0)}


def test_a_migration_that_is_killed_loses_nothing_and_goes_on_at_the_next_start(tmp_path):
    whole, found = killed_migrations(tmp_path, 1, 2)
    assert found == [whole]
