"""Ten thousand runs handed on: report, package out and in, and what it takes of memory. ./run.py bench handed_on."""

import io
import resource
import time
from datetime import timedelta

import pytest

from studies.large import RUNS, build_large
from tests.moment import NOW as BEGUN
from trelvo.exchange.archive.merge import import_archive
from trelvo.exchange.archive.read import read_archive
from trelvo.exchange.archive.write import write_archive
from trelvo.exchange.report.html import as_html
from trelvo.exchange.report.story import campaign_report
from trelvo.logbook.cases import case_of
from trelvo.logbook.models import Campaign, Run

# ten thousand minutes of runs lie behind it
NOW = BEGUN + timedelta(days=30)
REPORT_S, PACKAGE_S, MEMORY_MB = 5.0, 20.0, 600.0


@pytest.fixture
def ten_thousand(db):
    return build_large()[0]


def test_report_and_package_of_ten_thousand_runs(benchmark, ten_thousand):
    took = {}

    def timed(name, act):
        begun = time.perf_counter()
        done = act()
        took[name] = time.perf_counter() - begun
        return done

    def handed_on():
        campaign = Campaign.objects.select_related("rig").get()
        text = timed("report", lambda: as_html(campaign_report(case_of(campaign), [], NOW)))
        file = io.BytesIO()
        timed("package out", lambda: write_archive([campaign], file, NOW, whole=True))
        campaign.runs.all().delete()
        campaign.delete()
        file.seek(0)
        package = timed("package read", lambda: read_archive(file, NOW))
        timed("package in", lambda: import_archive(package, NOW))
        return len(text), file.getbuffer().nbytes

    text, written = benchmark.pedantic(handed_on, rounds=1)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    said = ", ".join(f"{name} {seconds:.1f} s" for name, seconds in took.items())
    print(
        f"{RUNS} runs: {said}; report {text / 1e6:.1f} MB, package {written / 1e6:.1f} MB, memory at most {memory:.0f} MB"
    )
    assert Run.objects.count() == RUNS
    assert took["report"] <= REPORT_S
    assert took["package out"] <= PACKAGE_S
    assert took["package read"] + took["package in"] <= PACKAGE_S
    assert memory <= MEMORY_MB
