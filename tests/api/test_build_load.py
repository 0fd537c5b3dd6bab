"""A clock is tested with a load that works its part; what another part's load survived says nothing about it. Common practice."""

import pytest

from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.core.base.knobs import Knob
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting

CARD = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock", "graphics")
CHIP = Knob("mult", "Multiplier", "x", 36, 1, 36, 46, 1, "multiplier", "processor")
PICTURES = WorkloadDraft("Lantern pictures", "score", "points", True, 5, kind="benchmark", parts=("graphics",))
MILL = WorkloadDraft("Salt mill", "nothing", "", True, 30, kind="stress test", parts=("processor",))


@pytest.fixture
def both(db):
    parts = (PartDraft("Graphics card", "Card"), PartDraft("Processor", "Chip"))
    rig = create_rig("Desk", BuildDraft(parts=parts), NOW)
    campaign = create_campaign(rig, "Both", "speed", "", [CARD, CHIP], [PICTURES, MILL], NOW)
    pictures, mill = campaign.workloads.order_by("position")
    stock = campaign.settings.get(fingerprint="")
    for value in (400.0, 401.0, 402.0):
        log_run(campaign, stock, pictures, run_draft("completed", NOW, value, 300), NOW)
    log_run(campaign, stock, mill, run_draft("completed", NOW, None, 1800), NOW)
    return campaign, pictures, mill


def climb(client, campaign, knob):
    return client.get(f"/api/campaigns/{campaign.pk}/climb?knob={knob}").json()["climb"]


def test_the_advice_names_a_load_of_the_knobs_part(client, both):
    campaign, pictures, mill = both
    for knob, load in (("core", pictures), ("mult", mill)):
        loads = {step["advice"]["load_id"] for step in climb(client, campaign, knob)["steps"]}
        assert loads == {load.pk}


def test_hours_of_a_processor_load_say_nothing_of_a_graphics_clock(client, both):
    campaign, pictures, mill = both
    up = add_setting(campaign, {"core": 150}, "", NOW)
    before = climb(client, campaign, "core")
    for _ in range(6):
        log_run(campaign, up, mill, run_draft("completed", NOW, None, 7200), NOW)
    after = climb(client, campaign, "core")
    assert (after["hold"], after["trials"]) == (before["hold"], before["trials"])
    # a load of its own part counts
    for _ in range(6):
        log_run(campaign, up, pictures, run_draft("completed", NOW, 420.0, 7200), NOW)
    assert climb(client, campaign, "core")["hold"] > after["hold"]
    # a failure counts whatever ran
    log_run(campaign, up, mill, run_draft("system crash", NOW, None, 60), NOW)
    assert any(trial["failed"] for trial in climb(client, campaign, "core")["trials"])


def test_a_kept_setting_is_checked_with_a_load_of_its_part(client, both):
    campaign, pictures, _ = both
    up = add_setting(campaign, {"core": 30}, "", NOW)
    log_run(campaign, up, pictures, run_draft("completed", NOW, 410.0, 7200), NOW)
    body = {"setting_id": up.pk, "name": "Daily", "use": "every day"}
    made = client.post(f"/api/campaigns/{campaign.pk}/kept-settings", body, content_type="application/json")
    assert made.status_code == 201, made.json()
    proof = client.get(f"/api/campaigns/{campaign.pk}/proof?setting_id={up.pk}").json()
    numbers = next(one["proof"] for one in proof["approaches"] if one["proof"]["approach"] == "statistical")
    assert {item["load_id"] for item in numbers["items"]} == {pictures.pk}


def test_every_part_is_kept_only_as_far_as_its_own_climb_is_sure(client, both):
    campaign, pictures, mill = both
    for core, mult in ((60, 36), (120, 36), (0, 38), (0, 42), (120, 42)):
        setting = add_setting(campaign, {"core": core, "mult": mult}, "", NOW)
        for _ in range(2):
            score = 400 * (1 + core / 1000) * (1 + (mult - 36) / 100)
            log_run(campaign, setting, pictures, run_draft("completed", NOW, score, 300), NOW)
        log_run(campaign, setting, mill, run_draft("completed", NOW, None, 300), NOW)
    found = client.get(f"/api/campaigns/{campaign.pk}/keep?setting_id={setting.pk}").json()
    less = {row["part"]["text"]: row["decision"]["at_less"] for row in found["components"]}
    for name, knob in (("The graphics card", "core"), ("The processor", "mult")):
        line = climb(client, campaign, knob)
        assert less[name][knob] == line["hold"] < setting.values[knob]
