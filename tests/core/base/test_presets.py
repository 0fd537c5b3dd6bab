import pytest

from trelvo.core.base.knobs import check_knob
from trelvo.core.base.presets import STARTERS, USUAL_KNOBS
from trelvo.core.climb.knob_order import order_knobs
from trelvo.core.terms import usual_terms


@pytest.mark.parametrize("starter", STARTERS, ids=lambda one: one.key)
def test_a_campaign_can_begin_with_it(starter):
    assert [problem for knob in starter.knobs for problem in check_knob(knob, "knob")] == []
    assert usual_terms(starter.goal).goal == starter.goal
    assert len({workload.name for workload in starter.workloads}) == len(starter.workloads) >= 3
    # the order in which they are listed is the order of turning
    assert [knob.key for knob in order_knobs(starter.knobs, starter.goal)] == [knob.key for knob in starter.knobs]
    assert any(workload.kind == "stress test" for workload in starter.workloads)


def test_usual_knobs_can_be_added_as_they_are():
    assert [problem for knob in USUAL_KNOBS for problem in check_knob(knob, "knob")] == []
    assert len({knob.key for knob in USUAL_KNOBS}) == len(USUAL_KNOBS)
