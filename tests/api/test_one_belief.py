"""Goal, Climb and Prove state one figure of stability; a setting is as sure as its least sure knob."""

import pytest

from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.core.base.knobs import Knob
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
MEMORY = Knob("memory", "Memory clock", "MHz", 0, 50, 0, 1000, 1, "memory clock")
KILN = WorkloadDraft("Kiln", "score", "points", True, 30, kind="stress test", parts=("graphics",))


@pytest.fixture
def campaign(db):
    """The core holds to somewhere below +105; memory is then raised far, on top of +90, and never fails."""
    rig = create_rig("Bench", BuildDraft(parts=(PartDraft("Graphics card", "Card"),)), NOW)
    campaign = create_campaign(rig, "Up", "speed", "", [CORE, MEMORY], [KILN], NOW)
    kiln = campaign.workloads.get()
    tests = [
        ({}, 30, "completed"), ({"core": 30}, 10, "completed"), ({"core": 60}, 10, "completed"),
        ({"core": 90}, 10, "completed"), ({"core": 105}, 6, "program crash"), ({"core": 120}, 1, "system crash"),
        ({"core": 90, "memory": 100}, 5, "completed"), ({"core": 90, "memory": 200}, 5, "completed"),
        ({"core": 90, "memory": 400}, 20, "completed"), ({"core": 90, "memory": 800}, 20, "completed"),
    ]  # fmt: skip
    for values, minutes, outcome in tests:
        stock = campaign.settings.get(fingerprint="")
        setting = add_setting(campaign, values, "", NOW) if values else stock
        value = 100.0 if outcome == "completed" else None
        log_run(campaign, setting, kiln, run_draft(outcome, NOW, value, minutes * 60), NOW)
    return campaign


def test_raised_memory_does_not_make_a_doubtful_core_clock_sure(client, campaign):
    setting = next(one for one in campaign.settings.all() if one.values == {"core": 90, "memory": 100})
    path = f"/api/campaigns/{campaign.pk}"
    judged = {one["setting_id"]: one for one in client.get(f"{path}/goal").json()["goal"]["judged"]}
    said = next(one for one in judged[setting.pk]["conditions"] if one["key"] == "stability")
    climb = client.get(f"{path}/climb", {"knob": "core"}).json()["climb"]
    at_90 = next(point["holds"] for point in climb["curve"] if point["value"] == 90)
    proof = client.get(f"{path}/proof", {"setting_id": setting.pk}).json()
    assert said["chance"] == pytest.approx(at_90)
    assert proof["expected"]["within"] == pytest.approx(at_90)
    assert said["state"] != "shown"
    assert proof["knob_name"] == "Core clock"
    # along memory alone nothing has ever failed
    memory = client.get(f"{path}/climb", {"knob": "memory", "base_id": setting.pk}).json()["climb"]
    assert next(point["holds"] for point in memory["curve"] if point["value"] == 100) > 0.9
    assert climb["hold"] < 90
