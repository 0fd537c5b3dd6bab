"""What a form was opened with is sent along with its change: where it is something else by now the second is told, not obeyed."""

import json

import pytest

from trelvo.logbook.commands.instruments import InstrumentDraft, keep_instrument
from trelvo.logbook.commands.journal import write_entry
from trelvo.logbook.commands.targets import TargetDraft, keep_target

pytestmark = pytest.mark.django_db


def send(client, method, path, body):
    return getattr(client, method)(f"/api{path}", json.dumps(body), content_type="application/json")


def as_seen(client, kind, campaign, gorge, now):
    """Address, method, body and what a form of this kind was filled from."""
    if kind == "target":
        target = keep_target(campaign, TargetDraft("Next up", 400, "a page", "", {gorge.pk: 120.0}))
        body = {
            "name": "Next up",
            "price": 400,
            "source": "a page",
            "conditions": "",
            "results": {str(gorge.pk): 120.0},
        }
        return "put", f"/targets/{target.pk}", body, body
    if kind == "instrument":
        keep_instrument(campaign.rig, InstrumentDraft("Clamp", "clamp", "power"))
        (row,) = client.get(f"/api/rigs/{campaign.rig_id}/instruments").json()
        body = {word: value for word, value in row.items() if word not in ("id", "rig_id")}
        return "put", f"/instruments/{row['id']}", body, row
    if kind == "entry":
        entry = write_entry(campaign.rig, "dust", "Cleaned.", now, now)
        body = {"kind": "dust", "text": "Cleaned.", "room_c": None}
        return "put", f"/journal/{entry.pk}", body, body
    whole = client.get(f"/api/campaigns/{campaign.pk}").json()
    if kind == "knob":
        (knob,) = (one for one in whole["knobs"] if one["key"] == "core")
        return "patch", f"/campaigns/{campaign.pk}/knobs/core", {"name": knob["name"]}, knob
    if kind == "workload":
        (workload,) = (one for one in whole["workloads"] if one["id"] == gorge.pk)
        words = (
            "name",
            "measure",
            "unit",
            "higher_is_better",
            "minutes",
            "options",
            "cap_fps",
            "kind",
            "parts",
            "techniques",
        )
        body = {word: workload[word] for word in words}
        return "put", f"/workloads/{gorge.pk}", body, body
    return "put", f"/rigs/{campaign.rig_id}", {"name": whole["rig_name"]}, {"name": whole["rig_name"]}


CHANGED = {
    "target": {"price": 350}, "instrument": {"factor": 1.02}, "entry": {"text": "Cleaned, twice."},
    "knob": {"name": "Core offset"}, "workload": {"minutes": 7}, "rig": {"name": "Upstairs"},
}  # fmt: skip


@pytest.mark.parametrize("kind", list(CHANGED))
def test_the_second_of_two_windows_is_told(client, campaign, gorge, now, kind):
    method, path, body, seen = as_seen(client, kind, campaign, gorge, now)
    first = send(client, method, path, {**body, **CHANGED[kind], "seen": seen})
    assert first.status_code == 200, first.json()
    second = send(client, method, path, {**body, "seen": seen})
    assert second.status_code == 422
    (problem,) = second.json()["problems"]
    (field,) = CHANGED[kind]
    assert (problem["where"], field.replace("_", " ") in problem["what"]) == ("seen", True)
    assert "changed meanwhile" in problem["what"]
    # on sight of what it is now it goes through
    assert send(client, method, path, {**body, "seen": {**seen, **CHANGED[kind]}}).status_code == 200
    # and so does whoever sends nothing along
    assert send(client, method, path, {**body, **CHANGED[kind]}).status_code == 200


def test_a_kept_setting_is_renamed_on_sight(client, campaign, stock, now):
    body = {"setting_id": stock.pk, "name": "Quiet", "use": "quiet"}
    kept = send(client, "post", f"/campaigns/{campaign.pk}/kept-settings", body).json()
    seen = {"name": "Quiet", "use": "quiet"}
    path = f"/kept-settings/{kept['id']}"
    assert send(client, "put", path, {"name": "Night", "use": "quiet", "seen": seen}).status_code == 200
    assert (
        send(client, "put", path, {"name": "Day", "use": "quiet", "seen": seen}).json()["problems"][0]["where"]
        == "seen"
    )


def test_a_field_that_is_not_there_is_refused(client, campaign):
    answer = send(client, "put", f"/rigs/{campaign.rig_id}", {"name": "Up", "seen": {"colour": "red"}})
    assert answer.status_code == 422
    assert "There is no field colour" in answer.json()["problems"][0]["what"]
    campaign.rig.refresh_from_db()
    assert campaign.rig.name != "Up"
