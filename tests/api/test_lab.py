"""The laboratory by the API: on the demo's campaigns, and with what a tired person types."""

from datetime import timedelta

import numpy as np
import pytest

from tests.core.laws.traces import Truth, warming
from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.core.base.figures import FigureKey
from trelvo.core.problems import Refused
from trelvo.demo.bench import demo_bench
from trelvo.exchange.archive.document import campaign_document
from trelvo.exchange.archive.restore import restore
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.live import Batch, LiveDraft, open_run, take_batch
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, figure, log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Figure, InstrumentRow, Series, Variant
from trelvo.logbook.store import empty_store
from trelvo.simulator.bench import true_edge_mhz
from trelvo.simulator.rigs import DOME, draw_rig

JSON = {"content_type": "application/json"}


@pytest.fixture
def wall(story):
    return Campaign.objects.get(name__startswith="Foyer wall")


@pytest.fixture
def summer(story):
    return Campaign.objects.get(name__contains="summer")


def test_the_long_logs_tell_where_the_part_settles(client, summer):
    found = client.get(f"/api/campaigns/{summer.pk}/heat").json()
    kiln = next(one for one in found["logs"] if one["workload"] == "Kiln")
    run = Series.objects.get(pk=kiln["series_id"]).run
    hottest = run.figures.get(quantity="temperature", part="tuned part", statistic="highest").value
    assert kiln["settles_c"]["value"] == pytest.approx(hottest, abs=1.0)
    assert kiln["says"]["code"] == "settled"
    assert kiln["says"]["text"].startswith("Settled")
    # what the first minutes told holds the end; the earlier logs of the build are known
    told = found["trace"]["told"]
    assert [one["after_min"] for one in told] == [3, 5, 10, 20]
    assert all(one["settles_c"]["low"] <= hottest <= one["settles_c"]["high"] + 0.5 for one in told)
    assert found["trace"]["learnt_from"] > 0


def test_both_builds_of_the_rig_are_compared_at_one_fan(client, summer):
    found = client.get(f"/api/campaigns/{summer.pk}/heat").json()
    assert [one["number"] for one in found["builds"]] == [1, 2]
    assert all(one["fan_read"] for one in found["builds"])
    (difference,) = found["differences"]
    assert (difference["newer"], difference["older"]) == (2, 1)
    assert difference["difference"]["same_fan"]


def test_coolers_are_as_loud_as_each_other_only_by_one_sound_meter(client, summer):
    def at_noise():
        return client.get(f"/api/campaigns/{summer.pk}/heat").json()["differences"][0]["at_noise"]

    assert 25 < at_noise()["dba"] < 60
    rig = summer.rig
    phone = InstrumentRow.objects.create(
        rig=rig, name="A phone", kind="sound meter", quantity="noise", part="whole machine"
    )
    Figure.objects.filter(run__build__rig=rig, run__build__number=1, quantity="noise").update(instrument=phone)
    empty_store()
    assert at_noise() is None


def test_a_limit_and_a_room_decide_which_cooler_is_enough(client, summer):
    def verdicts(limit, room):
        needs = client.get(f"/api/campaigns/{summer.pk}/heat?limit_c={limit}&room_c={room}").json()["needs"]
        watts = [need["use"]["power_w"] for need in needs]
        assert watts == sorted(watts)
        assert all(need["needed_c_per_w"] == pytest.approx((limit - room) / need["use"]["power_w"]) for need in needs)
        return {need["verdict"] for need in needs}

    assert verdicts(95, 20) == {"enough"}
    assert "not enough" in verdicts(60, 30)


def test_a_log_says_what_held_the_part_back(client, summer):
    series = Series.objects.filter(run__campaign=summer, kind="telemetry", run__variant__workload__name="Kiln").first()
    found = client.get(f"/api/series/{series.pk}/held-back").json()
    assert sum(one["share"] for one in found["shares"]) == pytest.approx(1)
    assert found["shares"][0]["what"] == "power limit"
    frames = Series.objects.filter(kind="frames").first()
    assert client.get(f"/api/series/{frames.pk}/held-back").status_code == 404


def test_the_law_of_the_wall_and_what_a_year_costs(client, wall):
    found = client.get(f"/api/campaigns/{wall.pk}/power?hours_a_day=10&price=0.3").json()
    assert found["fits"]
    assert found["misfit"] < 0.02
    stock = next(one for one in found["settings"] if one["title"] == "stock")
    bill = next(one for one in found["bills"] if one["title"] == "stock")
    assert bill["year"]["kwh"] == pytest.approx(stock["power_w"] * 3.65)
    assert bill["year"]["cost"] == pytest.approx(bill["year"]["kwh"] * 0.3)
    assert all(abs(one["law_w"]["value"] / one["power_w"] - 1) < 0.03 for one in found["settings"])
    costs = {one["key"]: one["watts"] for one in found["costs"]}
    assert costs["power"] < -1
    # an instrument whose correction is not exact says how far the year may be off; its offset falls out of what is saved
    assert bill["year"]["half_kwh"] == 0
    InstrumentRow.objects.filter(rig=wall.rig, quantity="power").update(offset_sd=3.0)
    empty_store()
    unsure = client.get(f"/api/campaigns/{wall.pk}/power?hours_a_day=10&price=0.3").json()["bills"]
    assert {round(one["year"]["half_kwh"], 3) for one in unsure} == {round(1.959964 * 3 * 3.65, 3)}
    assert {one["saved"]["half_kwh"] for one in unsure} == {0}


def test_an_untried_setting_is_predicted_with_its_heat(client, wall):
    gorge = wall.workloads.get(workload__name="Gorge flythrough")

    def predict(values, workload=gorge.pk):
        return client.post(f"/api/campaigns/{wall.pk}/predict", {"values": values, "workload_id": workload}, **JSON)

    found = predict({"power": 75}).json()
    assert found["held"]
    assert found["power_w"]["value"] == pytest.approx(0.75 * 174, rel=0.03)
    assert found["temp_c"]["low"] < found["temp_c"]["value"] < found["temp_c"]["high"]
    assert "off the grid" in predict({"core": 7}).content.decode() or predict({"core": 7}).status_code == 422
    assert predict({"nonsense": 1}).status_code == 422
    assert predict({}, 999_999).status_code == 404


def test_where_no_law_is_known_the_answer_says_why(client, wall, campaign, stock, gorge):
    body = {"values": {"core": 15}, "workload_id": gorge.pk}
    nothing = client.post(f"/api/campaigns/{campaign.pk}/predict", body, **JSON)
    assert nothing.status_code == 200
    assert nothing.json()["power_w"] is None
    assert [problem["code"] for problem in nothing.json()["why"]] == ["no_power_read"]
    tables = wall.test_suite.get(workload__name="Kiln")
    assert client.post(f"/api/campaigns/{wall.pk}/predict", {"values": {}, "workload_id": tables.pk}, **JSON).json()[
        "power_w"
    ]


def test_both_ways_of_saving_stand_side_by_side_and_what_would_beat_them(client, wall):
    found = client.get(f"/api/campaigns/{wall.pk}/response").json()
    cap = next(one for one in found["ways"] if one["way"] == "cap the power")
    assert [one["label"] for one in cap["places"]] == [
        "stock",
        *(one["title"].removeprefix("power limit ") for one in cap["places"][1:]),
    ]
    ratios = [one["ratio"] for one in cap["response"]["curve"]]
    assert ratios == sorted(ratios)
    at_98 = next(one for one in found["equal_speed"] if one["ratio"] == 0.98)
    assert at_98["first_x"] < found["stock_w"]
    assert found["untried"]
    assert found["untried"][0]["meets_speed"]
    tried = [setting.values for setting in wall.settings.all()]
    assert all(one["values"] not in tried for one in found["untried"])


def test_a_setting_that_was_not_run_is_still_worth_a_run_and_one_that_failed_is_not(client, wall, now):
    def untried():
        return client.get(f"/api/campaigns/{wall.pk}/response").json()["untried"]

    first = untried()[0]
    assert first["setting_id"] is None
    setting = add_setting(wall, first["values"], "", now)
    again = untried()[0]
    assert (again["title"], again["setting_id"]) == (first["title"], setting.pk)
    gorge = wall.workloads.get(workload__name="Gorge flythrough")
    log_run(wall, setting, gorge, run_draft("program crash", now), now)
    assert first["title"] not in [one["title"] for one in untried()]


def test_what_has_failed_keeps_no_other_setting_from_being_told(client, wall, now):
    def thriftiest():
        return client.get(f"/api/campaigns/{wall.pk}/response").json()["untried"][0]

    first = thriftiest()
    watts, speed = first["power_w"]["value"] - 2, first["ratio"]["value"] + 0.02
    setting = add_setting(wall, {"power": 96.0, "voltage": -60.0}, "", now)
    stock = wall.settings.get(fingerprint="")
    for workload in wall.workloads.all():
        of_stock = stock.runs.filter(variant=workload, value__isnull=False).values_list("value", flat=True)
        draft = run_draft(
            "completed", now, sum(of_stock) / len(of_stock) * speed, power_w=watts, power_point="software"
        )
        log_run(wall, setting, workload, draft, now)
    # neither slower nor hungrier than what was measured there
    beats = thriftiest()
    assert beats["power_w"]["value"] < watts or beats["ratio"]["value"] > speed
    log_run(wall, setting, wall.test_suite.get(workload__name="Kiln"), run_draft("system crash", now), now)
    then = thriftiest()
    assert then["meets_speed"]
    assert then["power_w"]["value"] > watts
    assert then["ratio"]["value"] < speed


def test_the_curve_is_learnt_shaped_typed_and_forgotten(client, wall):
    address = f"/api/campaigns/{wall.pk}/curve"
    learnt = client.get(f"{address}?cap_v=0.9&target_mhz=2250").json()
    assert learnt["source"] == "learnt from logs"
    clocks = [one["core_mhz"] for one in learnt["curve"]]
    assert clocks == sorted(clocks)
    assert learnt["shaped"]["reaches_mhz"] <= 2250
    assert learnt["at_cap"]["power_w"]["value"] < learnt["at_cap"]["stock_w"]
    typed = client.put(address, {"text": "800;1700\n900;2100\n1050;2410"}, **JSON).json()
    assert typed["source"] == "typed"
    # the part runs below the curve that was typed
    assert typed["gap_mhz"] > 0
    wrong = client.put(address, {"text": "800;1700\n900;1600"}, **JSON)
    assert wrong.status_code == 422
    assert "falls" in wrong.content.decode()
    assert client.get(address).json()["source"] == "typed"
    assert client.put(address, {"text": " "}, **JSON).json()["source"] == "learnt from logs"


def test_the_edge_over_both_knobs_falls_with_the_voltage(client, wall):
    plane = client.get(f"/api/campaigns/{wall.pk}/curve").json()["plane"]
    middles = [one["middle"] for one in plane["line"]]
    assert middles == sorted(middles, reverse=True)
    failed = [one for one in plane["marks"] if one["failed"]]
    assert failed
    assert plane["next"]["minutes"] in (5, 10, 30)
    assert 0.6 <= plane["next"]["passes"] <= 1


def test_runs_below_stocks_clock_count_for_the_edge(client, wall, now):
    """A pair that lies on the near side of stock was asked for again and again: its run counted for nothing."""
    address = f"/api/campaigns/{wall.pk}/curve"
    plane = client.get(address).json()["plane"]
    kiln = Variant.objects.get(pk=plane["load_id"])
    values = {"voltage": -105.0, "core": -135.0}
    setting = add_setting(wall, values, "", now)
    log_run(wall, setting, kiln, RunDraft("completed", now, 5100.0, duration_s=3600), now)
    after = client.get(address).json()["plane"]
    assert len(after["marks"]) == len(plane["marks"]) + 1
    at = {one["voltage"]: one for one in after["line"]}
    assert at[-105.0]["tried"]
    assert at[-105.0]["low"] > next(one["low"] for one in plane["line"] if one["voltage"] == -105.0)


def test_the_lowest_voltage_for_a_clock_is_told(client, wall):
    address = f"/api/campaigns/{wall.pk}/curve"
    stock = client.get(address).json()["plane"]["lowest"]
    assert stock["clock"] == 0
    assert -75 <= stock["voltage"] < 0
    slower = client.get(address, {"for_clock": -150}).json()["plane"]["lowest"]
    assert slower["voltage"] <= stock["voltage"]
    assert client.get(address, {"for_clock": 300}).json()["plane"]["lowest"] is None


def test_what_the_load_line_keeps_is_learnt_from_logs(client, story):
    laptop = Campaign.objects.get(name__startswith="Lectern")
    found = client.get(f"/api/campaigns/{laptop.pk}/droop").json()
    assert found["refused"] == []
    assert found["falls"]
    assert found["fits"]
    assert not found["read"]
    stiff, stock = found["lines"]
    assert [one["title"].replace("\xa0", " ") for one in found["lines"]] == ["Load line 40 %", "Load line 100 %"]
    # 1.6 mOhm by design, 40 % of it at the other setting; power over voltage shows a little more current than flows
    assert 1.4 < stock["mohm"]["low"] < stock["mohm"]["high"] < 1.65
    assert stiff["mohm"]["value"] / stock["mohm"]["value"] == pytest.approx(0.4, abs=0.05)
    assert stock["arrives_v"] == pytest.approx(stock["no_load_v"] - stock["lost_v"]["value"])
    # held at its limit all the time, the loft box shows one current at each clock; the relic has no log
    for name in ("Loft", "Relic"):
        other = Campaign.objects.get(name__startswith=name)
        refused = client.get(f"/api/campaigns/{other.pk}/droop").json()["refused"]
        assert "something light and something heavy" in refused[0]["todo"]


def test_a_target_beyond_the_tools_largest_offset_is_told_with_what_can_be_had(client, db):
    rig = create_rig("Annexe machine", BuildDraft(), NOW, "annexe", 28)
    drafts = workloads_for("annexe")
    campaign = create_campaign(rig, "Annexe: cool by the sea", "efficiency", "", knobs_for("annexe"), drafts[:1], NOW)
    bench = demo_bench(campaign, NOW, NOW + timedelta(hours=6), room_c=22, seed=1)
    # a power limit walks the card along its own curve
    for power in (100, 80, 65, 50):
        setting = add_setting(campaign, {"power": power}, "", bench.clock) if power < 100 else campaign.settings.get()
        bench.run(setting, campaign.workloads.get(), log=True)
    address = f"/api/campaigns/{campaign.pk}/curve"
    asked = {"cap_v": 0.87, "target_mhz": 2295, "most_offset_mhz": 500}
    shaped = client.get(address, asked).json()["shaped"]
    assert 600 < shaped["needed_mhz"] < 750
    assert (shaped["says"]["code"], shaped["says"]["params"]["most_mhz"]) == ("target_needs_more", 500)
    # what it says can be had, can be had
    lowest = client.get(address, asked | {"cap_v": shaped["lowest_v"] + 0.002}).json()["shaped"]
    assert lowest["needed_mhz"] <= 500
    highest = client.get(address, asked | {"target_mhz": shaped["highest_mhz"]}).json()["shaped"]
    assert highest["needed_mhz"] <= 500
    # the silicon itself would hold it: only the tool is in the way
    assert (
        true_edge_mhz(draw_rig("annexe", 28), {"voltage": -190, "core": -450}, DOME.loads["Gorge flythrough"], 55) < 0
    )


@pytest.fixture
def loft(story):
    return Campaign.objects.get(name__startswith="Loft box")


def test_the_budget_says_who_gets_what_and_which_split_pays(client, loft):
    found = client.get(f"/api/campaigns/{loft.pk}/budget").json()
    assert found["refused"] == []
    rows = {row["title"].replace("\xa0", " "): row for row in found["rows"]}
    dome = next(one for one in found["workloads"] if one["name"] == "Small dome")
    assert dome["fits"]
    assert 0.2 <= dome["first_share"]["value"] <= 0.8
    cells = {title: next(c for c in row["cells"] if c["workload_id"] == dome["id"]) for title, row in rows.items()}
    at_28 = cells["power cap 28 W"]
    # the graphics take first, so the processor starves: a watt more for the graphics costs speed
    assert at_28["held"]
    assert at_28["second_w"] > 1.5 * at_28["first_w"]
    assert at_28["to_second"]["high"] < 1 < at_28["to_first"]["low"]
    assert at_28["whole_w"] == pytest.approx(at_28["first_w"] + at_28["second_w"] + at_28["rest_w"])
    limit = rows["power cap 28 W"]["part_limit"]
    assert limit["values"] == {"cap": 28, "graphics": limit["watts"]}
    # what was then run, with a little less for the graphics, is faster as predicted
    tried = rows["power cap 28 W, graphics’ own cap 11 W"]
    assert tried["part_limit"] is None
    assert rows["power cap 28 W"]["ratio"] + 0.02 < tried["ratio"] < limit["ratio"]["high"]
    # the same speed for less power is the goal: no cap keeps it
    assert found["goal_at"] == rows["stock"]["setting_id"]


def test_the_goal_of_the_budget_is_asked_for(client, loft):
    loft.goal, loft.terms = "power budget", {"most_power_w": 30.0}
    loft.save(update_fields=["goal", "terms"])
    found = client.get(f"/api/campaigns/{loft.pk}/budget").json()
    asked = next(row for row in found["rows"] if row["setting_id"] == found["goal_at"])
    assert asked["title"] == "power cap 28\xa0W"


def test_settings_at_another_voltage_are_shown_and_do_not_bend_the_law(client, loft, now):
    """The same watts make other speed of another voltage."""
    address = f"/api/campaigns/{loft.pk}/budget"
    before = client.get(address).json()
    lower = add_setting(loft, {"voltage": -50.0, "cap": 28.0}, "", now)
    for workload, value in zip(loft.workloads.all(), (150.0, 80.0), strict=True):
        figures = [FigureDraft(FigureKey("power", part, "mean"), 12.0) for part in ("processor", "graphics")]
        draft = RunDraft("completed", now, value, figures=[*figures, figure("power_w", 27.5, "software")])
        log_run(loft, lower, workload, draft, now)
    after = client.get(address).json()
    assert [one["misfit"] for one in after["workloads"]] == [one["misfit"] for one in before["workloads"]]
    row = next(one for one in after["rows"] if one["setting_id"] == lower.pk)
    assert row["part_limit"] is None
    assert [(one["first_w"], one["to_first"], one["split"]) for one in row["cells"]] == [(12.0, None, None)] * 2


def test_a_limit_that_no_knob_sets_is_said(client, loft):
    loft.knobs.filter(key="graphics").update(part="tuned part")
    found = client.get(f"/api/campaigns/{loft.pk}/budget").json()
    limits = [row["part_limit"] for row in found["rows"] if row["part_limit"]]
    assert limits
    assert all(limit["no_knob"]["text"].startswith("No knob of this campaign limits the graphics") for limit in limits)
    assert all(limit["values"] == {} for limit in limits)


def test_a_budget_without_the_parts_watts_says_where_they_come_from(client, summer):
    found = client.get(f"/api/campaigns/{summer.pk}/budget").json()
    assert found["refused"][0]["what"] == "No completed run has the watts of processor and graphics apart."


@pytest.mark.parametrize("sheet", ["heat", "power", "response", "curve", "budget"])
def test_an_empty_campaign_answers_with_nothing(client, story, sheet):
    relic = Campaign.objects.get(name__startswith="Relic")
    answer = client.get(f"/api/campaigns/{relic.pk}/{sheet}")
    assert answer.status_code == 200
    found = answer.json()
    assert not found.get("logs")
    assert not found.get("settings")
    assert not found.get("ways")
    assert not found.get("curve")
    assert not found.get("rows")


@pytest.mark.parametrize(
    "query",
    [
        "heat?limit_c=nan",
        "heat?room_c=900",
        "power?hours_a_day=25",
        "curve?cap_v=0",
        "curve?target_mhz=1e9",
        "curve?grid_mhz=0",
    ],
)
def test_what_cannot_be_is_refused(client, wall, query):
    assert client.get(f"/api/campaigns/{wall.pk}/{query}").status_code == 422


def test_a_curve_goes_with_its_campaign_and_a_wrong_one_is_refused(client, campaign):
    address = f"/api/campaigns/{campaign.pk}"
    client.put(f"{address}/curve", {"text": "800;1700\n900;2100"}, **JSON)
    campaign.refresh_from_db()
    document = campaign_document(campaign)
    assert [(one.voltage_v, one.core_mhz) for one in document.campaign.curve] == [(0.8, 1700), (0.9, 2100)]
    campaign.delete()
    assert restore(document, NOW).curve == [{"voltage_v": 0.8, "core_mhz": 1700}, {"voltage_v": 0.9, "core_mhz": 2100}]
    document.campaign.curve[1].core_mhz = 1600
    with pytest.raises(Refused, match="curve_falls"):
        restore(document, NOW, as_copy=True)


def test_measuring_points_by_the_api(client, db):
    found = client.get("/api/lab/supply?wall_w=332&rated_w=750&rating=Gold&rest_w=61&rest_give_or_take_w=5").json()
    # 332 W at the wall are about 295 W behind a Gold supply
    assert found["delivered"]["dc_w"]["value"] == pytest.approx(295, abs=2)
    assert found["part_w"]["value"] == pytest.approx(found["delivered"]["dc_w"]["value"] - 61)
    assert client.get("/api/lab/supply?wall_w=0&rated_w=750").status_code == 422
    assert client.get("/api/lab/droop?idle_v=1.25&load_v=1.15&amperes=100").json()["load_line_mohm"] == pytest.approx(1)
    assert client.get("/api/lab/droop?idle_v=1.25&load_v=1.15&amperes=0").status_code == 422
    assert client.get("/api/lab/droop?idle_v=nan&load_v=1.15&amperes=10").status_code == 422
    sound = client.get("/api/lab/sound?dba=46&fan=39&other_fan=44&other_dba=46").json()
    assert sound["at_fan_dba"]["value"] == pytest.approx(46 + 50 * 0.0524, abs=0.3)
    assert sound["both_dba"] == pytest.approx(49.01, abs=0.01)


def test_a_sweep_shows_what_was_run_and_lines_up_what_was_not(client, wall):
    address = f"/api/campaigns/{wall.pk}/sweep"
    found = client.get(address).json()
    assert found["knob"]["key"] == "power"
    assert [row["value"] for row in found["rows"]] == [100, 90, 80, 70, 60]
    gorge = next(one for one in found["workloads"] if one["name"] == "Gorge flythrough")
    ratios = [next(c["ratio"] for c in row["cells"] if c["workload_id"] == gorge["id"]) for row in found["rows"]]
    assert ratios == sorted(ratios, reverse=True)
    assert gorge["response"]["curve"][-1]["x"] == 100
    wish = {"knob": "power", "first": 100, "last": 60, "every": 5}
    laid_out = client.get(address, wish).json()
    assert laid_out["missing"] == 4 * len(found["workloads"])
    queue = client.post(address, wish | {"repeats": 1, "speed": 600}, **JSON).json()
    assert queue["waiting"] == laid_out["missing"]
    assert wall.settings.filter(note="Sweep").count() == 4
    # a failure is not run again by itself
    volts = client.get(address, {"knob": "voltage"}).json()
    assert volts["workloads"][0]["response"] is None
    assert any(cell["failed"] for row in volts["rows"] for cell in row["cells"])


def test_a_sweeps_watts_are_of_one_meter(client, wall, now):
    def cell():
        row = next(row for row in client.get(f"/api/campaigns/{wall.pk}/sweep").json()["rows"] if row["value"] == 80)
        return next(one for one in row["cells"] if one["workload_id"] == gorge.pk)

    gorge = wall.workloads.get(workload__name="Gorge flythrough")
    before = cell()
    setting = next(one for one in wall.settings.all() if one.values == {"power": 80})
    log_run(wall, setting, gorge, run_draft("completed", now, 70.0, power_w=900.0, power_point="wall"), now)
    after = cell()
    assert (before["power_w"] > 0, after["power_w"]) == (True, before["power_w"])
    assert after["runs"] == before["runs"] + 1


@pytest.mark.parametrize(
    ("wish", "says"),
    [
        ({"knob": "power", "first": 100, "last": 60, "every": 1}, "too many"),
        ({"knob": "power", "first": 100, "last": 60, "every": 0}, "above zero"),
        ({"knob": "power", "first": 100, "last": 60, "every": 1e-310}, "too many"),
        ({"knob": "core", "first": 0, "last": 60, "every": 7}, "grid"),
        ({"knob": "nonsense"}, "turns no knob"),
    ],
)
def test_a_sweep_that_cannot_be_is_refused(client, wall, wish, says):
    answer = client.get(f"/api/campaigns/{wall.pk}/sweep", wish)
    assert answer.status_code == 422
    assert says in answer.content.decode()


CHANNELS = [
    {"name": "die", "quantity": "temperature", "unit": "°C", "point": ""},
    {"name": "power", "quantity": "power", "unit": "W", "point": "software"},
    {"name": "fan", "quantity": "fan", "unit": "%", "point": ""},
]


def open_and_send(campaign, setting, workload, minutes, truth=None, room_c=22.0):
    """A live run of a warming part, so many minutes in; its number, and where it will end."""
    truth = truth or Truth()
    trace, end = warming(truth, minutes, np.random.default_rng(4), room=22.0, power=(200.0, 200.0))
    draft = LiveDraft("desk", CHANNELS, 1800.0, room_c=room_c)
    live = open_run(campaign, setting, workload, draft, NOW)
    values = np.column_stack([trace.temp_c, trace.power_w, np.full(trace.time_s.size, 50.0)])
    for number, part in enumerate(np.array_split(np.arange(trace.time_s.size), 4), 1):
        take_batch(live.pk, Batch(number, trace.time_s[part], values[part], np.empty(0)), NOW)
    return live.run_id, end


def test_a_live_run_predicts_where_it_settles(client, campaign, stock, gorge):
    run_id, end = open_and_send(campaign, stock, gorge, 12)
    found = client.get(f"/api/live/{run_id}/heat").json()
    assert found["settles_c"]["low"] <= end <= found["settles_c"]["high"]
    assert found["can_stop"]
    assert "°C" in found["says"]["text"]
    assert client.get("/api/live/999999/heat").status_code == 404


def test_a_live_run_that_is_too_young_says_what_it_waits_for(client, campaign, stock, gorge):
    run_id, _ = open_and_send(campaign, stock, gorge, 0.5)
    found = client.get(f"/api/live/{run_id}/heat").json()
    assert found["settles_c"] is None
    assert not found["can_stop"]
    assert found["says"]["problems"][0]["code"] == "too_short_for_heat"


def test_a_live_run_without_a_room_still_tells_the_end(client, campaign, stock, gorge):
    run_id, end = open_and_send(campaign, stock, gorge, 15, room_c=None)
    settles = client.get(f"/api/live/{run_id}/heat").json()["settles_c"]
    assert settles["value"] == pytest.approx(end, abs=1.0)
