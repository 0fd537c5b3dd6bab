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


def test_what_counts_that_was_changed_meanwhile_is_not_written_over(client, campaign, gorge):
    path = f"/campaigns/{campaign.pk}/what-counts"
    as_it_is = {"smallest_gain": campaign.smallest_gain, "weights": {str(gorge.pk): 1}, "price": None, "currency": ""}
    own = {"smallest_gain": 0.01, "wished_resolution": 0.01, "stale_days": 14, "weights": {str(gorge.pk): 2}}
    assert put(client, path, {**own, "seen": as_it_is}).status_code == 200
    answer = put(client, path, {**own, "smallest_gain": 0.02, "seen": as_it_is})
    assert places(answer) == ["seen"]
    assert "smallest gain was 0.005, now 0.01" in answer.json()["problems"][0]["what"]
    assert "weights was" in answer.json()["problems"][0]["what"]
    campaign.refresh_from_db()
    assert campaign.smallest_gain == 0.01


def test_safety_limits_that_were_changed_meanwhile_are_not_written_over(client, campaign):
    path = f"/campaigns/{campaign.pk}/safety-limits"
    hot, hotter = ({"kind": "temperature", "limit": limit, "channel": ""} for limit in (90, 95))
    assert put(client, path, {"safety_limits": [hot], "seen": []}).status_code == 200
    answer = put(client, path, {"safety_limits": [hotter], "seen": []})
    assert places(answer) == ["seen"]
    assert "now “temperature 90”" in answer.json()["problems"][0]["what"]
    assert put(client, path, {"safety_limits": [hotter], "seen": [hot]}).status_code == 200
