from trelvo.core.decide.stages import RungProgress, WorkloadProgress, stand


def states(*arguments):
    return [stage.state for stage in stand(*arguments).stages]


def test_a_campaign_without_runs():
    standing = stand(2, True, [WorkloadProgress("Gorge", 0, 0, False)], [])
    assert standing.current == "Baseline"
    assert standing.next_step == "Log 3 runs of Gorge at stock."
    assert states(2, True, [WorkloadProgress("Gorge", 0, 0, False)], [])[:3] == ["done", "to do", "to do"]


def test_the_workload_furthest_behind_comes_next():
    workloads = [WorkloadProgress("Gorge", 3, 0, True), WorkloadProgress("Rings", 2, 0, False)]
    standing = stand(2, True, workloads, [])
    assert standing.stages[1].state == "under way"
    assert "Rings (2 of 3)" in standing.stages[1].note
    assert standing.next_step == "Log 1 more run of Rings at stock."


def test_a_new_fitting_makes_the_baseline_stale():
    assert states(2, True, [WorkloadProgress("Gorge", 0, 3, False)], [])[1] == "stale"


def test_climbing():
    workloads = [WorkloadProgress("Gorge", 3, 0, True), WorkloadProgress("Rings", 3, 0, True)]
    assert "Follow the advice on the climb" in stand(1, True, workloads, []).next_step
    untried = [RungProgress("core +30 MHz", 0, 0)]
    assert stand(1, True, workloads, untried).next_step == "Test core +30 MHz: one run of each workload."
    partly = [
        RungProgress("core +30 MHz", 2, 0),
        RungProgress("core +45 MHz", 1, 0),
        RungProgress("core +60 MHz", 0, 1),
    ]
    standing = stand(1, True, workloads, partly)
    assert standing.current == "Climb"
    assert standing.next_step == "Run the remaining workloads at core +45 MHz."
    assert standing.stages[2].note == "3 rungs tried, 1 of them failed."


def test_an_unfinished_description_blocks_everything():
    standing = stand(0, True, [], [])
    assert standing.current == "Prepare"
    assert standing.stages[0].note == "Still missing: a knob, a workload."
