"""How much nearer the edge a workload takes a setting, told by its trials."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.climb.specimens import CLOCK, Silicon
from trelvo.core.climb.edge import EdgeModel
from trelvo.core.climb.stress import BY_KIND, KIND_OFF, Offset, estimate_stress, learnt_offset
from trelvo.core.climb.trials import Trial

HEAVY, LIGHT = 1, 2
EXPECTED = {HEAVY: 0.0, LIGHT: -8.0}


def runs(rng, silicon, lighter, values, minutes=20.0, stress=0.0):
    found = []
    for value in values:
        at = silicon.fails_after(value - lighter, rng)
        found.append(Trial(value, min(at, minutes), at < minutes, stress))
    return found


@pytest.mark.parametrize("lighter", [0.0, 8.0, 24.0])
def test_trials_move_the_stress_towards_the_truth(lighter):
    errors = []
    for seed in range(8):
        rng, silicon = np.random.default_rng(seed), Silicon(160.0, 12.0)
        trials = {
            HEAVY: runs(rng, silicon, 0.0, range(105, 225, 15)) + runs(rng, silicon, 0.0, range(105, 225, 15)),
            LIGHT: runs(rng, silicon, lighter, range(105, 240, 15), stress=EXPECTED[LIGHT]),
        }
        found = estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT]
        assert found.learnt
        assert found.deviation < 0.5 * 75 / 3.5
        errors.append(abs(found.middle + lighter))
    kind_alone = abs(EXPECTED[LIGHT] + lighter)
    assert np.mean(errors) < max(kind_alone, 7.0)


def test_without_trials_the_kind_speaks():
    found = estimate_stress(EdgeModel.of(CLOCK), {HEAVY: [Trial(90, 5, False)], LIGHT: []}, EXPECTED)
    assert found[LIGHT].middle == EXPECTED[LIGHT]
    assert not found[LIGHT].learnt
    assert found[HEAVY].middle == 0


def test_where_nothing_failed_the_kind_and_other_climbs_speak():
    """Both ran on, whatever they are like: that tells nothing of the one against the other."""
    passed = [Trial(15.0 * k, 5, False, EXPECTED[LIGHT]) for k in range(1, 12)]
    trials = {HEAVY: [Trial(15.0, 60, False)], LIGHT: passed}
    found = estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT]
    assert (found.middle, found.learnt, found.shown) == (EXPECTED[LIGHT], False, None)
    earlier = Offset(-0.3, 0.2)
    after = estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED, {LIGHT: earlier})[LIGHT]
    assert after.middle == pytest.approx(EXPECTED[LIGHT] - 0.3 * DECADE)
    assert after.deviation == pytest.approx(0.2 * DECADE)
    assert after.learnt
    told = {**trials, HEAVY: [*trials[HEAVY], Trial(30.0, 1, True)]}
    assert estimate_stress(EdgeModel.of(CLOCK), told, EXPECTED)[LIGHT].middle < EXPECTED[LIGHT]


def test_no_workload_is_harder_than_the_hardest():
    trials = {HEAVY: [Trial(180, 120, False)], LIGHT: [Trial(90, 0.5, True, EXPECTED[LIGHT])] * 3}
    assert estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT].middle <= 0


# the usual decade of this knob, MHz
DECADE = EdgeModel.of(CLOCK).steepness.decade


def climb_of(seed, lighter, before=None):
    """One climb of a rig whose light workload is so much lighter; what was estimated of it."""
    rng = np.random.default_rng(seed)
    silicon = Silicon(float(rng.uniform(90, 200)), float(rng.uniform(10, 20)))
    first = 15 * int(silicon.edge // 15) - 60
    values = range(max(first, 0), first + 120, 15)
    trials = {
        HEAVY: runs(rng, silicon, 0.0, values),
        LIGHT: runs(rng, silicon, lighter, values, stress=EXPECTED[LIGHT]),
    }
    return estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED, before)[LIGHT]


def test_climbs_of_the_rig_together_come_nearer_than_the_kind_alone():
    """A workload a decade lighter than its kind says: by four climbs, nearer and surer than before any."""
    lighter = -EXPECTED[LIGHT] + 0.8 * DECADE
    shown = [one.shown for seed in range(4) if (one := climb_of(seed, lighter)).shown]
    learnt = learnt_offset(shown)
    assert len(shown) >= 3
    assert abs(learnt.mean + 0.8) < 0.5
    assert learnt.deviation < KIND_OFF
    # the fifth climb begins there, and its own trials count once
    fifth = climb_of(9, lighter, {LIGHT: learnt})
    alone = climb_of(9, lighter)
    assert abs(fifth.middle + lighter) <= abs(alone.middle + lighter) + 1
    assert fifth.deviation < alone.deviation


def test_what_the_rig_has_shown_holds_before_a_workload_was_run():
    before = {LIGHT: Offset(-0.6, 0.2)}
    found = estimate_stress(EdgeModel.of(CLOCK), {HEAVY: [Trial(90, 5, False)], LIGHT: []}, EXPECTED, before)[LIGHT]
    assert found.middle == pytest.approx(EXPECTED[LIGHT] - 0.6 * DECADE)
    assert found.deviation == pytest.approx(0.2 * DECADE)
    assert found.learnt


def test_the_rule_of_normals_by_hand():
    # precisions 1/0.5² = 4 and 1/(0.3² + 0.2²) = 7.69: mean -0.5 · 7.69 / 11.69, deviation √(1/11.69 + 0.2²)
    learnt = learnt_offset([Offset(-0.5, 0.3)])
    assert (learnt.mean, learnt.deviation) == (pytest.approx(-0.329, abs=0.001), pytest.approx(0.354, abs=0.001))
    assert learnt_offset([]) == BY_KIND


def test_trials_that_say_nothing_show_nothing():
    trials = {HEAVY: [Trial(90, 5, False)], LIGHT: [Trial(15, 1, False, EXPECTED[LIGHT])]}
    assert estimate_stress(EdgeModel.of(CLOCK), trials, EXPECTED)[LIGHT].shown is None


@given(st.lists(st.tuples(st.floats(-1, 1), st.floats(0.05, 2)), max_size=6))
def test_no_number_of_climbs_says_more_than_they_differ(shown):
    learnt = learnt_offset([Offset(*one) for one in shown])
    assert (0.2 if shown else KIND_OFF) <= learnt.deviation <= KIND_OFF
    assert (
        min([0.0, *(mean for mean, _ in shown)]) - 1e-9
        <= learnt.mean
        <= max([0.0, *(mean for mean, _ in shown)]) + 1e-9
    )
