"""What an answer costs the database: no more queries the more campaigns, settings and runs there are."""

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.conftest import CORE
from tests.drafts import run_draft
from trelvo.core.next_step import summary as answers
from trelvo.logbook import summaries
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import CampaignSummary
from trelvo.logbook.store import empty_store

OF_A_CAMPAIGN = (
    "", "/ladder", "/baseline", "/climb", "/climb/plan", "/proof", "/compare", "/settings", "/runs", "/queue", "/safety-limits",
    "/sides", "/tonight?minutes=300", "/alternatives", "/trade-off", "/heat", "/power", "/response", "/curve", "/sweep",
    "/budget", "/droop", "/goal", "/next", "/keep",
)  # fmt: skip
OF_EVERYTHING = (
    "/campaigns",
    "/logbook",
    "/rigs",
    "/workloads",
    "/live",
    "/kept-settings",
    "/rigs/1/page",
    "/rigs/1/ageing",
)


@pytest.fixture(autouse=True)
def nothing_takes_long(monkeypatch):
    """What took more than a second is written down: how quick a machine is must not decide what is counted."""
    monkeypatch.setattr(summaries, "WORTH_KEEPING_S", 1e9)


def queries(client, path):
    """What is asked of the database where nothing has been loaded yet."""
    empty_store()
    with CaptureQueriesContext(connection) as asked:
        answer = client.get(f"/api{path}")
    assert answer.status_code == 200
    return [query["sql"] for query in asked.captured_queries]


def log_at(campaign, setting, workload, now, times):
    for _ in range(times):
        log_run(campaign, setting, workload, run_draft("completed", now, 93.0, power_w=200.0, room_c=22.0), now)


@pytest.fixture
def measured(campaign, stock, gorge, now):
    log_at(campaign, stock, gorge, now, 3)
    for value in (15, 30):
        log_at(campaign, add_setting(campaign, {"core": value}, "", now), gorge, now, 2)
    return campaign


@pytest.mark.parametrize("path", OF_A_CAMPAIGN)
def test_a_larger_campaign_asks_no_more(client, measured, gorge, now, path):
    few = len(queries(client, f"/campaigns/{measured.pk}{path}"))
    for value in range(45, 180, 15):
        log_at(measured, add_setting(measured, {"core": value}, "", now), gorge, now, 2)
    many = queries(client, f"/campaigns/{measured.pk}{path}")
    assert len(many) <= few, "\n".join(many)


@pytest.mark.parametrize("path", OF_EVERYTHING)
def test_more_campaigns_ask_no_more(client, measured, stock, gorge, now, path):
    def grow(number, name):
        for one in range(number):
            more = create_campaign(measured.rig, f"{name} {one}", "speed", "", [CORE], [], now, [gorge])
            log_at(more, more.settings.get(), gorge, now, 2)
            log_at(more, add_setting(more, {"core": 15 * (one % 10 + 1)}, "", now), gorge, now, 2)

    grow(2, "First")
    few = len(queries(client, path))
    grow(12, "More")
    many = queries(client, path)
    assert len(many) <= few, "\n".join(many)


def test_what_has_not_changed_is_not_loaded_again(client, measured):
    client.get(f"/api/campaigns/{measured.pk}/goal")
    with CaptureQueriesContext(connection) as asked:
        client.get(f"/api/campaigns/{measured.pk}/goal")
    # which campaigns there are, and their tokens
    assert len(asked) == 2, [query["sql"] for query in asked.captured_queries]


def test_a_large_list_comes_in_parts(client, story, monkeypatch):
    whole = client.get("/api/campaigns").json()
    assert not any(one["waiting"] for one in whole)
    empty_store()
    CampaignSummary.objects.all().delete()
    monkeypatch.setattr(summaries, "PART_RUNS", 60)
    waited = []
    for _ in range(30):
        answer = client.get("/api/campaigns?in_parts=true").json()
        waited.append(sum(one["waiting"] for one in answer))
        # what is known without reading its runs is there at once
        same = ("id", "name", "run_count", "goal_words")
        assert [[one[key] for key in same] for one in answer] == [[one[key] for key in same] for one in whole]
        if not waited[-1]:
            break
    assert answer == whole
    assert waited[0] > 0
    assert waited == sorted(waited, reverse=True)


def test_one_campaigns_trouble_hides_no_other(client, campaign, stock, gorge, now, monkeypatch):
    other = create_campaign(campaign.rig, "Other", "speed", "", [CORE], [], now, [gorge])
    real = answers.standing_of

    def troubled(case):
        if case.campaign.id == campaign.pk:
            raise OverflowError("math range error")
        return real(case)

    monkeypatch.setattr(answers, "standing_of", troubled)
    cards = {one["id"]: one for one in client.get("/api/campaigns").json()}
    assert cards[other.pk]["current"] == "Baseline"
    assert cards[campaign.pk]["standing"] is None
    assert cards[campaign.pk]["trouble"]["code"] == "standing_in_trouble"
