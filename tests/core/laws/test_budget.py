import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.laws.shared_budgets import KINDS, Shared
from trelvo.core.laws.budget import Ceiling, LimitPlan, Use, best_ceiling, best_limit, best_split, held_back
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_split import DRAWS, SplitLaw, SplitPlace, fit_split
from trelvo.core.problems import Refused

CAPS = [(40, 0), (33, 0), (26, 0), (20, 0), (15, 0)]
SPLITS = [*CAPS, (26, 0.3), (26, -0.25)]


def law(share, powers=(0.5, 0.5), sharp=1.0, seen=((1.0, 60.0), (1.0, 60.0))):
    """A law that is known: reference 20 W each."""
    best = np.array(
        [0.0, np.log(share / (1 - share)), np.log(powers[0]), np.log(powers[1]), -30.0, -30.0, np.log(sharp)]
    )
    return SplitLaw(np.tile(best, (DRAWS, 1)), 20.0, 20.0, *seen, 0.0)


def fitted(places, seed=1):
    return fit_split(places, np.random.default_rng(seed))


def test_parts_in_turn_follow_amdahl():
    # 40 % of the work 10 times faster: 1.5625. Hennessy and Patterson, from memory; pace as watts to the power of one
    known = law(0.6, (1.0, 1.0), sharp=1.0, seen=((1, 20), (1, 200)))
    assert np.exp(known.change((20, 20), (20, 200))[0]) == pytest.approx(1.5625)


def test_the_slower_alone_decides_where_nothing_overlaps():
    known = law(0.5, (1 / 3, 1 / 3), sharp=200.0)
    # twice the watts of the one that does not decide bring nothing; half of it a cube root: arithmetic
    assert np.exp(known.change((20, 20), (40, 20))[0]) == pytest.approx(1.0, abs=0.01)
    assert np.exp(known.change((20, 20), (10, 20))[0]) == pytest.approx(0.5 ** (1 / 3), abs=0.01)


def test_the_best_split_of_two_equal_parts_is_even():
    found = best_split(law(0.5), 30.0, 10.0)
    assert (found.first_w, found.second_w) == pytest.approx((20.0, 20.0), abs=0.7)
    # (sqrt(2/3) + sqrt(2)) / 2 of the time becomes 1: arithmetic
    assert found.gain.value == pytest.approx((np.sqrt(2 / 3) + np.sqrt(2)) / 2, rel=1e-3)
    # never beyond what a part was seen to draw
    bounded = best_split(law(0.5, seen=((25.0, 31.0), (9.0, 13.0))), 30.0, 10.0)
    assert bounded.second_w == pytest.approx(13.0)


@pytest.mark.parametrize("kind", KINDS)
def test_what_a_watt_moved_brings_is_told_of_machines_made_otherwise(kind):
    rng = np.random.default_rng(7)
    held = told = wrong = 0
    for _ in range(25):
        machine = Shared(kind, rng)
        places = machine.places(SPLITS if kind != "idle" else CAPS)
        found = fitted(places)
        at = (places[2].first_w, places[2].second_w)
        moved = found.moved(*at, 1.0)
        if moved is None or not found.fits:
            continue
        true = machine.speed(at[0] - 1, at[1] + 1) / machine.speed(*at)
        told, held = told + 1, held + (moved.low <= true <= moved.high)
        wrong += (moved.low > 1 and true < 1) or (moved.high < 1 and true > 1)
    assert wrong == 0
    # where one part idles a watt of its two or three was never moved, so nothing is told
    assert held >= 0.85 * told
    assert (told <= 8) if kind == "idle" else (told >= 20)


def test_caps_alone_that_keep_the_shares_tell_of_no_split():
    rng = np.random.default_rng(3)
    shown = 0
    for _ in range(20):
        machine = Shared("overlapping", rng)
        machine.tilt = 0.0
        places = machine.places(CAPS)
        found = best_split(fitted(places), places[2].first_w, places[2].second_w)
        shown += found.gain.low > 1
    assert shown <= 1


def test_too_little_is_refused_with_what_to_do():
    places = [SplitPlace(i, 10.0 + i, 12.0 + i, 0.05 * i, 0.004) for i in range(3)]
    with pytest.raises(Refused, match="too_few_settings_with_both"):
        fitted(places[:2])
    with pytest.raises(Refused, match="part_power_never_moves"):
        fitted([SplitPlace(i, 10.0, 12.0, 0.0, 0.004) for i in range(4)])
    with pytest.raises(Refused, match="run_without_part_power"):
        fitted([*places, SplitPlace(9, 0.0, 12.0, 0.0, 0.004)])


def test_a_law_that_does_not_describe_the_workload_says_so():
    # more watts, less speed: heat, or another machine
    places = [SplitPlace(i, 10.0 + 3 * i, 12.0 + 2 * i, -0.3 * i, 0.004) for i in range(5)]
    assert not fitted(places).fits


watts = st.floats(2.0, 60.0)


@given(watts, watts, st.floats(0.05, 0.95), st.floats(0.2, 1.0), st.floats(1.0, 30.0))
def test_more_watts_never_slow_it_down_and_the_best_split_is_no_worse(first, second, share, power, sharp):
    known = law(share, (power, power), sharp)
    assert known.change((first, second), (first + 1, second))[0] >= -1e-12
    assert known.change((first, second), (first, second + 1))[0] >= -1e-12
    found = best_split(known, first, second)
    assert found.gain.low >= 1
    assert found.first_w + found.second_w == pytest.approx(first + second)


@settings(max_examples=15)
@given(st.lists(st.tuples(watts, watts), min_size=3, max_size=8, unique=True), st.integers(0, 1000))
def test_any_places_give_a_law_with_finite_numbers_or_words(pairs, seed):
    rng = np.random.default_rng(seed)
    places = [SplitPlace(i, a, b, float(rng.normal(0, 1)), 0.004) for i, (a, b) in enumerate(pairs)]
    try:
        found = fitted(places, seed)
    except Refused:
        return
    assert np.isfinite(found.drawn).all()
    split = best_split(found, *pairs[0])
    assert split.gain.low <= split.gain.value <= split.gain.high


def test_a_limit_on_one_part_gives_its_watts_to_the_other_where_the_machine_is_held_back():
    both = law(0.3, seen=((8.0, 40.0), (4.0, 30.0)))
    # the first has too much for what it does
    held = best_ceiling([Use(both, 30.0, 10.0, 1.0, True)])
    assert held.part == 1
    assert 10 <= held.watts <= 20
    assert held.gain.value > 1.1
    # where nothing holds it back, a limit only takes
    free = best_ceiling([Use(both, 30.0, 10.0, 1.0, False, log_ratio=-0.2)])
    assert free == Ceiling(0, 0.0, Interval(1, 1, 1), Interval(*[pytest.approx(np.exp(-0.2))] * 3))


def test_one_limit_is_weighed_over_all_workloads():
    gains = law(0.2, seen=((5.0, 40.0), (4.0, 30.0)))
    loses = law(0.99, seen=((5.0, 40.0), (4.0, 30.0)))
    alone = best_ceiling([Use(gains, 30.0, 10.0, 1.0, True)])
    together = best_ceiling([Use(gains, 30.0, 10.0, 1.0, True), Use(loses, 38.0, 2.0, 4.0, True)])
    assert alone.part == 1
    assert together.part == 0 or together.watts > alone.watts


def test_the_shared_limit_is_seen_to_hold_where_two_of_its_values_draw_the_same_share():
    # (setting, workload): limit and watts
    read = {(1, 1): (45.0, 44.0), (2, 1): (28.0, 27.5), (1, 2): (45.0, 31.0), (2, 2): (28.0, 27.4)}
    assert held_back(read) == {(1, 1), (2, 1), (2, 2)}
    assert held_back({(1, 1): (45.0, 31.0), (2, 1): (35.0, 31.0)}) == frozenset()
    assert held_back({}) == frozenset()


def plan(number, watts, ratio, frames=None):
    return LimitPlan(number, watts, Ceiling(0, 0.0, Interval(1, 1, 1), Interval(ratio, ratio, ratio)), frames)


def test_the_goal_decides_which_limit():
    plans = [plan(1, 44, 1.0, 60), plan(2, 34, 0.995, 55), plan(3, 27, 0.8, 40)]
    assert best_limit(plans, True, None, None, None).setting_id == 1
    assert best_limit(plans, True, None, 30.0, None).setting_id == 3
    assert best_limit(plans, False, 0.99, None, None).setting_id == 2
    assert best_limit(plans, False, None, None, 58).setting_id == 1
    assert best_limit(plans, False, 0.99, 20.0, None) is None
