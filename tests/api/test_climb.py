"""One knob's climb over the API: which runs count, where it stands, what comes next."""

from datetime import timedelta

import pytest

from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting


@pytest.fixture
def climbed(campaign, gorge):
    """Power at 110, core +15 to +60 there; +60 failed; one run at another power, which is another climb."""
    runs = {}
    for values, outcome, seconds in (
        ({"power": 110}, "completed", 300), ({"power": 110, "core": 15}, "completed", None),
        ({"power": 110, "core": 30}, "safety limit", 60), ({"power": 110, "core": 60}, "program crash", 30),
        ({"power": 110, "core": 75}, "no start", None), ({"power": 110, "core": 45}, "connection lost", None),
        ({"power": 120, "core": 90}, "completed", 300),
    ):  # fmt: skip
        setting = add_setting(campaign, values, "", NOW)
        runs[setting.pk] = log_run(campaign, setting, gorge, run_draft(outcome, NOW, duration_s=seconds), NOW)
    return campaign, list(runs.values())


def view(client, campaign, **query):
    answer = client.get(f"/api/campaigns/{campaign.pk}/climb", query)
    assert answer.status_code == 200, answer.content
    return answer.json()["climb"]


def test_the_runs_along_the_knob_are_its_trials(client, climbed):
    campaign, _ = climbed
    climb = view(client, campaign, knob="core")
    assert climb["base"] == {"power": 110}
    trials = {trial["value"]: (trial["minutes"], trial["failed"]) for trial in climb["trials"]}
    # without its time a completed run lasted as long as its workload; connection lost says nothing
    assert trials == {0: (5, False), 15: (1.5, False), 30: (1, False), 60: (0.5, True), 75: (0, True)}
    assert climb["tested_to"] == 75
    holds = [point["holds"] for point in climb["curve"]]
    assert holds == sorted(holds, reverse=True)
    assert climb["curve"][1]["setting_id"] is not None
    assert climb["curve"][-1]["setting_id"] is None
    assert {step["strategy"] for step in climb["steps"]} == {
        "fixed steps",
        "coarse then fine",
        "bisection",
        "adaptive",
    }


def test_what_was_set_aside_does_not_count_and_another_base_is_another_climb(client, climbed):
    campaign, runs = climbed
    set_aside(runs[3], "The driver was being updated.", NOW)
    assert 60 not in {trial["value"] for trial in view(client, campaign, knob="core")["trials"]}
    other = view(client, campaign, knob="core", base_id=runs[-1].setting_id)
    assert [trial["value"] for trial in other["trials"]] == [90]
    # a power limit that has held for minutes is taken to hold, so the clock is looked at
    assert view(client, campaign)["knob"]["key"] == "core"


def test_a_smaller_risk_holds_less(client, climbed):
    campaign, _ = climbed
    holds = []
    for hours in (1, 5000):
        answer = client.put(f"/api/campaigns/{campaign.pk}/terms", {"hours": hours}, content_type="application/json")
        assert answer.json()["terms"]["hours"] == hours
        holds.append(view(client, campaign, knob="core")["hold"])
    assert holds[1] <= holds[0]


def test_the_next_test_has_its_line_begun_for_a_bench_next_door(client, climbed):
    campaign, _ = climbed
    answer = client.get(f"/api/campaigns/{campaign.pk}/climb", {"knob": "core"}).json()
    fixed = next(step["advice"] for step in answer["climb"]["steps"] if step["strategy"] == "bisection")
    assert answer["lines"]["bisection"] == f"stock power 110 core {fixed['value']:+g} gorge {fixed['minutes']:g}min "
    tests = {step["strategy"] for step in answer["climb"]["steps"] if step["advice"]["act"] == "test"}
    assert set(answer["lines"]) == tests


def test_before_anything_was_run_there_is_advice_already(client, campaign):
    climb = view(client, campaign)
    assert climb["trials"] == []
    assert all(step["advice"]["act"] == "test" for step in climb["steps"])


@pytest.mark.parametrize("query", [{"knob": "boost"}, {"minutes": -1}])
def test_nonsense_is_refused(client, campaign, query):
    assert client.get(f"/api/campaigns/{campaign.pk}/climb", query).status_code == 422


def test_of_many_runs_at_a_value_the_last_few_are_named_and_all_are_counted(client, campaign, stock, gorge, now):
    for place in range(20):
        outcome = "program crash" if place in (1, 3) else "completed"
        value = None if outcome != "completed" else 93.0
        log_run(campaign, stock, gorge, run_draft(outcome, now + timedelta(minutes=place), value, duration_s=90.0), now)
    climb = client.get(f"/api/campaigns/{campaign.pk}/climb?knob=core").json()["climb"]
    assert climb["runs_at"] == [{"value": 0.0, "runs": 20, "failed": 2}]
    ids = [run.pk for run in campaign.runs.order_by("started_at")]
    # both failures, then the last of the others, in the order they were made
    assert [one["run_id"] for one in climb["trials"]] == [ids[1], ids[3], *ids[16:]]


def test_runs_come_in_pages_the_last_ones_first(client, campaign, stock, gorge, now):
    ids = [
        log_run(campaign, stock, gorge, run_draft("completed", now + timedelta(minutes=place), 93.0), now).pk
        for place in range(7)
    ]

    def page(query):
        answer = client.get(f"/api/campaigns/{campaign.pk}/runs{query}").json()
        return answer["total"], [run["id"] for run in answer["runs"]]

    assert page("") == (7, ids)
    assert page("?count=3") == (7, ids[4:])
    assert page("?count=3&skip=3") == (7, ids[1:4])
    assert page("?skip=6") == (7, ids[:1])
    assert client.get(f"/api/campaigns/{campaign.pk}/runs?count=0").status_code == 422
    assert client.get(f"/api/campaigns/{campaign.pk}/runs?count=201").status_code == 422


def test_what_held_with_more_asked_counts_along_the_line(client, campaign, stock, gorge):
    """An hour at power 110 with core +60 tells of power 110 alone as much as an hour there would."""

    def ran(values, outcome="completed", minutes=60):
        setting = next((one for one in campaign.settings.all() if one.values == values), None)
        setting = setting or add_setting(campaign, values, "", NOW)
        log_run(campaign, setting, gorge, run_draft(outcome, NOW, duration_s=minutes * 60), NOW)

    def line(knob="power"):
        return view(client, campaign, knob=knob, base_id=stock.pk)

    ran({"core": 15}, minutes=5)
    ran({"core": 15, "power": 110}, minutes=5)
    before = line()
    ran({"core": 60, "power": 110})
    after = line()
    # the first minutes of a run are cold, and count for nothing here
    assert (before["harder_h"], after["harder_h"]) == (pytest.approx(4 / 60), pytest.approx(61 / 60))
    assert after["trials"] == before["trials"]
    assert after["tested_to"] == 110
    held = [next(one["holds"] for one in each["curve"] if one["value"] == 110) for each in (before, after)]
    assert held[1] > held[0]
    # less asked, and what has failed, tell nothing; nor does another limit of another clock
    ran({"core": -15, "power": 110})
    ran({"core": 90, "power": 110}, "program crash", 30)
    ran({"core": 90, "power": 110})
    assert line()["harder_h"] == after["harder_h"]
    assert line("core")["harder_h"] == 0
