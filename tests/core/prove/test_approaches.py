"""Three approaches and the numbers: what each misses, and what its verdict says."""

import math

import pytest

from tests.said import codes
from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb.trials import Trial
from trelvo.core.prove.approaches import prove
from trelvo.core.prove.tested import ProofRun, breadth, evidence_by_kind
from trelvo.core.registry.approaches import APPROACHES

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1)


def load(number, name, kind, parts=(), techniques=()):
    return Load(number, name, kind, 5, frozenset(parts), frozenset(techniques))


KILN = load(1, "Kiln", "stress test", ["graphics", "processor"])
SHOW = load(2, "Show", "title", ["graphics", "memory"], ["ray tracing"])
ATLAS = load(3, "Atlas", "everyday", ["processor", "storage"])
WHOLE = load(4, "Whole", "everyday", ["graphics", "processor", "memory", "storage"])
LOADS = [KILN, SHOW, ATLAS]


def ran(load, minutes, outcome="completed", day=0):
    return ProofRun(load, minutes, outcome, day)


def items(proof):
    return {item.key: (item.state, item.done) for item in proof.items}


@pytest.mark.parametrize("approach", APPROACHES)
def test_nothing_run_yet(approach):
    proof = prove(approach, [], LOADS)
    assert proof.state == "not begun"
    assert proof.minutes_left > 0
    assert APPROACHES[proof.approach].limits


def test_worst_case_asks_for_hours_on_each_part():
    proof = prove("worst case", [ran(KILN, 60)], LOADS)
    assert items(proof) == {
        "graphics": ("under way", 60),
        "processor": ("under way", 60),
        # a title touches the memory, but no stress test does
        "memory": ("no workload", 0),
    }
    assert proof.minutes_left == 180 + 180
    # the rule of three, and common practice: once in five hours passes an hour four times in five
    assert proof.verdict.params["fewer_than"] == pytest.approx(3, abs=0.01)
    assert proof.verdict.params["passed"] == pytest.approx(82, abs=0.5)
    stress_memory = load(4, "Kneading", "stress test", ["memory"])
    done = prove("worst case", [ran(KILN, 240), ran(stress_memory, 240)], [*LOADS, stress_memory])
    assert done.state == "proved"
    assert (done.verdict.code, done.verdict.params["approach"]) == ("proof_passed", "worst case")


def test_as_used_asks_for_breadth_and_days():
    hours = [ran(SHOW, 120, day=0), ran(ATLAS, 60, day=1), ran(ATLAS, 60, day=2)]
    proof = prove("as used", hours, LOADS)
    assert items(proof)["load-2"] == ("done", 120)
    assert items(proof)["load-3"] == ("done", 120)
    assert items(proof)["technique-ray tracing"][0] == "done"
    assert items(proof)["technique-upscaling"][0] == "no workload"
    assert items(proof)["days"] == ("done", 3)
    assert proof.state == "under way"
    wide = load(5, "Wide", "title", ["graphics"], ["upscaling", "frame generation"])
    assert prove("as used", [*hours, ran(wide, 120)], [*LOADS, wide]).state == "proved"


def test_mixed_load_wants_one_stretch_to_see_and_an_hour_to_believe():
    short = prove("mixed load", [ran(KILN, 10), ran(KILN, 10)], LOADS)
    # ten minutes twice are not fifteen in one go
    assert items(short)["see"] == ("under way", 10)
    assert items(short)["believe"] == ("under way", 20)
    done = prove("mixed load", [ran(KILN, 60), ran(WHOLE, 30)], [*LOADS, WHOLE])
    assert done.state == "proved"
    assert done.verdict.code == "proof_passed"
    # without memory nothing loads the whole system, however long both parts ran together
    both_only = prove("mixed load", [ran(KILN, 90), ran(ATLAS, 30)], LOADS)
    assert (items(both_only)["whole"], both_only.state) == (("no workload", 0), "under way")
    assert prove("mixed load", [], [SHOW]).items[0].state == "no workload"


@pytest.mark.parametrize("approach", ["worst case", "as used", "mixed load"])
def test_a_failure_ends_the_proof_and_is_named(approach):
    proof = prove(approach, [ran(KILN, 300), ran(SHOW, 12, "program crash")], LOADS)
    assert proof.state == "failed"
    assert (proof.verdict.code, proof.verdict.params["workload"], proof.verdict.params["minutes"]) == (
        "proof_failed",
        "Show",
        12,
    )


def test_by_the_numbers_uses_all_trials_of_the_knob():
    trials = [Trial(150, 20, False), Trial(195, 2, True), Trial(180, 10, True)]
    belief = edge_posterior(EdgeModel.of(CLOCK), trials)
    low = prove("statistical", [ran(KILN, 20)], LOADS, belief=belief, value=30.0)
    assert low.state == "proved"
    near = prove("statistical", [ran(KILN, 20)], LOADS, belief=belief, value=150.0)
    assert near.state == "under way"
    assert near.minutes_left == pytest.approx(belief.minutes_to_believe(150.0))
    assert near.items[0].needed == pytest.approx(20 + near.minutes_left)
    strict = prove("statistical", [ran(KILN, 20)], LOADS, per_h=1e-5, sure=0.99, belief=belief, value=30.0)
    assert strict.state != "proved"


def test_by_the_numbers_without_a_knob_rests_on_time_alone():
    """Stock, or nothing climbed: 50 · ln 20 hours without a failure show one in fifty with 95 %."""
    proof = prove("statistical", [ran(KILN, 60)], LOADS)
    assert proof.minutes_left == pytest.approx(60 * (50 * math.log(20) - 1))
    assert "stock_by_its_own_time" in codes(proof.verdict)
    assert prove("statistical", [ran(KILN, 60 * 150)], LOADS).state == "proved"
    # a failure costs time, not the proof
    worse = prove("statistical", [ran(KILN, 60), ran(SHOW, 5, "program crash")], LOADS)
    assert worse.minutes_left > proof.minutes_left


def test_evidence_and_breadth():
    runs = [ran(KILN, 60), ran(KILN, 30, "system crash"), ran(SHOW, 90)]
    found = {one.kind: one for one in evidence_by_kind(runs)}
    assert (found["stress test"].runs, found["stress test"].rate.failures) == (2, 1)
    assert found["stress test"].rate.per_h == pytest.approx(1 / 1.5)
    assert found["title"].rate.per_h == 0
    wide = breadth(runs, LOADS)
    assert wide.parts == ("graphics", "processor", "memory")
    assert wide.parts_missing == ("storage",)
    assert wide.techniques == ("ray tracing",)


def test_a_campaign_that_draws_nothing_is_not_asked_for_techniques():
    stress, day = (
        load(1, "Kiln", "stress test", {"processor", "memory"}),
        load(2, "Day", "everyday", {"processor", "storage"}),
    )
    keys = {item.key for item in prove("as used", [ran(day, 120)], [stress, day]).items}
    assert keys == {"load-2", "days"}
    assert breadth([ran(stress, 60)], [stress, day]).techniques_missing == ()
    # a title draws, whatever is noted of it
    title = load(3, "Show", "title", {"processor"})
    assert "technique-ray tracing" in {item.key for item in prove("as used", [], [stress, title]).items}
