from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.next_step.test_rules import CORE, HELD, situation
from tests.said import codes
from trelvo.core.base.knobs import Knob
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.trials import Trial
from trelvo.core.message import message
from trelvo.core.next_step.rules import ProofItem, StockShort, Unanswered, next_step
from trelvo.core.problems import Refused
from trelvo.core.tonight.plan import ClimbAhead, ProofAhead, plan_tonight
from trelvo.messages.texts import text_of

BEGIN = datetime(2026, 5, 3, 20, 0, tzinfo=UTC)
KNOB = Knob("core", "Core clock", "MHz", 0, 15, -150, 300, 1, "core clock", "graphics")
CLIMB = ClimbAhead(KNOB, (Trial(60.0, 20.0, False),), Policy())
SHORT = [StockShort(1, "Gorge", 0, 3, 4.0, False), StockShort(2, "Render", 2, 3, 2.0, False)]
PROOF = ProofItem(2, "mixed load", False, message("both_to_see"), 1, "Kiln", 60, 60)


def plan(minutes, climbs=None, ahead=(), **more):
    return plan_tonight(situation(**more), climbs or {}, list(ahead), BEGIN, minutes, np.random.default_rng(1))


def clock(moment):
    return f"{moment:%H:%M}"


def test_a_baseline_is_counted_run_by_run():
    # 3 x 4 min and 1 x 2 min, a minute to set up each: 18 min, begun without cooling down
    found = plan(60, short=SHORT)
    (only,) = found.stretches
    assert (only.stage, only.whole, only.minutes) == ("Baseline", True, 18)
    assert text_of(only.title) == "Run 2 workloads at stock, 4 runs in all."
    assert (clock(only.begins_at), clock(only.ends_at), text_of(only.counted)) == (
        "20:00",
        "20:18",
        "4 runs of 14 min together, 4 min setup",
    )
    assert (found.first, found.free_minutes) == (
        message("run_at", workload="Gorge", setting=message("at_stock"), runs=3),
        42,
    )


def test_what_does_not_fit_whole_is_begun_and_the_rest_is_named():
    found = plan(10, short=SHORT, knobs=[CORE], climbs={"core": CLIMB})
    (part,) = found.stretches
    # Gorge and Render once: 5 and 3 minutes; another Gorge would be 13
    assert (part.minutes, part.whole, text_of(part.counted)) == (
        8,
        False,
        "2 of 4 runs of 6 min together, 2 min setup",
    )
    rest, *others = found.not_tonight
    assert (rest.begun, rest.minutes) == (True, 18 + 5 - 8)
    assert others[0].title == message("climb_knob", knob="Core clock")
    assert others[0].minutes is None
    assert found.end == message("first_not_finished")


def test_a_plan_begun_later_is_the_same_plan_at_later_times():
    later = BEGIN + timedelta(minutes=17)
    known = {"climbs": {"core": CLIMB}, "ahead": []}
    asked = plan(90, **known, short=SHORT, knobs=[CORE])
    anew = plan_tonight(situation(short=SHORT, knobs=[CORE]), known["climbs"], [], later, 90, np.random.default_rng(1))
    assert asked.begun_at(later) == anew
    assert asked.begun_at(later).begun_at(BEGIN) == asked


def test_a_climb_is_played_through_within_the_time():
    found = plan(45, climbs={"core": CLIMB}, knobs=[CORE])
    first = found.stretches[0]
    assert (first.stage, first.title) == ("Climb", message("climb_knob", knob="Core clock"))
    assert first.minutes <= 45
    assert first.ends_early <= first.ends_at <= first.ends_late
    assert [one for one in codes(first.known) if one.startswith("then_holds")]
    longer = plan(600, climbs={"core": CLIMB}, knobs=[CORE])
    assert longer.stretches[0].whole
    assert longer.stretches[1].title == message("run_all_where_it_holds", knob="Core clock")
    # five minutes to cool down between the two, four of running and one to set up
    assert longer.stretches[1].minutes == 10


def test_the_proof_says_what_it_will_say():
    found = plan(120, ahead=[ProofAhead(message("both_to_see"), 1, 60.0)], knobs=[HELD], proof=PROOF)
    # the rule of three: nothing in n trials means fewer than 3/n, 95 % sure (Hanley and Lippman-Hand, JAMA 1983)
    assert text_of(found.stretches[0].known) == "Passed, its 60 min mean: fewer than 3 failures an hour, 95 % sure."
    assert found.stretches[0].minutes == 61
    cut = plan(30, ahead=[ProofAhead(message("both_to_see"), 1, 60.0, False)], knobs=[HELD], proof=PROOF)
    assert cut.stretches == ()
    assert cut.end == message("not_even_the_first")


def test_questions_come_first_and_keeping_last():
    asked = [Unanswered(7, "Gorge", "core clock +90 MHz")]
    found = plan(60, unanswered=asked, short=SHORT)
    assert [stretch.stage for stretch in found.stretches] == ["Climb", "Baseline"]
    assert found.first == found.stretches[0].title
    kept = plan(60, unanswered=asked, knobs=[HELD], proof=replace(PROOF, proved=True))
    assert kept.end == message("after_that_nothing").then(message("keep_setting", setting="core clock +60 MHz"))
    assert codes(plan(60, missing=(message("missing_knob"),)).end)[:2] == ["nothing_left_to_run", "add_what_is_missing"]


@pytest.mark.parametrize("minutes", [0, 4.9, 24 * 60 + 1, float("nan")])
def test_a_time_that_is_none_is_refused(minutes):
    with pytest.raises(Refused) as refused:
        plan(minutes)
    assert refused.value.problems[0].where == "minutes"


shorts = st.lists(
    st.builds(
        StockShort,
        st.integers(1, 3),
        st.just("Gorge"),
        st.integers(0, 2),
        st.integers(3, 4),
        st.floats(0.5, 30),
        st.booleans(),
    ),
    max_size=3,
)


@settings(max_examples=12)
@given(st.floats(5, 600), shorts, st.booleans(), st.booleans(), st.floats(1, 200))
def test_a_plan_never_passes_its_end_and_begins_with_the_next_step(minutes, short, unanswered, climbing, proof):
    more = {
        "short": short,
        "unanswered": [Unanswered(7, "Gorge", "stock")] if unanswered else [],
        "knobs": [CORE] if climbing else [HELD],
        "proof": PROOF,
    }
    whole = situation(**more)
    ahead = {"core": CLIMB} if climbing else {}
    found = plan_tonight(
        whole, ahead, [ProofAhead(message("whole_system"), 2, proof)], BEGIN, minutes, np.random.default_rng(1)
    )
    step = next_step(whole).step
    assert found.first == step.title
    if found.stretches:
        assert found.stretches[0].stage == step.stage
        assert found.stretches[-1].ends_at <= BEGIN + timedelta(minutes=minutes, seconds=1)
    ends = [BEGIN, *(stretch.ends_at for stretch in found.stretches)]
    assert all(one.begins_at == before for one, before in zip(found.stretches, ends, strict=False))
    assert all(stretch.minutes > 0 and stretch.counted for stretch in found.stretches)
    assert found.free_minutes >= 0
