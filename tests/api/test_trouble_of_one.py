"""A campaign that cannot be worked with hides no other; and what a form refuses no file brings in."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.exchange.campaign_json import campaign_json
from trelvo.logbook.models import Campaign, KeptSetting

BAD_TERMS = (
    {"hours": "x"}, {"hours": 0}, {"shown": 5.0}, {"frames": "a"}, {"hours": -5}, {"sure": 1}, {"sure": None},
    {"part": "room"}, {"quiet_by": "smell"}, {"unknown": 1}, {"most_temp_c": 1e9}, {"low_frames": 0.0},
)  # fmt: skip


@pytest.mark.parametrize("terms", BAD_TERMS, ids=str)
def test_goal_numbers_that_the_form_refuses_come_in_by_no_file(client, story, terms):
    campaign = Campaign.objects.get(name__contains="summer")
    document = json.loads(campaign_json(campaign))
    document["campaign"]["terms"] = terms
    before = Campaign.objects.count()
    file = SimpleUploadedFile("c.json", json.dumps(document).encode())
    answer = client.post("/api/archive/import", {"file": file, "copies": document["campaign"]["uid"]})
    assert answer.status_code == 422, answer.content
    assert {one["where"].split(".")[1] for one in answer.json()["problems"]} == {"terms"}
    assert Campaign.objects.count() == before


@pytest.mark.parametrize("terms", [{"hours": "x"}, {"hours": 0}, {"frames": "a"}], ids=str)
def test_what_is_broken_in_the_database_hides_no_other_campaign(client, story, terms):
    broken = Campaign.objects.get(name__contains="summer")
    Campaign.objects.filter(pk=broken.pk).update(terms=terms)
    cards = client.get("/api/campaigns")
    assert cards.status_code == 200
    by_id = {one["id"]: one for one in cards.json()}
    assert by_id[broken.pk]["standing"] is None
    assert by_id[broken.pk]["trouble"]
    others = [one for pk, one in by_id.items() if pk != broken.pk]
    assert len(others) == Campaign.objects.count() - 1
    assert all(one["standing"] and not one["trouble"] for one in others)
    for other in others:
        assert client.get(f"/api/campaigns/{other['id']}/climb").status_code == 200
    kept_settings = client.get("/api/kept-settings")
    assert kept_settings.status_code == 200
    assert {one["campaign_id"] for one in kept_settings.json()} >= {broken.pk}
    if "hours" in terms:
        said = {one["campaign_id"]: one["next"] for one in kept_settings.json()}
        assert said[broken.pk]["code"] == "kept_in_trouble"
    assert len(kept_settings.json()) == KeptSetting.objects.filter(taken_back_at=None).count()
