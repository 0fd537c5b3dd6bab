"""How hard a workload is on a setting is learnt from all climbs of its rig, and of no other rig."""

from datetime import timedelta

import pytest

from tests.conftest import CORE
from tests.drafts import run_draft
from trelvo.core.base.knobs import Knob
from trelvo.core.climb_line.line import line_of
from trelvo.logbook.cases import case_of
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign

MEMORY = Knob("memory", "Memory clock", "MHz", 0, 50, 0, 1500, 1, "memory clock")
KILN = WorkloadDraft("Kiln", "frame rate", "fps", True, 10, kind="stress test")
TITLE = WorkloadDraft("Title", "frame rate", "fps", True, 10, kind="title")


def begun(name, now, rig=None):
    rig = rig or create_rig(f"{name}'s bench", BuildDraft(), now)
    return create_campaign(rig, name, "speed", "", [CORE, MEMORY], [KILN, TITLE], now)


def climbed(campaign, key, step, holds, title_holds, now):
    """Ten minutes at every step: the stress test fails from one value on, the title from another."""
    kiln, title = campaign.workloads.get(workload__name="Kiln"), campaign.workloads.get(workload__name="Title")
    for value in range(step, 12 * step, step):
        setting = add_setting(campaign, {key: value}, "", now)
        for variant, last in ((kiln, holds), (title, title_holds)):
            outcome = "completed" if value <= last else "program crash"
            draft = run_draft(
                outcome, now + timedelta(hours=value / 1000), 90.0 if outcome == "completed" else None, 600.0
            )
            log_run(campaign, setting, variant, draft, now + timedelta(days=1))


def stress_of(campaign, key):
    """The title's stress along a knob, in usual decades of it."""
    case = case_of(Campaign.objects.get(pk=campaign.pk))
    line = line_of(case.campaign, case.priors, key, None)
    title = campaign.workloads.get(workload__name="Title")
    return line.stresses[title.pk].middle / line.steepness.decade


@pytest.fixture
def first(db, now):
    """A title that the rig holds no further than the stress test: harder than its kind says."""
    found = begun("First", now)
    climbed(found, "core", 15, 120, 120, now)
    return found


def tried_once(campaign, now):
    setting = add_setting(campaign, {"memory": 50}, "", now)
    for name in ("Kiln", "Title"):
        log_run(
            campaign, setting, campaign.workloads.get(workload__name=name), run_draft("completed", now, 90.0, 60.0), now
        )
    return campaign


def test_another_knobs_climb_says_how_hard_a_workload_is(first, now):
    alone = tried_once(begun("Alone", now), now)
    assert stress_of(tried_once(first, now), "memory") > stress_of(alone, "memory") + 0.03


def test_an_earlier_campaign_of_the_rig_says_it_too_and_one_of_another_rig_does_not(first, now):
    second = tried_once(begun("Second", now, first.rig), now)
    elsewhere = tried_once(begun("Elsewhere", now), now)
    assert stress_of(second, "memory") > stress_of(elsewhere, "memory") + 0.03
