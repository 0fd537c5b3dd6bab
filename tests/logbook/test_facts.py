"""Where a campaign stands, read from its rows."""

import pytest

from trelvo.logbook.acts.runs import RunDraft, log_run, set_aside
from trelvo.logbook.acts.settings import add_setting
from trelvo.logbook.acts.targets import TargetDraft, keep_target
from trelvo.logbook.acts.what_counts import WhatCounts, say_enough, set_what_counts
from trelvo.logbook.answers.standing import standing_of
from trelvo.logbook.models import Run
from trelvo.logbook.models.run import facts_of
from trelvo.logbook.rows.facts import achievement_of, judged_fitting, knobs_of, ladder_of, stock_of


@pytest.fixture
def rung(campaign, now):
    return add_setting(campaign, {"core": 90}, "", now)


def log(campaign, setting, workload, now, *values, outcome="completed"):
    return [log_run(campaign, setting, workload, RunDraft(outcome, now, value), now) for value in values]


def test_both_ways_of_reading_a_run_agree(campaign, stock, gorge, now):
    draft = RunDraft(
        "completed", now, 93.6, 90.0, 83.0, 55.0, 180.0, "cables", 64.0, 24.0, 2340.0, 9200.0, 1.02, "automatic", "warm"
    )
    run = log_run(campaign, stock, gorge, draft, now)
    set_aside(run, "window was open", now)
    read = facts_of(Run.objects.filter(pk=run.pk))[0]
    assert read == run.facts()
    assert (read.value, read.power_w, read.power_point, read.set_aside) == (93.6, 180.0, "cables", True)
    assert (read.core_mhz, read.memory_mhz, read.low_01_fps) == (2340.0, 9200.0, 55.0)


def test_stock_is_the_setting_without_values(campaign, rung):
    assert stock_of(campaign).is_stock
    assert not rung.is_stock
    assert [knob.key for knob in knobs_of(campaign)] == ["power", "core"]


def test_a_campaign_just_made(campaign):
    standing = standing_of(campaign)
    assert (standing.current, standing.stages[0].state) == ("Baseline", "done")
    assert achievement_of(campaign) is None
    assert judged_fitting(campaign) == campaign.rig.present_fitting()


def test_failures_are_counted_unless_set_aside(campaign, stock, rung, gorge, now):
    log(campaign, stock, gorge, now, 93.6, 93.5)
    failed = log(campaign, rung, gorge, now, None, outcome="machine down")[0]
    assert standing_of(campaign).stages[2].note == "1 rung tried, 1 of them failed."
    set_aside(failed, "the supply's plug came loose", now)
    assert standing_of(campaign).stages[2].state == "to do"


def test_a_failure_in_another_workload_spoils_a_rung(campaign, stock, rung, gorge, now):
    log(campaign, stock, gorge, now, 93.6, 93.5, 93.7)
    log(campaign, rung, gorge, now, 98.6, 98.7)
    assert achievement_of(campaign).rung.setting_id == rung.pk
    log(campaign, rung, campaign.workloads.get(name="Render"), now, None, outcome="program closed")
    assert achievement_of(campaign) is None
    ladder = ladder_of(campaign, gorge, judged_fitting(campaign))
    assert (ladder.rungs[0].failures, ladder.rungs[0].failures_elsewhere) == (0, 1)


def test_a_baseline_is_done_by_resolution_or_by_word(campaign, stock, gorge, now):
    render = campaign.workloads.get(name="Render")
    for workload, values in ((gorge, (93.6, 93.61, 93.62, 93.6)), (render, (118.0, 125.0))):
        log(campaign, stock, workload, now, *values)
    stage = standing_of(campaign).stages[1]
    assert (stage.state, stage.note) == ("under way", "Still short: Render (2 of 3).")
    log(campaign, stock, render, now, 121.0)
    assert standing_of(campaign).stages[1].note == "Cannot tell 1 % apart yet: Render."
    assert standing_of(say_enough(campaign, now)).stages[1].state == "done"
    say_enough(campaign, None)
    wide = WhatCounts(0.005, 0.4, 30, {})
    assert standing_of(set_what_counts(campaign, wide)).stages[1].note == "Every workload tells 40 % apart."


def test_what_counts_is_kept_by_workload_identity(campaign, gorge):
    set_what_counts(campaign, WhatCounts(0.01, 0.02, 7, {gorge.pk: 3.0}, 84.0, 180.0, 240.0, " crowns "))
    campaign.refresh_from_db()
    assert campaign.weights == {str(gorge.uid): 3.0}
    assert (campaign.currency, campaign.temp_limit_c) == ("crowns", 84.0)
    target = keep_target(campaign, TargetDraft("Next model", 330.0, " a friend ", "", {gorge.pk: 108.0}))
    assert (target.results, target.source) == ({str(gorge.uid): 108.0}, "a friend")
    again = keep_target(campaign, TargetDraft("Next model", None, "", "", {gorge.pk: 109.0}), target)
    assert (again.pk, again.price) == (target.pk, None)
