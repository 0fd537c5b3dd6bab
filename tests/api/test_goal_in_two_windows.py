"""A goal that is changed in two windows: the second is told what the first did."""

import json

import pytest

pytestmark = pytest.mark.django_db


def put(client, path, body):
    return client.put(f"/api{path}", json.dumps(body), content_type="application/json")


def places(answer):
    return [problem["where"] for problem in answer.json()["problems"]]


def test_numbers_that_were_changed_meanwhile_are_not_written_over(client, campaign):
    path = f"/campaigns/{campaign.pk}/terms"
    assert put(client, path, {"hours": 80, "seen": {"hours": 50}}).status_code == 200
    answer = put(client, path, {"most_temp_c": 80, "seen": {"hours": 50}})
    assert places(answer) == ["seen"]
    assert "hours was 50, now 80" in answer.json()["problems"][0]["what"]
    assert put(client, path, {"hours": 60, "seen": {"hours": 80}}).status_code == 200


def test_a_purpose_that_was_changed_meanwhile_is_not_written_over(client, campaign):
    path = f"/campaigns/{campaign.pk}/goal"
    seen = {"goal": campaign.goal, "aim": campaign.aim, "name": campaign.name}
    assert put(client, path, {"goal": "quiet", "aim": "", "seen": seen}).status_code == 200
    assert places(put(client, path, {"goal": "record", "aim": "", "seen": seen})) == ["seen"]
