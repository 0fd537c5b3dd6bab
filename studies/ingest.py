"""Times the ingest of batches against a bare insert, on a real file; prints both in microseconds. A process of its own."""

import itertools
import os
import sqlite3
import statistics
import sys
import time
from pathlib import Path

os.environ["DJANGO_SETTINGS_MODULE"] = "trelvo.server.settings"
import django

django.setup()

import numpy as np  # noqa: E402
from django.conf import settings  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.utils import timezone  # noqa: E402

from trelvo.core.base.knobs import Knob  # noqa: E402
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign  # noqa: E402
from trelvo.logbook.commands.live import Batch, LiveDraft, open_run, take_batch  # noqa: E402
from trelvo.logbook.commands.rigs import BuildDraft, create_rig  # noqa: E402
from trelvo.logbook.rows.series_bytes import pack  # noqa: E402

CHANNELS, ROWS, ROUNDS = 12, 5, 400


def median_us(call):
    times = []
    for _ in range(ROUNDS):
        begin = time.perf_counter()
        call()
        times.append(time.perf_counter() - begin)
    return statistics.median(times) * 1e6


call_command("migrate", verbosity=0)
rig = create_rig("Bench", BuildDraft(), timezone.now())
workload = WorkloadDraft("Kiln", "score", "points", True, 30)
campaign = create_campaign(
    rig, "Up", "speed", "", [Knob("core", "Core", "MHz", 0, 15, 0, 300)], [workload], timezone.now()
)
channels = [{"name": f"c{n}", "quantity": "temperature", "unit": "°C"} for n in range(CHANNELS)]
draft = LiveDraft("desk", channels, planned_s=1800)
live = open_run(campaign, campaign.settings.get(), campaign.workloads.get(), draft, timezone.now())
rows, numbers = np.full((ROWS, CHANNELS), 60.0), itertools.count(1)


def take():
    n = next(numbers)
    take_batch(live.pk, Batch(n, n * 0.5 + np.arange(ROWS) / 10, rows, np.empty(0)), timezone.now())


bare = sqlite3.connect(Path(settings.DATA) / "bare.sqlite3", isolation_level=None)
bare.executescript(
    "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; CREATE TABLE chunk (id INTEGER PRIMARY KEY, n INTEGER, b BLOB)"
)
content = pack(np.column_stack([np.arange(ROWS), rows]))


def insert():
    bare.execute("BEGIN IMMEDIATE")
    bare.execute("INSERT INTO chunk (n, b) VALUES (?, ?)", [next(numbers), content])
    bare.execute("COMMIT")


take()
insert()
sys.stdout.write(f"{median_us(take)} {median_us(insert)}\n")
