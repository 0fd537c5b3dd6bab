"""A deleted campaign is not there: whatever is asked of it by its number, and whatever would be added to it or its targets."""

import json

import pytest

from trelvo.logbook.commands.campaigns import delete_campaign
from trelvo.logbook.commands.targets import TargetDraft, keep_target
from trelvo.logbook.models import Target


@pytest.fixture
def gone(campaign, gorge, now):
    target = keep_target(campaign, TargetDraft("Next up", results={gorge.pk: 120.0}))
    delete_campaign(campaign, campaign.name, now)
    return campaign, target


def test_nothing_of_it_is_read(client, gone):
    campaign, _ = gone
    paths = client.get("/api/openapi.json").json()["paths"]
    asked = [
        path
        for path, operations in paths.items()
        if "get" in operations and path.count("{") == 1 and "{campaign_id}" in path
    ]
    assert len(asked) > 20
    for path in asked:
        status = client.get(path.replace("{campaign_id}", str(campaign.pk))).status_code
        # what needs more than the campaign's number says so first
        assert status in (404, 422), path
    assert client.get(f"/api/campaigns/{campaign.pk}/queue").status_code == 404
    assert client.get(f"/api/campaigns/{campaign.pk}/safety-limits").status_code == 404


def test_its_targets_stay_as_they_are(client, gone, gorge, stock):
    campaign, target = gone
    body = json.dumps({"name": "Another", "results": {str(gorge.pk): 130.0}})
    json_body = {"content_type": "application/json"}
    assert client.post(f"/api/campaigns/{campaign.pk}/targets", body, **json_body).status_code == 404
    assert client.put(f"/api/targets/{target.pk}", body, **json_body).status_code == 404
    assert client.delete(f"/api/targets/{target.pk}").status_code == 404
    assert [one.name for one in Target.objects.all()] == ["Next up"]
    queue = json.dumps({"setting_ids": [stock.pk], "workload_ids": [gorge.pk], "repeats": 1})
    assert client.post(f"/api/campaigns/{campaign.pk}/queue", queue, **json_body).status_code == 404
