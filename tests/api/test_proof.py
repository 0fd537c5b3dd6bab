"""Proof, triage, plan and test suite over the API: what the logbook's runs become."""

import pytest

from tests.conftest import CORE
from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.core.base.knobs import Knob
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign, set_test_suite
from trelvo.logbook.commands.rigs import BuildDraft, add_build
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.safety_limits import set_safety_limits
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.tokens import campaign_changed

KILN = WorkloadDraft("Kiln", "score", "points", True, 30, kind="stress test", parts=("graphics", "processor"))
DAY = WorkloadDraft("Day", "time", "s", False, 30, kind="everyday", parts=("memory", "storage"))


@pytest.fixture
def kiln(campaign):
    set_test_suite(campaign, [], [KILN])
    return campaign.test_suite.get()


def ran(campaign, values, workload, minutes, outcome="completed", **more):
    setting = campaign.settings.filter(
        fingerprint=";".join(f"{k}={float(v)!r}" for k, v in sorted(values.items()))
    ).first()
    setting = setting or add_setting(campaign, values, "", NOW)
    value = 100.0 if outcome == "completed" else None
    return log_run(campaign, setting, workload, run_draft(outcome, NOW, value, minutes * 60, **more), NOW)


def proof(client, campaign, **query):
    answer = client.get(f"/api/campaigns/{campaign.pk}/proof", query)
    assert answer.status_code == 200, answer.content
    return answer.json()


def approaches(found):
    return {one["proof"]["approach"]: one["proof"] for one in found["approaches"]}


def test_every_approach_judges_the_same_runs(client, campaign, gorge, kiln):
    ran(campaign, {"core": 45}, kiln, 60)
    ran(campaign, {"core": 45}, gorge, 30)
    ran(campaign, {"core": 150}, kiln, 2, "program crash")
    found = proof(client, campaign)
    # the one tested longest is taken where none is named
    assert found["title"] == "core clock +45\u00a0MHz"
    by = approaches(found)
    # nothing here loads memory and storage, so the whole system was not tested
    assert by["mixed load"]["state"] == "under way"
    assert by["worst case"]["state"] == "under way"
    assert {item["key"]: item["done"] for item in by["worst case"]["items"]}["graphics"] == 60
    assert found["own"]["hours"] == pytest.approx(1.5)
    assert {one["kind"]: one["rate"]["hours"] for one in found["evidence"]} == {"stress test": 1.0, "title": 0.5}
    # the failure further up is part of what is expected here
    assert 0 < found["expected"]["within"] < 1
    assert "proved: mixed" not in found["title"]
    assert next(one for one in found["candidates"] if one["title"] == found["title"])["proved_by"] == []


def test_a_setting_that_passed_is_told_on_the_spine_with_what_it_lacks(client, campaign, kiln):
    assert client.get(f"/api/campaigns/{campaign.pk}").json()["standing"]["stages"][3]["state"] == "to do"
    set_test_suite(campaign, [kiln], [DAY])
    ran(campaign, {"core": 45}, kiln, 60)
    ran(campaign, {"core": 45}, campaign.test_suite.get(workload__name="Day"), 30)
    stage = client.get(f"/api/campaigns/{campaign.pk}").json()["standing"]["stages"][3]
    assert (stage["state"], stage["note"]["text"]) == (
        "under way", "Passed a proof, but not yet as surely stable as you asked: core clock +45\u00a0MHz.",
    )  # fmt: skip
    ran(campaign, {"core": 45}, kiln, 60 * 150)
    stage = client.get(f"/api/campaigns/{campaign.pk}").json()["standing"]["stages"][3]
    assert (stage["state"], stage["note"]["text"]) == (
        "done", "Proved, and as surely stable as you asked: core clock +45\u00a0MHz.",
    )  # fmt: skip


def test_less_time_leaves_out_what_teaches_least(client, campaign, gorge, kiln):
    ran(campaign, {"core": 45}, kiln, 20)
    setting = campaign.settings.get(fingerprint="core=45.0").pk
    whole = {
        one["proof"]["approach"]: one["fitted"] for one in proof(client, campaign, setting_id=setting)["approaches"]
    }
    part = {
        one["proof"]["approach"]: one["fitted"]
        for one in proof(client, campaign, setting_id=setting, minutes=230)["approaches"]
    }
    assert whole["worst case"]["dropped"] == []
    assert part["worst case"]["minutes"]["likely"] <= 230
    assert len(part["worst case"]["dropped"]) == 1


def test_a_test_suite_is_used_for_runs_but_not_compared(client, campaign, kiln, gorge):
    shown = client.get(f"/api/campaigns/{campaign.pk}").json()
    assert [one["name"] for one in shown["test_suite"]] == ["Kiln"]
    assert "Kiln" not in [one["name"] for one in shown["workloads"]]
    before = len(client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"])
    ran(campaign, {}, kiln, 30)
    assert len(client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"]) == before
    # a name that the campaign has already for something else, and a workload of the campaign itself
    body = {"workloads": [{"name": "kiln", "measure": "score", "unit": "p", "higher_is_better": True, "minutes": 3}]}
    refused = client.post(f"/api/campaigns/{campaign.pk}/test-suite", body, content_type="application/json")
    assert (refused.status_code, refused.json()["problems"][0]["where"]) == (422, "workloads.0.name")
    kept = client.post(
        f"/api/campaigns/{campaign.pk}/test-suite",
        {"workload_ids": [gorge.pk, kiln.pk]},
        content_type="application/json",
    )
    assert [one["name"] for one in kept.json()["test_suite"]] == ["Kiln"]


def steps(client, run):
    answer = client.get(f"/api/runs/{run.pk}/triage").json()
    return {one["step"]["key"]: one for one in answer["steps"]}


def test_triage_knows_what_held_and_what_is_on_the_ladder(client, campaign, gorge, kiln):
    ran(campaign, {"core": 90}, gorge, 10)
    ran(campaign, {"core": 105}, gorge, 1)
    run = ran(campaign, {"core": 150}, kiln, 12, "system crash", temp_max_c=83.0)
    found = steps(client, run)
    # a minute at +105 is no proof that it held
    assert found["last good"]["step"]["values"] == {"core": 90}
    assert found["last good"]["setting_id"] == campaign.settings.get(fingerprint="core=90.0").pk
    assert found["steps back"]["step"]["values"] == {"core": 105}
    assert found["stock"]["setting_title"] == "stock"
    assert "heat" not in found
    campaign.temp_limit_c = 85
    campaign.save()
    campaign_changed(campaign.pk)
    assert "83 °C" in steps(client, run)["heat"]["step"]["why"]["text"]


def test_triage_suspects_stock_drivers_and_odd_chances(client, campaign, gorge, kiln, now):
    for value in (60, 90, 120):
        ran(campaign, {"core": value}, kiln, 240)
    unlikely = ran(campaign, {"core": 15}, kiln, 1, "program crash")
    assert "All trials so far" in steps(client, unlikely)["elsewhere"]["step"]["why"]["text"]
    ran(campaign, {"core": 30}, kiln, 60)
    add_build(campaign.rig, BuildDraft(driver="42.0"), now)
    later = ran(campaign, {"core": 30}, kiln, 5, "program crash")
    assert "Driver" in steps(client, later)["elsewhere"]["step"]["why"]["text"]
    stock = ran(campaign, {}, kiln, 5, "program crash")
    assert list(steps(client, stock)) == ["elsewhere"]
    assert list(steps(client, later)) == ["elsewhere"]
    set_aside(stock, "A loose cable was found.", now)
    assert "stock" in steps(client, later)


def test_no_step_of_voltage_beyond_its_ceiling(client, rig_with_voltage):
    campaign, run = rig_with_voltage
    assert steps(client, run)["voltage"]["step"]["values"] == {"core": 150, "voltage": 5}
    set_safety_limits(campaign, [SafetyLimit("voltage ceiling", 0, "voltage")])
    assert "voltage" not in steps(client, run)


@pytest.fixture
def rig_with_voltage(campaign, now):
    """Another campaign of the rig, with a voltage that can go up, and a failure."""
    voltage = Knob("voltage", "Voltage", "mV", 0, 5, -100, 50, -1, "voltage")
    other = create_campaign(campaign.rig, "Volts", "speed", "", [CORE, voltage], [KILN], now)
    return other, ran(other, {"core": 150}, other.workloads.get(), 12, "program crash")


def test_triage_is_for_failures(client, campaign, kiln):
    run = ran(campaign, {"core": 30}, kiln, 60)
    assert client.get(f"/api/runs/{run.pk}/triage").status_code == 422


def test_the_plan_counts_minutes_and_keeps_to_the_time_there_is(client, campaign, kiln):
    ran(campaign, {"core": 30}, kiln, 5)
    for minutes in ("", 40):
        query = {"knob": "core", **({"minutes": minutes} if minutes else {})}
        plans = client.get(f"/api/campaigns/{campaign.pk}/climb/plan", query).json()
        assert len(plans) == 4
        for plan in plans:
            told = plan["plan"]["minutes"]
            assert 0 < told["low"] <= told["likely"] <= told["high"]
            if minutes and plan["strategy"] == "adaptive":
                assert told["high"] <= 45


def test_lighter_loads_count_for_less(client, campaign, gorge, kiln):
    """The same minutes without a failure say more when the heaviest load ran them."""
    ran(campaign, {"core": 60}, gorge, 120)
    query = {"knob": "core"}
    light = client.get(f"/api/campaigns/{campaign.pk}/climb", query).json()["climb"]
    ran(campaign, {"core": 60}, kiln, 120)
    campaign.runs.filter(variant=gorge).delete()
    heavy = client.get(f"/api/campaigns/{campaign.pk}/climb", query).json()["climb"]
    at = {point["value"]: point["holds"] for point in light["curve"]}
    assert all(point["holds"] >= at[point["value"]] for point in heavy["curve"])
    # a third of a decade by its kind, moved a little by what it survived
    assert light["trials"][0]["stress"] == pytest.approx(-0.35 * 75 / 3.5, abs=1.0)


@pytest.mark.parametrize("query", [{"setting_id": 9999}, {"minutes": -1}])
def test_nonsense_is_refused(client, campaign, query):
    assert client.get(f"/api/campaigns/{campaign.pk}/proof", query).status_code in (404, 422)
