from trelvo.core.keep.kept_step import KeptNow, standing_in_use
from trelvo.core.message import message
from trelvo.core.stages import Progress, SettingProgress, WorkloadProgress, stand

BOTH = [WorkloadProgress("Gorge", 3, 0, True), WorkloadProgress("Rings", 3, 0, True)]


def states(*arguments, **more):
    return [stage.state for stage in stand(*arguments, **more).stages]


def test_a_campaign_without_runs():
    assert states(2, True, [WorkloadProgress("Gorge", 0, 0, False)], []) == ["done", *["to do"] * 5]


def test_the_workload_that_is_short_is_named():
    workloads = [WorkloadProgress("Gorge", 3, 0, True), WorkloadProgress("Rings", 2, 0, False)]
    baseline = stand(2, True, workloads, []).stages[1]
    assert baseline.state == "under way"
    assert message("runs_of", workload="Rings", done=2, wanted=3) in baseline.note.params["workloads"]


def test_a_new_build_makes_the_baseline_stale():
    assert states(2, True, [WorkloadProgress("Gorge", 0, 3, False)], [])[1] == "stale"


def test_an_unfinished_description_is_named():
    standing = stand(0, True, [], [])
    assert standing.missing == (message("missing_knob"), message("missing_workload"))
    assert standing.stages[0].note == message(
        "still_missing", missing=(message("missing_knob"), message("missing_workload"))
    )


def test_climbing_is_done_when_every_knob_is():
    settings = [SettingProgress("core +30 MHz", 2, 0), SettingProgress("core +60 MHz", 0, 1)]
    assert stand(1, True, BOTH, settings).stages[2].note == message("settings_tried", settings=2, failed=1)
    some = stand(2, True, BOTH, settings, progress=Progress(1, 2, "core +30 MHz", "may meet it", 2))
    assert (some.stages[2].state, some.stages[2].note) == (
        "under way",
        message("knobs_and_settings", done=1, knobs=2, settings=2, failed=1),
    )
    assert (some.stages[4].state, some.stages[4].note) == ("under way", message("conditions_not_shown", conditions=2))
    assert states(2, True, BOTH, settings, progress=Progress(2, 2))[2] == "done"


def test_compare_and_keep_follow_the_goal():
    settings = [SettingProgress("core +30 MHz", 2, 0)]
    met = stand(1, True, BOTH, settings, proved=["core +30 MHz"], progress=Progress(1, 1, "core +30 MHz", "meets it"))
    assert [stage.state for stage in met.stages] == ["done"] * 5 + ["under way"]
    assert met.stages[5].note == message("setting_meets_goal", setting="core +30 MHz")


def test_what_is_in_use_makes_the_last_stage_stale_while_it_asks_for_something():
    met = stand(1, True, BOTH, [], progress=Progress(1, 1, "core clock +30 MHz", "meets it", kept=("Evenings",)))
    assert met.stages[5].state == "done"
    fine, failed, short = (
        KeptNow("Evenings", "core clock +30 MHz", 2),
        KeptNow("Shows", "core clock +45 MHz", 3, failed=True),
        KeptNow("Quiet", "voltage −25 mV", 4, settled=False),
    )
    assert standing_in_use(met, [fine]) == met
    stale = standing_in_use(met, [fine, failed, short])
    assert (stale.stages[5].state, stale.stages[5].note) == (
        "stale",
        message("kept_failed_in_use", name="Shows").then(message("kept_proof_stale", name="Quiet")),
    )
    assert stale.stages[:5] == met.stages[:5]


def test_what_was_never_shown_is_under_way_and_not_stale():
    met = stand(1, True, BOTH, [], progress=Progress(1, 1, "core clock +30 MHz", "meets it", kept=("Evenings",)))
    never = KeptNow("Quiet", "voltage −25 mV", 4, settled=False, stale=False)
    keep = standing_in_use(met, [never]).stages[5]
    assert (keep.state, keep.note) == ("under way", message("kept_not_shown", name="Quiet"))
    both = standing_in_use(met, [never, KeptNow("Shows", "core clock +45 MHz", 3, settled=False)])
    assert both.stages[5].state == "stale"
