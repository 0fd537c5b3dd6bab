import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.climb.failures_in_use import (
    BY_CHANCE,
    ODDS,
    PROBES,
    STAYS,
    SUSPECTS,
    FailedInUse,
    Probed,
    blames_tuning,
    probe_minutes,
    suspects,
)

PLAIN = FailedInUse(20.0, "Gorge", "program crash")


def chance(found, suspect):
    return next(one.chance for one in found.chances if one.suspect == suspect)


def test_stock_is_asked_first_whatever_is_suspected():
    for failed in (PLAIN, FailedInUse(5, "Gorge", "system crash", True, True, 2.0, 10.0)):
        found = suspects(failed)
        assert (found.test.key, found.test.at_stock) == ("stock", True)
        assert found.culprit is None
    # the rule of three: 95 % sure that it has gone
    assert probe_minutes(PLAIN) == 60
    assert probe_minutes(FailedInUse(0.5, "Gorge", "system crash")) == 10


def test_what_has_not_changed_is_not_suspected():
    found = suspects(PLAIN)
    assert chance(found, "new driver") == chance(found, "new workload") == 0
    changed = suspects(FailedInUse(20, "Gorge", "program crash", driver_changed=True))
    assert chance(changed, "new driver") > 0.2


def test_bayes_by_hand():
    """One test at stock that fails: chances before, times how often each would fail there, over their sum."""
    before = suspects(PLAIN)
    after = suspects(PLAIN, [Probed("stock", True, 60)])
    weights = {}
    for suspect in SUSPECTS:
        expected = STAYS["stock"][suspect] * 60 / 20
        fails = BY_CHANCE + (1 - 2 * BY_CHANCE) * (1 - 2.718281828**-expected)
        weights[suspect] = chance(before, suspect) * fails
    total = sum(weights.values())
    for suspect in SUSPECTS:
        assert chance(after, suspect) == pytest.approx(weights[suspect] / total)
    assert after.culprit == "the program itself"
    assert after.says.code in ("program_not_tuning", "supply_not_tuning")


def test_heat_and_age_point_to_the_edge_and_a_machine_that_goes_down_to_power():
    assert chance(suspects(FailedInUse(20, "G", "program crash", warmer_k=10)), "edge moved") > chance(
        suspects(PLAIN), "edge moved"
    )
    assert chance(suspects(FailedInUse(20, "G", "program crash", years=2)), "edge moved") > chance(
        suspects(PLAIN), "edge moved"
    )
    down = suspects(FailedInUse(20, "G", "system crash"))
    assert chance(down, "supply or cable") > chance(suspects(PLAIN), "supply or cable")


def followed(failed, culprit):
    """The triage to its end, every test ending as it mostly would."""
    tested = []
    while len(tested) < 10:
        found = suspects(failed, tested)
        if found.test is None:
            return found, tested
        fails = STAYS[found.test.key][culprit] * found.test.minutes / failed.minutes > 0.9
        tested.append(Probed(found.test.key, fails, found.test.minutes))
    raise AssertionError("the triage does not end")


@pytest.mark.parametrize("culprit", SUSPECTS)
def test_each_culprit_is_found_when_the_tests_end_as_they_mostly_do(culprit):
    failed = FailedInUse(
        20,
        "Gorge",
        "system crash" if culprit == "supply or cable" else "program crash",
        driver_changed=culprit == "new driver",
        workload_new=culprit == "new workload",
    )
    found, tested = followed(failed, culprit)
    assert found.chances[0].suspect == culprit
    assert len({one.key for one in tested}) == len(tested) <= len(PROBES)
    assert blames_tuning(culprit) is (culprit in ("edge moved", "new driver", "new workload"))


@given(
    st.floats(0.1, 600),
    st.sampled_from(["system crash", "program crash", "artifacts", "no start"]),
    st.booleans(),
    st.booleans(),
    st.floats(0, 10),
    st.floats(-10, 20),
    st.lists(
        st.tuples(st.sampled_from(PROBES), st.booleans(), st.floats(0.1, 300)), max_size=5, unique_by=lambda t: t[0]
    ),
)
def test_chances_add_up_and_it_always_says_something(minutes, outcome, driver, new, years, warmer, tests):
    failed = FailedInUse(minutes, "Gorge", outcome, driver, new, years, warmer)
    found = suspects(failed, [Probed(*test) for test in tests])
    assert sum(one.chance for one in found.chances) == pytest.approx(1)
    assert {one.suspect for one in found.chances} == set(ODDS)
    assert found.says
    assert (found.test is None) or found.test.key not in {test[0] for test in tests}
