from trelvo.core.base.runs import RunFacts, counts, highest_of, mean_of, values_of
from trelvo.core.registry.outcomes import FAILURES, OUTCOMES


def run(**more):
    return RunFacts(**{"id": 1, "setting_id": 1, "workload_id": 1, "outcome": "completed", "value": 93.6, **more})


def test_only_completed_runs_with_a_value_that_are_not_set_aside_count():
    assert counts(run())
    assert not counts(run(set_aside=True))
    assert not counts(run(value=None))
    assert not any(counts(run(outcome=outcome)) for outcome in OUTCOMES if outcome != "completed")


def test_a_stop_and_lost_contact_say_nothing_about_stability():
    assert set(OUTCOMES) - {"completed", "safety limit", "stopped by hand", "connection lost"} == FAILURES


def test_what_is_missing_is_left_out_of_means():
    assert values_of([run(), run(value=94.0), run(value=1.0, set_aside=True)]) == [93.6, 94.0]
    assert mean_of([None, 2.0, 4.0]) == 3.0
    assert mean_of([None]) is None
    assert highest_of([None, 2.0, 4.0]) == 4.0
    assert highest_of([]) is None
