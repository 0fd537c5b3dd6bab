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
from trelvo.logbook.models import Campaign

MOST = 10
OF_A_CAMPAIGN = (
    "", "/ladder", "/baseline", "/climb", "/climb/plan", "/proof", "/compare", "/settings", "/runs", "/queue", "/guard-rails",
    "/sides", "/tonight?minutes=300", "/alternatives", "/trade-off", "/heat", "/power", "/response", "/curve", "/sweep",
    "/budget", "/droop",
)  # fmt: skip


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


@pytest.mark.parametrize(
    "path",
    [
        "/campaigns",
        "/logbook",
        "/rigs",
        "/workloads",
        "/live",
        "/figures",
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
