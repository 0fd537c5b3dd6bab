"""Runs that are sent more than once: the same uid is the same run, and the same run without one is asked about."""

import json
import uuid

import pytest

from trelvo.logbook.models import Run

pytestmark = pytest.mark.django_db


def post(client, path, body):
    return client.post(f"/api{path}", json.dumps(body), content_type="application/json")


def places(answer):
    return [problem["where"] for problem in answer.json()["problems"]]


def test_a_run_that_is_sent_again_is_logged_once(client, campaign, stock, gorge):
    body = {
        "uid": str(uuid.uuid4()),
        "setting_id": stock.pk,
        "workload_id": gorge.pk,
        "outcome": "completed",
        "value": 93.6,
    }
    answers = [post(client, f"/campaigns/{campaign.pk}/runs", body) for _ in range(4)]
    assert {answer.status_code for answer in answers} == {201}
    assert len({answer.json()["id"] for answer in answers}) == 1
    assert str(Run.objects.get().uid) == body["uid"]
    # another run under the same uid is a mistake of the sender
    assert places(post(client, f"/campaigns/{campaign.pk}/runs", {**body, "outcome": "system crash"})) == ["uid"]
    assert places(post(client, f"/campaigns/{campaign.pk}/runs", {**body, "value": 94.6})) == ["uid"]
    # and a run of its own has one of its own, or none
    again = {**body, "uid": str(uuid.uuid4())}
    assert post(client, f"/campaigns/{campaign.pk}/runs", again).status_code == 201
    assert post(client, f"/campaigns/{campaign.pk}/runs", {**body, "uid": None}).status_code == 201
    assert Run.objects.count() == 3


def test_a_line_that_is_sent_again_is_logged_once(client, campaign, gorge):
    body = {"line": "core +75 gorge 98.4 ok", "uid": str(uuid.uuid4())}
    # the second time the campaign's last run stands elsewhere, and the line would mean something else
    answers = [post(client, f"/campaigns/{campaign.pk}/quick-line", body) for _ in range(2)]
    assert post(client, f"/campaigns/{campaign.pk}/quick-line", {"line": "stock gorge 93.6 ok"}).status_code == 201
    answers.append(post(client, f"/campaigns/{campaign.pk}/quick-line", body))
    assert len({answer.json()["id"] for answer in answers}) == 1
    assert Run.objects.count() == 2


def test_the_same_run_without_a_uid_is_asked_about(client, campaign, stock, gorge):
    body = {
        "setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.6, "duration_s": 180,
        "started_at": "2024-05-01T18:00:00Z",
    }  # fmt: skip
    path = f"/campaigns/{campaign.pk}/runs"
    assert post(client, path, body).status_code == 201
    answer = post(client, path, body)
    assert places(answer) == ["sure"]
    assert "in the log already" in answer.json()["problems"][0]["what"]
    # equal results of two runs are no wonder, equal moments are
    assert post(client, path, {**body, "started_at": "2024-05-01T18:05:00Z"}).status_code == 201
    assert post(client, path, {**body, "sure": True}).status_code == 201
