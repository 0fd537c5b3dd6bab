"""Live runs under load, killed and cut; run by ./run.py bench -k live (or kill, cut, ingest, six_hours)."""

import concurrent.futures
import os
import statistics
import subprocess
import sys
import threading
import time
import uuid

import numpy as np
import psutil
from playwright.sync_api import sync_playwright

from studies.test_speed import median_s
from tests.e2e.conftest import CHROMIUM
from tests.server.process import ROOT, CutLine, Served, ask, simulator_campaign
from tests.server.test_agent_and_server import agent, opened, times_of
from tests.server.test_kill import killed_copies, killed_rounds
from tests.server.test_kill_imports import ROWS, killed_logs, killed_migrations, killed_packages

BENCHES, EVERY_S, CHANNELS, BATCH_S, LASTS_S = 20, 0.1, 12, 0.5, 30.0
KILLS, CUT_S, CLOSE_S = (50, 120, 9000)


def test_kill_fifty_times(benchmark, tmp_path):
    missing, asked = benchmark.pedantic(killed_rounds, (tmp_path, KILLS, 1), rounds=1)
    print(
        f"kill -9, {len(missing)} times: bench time missing median {statistics.median(missing):.2f} s, "
        f"most {max(missing):.2f} s; "
        f"every run found and asked about: {all(state == 'lost' for state, _, _ in asked)}"
    )
    assert len(asked) == KILLS
    assert {state for state, _, _ in asked} == {"lost"}
    assert max(missing) <= 2.0


def test_kill_copies_and_restores_fifty_times(benchmark, tmp_path):
    whole, held = benchmark.pedantic(killed_copies, (tmp_path, 2 * KILLS, 1), rounds=1)
    print(
        f"kill -9 in a copy and in a restore, {KILLS} times each: {sum(one != whole for one in held)} logbooks not whole"
    )
    assert held == [whole] * len(held)
    assert len(held) == 2 * KILLS


def test_kill_imports_fifty_times(benchmark, tmp_path):
    found = benchmark.pedantic(killed_logs, (tmp_path, KILLS, 1), rounds=1)
    whole = sum(rows > 0 for rows in found)
    print(f"kill -9 in the import of a log, {KILLS} times: {whole} whole, {KILLS - whole} not there, none half")
    assert set(found) <= {0, ROWS + 1}


def test_kill_packages_fifty_times(benchmark, tmp_path):
    whole, found = benchmark.pedantic(killed_packages, (tmp_path, KILLS, 1), rounds=1)
    print(
        f"kill -9 in the import of a package, {KILLS} times: {found.count(whole)} whole, {found.count((0, 0))} not there"
    )
    assert set(found) <= {whole, (0, 0)}


def test_kill_migrations_fifty_times(benchmark, tmp_path):
    whole, found = benchmark.pedantic(killed_migrations, (tmp_path, KILLS, 1), rounds=1)
    print(f"kill -9 in a migration, {KILLS} times: {found.count(whole)} whole after the next start")
    assert found == [whole] * KILLS


def test_cut_for_two_minutes(benchmark, tmp_path):
    def cut():
        with Served(tmp_path) as server:
            campaign, _, _ = simulator_campaign(server, "Desk")
            token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "desk"})["words"]
            line = CutLine(server.port)
            address = f"http://127.0.0.1:{line.port}"
            process = agent(address, (campaign["id"], token), tmp_path / "spool", "--minutes", str((CUT_S + 30) / 60))
            run = opened(process)
            time.sleep(5)
            line.cut.set()
            time.sleep(CUT_S)
            line.cut.clear()
            assert process.wait(timeout=120) == 0
            line.close()
            process.stdout.close()
            return times_of(server, run)

    times, shown = benchmark.pedantic(cut, rounds=1)
    gaps = np.diff(times)
    print(
        f"line cut for {CUT_S} s: {len(times)} readings in {CUT_S + 30} s at 10 a second, longest gap {gaps.max():.2f} s, "
        f"{shown['outcome']}"
    )
    assert shown["outcome"] == "completed"
    assert len(times) > 8 * (CUT_S + 30)
    assert times[-1] > CUT_S + 29


def feed(address, token, run, stop):
    """One bench: ten readings a second of twelve channels, sent twice a second in step with the clock; the last sequence."""
    began, sequence = time.time(), 0
    while not stop.is_set():
        sequence += 1
        until = began + sequence * BATCH_S
        time.sleep(max(0.0, until - time.time()))
        at = [round((sequence - 1) * BATCH_S + i * EVERY_S, 3) for i in range(int(BATCH_S / EVERY_S))]
        values = {f"channel {n}": [60.0 + n] * len(at) for n in range(CHANNELS - 1)}
        # when each reading was made, for the reader at the other end to compare with his own clock
        values["made"] = [(began + one) * 1000 for one in at]
        ask(f"{address}/api/bench/runs/{run}/batches", {"sequence": sequence, "time_s": at, "values": values}, token)
    return sequence


READ_LAG = """([run, seconds]) => new Promise((done) => {
  const lags = []
  const source = new EventSource(`/api/runs/${run}/stream`)
  source.addEventListener('news', (event) => {
    const made = JSON.parse(event.data).points.find((channel) => channel.name === 'made')
    if (made && made.values.length) lags.push(Date.now() - made.values.at(-1))
  })
  setTimeout(() => { source.close(); done(lags) }, seconds * 1000)
})"""


def test_live_twenty_benches_at_once(benchmark, tmp_path):
    def load():
        with Served(tmp_path) as server:
            campaign, _, _ = simulator_campaign(server, "Many")
            token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "many"})["words"]
            channels = [{"name": f"channel {n}", "quantity": "temperature"} for n in range(CHANNELS - 1)]
            channels.append({"name": "made", "quantity": "other", "unit": "ms"})
            runs = [
                server.ask(
                    "/api/bench/runs",
                    {"uid": str(uuid.uuid4()), "bench": f"bench {n}", "campaign_id": campaign["id"], "workload": "Kiln",
                     "channels": channels},
                    token,
                )["run_id"]
                for n in range(BENCHES)
            ]  # fmt: skip
            stop, process = threading.Event(), psutil.Process(server.process.pid)
            with concurrent.futures.ThreadPoolExecutor(BENCHES) as pool, sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
                page = browser.new_page()
                page.goto(server.address)
                feeds = [pool.submit(feed, server.address, token, run, stop) for run in runs]
                time.sleep(3)
                before, begin = sum(process.cpu_times()[:2]), time.monotonic()
                lags = page.evaluate(READ_LAG, [runs[0], LASTS_S])
                cpu = (sum(process.cpu_times()[:2]) - before) / (time.monotonic() - begin)
                stop.set()
                sent = [one.result() for one in feeds]
                browser.close()
            kept = []
            for run, count in zip(runs, sent, strict=True):
                server.ask(f"/api/bench/runs/{run}/finish", {"outcome": "completed"}, token)
                kept.append((server.ask(f"/api/runs/{run}")["series"][0]["rows"], count * int(BATCH_S / EVERY_S)))
            return lags, cpu, kept

    lags, cpu, kept = benchmark.pedantic(load, rounds=1)
    p95 = float(np.percentile(lags, 95)) / 1000
    print(
        f"{BENCHES} benches, {1 / EVERY_S:.0f} readings a second, {CHANNELS} channels: {sum(rows for rows, _ in kept)} of "
        f"{sum(rows for _, rows in kept)} readings kept; browser's lag median {np.median(lags) / 1000:.2f} s, p95 {p95:.2f} s "
        f"({len(lags)} events, of which {BATCH_S} s is the batch); server {cpu:.2f} of a core"
    )
    assert all(rows == sent for rows, sent in kept)
    assert p95 < 1.0
    assert cpu < 1.0


def test_ingest_against_a_bare_insert(benchmark, tmp_path):
    """Per batch of five readings: the protocol's service, against one INSERT of the same bytes in a transaction of its own."""

    def measure():
        call = [sys.executable, "-m", "studies.ingest"]
        ran = subprocess.run(
            call, cwd=ROOT, env={**os.environ, "TRELVO_DATA": str(tmp_path)}, capture_output=True, text=True
        )
        assert ran.returncode == 0, ran.stderr
        return map(float, ran.stdout.split())

    ours, plain = benchmark.pedantic(measure, rounds=1)
    print(
        f"ingest: {ours:.0f} µs a batch of 5 × {CHANNELS} readings, bare SQLite insert of the same bytes {plain:.0f} µs "
        f"(both into a file, WAL), ratio {ours / plain:.0f}"
    )


# from the moment the page asks for the series to the moment all charts in sight stand; the rest is drawn on the way down
READ_DRAWN = """() => new Promise((done) => {
  const look = () => {
    const asked = performance.getEntriesByType('resource').find((entry) => entry.name.includes('/api/series/'))
    const all = [...document.querySelectorAll("figure")]
    const inSight = all.filter((one) => one.getBoundingClientRect().top < innerHeight)
    const drawn = inSight.length && inSight.every((one) => one.querySelector('svg path[fill=none][d*=L]'))
    if (asked && drawn) requestAnimationFrame(() => done(performance.now() - asked.startTime))
    else setTimeout(look, 10)
  }
  look()
})"""


def test_six_hours_as_a_chart(benchmark, tmp_path):
    """12 channels at 10 Hz for six hours: what the server takes, and when the browser has drawn them."""
    with Served(tmp_path) as server:
        campaign, _, _ = simulator_campaign(server, "Long")
        token = server.ask(f"/api/rigs/{campaign['rig_id']}/bench-tokens", {"name": "long"})["words"]
        channels = [{"name": f"channel {n}", "quantity": "temperature"} for n in range(12)]
        opening = {
            "uid": str(uuid.uuid4()),
            "bench": "long",
            "campaign_id": campaign["id"],
            "workload": "Kiln",
            "minutes": 360,
            "channels": channels,
        }
        run = server.ask("/api/bench/runs", opening, token)["run_id"]
        rng, rows = np.random.default_rng(1), 216_000
        table = np.round(60 + np.cumsum(rng.normal(0, 0.02, (rows, 12)), axis=0).clip(-30, 30), 2)
        for number, start in enumerate(range(0, rows, 5000), 1):
            part = table[start : start + 5000]
            body = {
                "sequence": number,
                "time_s": [round((start + i) / 10, 1) for i in range(len(part))],
                "values": {f"channel {n}": part[:, n].tolist() for n in range(12)},
            }
            server.ask(f"/api/bench/runs/{run}/batches", body, token)
        server.ask(f"/api/bench/runs/{run}/finish", {"outcome": "completed"}, token)
        series = server.ask(f"/api/runs/{run}")["series"][0]["id"]
        whole = benchmark.pedantic(lambda: server.ask(f"/api/series/{series}?most=1000"), rounds=5, warmup_rounds=1)
        seconds = median_s(lambda: server.ask(f"/api/series/{series}?most=1000"))
        close = median_s(lambda: server.ask(f"/api/series/{series}?from_s={CLOSE_S}&to_s={CLOSE_S + 60}"))
        detail = server.ask(f"/api/series/{series}?from_s={CLOSE_S}&to_s={CLOSE_S + 60}")["channels"][0]["time_s"]
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
            page = browser.new_page()
            drawn = []
            for _ in range(4):
                page.goto(server.address)
                page.goto(f"{server.address}/runs/{run}")
                drawn.append(page.evaluate(READ_DRAWN) / 1000)
            browser.close()
    points = len(whole["channels"][0]["values"])
    print(
        f"six hours, 12 × {rows} readings: server {seconds * 1000:.0f} ms for {points} points a channel, {close * 1000:.0f} ms "
        f"for a minute in full detail ({len(detail)} points); charts drawn {min(drawn):.2f} to {max(drawn):.2f} s after "
        "the page asked for the series"
    )
    assert len(detail) >= 600
    assert min(drawn) < 1.0
