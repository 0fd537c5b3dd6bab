"""What reaches the core: sides, builds, conditions, and every trap from real rows."""

from datetime import timedelta

import pytest

from tests.drafts import in_snapshot, run_draft, versus
from trelvo.core.baseline.ladder import ladder_of
from trelvo.core.baseline.service import baseline_of
from trelvo.core.compare.sides import REFERENCE, Side, conditions_of, gather
from trelvo.core.next_step.standing import standing_of
from trelvo.core.stats.noise import pool
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign


@pytest.fixture
def log(campaign, gorge, now):
    """Logs values at a setting, a minute apart; further figures by name."""
    clock = iter(range(10_000))

    def put(setting, *values, workload=gorge, outcome="completed", **figures):
        figures = {"power_w": 200.0, "power_point": "software", "room_c": 24.0, "temp_max_c": 60.0, **figures}
        moment = now - timedelta(minutes=1000 - next(clock))
        return [log_run(campaign, setting, workload, run_draft(outcome, moment, v, **figures), now) for v in values]

    return put


@pytest.fixture
def setting(campaign, now):
    return add_setting(campaign, {"core": 90}, "", now)


def fresh(campaign):
    """The campaign as it is now."""
    return case_alone(Campaign.objects.get(pk=campaign.pk))


def judged_build(campaign):
    return fresh(campaign).campaign.judged_build


def sides_of(campaign, reference, candidates):
    case = fresh(campaign)
    judged, settings = case.campaign.judged_build, case.campaign.settings
    first = Side(REFERENCE, case, in_snapshot(settings, reference), judged)
    compared = [in_snapshot(settings, candidate) for candidate in candidates]
    return gather(first, [Side(n, case, one, judged) for n, one in enumerate(compared, start=1)])


def traps_of(campaign, reference, candidates, now):
    answer = versus(campaign, reference, candidates, now)
    return {trap.code: trap for trap in answer.traps}


def test_noise_is_pooled_over_settings_within_one_build(campaign, stock, setting, gorge, log, now):
    log(stock, 93.6, 93.5, 94.0)
    log(setting, 98.6, 98.9)
    first = campaign.rig.present_build()
    add_build(campaign.rig, BuildDraft(), now)
    log(stock, 80.0, 120.0)
    assert fresh(campaign).noise(first)[gorge.pk] == pool([[93.6, 93.5, 94.0], [98.6, 98.9]])
    assert fresh(campaign).noise(campaign.rig.present_build())[gorge.pk].sd_log > 0.2


def test_what_does_not_count_enters_nothing(campaign, stock, gorge, log, now):
    runs = log(stock, 60.0, 93.6, 93.5, 94.0)
    set_aside(runs[0], "caches were filling", now)
    log(stock, None, outcome="system crash")
    log(stock, 70.0, outcome="artifacts")
    build = judged_build(campaign)
    one = next(b for b in baseline_of(fresh(campaign), build) if b.workload_id == gorge.pk)
    assert (one.summary.n, len(one.runs)) == (3, 6)
    assert fresh(campaign).noise(build)[gorge.pk].df == 2


def test_the_newest_build_with_runs_is_judged(campaign, stock, log, now):
    log(stock, 93.6)
    first = campaign.rig.present_build()
    second = add_build(campaign.rig, BuildDraft(), now)
    assert judged_build(campaign).id == first.pk
    assert standing_of(fresh(campaign)).stages[1].state == "to do"
    log(stock, 94.0)
    assert judged_build(campaign).id == second.pk


def test_the_ladder_holds_the_runs_of_one_workload(campaign, stock, setting, gorge, log):
    log(stock, 93.6, 93.5)
    log(setting, 98.6)
    log(setting, 110.0, workload=campaign.workloads.get(workload__name="Render"))
    ladder = ladder_of(fresh(campaign), gorge, judged_build(campaign))
    assert [len(one.runs) for one in ladder.settings] == [1, 2]


def test_conditions_are_those_of_the_runs_that_both_sides_have(campaign, stock, setting, gorge, log):
    log(stock, 93.6, 93.5, 94.0, fan="45 %")
    log(stock, 118.0, workload=campaign.workloads.get(workload__name="Render"), power_point="wall")
    log(setting, 98.6, fan="60 %")
    sides = sides_of(campaign, stock, [setting])
    mine = conditions_of(sides, sides.reference, {gorge.pk})
    assert (mine.fans, mine.points, mine.runs, mine.warmed_up) == ({"45 %"}, {"The part's own report"}, 3, True)
    assert conditions_of(sides, sides.candidates[0], {gorge.pk}).warmed_up is None
    assert mine.drivers == {"41.2"}


def test_a_cold_first_run_is_seen_on_both_pages(campaign, stock, setting, gorge, log, now):
    log(stock, 90.4, 93.6, 93.5, 93.9, 93.7)
    log(setting, 98.6)
    one = next(b for b in baseline_of(fresh(campaign), judged_build(campaign)) if b.workload_id == gorge.pk)
    assert one.suspect_id == one.runs[0].id
    assert traps_of(campaign, stock, [setting], now)["first_run_kept"].run_ids == (one.suspect_id,)
    sides = sides_of(campaign, stock, [setting])
    assert conditions_of(sides, sides.reference, {gorge.pk}).warmed_up is False


def test_watts_from_two_points_are_a_trap_and_no_saving(campaign, stock, setting, log, now):
    log(stock, 93.6, 93.5, power_w=200.0)
    log(setting, 98.6, 98.5, power_w=310.0, power_point="wall")
    answer = versus(campaign, stock, [setting], now)
    assert answer.versus.candidates[0].column.cells[0].watts_saved is None
    assert "watts" not in answer.versus.candidates[0].fairness.comparable
    assert "mixed_points" in {trap.code for trap in answer.traps}


def test_a_clock_that_was_set_and_not_got(campaign, stock, setting, log, now):
    log(stock, 93.6, 93.5, core_mhz=2340.0)
    log(setting, 93.8, 93.7, core_mhz=2352.0)
    assert traps_of(campaign, stock, [setting], now)["clock_not_got"].shown.got_more_mhz == 12


def test_a_score_that_falls_while_the_clock_rises(campaign, stock, log, now):
    settings = [add_setting(campaign, {"core": core}, "", now) for core in (60, 120, 180)]
    for setting, value in zip([stock, *settings], (93.6, 97.0, 99.5, 96.0), strict=True):
        log(setting, value, value + 0.1, value - 0.1)
    assert traps_of(campaign, stock, settings, now)["score_falls"].shown.best == 120


def test_a_step_of_two_knobs(campaign, stock, setting, log, now):
    both = add_setting(campaign, {"core": 120, "power": 115}, "", now)
    one = add_setting(campaign, {"core": 105}, "", now)
    for place in (stock, setting, both, one):
        log(place, 93.6, 93.7)
    trap = traps_of(campaign, stock, [both, one], now)["several_knobs"]
    assert trap.shown.names == ("Power limit", "Core clock")


def test_a_warm_start(campaign, stock, setting, log, now):
    for place, start in ((stock, 30.0), (setting, 55.0)):
        log(place, 93.6, 93.7, temp_start_c=start)
    assert traps_of(campaign, stock, [setting], now)["warm_start"].shown.start_c == 55


def test_lows_of_a_short_log(campaign, stock, setting, log, now):
    for run in log(stock, 93.6, 93.7, low_01_fps=55.0) + log(setting, 98.0, low_01_fps=55.0):
        run.frames = 7_000
        run.save()
    shown = traps_of(campaign, stock, [setting], now)["few_frames"].shown
    assert (shown.tail, shown.frames) == (7, 7000)


def test_candidates_are_named_by_what_sets_them_apart(campaign, stock, log, now):
    campaign.rig.present_build()
    pair = [add_setting(campaign, {"power": 120, "core": core}, "", now) for core in (60, 90)]
    for setting in (stock, *pair):
        log(setting, 93.6, 93.7)
    answer = versus(campaign, stock, pair, now, correct=False)
    assert answer.versus.common == "power limit 120\u00a0%"
    assert [candidate.short for candidate in answer.versus.candidates] == [
        "core clock +60\u00a0MHz",
        "core clock +90\u00a0MHz",
    ]
    assert not answer.versus.corrected


def test_another_cooler_leaves_the_score_comparable(campaign, stock, log, now):
    log(stock, 93.6, 93.5, 93.7)
    parts = (PartDraft("Graphics card", "Card"),)
    first = campaign.rig.present_build()
    add_build(campaign.rig, BuildDraft(parts=parts, driver="41.2", cooling="water"), now)
    log(stock, 93.6, 93.5, 93.7)
    answer = versus(campaign, stock, [stock], now, reference_build=first)
    fairness = answer.versus.candidates[0].fairness
    assert "degrees" in fairness.comparable
    assert {aspect.key: aspect.state for aspect in fairness.aspects}["cooling"] == "unknown"
