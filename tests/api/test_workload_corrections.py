"""A workload described wrongly is corrected in all campaigns; what the simulator cannot run is said when it is chosen."""

from tests.conftest import CORE
from tests.drafts import run_draft
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.runs import log_run


def body_of(client, campaign, variant, **changed):
    shown = next(
        one for one in client.get(f"/api/campaigns/{campaign.pk}").json()["workloads"] if one["id"] == variant.pk
    )
    fields = (
        "name",
        "measure",
        "unit",
        "higher_is_better",
        "options",
        "minutes",
        "cap_fps",
        "kind",
        "parts",
        "techniques",
    )
    return {name: shown[name] for name in fields} | changed


def put(client, variant, body):
    return client.put(f"/api/workloads/{variant.pk}", body, content_type="application/json")


def test_names_units_minutes_and_options_can_be_corrected(client, campaign, stock, gorge, now):
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.0), now)
    other = create_campaign(campaign.rig, "Other", "speed", "", [CORE], [], now, [gorge])
    before = gorge.minutes
    changed = body_of(client, campaign, gorge, name="Gorge by night", minutes=before + 1, options={"preset": "low"})
    answer = put(client, gorge, changed).json()
    assert (answer["name"], answer["minutes"], answer["options_in_words"]) == ("Gorge by night", before + 1, "low")
    assert f"Minutes a run corrected from {before:g} to {before + 1:g}" in answer["corrections"]
    assert any(one.startswith("Name corrected from Gorge") for one in answer["corrections"])
    # the same in every campaign that uses it, and its runs are still there
    assert client.get(f"/api/campaigns/{other.pk}").json()["workloads"][0]["name"] == "Gorge by night"
    assert client.get(f"/api/campaigns/{campaign.pk}").json()["run_count"] == 1


def test_what_would_change_the_meaning_of_runs_is_refused(client, campaign, stock, gorge, now):
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.0), now)
    as_time = body_of(client, campaign, gorge, measure="time", unit="s", higher_is_better=False)
    refused = put(client, gorge, as_time)
    assert (refused.status_code, refused.json()["problems"][0]["where"]) == (422, "workloads.0.measure")
    same = put(client, gorge, body_of(client, campaign, gorge))
    assert "Nothing was changed" in same.json()["problems"][0]["what"]
    other = next(workload for workload in campaign.workloads.all() if workload.pk != gorge.pk)
    twin = body_of(client, campaign, gorge, name=other.name, measure=other.measure, unit=other.unit)
    assert put(client, gorge, twin).status_code == 422
    gorge.refresh_from_db()
    assert gorge.workload.corrections == []


def test_campaign_and_rig_can_be_renamed(client, campaign, now):
    answer = client.put(
        f"/api/campaigns/{campaign.pk}/goal", {"goal": "speed", "name": " Up again "}, content_type="application/json"
    )
    assert answer.json()["name"] == "Up again"
    rig = client.put(f"/api/rigs/{campaign.rig_id}", {"name": "Attic"}, content_type="application/json")
    assert rig.json()["name"] == "Attic"
    create_rig("Cellar", BuildDraft(), now)
    taken = client.put(f"/api/rigs/{campaign.rig_id}", {"name": "cellar"}, content_type="application/json")
    assert (taken.status_code, taken.json()["problems"][0]["where"]) == (422, "name")


def test_the_simulator_says_at_once_what_it_cannot_run(client, db, gorge, now):
    kind = next(one for one in client.get("/api/simulator").json() if one["key"] == "dome")
    body = {
        "name": "Try",
        "goal": "speed",
        "rig": {"name": "Pretend", "build": {}, "simulator": "dome", "simulator_seed": 1},
        "knobs": kind["knobs"][:1],
        "workloads": [kind["workloads"][0], kind["workloads"][0] | {"name": "My own"}],
    }
    refused = client.post("/api/campaigns", body, content_type="application/json")
    assert refused.json()["problems"][0]["where"] == "workloads.1.name"
    assert "Gorge flythrough" in refused.json()["problems"][0]["todo"]
    made = client.post(
        "/api/campaigns", body | {"workloads": kind["workloads"][:1]}, content_type="application/json"
    ).json()
    more = client.post(
        f"/api/campaigns/{made['id']}/workloads", {"workload": body["workloads"][1]}, content_type="application/json"
    )
    assert (more.status_code, more.json()["problems"][0]["where"]) == (422, "name")
    # its own workloads keep the names under which it runs them
    first = made["workloads"][0]
    renamed = kind["workloads"][0] | {"name": "Canyon"}
    answer = client.put(f"/api/workloads/{first['id']}", renamed, content_type="application/json")
    assert "simulator runs it under this name" in answer.json()["problems"][0]["what"]
