"""Speed as ratios to a floor in the same run; run by ./run.py bench."""

import io
import statistics
import time
from datetime import timedelta

import numpy as np
import polars as pl
import pytest
from django.db import connection
from django.test import Client

from tests.conftest import CORE, NOW, POWER
from trelvo.core.knobs import Knob
from trelvo.exchange.log_choice import guess_choice
from trelvo.exchange.log_import import draft_log
from trelvo.exchange.text_table import read_table
from trelvo.logbook.models import Run, Setting
from trelvo.logbook.services.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.services.rigs import FittingDraft, create_rig
from trelvo.logbook.services.settings import fingerprint


def median_s(call, rounds=7):
    times = []
    for _ in range(rounds):
        begin = time.perf_counter()
        call()
        times.append(time.perf_counter() - begin)
    return statistics.median(times)


@pytest.fixture
def large(db):
    """10,000 runs over 400 settings and 12 workloads."""
    rig = create_rig("Large", FittingDraft(driver="1"), NOW)
    fine = Knob("fine", "Fine", "MHz", 0, 1, 0, 1000, 1)
    drafts = [WorkloadDraft(f"Load {i}", "frame rate", "fps", True, 1.0) for i in range(12)]
    campaign = create_campaign(rig, "Large", "speed", "", [POWER, CORE, fine], drafts, NOW)
    settings = [campaign.settings.get()]
    for i in range(1, 400):
        values = {"fine": float(i)}
        settings.append(Setting(campaign=campaign, values=values, fingerprint=fingerprint(values), created_at=NOW))
    Setting.objects.bulk_create(settings[1:])
    workloads, rng, fitting = list(campaign.workloads.all()), np.random.default_rng(1), rig.present_fitting()
    rows = []
    for i in range(10_000):
        setting, workload = settings[(i // 12) % 400], workloads[i % 12]
        value = round(100 * float(np.exp(rng.normal(setting.values.get("fine", 0) / 4000, 0.005))), 1)
        rows.append(
            Run(campaign=campaign, setting=setting, workload=workload, fitting=fitting, outcome="completed", value=value,
                started_at=NOW + timedelta(minutes=i), power_w=200.0, power_point="software", room_c=22.0, temp_max_c=60.0)
        )  # fmt: skip
    Run.objects.bulk_create(rows)
    return campaign, settings


def test_compare_over_ten_thousand_runs(benchmark, large):
    campaign, settings = large
    chosen = ",".join(str(setting.pk) for setting in settings[50:350:50])
    client = Client()

    def ask():
        return client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={chosen}")

    def floor():
        with connection.cursor() as cursor:
            cursor.execute("SELECT * FROM logbook_run WHERE campaign_id = %s", [campaign.pk])
            return cursor.fetchall()

    assert len(ask().json()["versus"]["candidates"]) == 6
    benchmark.pedantic(ask, rounds=7, warmup_rounds=1)
    seconds, plain = median_s(ask), median_s(floor)
    print(
        f"compare: {seconds * 1000:.0f} ms, plain SQL read of the same rows {plain * 1000:.0f} ms, ratio {seconds / plain:.2f}"
    )
    assert seconds / plain <= 4


def test_log_import_against_polars(benchmark):
    rng = np.random.default_rng(1)
    rows = 216_000
    frame = pl.DataFrame(
        {
            "elapsed s": np.arange(rows) / 10,
            **{f"channel {i} temp": np.round(rng.normal(60, 5, rows), 1) for i in range(12)},
        }
    )
    data = frame.write_csv().encode()

    def take():
        table = read_table(data)
        return draft_log(table, guess_choice(table), "long.csv", "frame rate")

    def floor():
        return pl.read_csv(io.BytesIO(data))

    assert take().rows == rows
    benchmark.pedantic(take, rounds=3, warmup_rounds=1)
    seconds, plain = median_s(take, 3), median_s(floor, 3)
    print(
        f"six-hour log, {len(data) / 1e6:.0f} MB: import {seconds:.2f} s, polars alone {plain:.2f} s, ratio {seconds / plain:.1f}"
    )
