"""The goal over the API: its numbers, every setting by it, and the one step that every answer tells the same."""

from datetime import timedelta

import pytest

from tests.drafts import run_draft
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign


def put(client, campaign, what, body):
    return client.put(f"/api/campaigns/{campaign.pk}/{what}", body, content_type="application/json")


@pytest.fixture
def measured(campaign, stock, gorge, now):
    """Stock and one tuned setting, three runs each, with power; the other workload is retired."""
    campaign.workloads.set([gorge])
    tuned = add_setting(campaign, {"core": 90}, "", now)
    for setting, values, watts in ((stock, (93.6, 93.5, 93.7), 180.0), (tuned, (98.6, 98.7, 98.5), 170.0)):
        for value in values:
            draft = run_draft(
                "completed", now, value, duration_s=1800, power_w=watts + value % 1, power_point="software"
            )
            log_run(campaign, setting, gorge, draft, now)
    return campaign


def test_before_the_first_run_nothing_was_run_not_even_stock(client, campaign, stock, gorge, now):
    def how_far():
        return client.get(f"/api/campaigns/{campaign.pk}/goal").json()["goal"]["far"]["text"]

    assert how_far() == "No runs yet."
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.6), now)
    assert how_far() == "Only stock has been run so far."


def test_a_goal_is_told_with_every_setting_judged(client, measured):
    goal = client.get(f"/api/campaigns/{measured.pk}/goal").json()
    assert goal["changeable"] == ["most_temp_c"]
    first = goal["goal"]["judged"][0]
    assert first["title"] == "core clock +90\u00a0MHz"
    assert first["measure"]["value"] == pytest.approx(98.6 / 93.6, rel=1e-4)
    assert {one["key"]: one["state"] for one in first["conditions"]}["improves"] == "shown"


def test_a_goal_is_tried_before_it_is_taken_over(client, measured):
    def tried(goal, **terms):
        body = {"goal": goal, "terms": terms}
        return client.post(f"/api/campaigns/{measured.pk}/goal/try", body, content_type="application/json")

    held = tried("frame rate", frames=95, low_frames=None).json()
    assert (held["meets"] + held["may"], "95 fps held" in held["words"]["text"]) == (1, True)
    assert tried("frame rate", frames=120, low_frames=None).json()["may"] == 0
    assert "frames" in held["changeable"]
    refused = tried("power budget", most_power_w=-3)
    assert (refused.status_code, refused.json()["problems"][0]["where"]) == (422, "most_power_w")
    measured.refresh_from_db()
    assert (measured.goal, measured.terms) == ("speed", {})


def test_another_goal_judges_the_same_runs_anew(client, measured):
    changed = put(client, measured, "goal", {"goal": "power budget", "aim": "one socket"}).json()
    assert (changed["goal"], changed["aim"]) == ("power budget", "one socket")
    changed = put(client, measured, "terms", {"most_power_w": 175.0}).json()
    assert "at most 175 W" in changed["goal_words"]["text"]
    judged = client.get(f"/api/campaigns/{measured.pk}/goal").json()["goal"]["judged"]
    assert {one["title"]: one["standing"] == "does not" for one in judged} == {
        "stock": True,
        "core clock +90\u00a0MHz": False,
    }


@pytest.mark.parametrize(
    ("what", "body", "where"),
    [
        ("terms", {"hours": 0}, "hours"), ("terms", {"sure": 2}, "sure"), ("terms", {"frames": 60}, "frames"),
        ("terms", {"shown": None}, "shown"), ("goal", {"goal": "fame"}, "goal"), ("way", {"strategy": "luck"}, "strategy"),
        ("way", {"largest_steps": {"core": 0}}, "largest_steps.core"),
        ("way", {"largest_steps": {"boost": 5}}, "largest_steps.boost"),
    ],
)  # fmt: skip
def test_nonsense_is_refused_and_nothing_changes(client, campaign, what, body, where):
    answer = put(client, campaign, what, body)
    assert answer.status_code == 422
    assert [one["where"] for one in answer.json()["problems"]] == [where]
    campaign.refresh_from_db()
    assert (campaign.terms, campaign.way) == ({}, {})


def test_the_way_of_working_is_the_campaigns(client, campaign):
    put(client, campaign, "way", {"strategy": "bisection"})
    way = put(client, campaign, "way", {"cautious": True, "largest_steps": {"core": 30}}).json()["way"]
    assert way == {"strategy": "bisection", "cautious": True, "largest_steps": {"core": 30}, "approach": "mixed load"}


def test_every_answer_tells_the_same_step(client, story):
    """The list, a campaign's head, the step alone and the climb: one voice."""
    cards = {one["id"]: one["next"] for one in client.get("/api/campaigns").json()}
    assert len(cards) >= 5
    for pk, step in cards.items():
        head = client.get(f"/api/campaigns/{pk}").json()["next"]
        # only a campaign's own page begins the quick line
        for one in (head["step"], *head["instead"]):
            one["line"] = ""
        assert head == step
        assert client.get(f"/api/campaigns/{pk}/next").json() == step
        climb = client.get(f"/api/campaigns/{pk}/climb").json()["climb"]
        climbs = [one for one in (step["step"], *step["instead"]) if one["act"] == "climb"]
        if climbs:
            way = Campaign.objects.get(pk=pk).way.get("strategy", "adaptive")
            advice = next(one["advice"] for one in climb["steps"] if one["strategy"] == way)
            assert (climbs[0]["knob"], climbs[0]["values"].get(climbs[0]["knob"], 0)) == (
                climb["knob"]["key"],
                advice["value"],
            )
            assert climbs[0]["minutes"] == advice["minutes"]
        tonight = client.get(f"/api/campaigns/{pk}/tonight", {"minutes": 60}).json()
        assert tonight["first"] == step["step"]["title"]


def test_an_evening_with_its_clock_times_and_as_a_calendar(client, campaign, stock, gorge):
    asked = {"minutes": 60, "begin": "2026-05-03T20:00:00+02:00"}
    plan = client.get(f"/api/campaigns/{campaign.pk}/tonight", asked).json()
    baseline = plan["stretches"][0]
    assert (plan["begins_at"], baseline["stage"]) == ("2026-05-03T20:00:00+02:00", "Baseline")
    # three runs of each workload, a minute to set up each
    runs = 3 * sum(workload.minutes + 1 for workload in campaign.workloads.all())
    assert baseline["minutes"] == pytest.approx(min(runs, 60), abs=8)
    answer = client.get(f"/api/campaigns/{campaign.pk}/tonight.ics", asked)
    assert answer["Content-Type"].startswith("text/calendar")
    text = answer.content.decode()
    assert text.count("BEGIN:VEVENT") == len(plan["stretches"])
    assert "DTSTART:20260503T180000Z" in text


@pytest.mark.parametrize("minutes", ["0", "3", "100000", "many"])
def test_a_time_that_is_no_evening_is_refused(client, campaign, minutes):
    answer = client.get(f"/api/campaigns/{campaign.pk}/tonight", {"minutes": minutes})
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["where"] == "minutes"


def test_a_meter_that_fails_halfway_is_followed_by_the_next_step(client, campaign, stock, gorge, now):
    """A new meter reads from the middle on: stock is asked for once more, and then what was saved is known."""
    campaign.workloads.set([gorge])
    tuned = add_setting(campaign, {"core": 45}, "", now)

    def log(setting, watts, point, hours):
        for value in (93.6, 93.7, 93.5):
            at = now + timedelta(hours=hours)
            read = run_draft("completed", at, value, duration_s=1800, power_w=watts + value % 1, power_point=point)
            log_run(campaign, setting, gorge, read, at)

    def of_setting():
        answer = client.get(f"/api/campaigns/{campaign.pk}/goal").json()["goal"]
        return next(one for one in answer["judged"] if one["setting_id"] == tuned.pk)

    put(client, campaign, "goal", {"goal": "efficiency", "aim": "less"})
    put(client, campaign, "terms", {"lows_too": False})
    log(stock, 180.0, "software", 0)
    log(tuned, 240.0, "wall", 1)
    improves = next(one for one in of_setting()["conditions"] if one["key"] == "improves")
    assert improves["says"]["text"] == "Both sides need power by the same instrument."
    step = client.get(f"/api/campaigns/{campaign.pk}/next").json()["step"]
    assert (step["setting_id"], step["title"]["text"]) == (stock.pk, "Run Gorge at stock, once.")
    assert step["why"]["text"].startswith("Another instrument is in use now")
    log(stock, 280.0, "wall", 2)
    assert of_setting()["measure"]["value"] == pytest.approx(240.6 / 280.6, rel=1e-3)
    step = client.get(f"/api/campaigns/{campaign.pk}/next").json()["step"]
    assert not step["why"]["text"].startswith("Another instrument is in use now")
