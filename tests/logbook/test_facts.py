"""Where a campaign stands, read from its rows."""

import pytest

from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.core.baseline.ladder import ladder_of
from trelvo.core.message import message
from trelvo.core.next_step.standing import standing_of
from trelvo.core.next_step.summary import summary_of
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.commands.targets import TargetDraft, keep_target
from trelvo.logbook.commands.what_counts import WhatCounts, say_enough, set_what_counts
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.lookups import knobs_of
from trelvo.messages.texts import text_of


@pytest.fixture
def setting(campaign, now):
    return add_setting(campaign, {"core": 90}, "", now)


def log(campaign, setting, workload, now, *values, outcome="completed"):
    return [log_run(campaign, setting, workload, run_draft(outcome, now, value), now) for value in values]


def fresh(campaign):
    """The campaign as it is now."""
    return case_alone(Campaign.objects.get(pk=campaign.pk))


def summed_up(campaign):
    return summary_of(fresh(campaign), NOW)


def test_a_run_as_the_core_takes_it(campaign, stock, gorge, now):
    read = {"power_w": 180.0, "power_point": "cables", "temp_max_c": 64.0, "low_01_fps": 55.0, "core_mhz": 2340.0}
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 93.6, 90.0, "automatic", "warm", **read), now)
    set_aside(run, "window was open", now)
    case = fresh(campaign)
    assert case.campaign.runs[0].started_at == now
    facts = case.facts(case.campaign.runs)[0]
    assert (facts.value, facts.power_w, facts.power_point, facts.set_aside) == (93.6, 180.0, "cables", True)
    assert (facts.core_mhz, facts.memory_mhz, facts.low_01_fps, facts.duration_s) == (2340.0, None, 55.0, 90.0)
    assert facts.power_instrument == "Clamp on the cables"


def test_stock_is_the_setting_without_values(campaign, setting):
    assert fresh(campaign).campaign.stock.is_stock
    assert not setting.is_stock
    assert [knob.key for knob in knobs_of(campaign)] == ["power", "core"]


def test_a_campaign_just_made(campaign):
    summary = summed_up(campaign)
    assert (summary.next.step.stage, summary.standing.stages[0].state) == ("Baseline", "done")
    assert summary.goal.best is None
    assert fresh(campaign).campaign.judged_build.id == campaign.rig.present_build().pk


def test_failures_are_counted_unless_set_aside(campaign, stock, setting, gorge, now):
    log(campaign, stock, gorge, now, 93.6, 93.5)
    failed = log(campaign, setting, gorge, now, None, outcome="system crash")[0]
    assert standing_of(fresh(campaign)).stages[2].note == message(
        "knobs_and_settings", done=0, knobs=2, settings=1, failed=1
    )
    set_aside(failed, "the supply's plug came loose", now)
    assert standing_of(fresh(campaign)).stages[2].state == "to do"


def test_a_failure_in_another_workload_spoils_a_setting(campaign, stock, setting, gorge, now):
    log(campaign, stock, gorge, now, 93.6, 93.5, 93.7)
    log(campaign, setting, gorge, now, 98.6, 98.7)
    assert summed_up(campaign).goal.best.setting_id == setting.pk
    log(campaign, setting, campaign.workloads.get(workload__name="Render"), now, None, outcome="program crash")
    assert summed_up(campaign).goal.best is None
    ladder = ladder_of(fresh(campaign), gorge, fresh(campaign).campaign.judged_build)
    assert (ladder.settings[0].failures, ladder.settings[0].failures_elsewhere) == (0, 1)


def test_a_baseline_is_done_by_resolution_or_by_word(campaign, stock, gorge, now):
    render = campaign.workloads.get(workload__name="Render")
    for workload, values in ((gorge, (93.6, 93.61, 93.62, 93.6)), (render, (118.0, 125.0))):
        log(campaign, stock, workload, now, *values)
    stage = standing_of(fresh(campaign)).stages[1]
    assert (stage.state, text_of(stage.note)) == ("under way", "Still short: Render (2 of 3).")
    log(campaign, stock, render, now, 121.0)
    assert standing_of(fresh(campaign)).stages[1].note == message("not_resolved", percent=1.0, workloads=("Render",))
    assert standing_of(fresh(say_enough(campaign, now))).stages[1].state == "done"
    say_enough(campaign, None)
    wide = WhatCounts(0.005, 0.4, 30, {})
    assert standing_of(fresh(set_what_counts(campaign, wide))).stages[1].note == message("all_resolved", percent=40.0)


def test_what_counts_is_kept_by_workload_identity(campaign, gorge):
    set_what_counts(campaign, WhatCounts(0.01, 0.02, 7, {gorge.pk: 3.0}, 84.0, 180.0, 240.0, " crowns "))
    campaign.refresh_from_db()
    assert campaign.weights == {str(gorge.uid): 3.0}
    assert (campaign.currency, campaign.temp_limit_c) == ("crowns", 84.0)
    target = keep_target(campaign, TargetDraft("Next model", 330.0, " a friend ", "", {gorge.pk: 108.0}))
    assert (target.results, target.source) == ({str(gorge.uid): 108.0}, "a friend")
    again = keep_target(campaign, TargetDraft("Next model", None, "", "", {gorge.pk: 109.0}), target)
    assert (again.pk, again.price) == (target.pk, None)
