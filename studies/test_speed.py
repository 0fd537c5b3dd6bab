"""Speed as ratios to a floor in the same run; run by ./run.py bench."""

import io
import os
import statistics
import subprocess
import sys
import time

import numpy as np
import polars as pl
import pytest
from django.db import connection
from django.test import Client
from playwright.sync_api import sync_playwright

from studies.large import RUNS, build_large
from tests.e2e.conftest import CHROMIUM
from tests.server.process import ROOT, serving
from trelvo.exchange.logs.drafting import draft_log
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.long_format import read_any_table


def median_s(call, rounds=7):
    times = []
    for _ in range(rounds):
        begin = time.perf_counter()
        call()
        times.append(time.perf_counter() - begin)
    return statistics.median(times)


def medians_s(*calls, rounds=15):
    """Medians of several calls made in turn, so that a machine that slows down slows all of them."""
    times = [[] for _ in calls]
    for _ in range(rounds):
        for call, found in zip(calls, times, strict=True):
            found.append(median_s(call, rounds=1))
    return [statistics.median(found) for found in times]


@pytest.fixture
def large(db):
    return build_large()


def test_compare_over_ten_thousand_runs(benchmark, large):
    campaign, settings = large
    step = len(settings) // 8
    chosen = ",".join(str(setting.pk) for setting in settings[step : 7 * step : step])
    client = Client()

    def ask():
        return client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={chosen}")

    def floor():
        with connection.cursor() as cursor:
            cursor.execute("SELECT * FROM logbook_run WHERE campaign_id = %s", [campaign.pk])
            return cursor.fetchall()

    assert len(ask().json()["versus"]["candidates"]) == 6
    benchmark.pedantic(ask, rounds=7, warmup_rounds=1)
    seconds, plain = medians_s(ask, floor)
    print(
        f"compare: {seconds * 1000:.0f} ms, plain SQL read of the same rows {plain * 1000:.0f} ms, ratio {seconds / plain:.2f}"
    )
    assert seconds / plain <= 5


def test_logbook_over_a_hundred_thousand_runs(benchmark, db):
    for number in range(10):
        build_large(f"Large {number}")
    client = Client()
    questions = {
        "newest": "/api/logbook",
        "far page": "/api/logbook?start=90000",
        "sorted by power": "/api/logbook?sort=power_w",
        "one workload": "/api/logbook?text=load 7",
    }
    assert client.get(questions["newest"]).json()["total"] == 10 * RUNS
    benchmark.pedantic(client.get, args=(questions["newest"],), rounds=5, warmup_rounds=1)

    def floor():
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*), max(value) FROM logbook_run")
            return cursor.fetchall()

    plain = median_s(floor)
    for name, path in questions.items():
        seconds = median_s(lambda path=path: client.get(path))
        print(f"logbook, {name}: {seconds * 1000:.0f} ms, {seconds / plain:.0f} times a plain pass over the runs")
        assert seconds < 0.3


def six_hours(rng):
    rows = 216_000
    return pl.DataFrame(
        {
            "elapsed s": np.arange(rows) / 10,
            **{f"channel {i} temp": np.round(rng.normal(60, 5, rows), 1) for i in range(12)},
        }
    )


def half_a_million_frames(rng):
    return pl.DataFrame({"ms": np.round(rng.gamma(60, 0.18, 540_000), 3)})


@pytest.mark.parametrize("log", [six_hours, half_a_million_frames])
def test_log_import_against_polars(benchmark, log):
    frame = log(np.random.default_rng(1))
    data = frame.write_csv().encode()

    def take():
        table = read_any_table(data)
        choice = guess_choice(table).choice
        # of twelve temperatures the first counts, as the user says once
        for place, column in enumerate(choice.columns):
            column.tells = place == 0
        return draft_log(table, choice, "long.csv", "frame rate")

    def floor():
        return pl.read_csv(io.BytesIO(data))

    assert take().rows == frame.height
    benchmark.pedantic(take, rounds=3, warmup_rounds=1)
    seconds, plain = median_s(take, 3), median_s(floor, 3)
    print(
        f"{log.__name__}, {len(data) / 1e6:.0f} MB: import {seconds:.2f} s, polars alone {plain:.3f} s, "
        f"ratio {seconds / plain:.1f}"
    )


# when the first setting stands on the page, and how long after the answers that it is drawn from
WHEN_DRAWN = """new MutationObserver(() => {
    if (!window.drawnAt && document.querySelector('[data-test=setting]')) window.drawnAt = performance.now()
}).observe(document, {subtree: true, childList: true})"""
SINCE_THE_ANSWERS = """() => window.drawnAt - Math.max(...performance.getEntriesByType('resource')
    .filter(one => /\\/(climb|ladder)(\\?|$)/.test(one.name) && one.responseEnd <= window.drawnAt)
    .map(one => one.responseEnd))"""


def test_pages_over_ten_thousand_runs(benchmark, tmp_path):
    """From asking for the address to the page being usable, in Chromium on this machine."""
    environment = {**os.environ, "TRELVO_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "trelvo.server.settings"}
    subprocess.run([sys.executable, "-m", "studies.large"], cwd=ROOT, env=environment, check=True)
    with serving(tmp_path) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})

        def until(path, selector):
            begin = time.perf_counter()
            page.goto(address + path)
            page.locator(selector).first.wait_for()
            return time.perf_counter() - begin

        views = {
            "/campaigns/1/compare": "[data-test=overall]",
            "/campaigns/1/climb": "[data-test=setting]",
            "/campaigns/1/baseline": "[data-test=mean]",
        }
        found = {path: statistics.median(until(path, selector) for _ in range(5)) for path, selector in views.items()}
        page.add_init_script(WHEN_DRAWN)
        drawn = []
        for _ in range(5):
            until("/campaigns/1/climb", "[data-test=setting]")
            drawn.append(page.evaluate(SINCE_THE_ANSWERS) / 1000)
        benchmark.pedantic(until, args=("/campaigns/1/compare", "[data-test=overall]"), rounds=3)
        browser.close()
    for path, seconds in found.items():
        print(f"page {path}: usable after {seconds:.2f} s")
    print(f"climb of 400 settings: drawn {statistics.median(drawn):.2f} s after its answers came")
    assert found["/campaigns/1/compare"] < 1.5
    assert statistics.median(drawn) < 1
