"""The wider house: instruments, knobs and workloads later, other sides, the logbook, the end of a campaign."""

import json

import pytest

from tests.api.test_contract import BODY, places, post
from tests.conftest import CORE, GORGE, POWER
from tests.drafts import run_body, run_draft
from trelvo.logbook.commands.campaigns import create_campaign, remove_deleted
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build, create_rig
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Figure, InstrumentRow, Run, Series, Variant, Workload

CLAMP = {"name": "clamp", "kind": "clamp", "quantity": "power"}


def put(client, path, body):
    return client.put(f"/api{path}", json.dumps(body), content_type="application/json")


def logged(client, campaign, setting, workload, **fields):
    body = run_body(setting_id=setting.pk, workload_id=workload.pk, outcome="completed", value=93.6, **fields)
    return post(client, f"/campaigns/{campaign.pk}/runs", body)


@pytest.fixture
def clamp(client, campaign):
    return post(client, f"/rigs/{campaign.rig_id}/instruments", CLAMP).json()


def test_a_correction_changes_what_counts_and_not_what_was_read(client, campaign, stock, gorge, clamp):
    power = {
        "quantity": "power",
        "part": "tuned part",
        "statistic": "mean",
        "value": 173.0,
        "instrument_id": clamp["id"],
    }
    run = logged(client, campaign, stock, gorge).json()
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5, "figures": [power]}
    run = post(client, f"/campaigns/{campaign.pk}/runs", body).json()
    assert put(client, f"/instruments/{clamp['id']}", {**CLAMP, "offset": 27.0, "offset_sd": 0.5}).status_code == 200
    (shown,) = client.get(f"/api/runs/{run['id']}").json()["figures"]
    assert (shown["value"], shown["corrected"], shown["instrument"]) == (173.0, 200.0, "clamp")
    power = client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"][0]["power"]
    assert (power["mean_w"], power["instrument"], power["corrected"]) == (200.0, "clamp", True)
    # ± 0.5 W of one deviation: ± 0.98 W in 95 %
    assert (shown["half"], power["half_w"]) == (pytest.approx(0.98, abs=0.001),) * 2
    # wrong since always: what it read stays, and counts no more
    wrong = put(client, f"/instruments/{clamp['id']}", {**CLAMP, "trust": "wrong", "trust_why": "test suite was flat"})
    assert wrong.status_code == 200
    assert client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"][0]["power"]["mean_w"] is None
    assert client.get(f"/api/runs/{run['id']}").json()["figures"][0]["counts"] is False


@pytest.mark.parametrize(
    ("body", "where"),
    [
        ({**CLAMP, "name": "second", "factor": 0}, "factor"),
        ({**CLAMP, "name": "second", "quantity": "other"}, "quantity"),
        ({**CLAMP, "name": "Clamp"}, "name"),
        ({**CLAMP, "name": "second", "trust": "suspect"}, "trust_why"),
        ({**CLAMP, "name": "second", "replaced_by_id": 99}, "replaced_by_id"),
    ],
)
def test_an_instrument_that_cannot_be_is_refused(client, campaign, clamp, body, where):
    answer = post(client, f"/rigs/{campaign.rig_id}/instruments", body)
    assert (answer.status_code, places(answer)) == (422, [where])
    assert InstrumentRow.objects.count() == 1


def test_two_instruments_against_each_other(client, campaign, stock, gorge, clamp):
    meter = {**CLAMP, "name": "meter", "kind": "wall meter", "part": "whole machine"}
    meter = post(client, f"/rigs/{campaign.rig_id}/instruments", meter).json()
    for watts in (150, 180, 210, 240, 270, 300):
        read = [
            {"quantity": "power", "part": "tuned part", "statistic": "mean", "value": value, "instrument_id": by["id"]}
            for by, value in ((clamp, watts), (meter, watts + 90 + watts % 4))
        ]
        body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5, "figures": read}
        assert post(client, f"/campaigns/{campaign.pk}/runs", body).status_code == 201
    found = client.get(f"/api/instruments/{meter['id']}/agreement?second={clamp['id']}").json()
    assert (found["agreement"]["pairs"], found["parts_differ"]) == (6, True)
    assert found["agreement"]["bias"] == pytest.approx(91, abs=1.5)
    assert found["agreement"]["finding"] == "constant offset"
    assert (found["by"], found["could"]) == ("runs", ["runs"])
    assert places(client.get(f"/api/instruments/{meter['id']}/agreement?second={clamp['id']}&by=moments")) == ["by"]
    # a first that is corrected itself is what the second has to read like
    described = {**CLAMP, "name": "meter", "kind": "wall meter", "part": "whole machine"}
    assert put(client, f"/instruments/{meter['id']}", {**described, "offset": -90.0}).status_code == 200
    assert client.get(f"/api/instruments/{meter['id']}/agreement?second={clamp['id']}").json()["agreement"][
        "bias"
    ] == pytest.approx(1, abs=1.5)
    assert put(client, f"/instruments/{meter['id']}", described).status_code == 200
    same = client.get(f"/api/instruments/{clamp['id']}/agreement?second={clamp['id']}")
    assert places(same) == ["second"]
    counting = put(client, f"/campaigns/{campaign.pk}/counting", {"counting": {"power": meter["id"]}}).json()
    assert counting["counting"] == {"power": meter["id"]}
    assert client.get(f"/api/campaigns/{campaign.pk}/baseline").json()["workloads"][0]["power"]["instrument"] == "meter"
    assert places(put(client, f"/campaigns/{campaign.pk}/counting", {"counting": {"noise": meter["id"]}})) == [
        "counting.noise"
    ]


def test_another_rigs_instrument_reads_nothing_here(client, campaign, stock, gorge, now):
    other = create_rig("Other", BuildDraft(), now)
    theirs = post(client, f"/rigs/{other.pk}/instruments", CLAMP).json()
    power = {"quantity": "power", "value": 173.0, "instrument_id": theirs["id"]}
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5, "figures": [power]}
    assert places(post(client, f"/campaigns/{campaign.pk}/runs", body)) == ["power_w"]
    assert (Run.objects.count(), Figure.objects.count()) == (0, 0)


def test_a_knob_added_later_stands_at_stock_in_what_is_there(client, campaign, stock, gorge, now):
    setting = add_setting(campaign, {"core": 90}, "", now)
    voltage = {
        "key": "voltage",
        "name": "Voltage",
        "unit": "mV",
        "stock": 0,
        "step": 5,
        "low": -150,
        "high": 0,
        "away": -1,
    }
    made = post(client, f"/campaigns/{campaign.pk}/knobs", voltage).json()
    assert [(knob["key"], knob["role"]) for knob in made["knobs"]][-1] == ("voltage", "voltage")
    assert client.get(f"/api/campaigns/{campaign.pk}/ladder").json()["ladder"]["settings"][0]["values"]["voltage"] == 0
    assert places(post(client, f"/campaigns/{campaign.pk}/knobs", voltage)) == ["key"]
    assert places(post(client, f"/campaigns/{campaign.pk}/knobs", {**voltage, "key": "v2", "step": 0})) == ["step"]
    # retired: not proposed any more, its settings stay
    retired = put(client, f"/campaigns/{campaign.pk}/knobs/core", {"retired": True}).json()
    assert {knob["key"]: knob["retired"] for knob in retired["knobs"]}["core"] is True
    turned = client.get(f"/api/campaigns/{campaign.pk}/climb").json()["knobs"]
    assert "core" not in [knob["key"] for knob in turned]
    titles = [one["title"] for one in client.get(f"/api/campaigns/{campaign.pk}/settings").json()]
    assert titles[1] == "core clock +90\u00a0MHz"
    assert campaign.settings.filter(pk=setting.pk).exists()
    for key in ("power", "voltage"):
        last = put(client, f"/campaigns/{campaign.pk}/knobs/{key}", {"retired": True})
    assert places(last) == ["knob"]


def test_a_workload_added_and_retired(client, campaign, stock, gorge, now):
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.6), now)
    further = {
        **BODY["workloads"][0],
        "name": "Rings",
        "measure": "score",
        "unit": "points",
        "options": {"preset": "high"},
    }
    added = post(client, f"/campaigns/{campaign.pk}/workloads", {"workload": further}).json()
    assert [one["title"] for one in added["workloads"]] == ["Gorge", "Render", "Rings"]
    assert places(post(client, f"/campaigns/{campaign.pk}/workloads", {"workload": further})) == ["name"]
    nameless = {**further, "name": "Else", "options": {" ": "x"}}
    assert places(post(client, f"/campaigns/{campaign.pk}/workloads", {"workload": nameless})) == ["options"]
    gone = client.delete(f"/api/campaigns/{campaign.pk}/workloads/{gorge.pk}").json()
    assert [one["name"] for one in gone["retired"]] == ["Gorge"]
    assert Run.objects.count() == 1
    back = post(client, f"/campaigns/{campaign.pk}/workloads", {"workload_id": gorge.pk}).json()
    assert (len(back["workloads"]), back["retired"]) == (3, [])


def test_the_same_workload_is_one_on_every_rig_and_other_options_are_another_variant(campaign, now):
    rig = create_rig("Second", BuildDraft(), now)
    same = create_campaign(rig, "Same", "speed", "", [CORE], [GORGE], now)
    assert same.workloads.get() == campaign.workloads.get(workload__name="Gorge")
    smaller = type(GORGE)("gorge", "frame rate", "fps", True, 1.5, {"resolution": "1920 × 1080"})
    other = create_campaign(rig, "Smaller", "speed", "", [CORE], [smaller], now).workloads.get()
    assert other.workload == same.workloads.get().workload
    assert (Variant.objects.count(), Workload.objects.filter(name="Gorge").count()) == (3, 1)


def test_settings_of_two_rigs_are_compared_with_each_sides_own_noise(client, campaign, stock, gorge, now):
    parts = (PartDraft("Graphics card", "Another card"),)
    rig = create_rig("Second", BuildDraft(parts=parts, driver="41.2"), now)
    second = create_campaign(rig, "Second", "speed", "", [POWER], [GORGE], now)
    theirs = second.settings.get()
    for value in (93.6, 93.5, 94.0):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
        log_run(second, theirs, gorge, run_draft("completed", now, value * 1.3), now)
    offered = client.get(f"/api/campaigns/{campaign.pk}/sides").json()
    assert [(one["key"], one["rig_name"]) for one in offered] == [(str(stock.pk), "Bench"), (str(theirs.pk), "Second")]
    answer = client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={theirs.pk}").json()["versus"]
    (candidate,) = answer["candidates"]
    gain = candidate["column"]["cells"][0]["comparison"]
    assert gain["ratio"] == pytest.approx(1.3)
    assert gain["basis"] == "each side's pooled noise"
    assert (answer["reference_rig_name"], candidate["rig_name"], candidate["short"]) == (
        "Bench",
        "Second",
        "Second: stock",
    )
    states = {aspect["name"]: aspect["state"] for aspect in candidate["fairness"]["aspects"]}
    assert (states["Parts"], states["Driver"]) == ("studied", "same")
    assert "score" in candidate["fairness"]["comparable"]


def test_one_setting_before_and_after_a_new_driver_as_candidates_by_build(client, campaign, stock, gorge, now):
    for value in (93.6, 93.5, 94.0):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    add_build(campaign.rig, BuildDraft(driver="41.5"), now)
    for value in (95.0, 95.1, 95.4):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    answer = client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={stock.pk}@1").json()["versus"]
    (candidate,) = answer["candidates"]
    assert (candidate["key"], candidate["build_number"], answer["reference_build_number"]) == (
        f"{stock.pk}@1",
        1,
        2,
    )
    assert candidate["column"]["cells"][0]["comparison"]["ratio"] < 1
    assert client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={stock.pk}@7").status_code == 404


def test_what_was_set_stands_beside_what_was_got(client, campaign, stock, gorge, now):
    setting = add_setting(campaign, {"core": 90, "power": 110}, "", now)
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.6, core_mhz=2340.0, power_w=180.0), now)
    log_run(campaign, setting, gorge, run_draft("completed", now, 96.0, core_mhz=2420.0, power_w=196.0), now)
    (candidate,) = client.get(f"/api/campaigns/{campaign.pk}/compare?candidates={setting.pk}").json()["versus"][
        "candidates"
    ]
    moved = {one["key"]: (one["set_by"], one["got"], one["unit"], one["comparable"]) for one in candidate["moved"]}
    assert moved == {"core": (90, 80, "MHz", True), "power": (10, 16, "W", False)}


@pytest.fixture
def logbook(campaign, stock, gorge, now):
    tuned = add_setting(campaign, {"core": 90}, "", now)
    for setting, value, watts in ((stock, 93.6, 180.0), (stock, 94.0, 178.0), (tuned, 98.0, 201.0)):
        log_run(campaign, setting, gorge, run_draft("completed", now, value, power_w=watts, note=f"at {watts:g}"), now)
    failed = log_run(campaign, tuned, gorge, run_draft("system crash", now), now)
    set_aside(failed, "the plug came loose", now)
    return campaign


@pytest.mark.parametrize(
    ("query", "values"),
    [
        ("", [None, 98.0, 94.0, 93.6]),
        ("?falling=false", [93.6, 94.0, 98.0, None]),
        ("?sort=value", [98.0, 94.0, 93.6, None]),
        ("?sort=power_w", [98.0, 93.6, 94.0, None]),
        ("?sort=power_w&falling=false", [94.0, 93.6, 98.0, None]),
        ("?outcome=system crash", [None]),
        ("?aside=false", [98.0, 94.0, 93.6]),
        ("?text=201 gorge", [98.0]),
        ("?text=plug", [None]),
        ("?with_log=true", []),
        ("?since=2031-01-01T00:00:00Z", []),
        ("?start=1&count=2", [98.0, 94.0]),
    ],
)
def test_the_logbook_is_filtered_sorted_and_paged(client, logbook, query, values):
    page = client.get(f"/api/logbook{query}").json()
    assert [run["value"] for run in page["runs"]] == values
    if "start" in query:
        assert page["total"] == 4


def test_the_logbook_as_csv_is_what_is_shown(client, logbook):
    answer = client.get("/api/logbook.csv?aside=false&sort=value&columns=power_w,note")
    lines = b"".join(answer.streaming_content).decode().splitlines()
    assert lines[0].endswith("value,unit,power_w,note")
    assert [line.split(",")[-2:] for line in lines[1:]] == [
        ["201.0", "at 201"],
        ["178.0", "at 178"],
        ["180.0", "at 180"],
    ]
    assert places(client.get("/api/logbook.csv?columns=beauty")) == ["columns"]
    assert places(client.get("/api/logbook?sort=beauty")) == ["sort"]


def test_archived_is_out_of_the_list_and_nothing_is_lost(client, logbook):
    assert put(client, f"/campaigns/{logbook.pk}/archived", {"archived": True}).status_code == 200
    assert client.get("/api/campaigns").json() == []
    assert [one["id"] for one in client.get("/api/campaigns?archived=true").json()] == [logbook.pk]
    assert client.get("/api/logbook").json()["total"] == 4
    put(client, f"/campaigns/{logbook.pk}/archived", {"archived": False})
    assert len(client.get("/api/campaigns").json()) == 1


def test_deleted_is_asked_twice_can_be_undone_and_then_goes(client, logbook, gorge, now):
    going = client.get(f"/api/campaigns/{logbook.pk}/what-goes").json()
    assert going == {"settings": 2, "runs": 4, "logs": 0}
    assert places(post(client, f"/campaigns/{logbook.pk}/delete", {"name": "up"})) == ["name"]
    assert post(client, f"/campaigns/{logbook.pk}/delete", {"name": "Up"}).status_code == 200
    assert client.get(f"/api/campaigns/{logbook.pk}").status_code == 404
    assert client.get("/api/logbook").json()["total"] == 0
    assert [one["name"] for one in client.get("/api/deleted-campaigns").json()] == ["Up"]
    assert post(client, f"/campaigns/{logbook.pk}/undelete", {}).json()["run_count"] == 4
    post(client, f"/campaigns/{logbook.pk}/delete", {"name": "Up"})


@pytest.mark.django_db(transaction=True)
def test_the_next_start_removes_what_was_deleted(client, logbook):
    post(client, f"/campaigns/{logbook.pk}/delete", {"name": "Up"})
    assert remove_deleted() == 1
    assert (Campaign.objects.count(), Run.objects.count(), Figure.objects.count(), Series.objects.count()) == (
        0,
        0,
        0,
        0,
    )
    assert Workload.objects.count() == 2
    assert remove_deleted() == 0
