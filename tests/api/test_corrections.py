"""A run that was written down wrongly is asked about as it is typed, and corrected afterwards; what stood there stays."""

import pytest

from tests.drafts import run_draft
from trelvo.core.base.problems import Refused
from trelvo.logbook.acts.corrections import Correction, correct_run
from trelvo.logbook.acts.runs import log_run
from trelvo.logbook.models import LiveRun, Run


def post(client, address, body):
    return client.post(f"/api/{address}", body, content_type="application/json")


@pytest.fixture
def known(campaign, stock, gorge, now):
    for value in (93.4, 93.6, 98.7):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    return campaign


def test_a_result_far_from_all_that_is_known_is_asked_about(client, known, stock, gorge):
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 9.34}
    answer = post(client, f"campaigns/{known.pk}/runs", body)
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["where"] == "sure"
    assert "93.4 perhaps?" in answer.json()["problems"][0]["what"]
    assert known.runs.count() == 3
    assert post(client, f"campaigns/{known.pk}/runs", body | {"sure": True}).status_code == 201


def test_the_quick_line_asks_as_well(client, known):
    body = {"line": "stock gorge 9,34 ok"}
    answer = post(client, f"campaigns/{known.pk}/quick-line", body)
    assert answer.json()["problems"][0]["where"] == "sure"
    assert post(client, f"campaigns/{known.pk}/quick-line", body | {"sure": True}).json()["value"] == 9.34


def test_a_run_is_corrected_and_what_stood_there_is_kept(client, known):
    run = known.runs.first()
    body = {"outcome": "completed", "value": 94.3, "duration_s": None, "why": "digits swapped"}
    corrected = post(client, f"runs/{run.pk}/correct", body).json()
    assert corrected["value"] == 94.3
    assert corrected["corrections"] == ["Result corrected from 93.4 to 94.3: digits swapped"]


def test_the_answer_to_what_happened_needs_no_other_reason(client, known, stock, gorge, now):
    lost = log_run(known, stock, gorge, run_draft("contact lost", now), now)
    assert client.get(f"/api/campaigns/{known.pk}").json()["next"]["step"]["run_id"] == lost.pk
    answered = post(client, f"runs/{lost.pk}/correct", {"outcome": "machine down"}).json()
    assert answered["outcome"] == "machine down"
    assert client.get(f"/api/campaigns/{known.pk}").json()["next"]["step"]["act"] != "answer"


@pytest.mark.parametrize(
    ("body", "where"),
    [
        ({"outcome": "completed", "value": 93.4, "why": "none"}, ["run"]),
        ({"outcome": "completed", "value": 94.0}, ["why"]),
        ({"outcome": "completed", "value": -1, "why": "a slip"}, ["value"]),
        ({"outcome": "completed", "why": "a slip"}, ["value"]),
        ({"outcome": "no start", "value": 93.4, "why": "a slip"}, ["value"]),
    ],
)
def test_nonsense_corrects_nothing(client, known, body, where):
    run = known.runs.first()
    answer = post(client, f"runs/{run.pk}/correct", body)
    assert answer.status_code == 422
    assert [one["where"] for one in answer.json()["problems"]] == where
    assert Run.objects.get(pk=run.pk).value == 93.4


def test_a_run_that_goes_on_is_not_corrected(known):
    run = known.runs.first()
    run.live = LiveRun(run=run, state="open")
    with pytest.raises(Refused, match="still goes on"):
        correct_run(run, Correction("completed", 90.0, None, "a slip"), run.started_at)
