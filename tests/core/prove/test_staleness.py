from dataclasses import replace

import pytest

from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.staleness import Circumstances, Evidence, changes_since, proof_now
from trelvo.messages.prove import TOUCHES
from trelvo.messages.texts import text_of

# 130 h without a failure: 1 - exp(-130 / 50) = 92.6 % sure of no more than one in 50 h, where 90 % are asked for
KEPT = RateBelief.from_hours(130, 0)
PROVED = Circumstances(
    driver="41.2",
    firmware="F7",
    system="Desk 12",
    cooling="blower",
    enclosure="closed",
    parts={"graphics card": "Card A", "processor": "Chip B"},
    tuned=frozenset({"graphics card"}),
    workloads={"Kiln": "stress test", "Gorge": "title"},
    techniques=frozenset({"plain drawing"}),
    room_c=23.0,
    sure=0.9,
)


# every change below came on the thirtieth day
SINCE = dict.fromkeys(
    [
        "driver", "firmware", "system", "cooling", "enclosure", "part graphics card", "part processor", "workload Fjord",
        "technique ray tracing", "season", "risk",
    ],
    30.0,
)  # fmt: skip


def now(today=30.0, evidence=(), controls=(), kept=KEPT, climb=None, **changed):
    found = replace(PROVED, **{"since": SINCE, **changed})
    return proof_now(kept, PROVED, found, evidence, 0.0, today, "Kiln", controls=controls, climb=climb)


def test_the_climb_is_believed_and_open_changes_move_it():
    climb = RateBelief.from_hours(200, 0)
    used = Evidence(20.0, 40.0, in_use=True)
    assert now(evidence=[used], climb=climb).chance == climb.chance_within(0.02)
    changed = now(evidence=[used], climb=climb, driver="43.0")
    assert changed.chance == pytest.approx(climb.moved(0.15, 0.3, 1.0).chance_within(0.02))
    # what was run since a change, and did not bring the belief back, counts after it
    since = Evidence(31.0, 0.1)
    after = now(today=32.0, evidence=[used, since], climb=climb, driver="43.0")
    own = KEPT.after(40.0).moved(0.15, 0.3, 1.0).after(0.1)
    assert after.chance == pytest.approx(own.chance_within(0.02))


# Each row: what has changed, and what the change is called. None: nothing that a proof knows of.
TABLE = (
    ({"driver": "43.0"}, "driver", "driver: 41.2 → 43.0"),
    ({"firmware": "F9"}, "firmware", "firmware: F7 → F9"),
    ({"system": "Desk 13"}, "system", "system: Desk 12 → Desk 13"),
    ({"cooling": "liquid"}, "cooling", "cooling: blower → liquid"),
    ({"enclosure": ""}, "enclosure", "enclosure: closed → not said"),
    (
        {"parts": {"graphics card": "Card A2", "processor": "Chip B"}},
        "tuned part",
        "graphics card: Card A → Card A2",
    ),
    ({"parts": {"graphics card": "Card A"}}, "part", "processor: Chip B → none"),
    (
        {"workloads": {"Kiln": "stress test", "Gorge": "title", "Fjord": "title"}},
        "workload",
        "new workload: Fjord",
    ),
    (
        {"techniques": frozenset({"plain drawing", "ray tracing"})},
        "technique",
        "ray tracing was not part of the proof",
    ),
    ({"room_c": 31.0}, "season", "the room is 31 °C; proved at up to 23 °C"),
    (
        {"accepted_per_h": 0.01},
        "risk",
        "accepted now: one failure in 100 h, 90 % sure; when it was kept: one failure in 50 h, 90 % sure",
    ),
)


@pytest.mark.parametrize(("changed", "kind", "says"), TABLE)
def test_each_change_is_told_and_touches_something(changed, kind, says):
    found = changes_since(PROVED, replace(PROVED, **changed), 30.0)
    assert [(one.kind, text_of(one.says)) for one in found] == [(kind, says)]
    assert TOUCHES[found[0].kind]


@pytest.mark.parametrize(
    "changed",
    [
        {},
        {"room_c": 26.5},
        {"room_c": 15.0},
        {"accepted_per_h": 0.05},
        {"sure": 0.8},
        {"workloads": {"Gorge": "title"}},
    ],
)
def test_what_changes_nothing_for_the_worse_leaves_the_proof_alone(changed):
    assert changes_since(PROVED, replace(PROVED, **changed), 30.0) == []
    found = now(**changed)
    assert found.fresh
    assert found.check == ()


def test_what_was_kept_unproved_is_not_stale_and_needs_no_stock_run():
    found = now(kept=RateBelief.from_hours(5, 0))
    assert (found.fresh, found.stale) == (False, False)
    assert [item.act for item in found.check] == ["hold"]
    assert found.check[0].why.code == "without_failure"
    changed = now(kept=RateBelief.from_hours(5, 0), driver="43.0")
    assert changed.stale
    assert changed.check[0].act == "control"


@pytest.mark.parametrize(("changed", "kind", "says"), TABLE)
def test_a_proof_with_little_to_spare_goes_stale_by_every_change(changed, kind, says):
    kept = RateBelief.from_hours(60, 0)
    found = now(kept=kept, **changed)
    assert not found.fresh
    assert [change.kind for change in found.changes] == [kind]
    if found.settled:
        # the check that is asked for brings it back, exactly
        minutes = sum(one.minutes for one in found.check if one.act == "hold")
        runs = [Evidence(31.0, 1 / 60, workload=one.workload) for one in found.check for _ in range(one.runs)]
        again = now(today=32.0, evidence=[Evidence(31.0, minutes / 60), *runs], controls=[31.0], kept=kept, **changed)
        assert again.fresh
        assert again.changes == ()


def test_the_more_was_proved_the_more_it_stands():
    """A new driver does something in 15 of 100; what was proved for 20 000 h has that much to spare."""
    assert not now(driver="43.0").fresh
    much = RateBelief.from_hours(20_000, 0)
    checked = [Evidence(31.0, 0.25)]
    assert now(driver="43.0", kept=much, evidence=checked, today=32.0).fresh
    assert now(system="kernel 7", kept=much).fresh


@pytest.mark.parametrize("changed", [{"driver": "43.0"}, {"firmware": "F.30"}])
def test_another_driver_or_firmware_asks_for_a_short_check_however_strong_the_proof(changed):
    """Common practice: another driver, check again."""
    much = RateBelief.from_hours(20_000, 0)
    found = now(**changed, kept=much)
    assert not found.fresh
    assert found.chance > found.required
    assert [(one.act, one.minutes) for one in found.check if one.act == "hold"] == [("hold", 15.0)]
    # two minutes of it are no check, nor is an hour of everyday use
    for evidence in ([Evidence(31.0, 2 / 60)], [Evidence(31.0, 1.0, lighter=-1.4, in_use=True)]):
        assert not now(**changed, kept=much, evidence=evidence, today=32.0).fresh


def test_another_specimen_is_proved_anew():
    other = {"parts": {"graphics card": "Card A2", "processor": "Chip B"}}
    new, driver = now(**other), now(driver="43.0")
    longest = [next(one.minutes for one in found.check if one.act == "hold") for found in (new, driver)]
    assert longest[0] > 3 * longest[1]


def test_a_control_run_comes_first_and_is_asked_for_once():
    found = now(driver="43.0")
    assert [one.act for one in found.check] == ["control", "hold"]
    since = {"driver": 20.0}
    again = now(driver="43.0", since=since, controls=[21.0])
    assert [one.act for one in again.check] == ["hold"]
    before = now(driver="43.0", since=since, controls=[19.0])
    assert [one.act for one in before.check] == ["control", "hold"]


def test_a_new_workload_is_measured_as_well():
    title = {"workloads": {**PROVED.workloads, "Fjord": "title"}}
    found = now(kept=RateBelief.from_hours(5000, 0), **title)
    assert not found.fresh
    assert [(one.act, one.workload, one.runs) for one in found.check][-1] == ("gain", "Fjord", 2)
    runs = [Evidence(31.0, 0.1, workload="Fjord")] * 2
    since = {"workload Fjord": 30.0}
    assert now(today=32.0, kept=RateBelief.from_hours(5000, 0), evidence=runs, since=since, **title).fresh


def test_a_failure_in_use_is_no_longer_what_was_proved():
    found = now(evidence=[Evidence(20.0, 40.0, 1, lighter=-1.4, in_use=True)])
    assert not found.fresh
    assert found.failures == 1
    assert found.chance < KEPT.chance_within(0.02)
    # more use does not answer it, a check does
    failed = Evidence(20.0, 40.0, 1, lighter=-1.4, in_use=True)
    assert not now(evidence=[failed, Evidence(25.0, 40.0, lighter=-1.4, in_use=True)]).fresh
    assert now(evidence=[failed, Evidence(25.0, 150.0)]).fresh
    # light use that went well is evidence, though less than the heaviest load would be
    used = now(evidence=[Evidence(20.0, 400.0, lighter=-1.4, in_use=True)])
    assert now().chance < used.chance < now(evidence=[Evidence(20.0, 400.0)]).chance


def test_time_alone_makes_it_stale_and_a_check_brings_it_back():
    assert now(today=170.0).fresh
    old = now(today=400.0)
    assert not old.fresh
    assert [(change.kind, text_of(change.says)) for change in old.changes] == [("age", "13 months without a check")]
    hold = next(one for one in old.check if one.act == "hold")
    checked = now(today=402.0, evidence=[Evidence(401.0, hold.minutes / 60)], controls=[400.5])
    assert checked.fresh
    assert checked.changes == ()


def test_what_is_checked_before_a_change_does_not_answer_it():
    before, after = Evidence(9.0, 50.0), Evidence(11.0, 50.0)
    since = {"driver": 10.0}
    kept = RateBelief.from_hours(150, 0)
    assert now(driver="43.0", since=since, evidence=[before], kept=kept).changes
    assert not now(driver="43.0", since=since, evidence=[after], kept=kept).changes
