"""The API by contract: what is asked, what is answered, and every refusal in one form."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from scipy import stats

from tests.drafts import read_of, run_draft
from tests.exchange.campaign_json import campaign_json
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, ColumnMapping, Run, Series

BODY = {
    "name": "First",
    "goal": "speed",
    "rig": {"name": "Attic", "build": {"parts": [{"role": "Graphics card", "name": "Card"}], "driver": "1.0"}},
    "knobs": [{"key": "core", "name": "Core clock", "unit": "MHz", "stock": 0, "step": 15, "low": -300, "high": 300}],
    "workloads": [{"name": "Gorge", "measure": "frame rate", "unit": "fps", "higher_is_better": True, "minutes": 2}],
}
TELEMETRY = b"time;temp;board W\n0;50,5;180\n1;52,5;190\n2;54,5;200\n"


def post(client, path, body):
    return client.post(f"/api{path}", json.dumps(body), content_type="application/json")


def upload(client, path, data=TELEMETRY, **fields):
    return client.post(f"/api{path}", {"file": SimpleUploadedFile("log.csv", data), **fields})


def places(answer):
    return [problem["where"] for problem in answer.json()["problems"]]


@pytest.fixture
def run(campaign, stock, gorge, now):
    return log_run(campaign, stock, gorge, run_draft("completed", now, 93.6), now)


@pytest.mark.django_db
def test_health(client):
    answer = client.get("/api/health").json()
    assert (answer["status"], answer["writable"], answer["words"]) == ("ready", True, "")
    assert answer["free_mb"] > 0


@pytest.mark.django_db
def test_a_campaign_with_a_new_rig(client):
    answer = post(client, "/campaigns", BODY)
    assert answer.status_code == 201
    made = answer.json()
    assert (made["rig_name"], made["current"], made["best"]) == ("Attic", "Baseline", None)
    assert made["builds"][0]["parts"] == [{"role": "Graphics card", "name": "Card", "specimen": ""}]
    assert client.get("/api/campaigns").json()[0]["id"] == made["id"]
    second = post(client, "/campaigns", {**BODY, "rig": None, "rig_id": made["rig_id"], "workloads": [],
                                         "workload_ids": [made["workloads"][0]["id"]]})  # fmt: skip
    assert second.json()["workloads"] == made["workloads"]


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"name": ""}, "name"),
        ({"goal": "glory"}, "goal"),
        ({"rig": None}, "rig"),
        ({"rig": None, "rig_id": 999}, "rig"),
        ({"knobs": [{**BODY["knobs"][0], "step": 0}]}, "knobs.0.step"),
        ({"knobs": [{**BODY["knobs"][0], "stock": 500}]}, "knobs.0.stock"),
        ({"knobs": [{**BODY["knobs"][0], "away": 3}]}, "knobs.0.away"),
        ({"workloads": [{**BODY["workloads"][0], "minutes": -1}]}, "workloads.0.minutes"),
        ({"workloads": [{**BODY["workloads"][0], "measure": "beauty"}]}, "workloads.0.measure"),
        ({"workload_ids": [77]}, "workload_ids"),
    ],
)
def test_a_campaign_that_cannot_be_stores_nothing(client, change, where):
    answer = post(client, "/campaigns", {**BODY, **change})
    assert answer.status_code == 422
    assert any(place.startswith(where) for place in places(answer))
    assert all(problem["what"] and problem["todo"] for problem in answer.json()["problems"])
    assert not Campaign.objects.exists()
    assert client.get("/api/rigs").json() == []


def test_text_that_is_no_json(client, campaign):
    answer = client.post(f"/api/campaigns/{campaign.pk}/runs", "{", content_type="application/json")
    assert answer.status_code == 400
    assert places(answer) == ["request"]


@pytest.mark.django_db
@pytest.mark.parametrize(
    "path", ["/campaigns/9", "/runs/9", "/series/9", "/campaigns/9/ladder", "/campaigns/9/baseline"]
)
def test_what_is_not_there(client, path):
    answer = client.get(f"/api{path}")
    assert answer.status_code == 404
    assert places(answer) == ["address"]


def test_baseline_and_ladder(client, campaign, stock, gorge, now):
    tuned = add_setting(campaign, {"core": 90}, "", now)
    stock_values, setting_values = [93.6, 93.5, 94.0], [98.6, 98.9]
    for setting, values in ((stock, stock_values), (tuned, setting_values)):
        for value in values:
            body = {"setting_id": setting.pk, "workload_id": gorge.pk, "outcome": "completed", "value": value}
            assert post(client, f"/campaigns/{campaign.pk}/runs", body).status_code == 201
    baseline = client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"][0]
    interval = stats.t.interval(0.95, 2, loc=sum(stock_values) / 3, scale=stats.sem(stock_values))
    assert (baseline["summary"]["low"], baseline["summary"]["high"]) == pytest.approx(interval)
    assert baseline["missing_runs"] == 0
    ladder = client.get(f"/api/campaigns/{campaign.pk}/ladder?workload_id={gorge.pk}").json()["ladder"]
    assert [one["setting_id"] for one in ladder["settings"]] == [tuned.pk, stock.pk]
    assert ladder["settings"][0]["gain"]["low"] > 1.04
    assert client.get(f"/api/campaigns/{campaign.pk}").json()["best"]["setting_id"] == tuned.pk


def test_a_setting_off_the_grid(client, campaign):
    answer = post(client, f"/campaigns/{campaign.pk}/settings", {"values": {"core": 100}})
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["todo"] == "The nearest values are 90 and 105 MHz."
    made = post(client, f"/campaigns/{campaign.pk}/settings", {"values": {"core": 105}}).json()
    assert made["title"] == "core clock +105\u00a0MHz"
    assert [one["title"] for one in client.get(f"/api/campaigns/{campaign.pk}/settings").json()] == [
        "stock",
        made["title"],
    ]


def test_setting_a_run_aside_and_taking_it_back(client, run):
    assert post(client, f"/runs/{run.pk}/set-aside", {"reason": ""}).status_code == 422
    aside = post(client, f"/runs/{run.pk}/set-aside", {"reason": "cold start"}).json()
    assert aside["set_aside_reason"] == "cold start"
    assert post(client, f"/runs/{run.pk}/take-back", {}).json()["set_aside_at"] is None


def test_a_build_added(client, campaign):
    answer = post(client, f"/rigs/{campaign.rig_id}/builds", {"driver": "42.0"})
    assert (answer.status_code, answer.json()["number"]) == (201, 2)
    assert client.get(f"/api/campaigns/{campaign.pk}/ladder?build=7").status_code == 404


def test_log_from_preview_to_chart(client, run):
    preview = upload(client, "/logs/preview").json()
    assert (preview["rows"], preview["first_row_number"], preview["remembered"]) == (3, 2, False)
    choice = json.dumps(preview["choice"])
    check = upload(client, f"/runs/{run.pk}/logs", choice=choice).json()
    assert not check["stored"]
    assert {one["mark"]: one["value"] for one in check["figures"]} == {
        "duration_s": 2,
        "power_w@software": 190,
        "temp_max_c": 54.5,
        "temp_mean_c": 52.5,
        "temp_start_c": 50.5,
    }
    assert (check["covers_s"], check["every_s"]) == (2, 1)
    assert not Series.objects.exists()
    assert not ColumnMapping.objects.exists()
    assert upload(client, f"/runs/{run.pk}/logs", choice=choice, store="true", sure="true").json()["stored"]
    shown = client.get(f"/api/runs/{run.pk}").json()
    assert (read_of(shown, "power_w"), shown["value"]) == (190, 93.6)
    assert {one["instrument"] for one in shown["figures"] if one["quantity"] == "power"} == {"The part's own report"}
    points = client.get(f"/api/series/{shown['series'][0]['id']}").json()["channels"][0]
    assert (points["time_s"], points["values"], points["unit"]) == ([0, 1, 2], [50.5, 52.5, 54.5], "°C")
    assert upload(client, "/logs/preview").json()["remembered"]


@pytest.mark.parametrize(
    ("data", "where", "what"),
    [
        (b"time,temp\n0,50\n1,warm\n", "row 3, column temp", "“warm” is not a number"),
        (b"time,temp\n0,50\n1,\n2,\n3,\n4,\n5,\n6,\n7,\n8,\n9,\n10,\n", "column temp", "cells are empty"),
        (b"time,temp\n0,50\n1", "row 3", "cut off"),
        (b"time,temp\n1,50\n0,51\n", "row 3, column time", "backwards"),
        ("time,temp °C\n0,50\n1,9000\n".encode(), "row 3, column temp °C", "cannot be a temperature"),
    ],
)
def test_a_bad_log_is_named_and_nothing_is_half_stored(client, run, data, where, what):
    choice = json.dumps(upload(client, "/logs/preview", data).json()["choice"])
    answer = upload(client, f"/runs/{run.pk}/logs", data, choice=choice, store="true")
    assert answer.status_code == 422
    assert places(answer) == [where]
    assert what in answer.json()["problems"][0]["what"]
    run.refresh_from_db()
    assert (Series.objects.count(), ColumnMapping.objects.count(), run.figures.count()) == (0, 0, 0)


@pytest.mark.parametrize("data", [b"", b"\x00\x01\x02", b"no table here\n"])
def test_files_that_are_no_log(client, run, data):
    # Django itself drops an empty upload's field value, so the file arrives with 0 bytes
    answer = upload(client, "/logs/preview", data)
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["todo"]


def test_a_choice_that_is_none(client, run):
    assert places(upload(client, f"/runs/{run.pk}/logs", choice='{"kind": "guess"}')) == ["kind"]


@pytest.mark.django_db
def test_options_state_the_limit(client):
    options = client.get("/api/logs/options").json()
    assert options["most_words"] == "64 MiB"
    assert options["units"]["voltage"] == ["V", "mV", "µV"]


def test_archive_of_a_campaign_by_download_and_upload(client, run):
    answer = client.get(f"/api/archive.zip?campaign_id={run.campaign_id}")
    assert 'filename="up.zip"' in answer["Content-Disposition"]
    content = answer.getvalue()
    answer.close()
    again = upload(client, "/archive/import", content).json()
    assert ([one["state"] for one in again["campaigns"]], again["imported"]) == (["there already"], [])
    copy = upload(client, "/archive/import", content, copies=str(run.campaign.uid)).json()
    assert client.get(f"/api/campaigns/{copy['imported'][0]}").json()["name"] == "Up (copy)"
    assert Run.objects.count() == 2


def test_a_campaign_file_of_before_is_imported_like_an_archive(client, run):
    content = campaign_json(run.campaign)
    plan = upload(client, "/archive/plan", content).json()
    assert [(one["name"], one["state"], one["runs"]) for one in plan["campaigns"]] == [("Up", "there already", 1)]
    run.delete()
    run.campaign.delete()
    back = upload(client, "/archive/import", content)
    assert back.status_code == 201
    assert client.get(f"/api/campaigns/{back.json()['imported'][0]}").json()["name"] == "Up"
    assert Run.objects.count() == 1


def test_a_deleted_campaign_that_comes_in_again_is_refused_in_words(client, run):
    content = campaign_json(run.campaign)
    client.post(f"/api/campaigns/{run.campaign_id}/delete", {"name": "Up"}, content_type="application/json")
    answer = upload(client, "/archive/import", content)
    assert (answer.status_code, places(answer)) == (422, ["campaign"])


def test_csv_of_a_campaign(client, run):
    assert client.get(f"/api/campaigns/{run.campaign_id}/runs.csv").content.startswith(
        b"run,started_at,workload,options,setting"
    )
