"""What an answer costs the database: at most ten questions, however many campaigns, settings and runs there are."""

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.conftest import CORE
from tests.drafts import run_draft
from trelvo.logbook.acts.campaigns import create_campaign
from trelvo.logbook.acts.runs import log_run
from trelvo.logbook.acts.settings import add_setting
from trelvo.logbook.answers import campaign as answers
from trelvo.logbook.answers import cards
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows import kept_data

MOST = 10
OF_A_CAMPAIGN = (
    "", "/ladder", "/baseline", "/climb", "/climb/plan", "/proof", "/compare", "/settings", "/runs", "/queue", "/guard-rails",
    "/sides", "/tonight?minutes=300", "/alternatives", "/trade-off", "/heat", "/power", "/response", "/curve", "/sweep",
    "/budget", "/droop",
)  # fmt: skip


@pytest.fixture(autouse=True)
def nothing_takes_long(monkeypatch):
    """What took more than a second is written down: how quick a machine is must not decide what is counted."""
    monkeypatch.setattr(cards, "WORTH_KEEPING_S", 1e9)


def questions(client, path):
    with CaptureQueriesContext(connection) as asked:
        answer = client.get(f"/api{path}")
    assert answer.status_code == 200
    return [query["sql"] for query in asked.captured_queries]


@pytest.mark.parametrize("path", OF_A_CAMPAIGN)
def test_an_answer_about_a_campaign(client, story, path):
    campaign = Campaign.objects.get(name__contains="summer")
    asked = questions(client, f"/campaigns/{campaign.pk}{path}")
    assert len(asked) <= MOST, "\n".join(asked)


@pytest.mark.parametrize("path", ["", "/next", "/climb", "/response", "/tonight?minutes=300"])
def test_an_answer_where_settings_are_foretold(client, story, path):
    campaign = Campaign.objects.get(name__startswith="Foyer wall")
    asked = questions(client, f"/campaigns/{campaign.pk}{path}")
    assert len(asked) <= MOST, "\n".join(asked)


@pytest.mark.parametrize(
    "path",
    [
        "/campaigns",
        "/logbook",
        "/rigs",
        "/workloads",
        "/live",
        "/registry",
        "/keepers",
        "/rigs/1/page",
        "/rigs/1/ageing",
    ],
)
def test_an_answer_about_everything(client, story, path):
    asked = questions(client, path)
    assert len(asked) <= MOST, "\n".join(asked)


def test_the_list_of_campaigns_costs_the_same_however_long_it_grows(client, campaign, stock, gorge, now):
    def grow(number):
        for one in range(number):
            more = create_campaign(campaign.rig, f"More {one}", "speed", "", [CORE], [], now, [gorge])
            first = more.settings.get()
            rung = add_setting(more, {"core": 15 * (one % 10 + 1)}, "", now)
            for setting in (first, first, rung, rung):
                log_run(more, setting, gorge, run_draft("completed", now, 93.0, power_w=200.0, power_point="wall"), now)

    grow(2)
    few = len(questions(client, "/campaigns"))
    grow(12)
    assert len(questions(client, "/campaigns")) == few <= MOST


def test_a_large_list_comes_in_parts(client, story, monkeypatch):
    whole = client.get("/api/campaigns").json()
    assert not any(one["waiting"] for one in whole)
    monkeypatch.setattr(kept_data, "_shelf", kept_data._Shelf())
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM kept_card")
    monkeypatch.setattr(cards, "PART_RUNS", 60)
    waited = []
    for _ in range(30):
        asked = questions(client, "/campaigns?in_parts=true")
        assert len([one for one in asked if one.startswith("SELECT")]) <= MOST, "\n".join(asked)
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

    def troubled(data):
        if data.id == campaign.pk:
            raise OverflowError("math range error")
        return real(data)

    monkeypatch.setattr(answers, "standing_of", troubled)
    cards = {one["id"]: one for one in client.get("/api/campaigns").json()}
    assert cards[other.pk]["current"] == "Baseline"
    assert cards[campaign.pk]["standing"] is None
    assert "cannot be worked out" in cards[campaign.pk]["trouble"]
