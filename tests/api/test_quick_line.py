"""Quick lines over the API: read without a trace, logged all or nothing."""

from tests.drafts import read_of, run_draft
from tests.moment import NOW
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Run, Setting


def post(client, campaign, line, what="/read"):
    return client.post(
        f"/api/campaigns/{campaign.pk}/quick-line{what}", {"line": line}, content_type="application/json"
    )


def test_reading_stores_nothing_and_says_what_it_understood(client, campaign):
    said = post(client, campaign, "core +135 gorge 98,4 72c ok").json()
    assert said["problems"] == []
    assert said["setting"] == "core clock +135\u00a0MHz"
    assert {"start": 0, "end": 9, "meaning": "Core clock +135\u00a0MHz"} in said["understood"]
    assert (Run.objects.count(), Setting.objects.count()) == (0, 1)


def test_logging_makes_the_setting_and_the_run(client, campaign):
    run = post(client, campaign, "core +135 gorge 98,4 72c 212w wall ok # quiet", "").json()
    assert (run["value"], read_of(run, "temp_max_c"), run["note"]) == (98.4, 72, "quiet")
    read_by = {one["word"]: one["instrument"] for one in run["figures"]}
    assert read_by == {"power_w": "Meter at the wall", "temp_max_c": ""}
    assert run["setting_title"] == "core clock +135\u00a0MHz"
    # the same setting again, named by nothing
    again = post(client, campaign, "gorge 98,2 ok", "").json()
    assert again["setting_id"] == run["setting_id"]
    back = post(client, campaign, "stock gorge 93 ok", "").json()
    assert back["setting_title"] == "stock"


def test_what_is_refused_leaves_nothing(client, campaign):
    for line, says in (
        ("core +137 gorge 98 ok", "off the grid"),
        ("gorge 98", "How did it end"),
        ("core +15 gorge 98 900c ok", "cannot be"),
    ):
        answer = post(client, campaign, line, "")
        assert answer.status_code == 422
        assert any(says in problem["what"] for problem in answer.json()["problems"])
    assert (Run.objects.count(), Setting.objects.count()) == (0, 1)


def test_knobs_not_named_stand_as_in_the_newest_run(client, campaign, gorge):
    setting = add_setting(campaign, {"power": 120, "core": 30}, "", NOW)
    log_run(campaign, setting, gorge, run_draft("completed", NOW, 95.0), NOW)
    assert (
        post(client, campaign, "core 45 gorge 96 ok").json()["setting"]
        == "power limit 120\u00a0%, core clock +45\u00a0MHz"
    )
