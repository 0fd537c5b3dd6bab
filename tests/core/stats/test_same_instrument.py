"""Readings of two sides are compared with each other only where the same instruments took them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.runs import RunFacts
from trelvo.core.stats.power import read_alike, watts_saved
from trelvo.core.stats.same_instrument import DEGREES, WATTS, by_readers, in_use, lacking, read_on_both, usual

OLD, NEW = ("old clamp",), ("new clamp",)


def read(by, watts=200.0, at=0.0, number=1):
    return RunFacts(
        number, 1, 1, "completed", 90.0, power_w=watts, power_point="cables", started_h=at, read_by={"power_w": by}
    )


def side(**by):
    """Runs by who read them: how many, and when the last of them was; `new=(2, 5.0)`."""
    return by_readers([read(f"{name} clamp", at=last) for name, (many, last) in by.items() for _ in range(many)], WATTS)


def test_runs_are_told_apart_by_who_read_them():
    lone = RunFacts(9, 1, 1, "completed", 90.0, temp_max_c=70.0, room_c=21.0, read_by={"temp_max_c": "probe"})
    half = RunFacts(8, 1, 1, "completed", 90.0, temp_max_c=70.0)
    assert by_readers([lone, half], DEGREES) == {("probe", ""): [lone]}
    assert by_readers([lone], WATTS) == {}


@pytest.mark.parametrize(
    ("before", "after", "both", "lacks"),
    [
        (side(old=(3, 1)), side(old=(3, 2)), OLD, ""),
        (side(old=(3, 1)), side(new=(3, 2)), None, "before"),
        (side(new=(3, 3)), side(old=(3, 2)), None, "after"),
        # what the old one read on both sides still tells
        (side(old=(3, 1), new=(1, 3)), side(old=(3, 2)), OLD, ""),
        # as many on both sides by either: the one that reads now
        (side(old=(1, 1), new=(1, 3)), side(old=(1, 2), new=(1, 4)), NEW, ""),
        # the side that has fewer decides
        (side(old=(9, 1), new=(2, 3)), side(old=(1, 2), new=(2, 4)), NEW, ""),
        (side(old=(1, 1)), {}, None, ""),
        ({}, {}, None, ""),
    ],
)
def test_who_read_both_and_which_side_lacks_a_reading(before, after, both, lacks):
    now = in_use({**before, **after})
    assert (read_on_both(before, after), lacking(before, after, now)) == (both, lacks)


def test_the_newest_reading_says_what_is_in_use_and_the_many_what_is_usual():
    found = side(old=(5, 4), new=(1, 5))
    assert (in_use(found), usual(found)) == (NEW, OLD)
    assert (in_use({}), usual({})) == (None, None)


def test_watts_of_two_clamps_are_not_put_together():
    """5 W less by the clamp that read both; by all readings thrown together it would seem to be 20 W more."""
    stock = by_readers([read("old clamp", 200.0), read("old clamp", 202.0)], WATTS)
    one = by_readers([read("old clamp", 196.0), read("new clamp", 246.0)], WATTS)
    pair = read_alike(stock, one)
    assert [summary.mean_w for summary in pair] == [201.0, 196.0]
    assert watts_saved(*pair) == 5.0
    assert read_alike(stock, {NEW: one[NEW]}) is None


def test_readings_of_nobody_in_particular_are_one_readout_but_come_after_a_named_one():
    nobody = [RunFacts(n, 1, 1, "completed", 90.0, power_w=200.0 + n) for n in range(3)]
    before, after = by_readers(nobody[:2], WATTS), by_readers(nobody[2:], WATTS)
    pair = read_alike(before, after)
    assert watts_saved(*pair) == -1.5
    # more often read, but nobody knows by what
    clamp = by_readers([read("old clamp", 180.0)], WATTS)
    both = [{**side, **clamp} for side in (before, after)]
    assert read_on_both(*both) == ("old clamp",)


names = st.lists(st.tuples(st.sampled_from("abc"), st.floats(0, 100)), max_size=6)


@given(names, names)
def test_a_side_lacks_a_reading_just_where_both_were_read_and_by_nobody_alike(one, other):
    sides = [by_readers([read(by, at=at, number=n) for n, (by, at) in enumerate(some)], WATTS) for some in (one, other)]
    both = sides[0].keys() & sides[1].keys()
    assert (read_on_both(*sides) in both) == bool(both)
    now = in_use({**sides[0], **sides[1]})
    assert (lacking(*sides, now) != "") == (bool(one and other) and not both)
    if not both:
        turned = {"": "", "before": "after", "after": "before"}
        assert lacking(*sides[::-1], now) == turned[lacking(*sides, now)]
