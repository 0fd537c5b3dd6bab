"""What to do after a failure. Orders and steps back: common practice."""

import pytest

from tests.said import codes
from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load
from trelvo.core.message import message
from trelvo.core.prove.triage import Failed, triage

KNOBS = {
    knob.key: knob
    for knob in (
        Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock"),
        Knob("memory", "Memory clock", "MHz", 0, 50, 0, 1500, 1, "memory clock"),
        Knob("voltage", "Voltage", "mV", 0, 5, -150, 10, -1, "voltage"),
    )
}
KILN = Load(1, "Kiln", "stress test", 30)


def failed(outcome="program crash", minutes=12.0, values=None, **more):
    values = {"core": 150.0} if values is None else values
    return Failed(outcome, minutes, KILN, values, **{"last": KNOBS["core"], "last_good": 135.0} | more)


def keys(found):
    return [step.key for step in found.steps]


def test_stock_first_then_the_last_good_then_back_by_the_kind_then_voltage():
    found = triage(failed(), KNOBS)
    assert keys(found) == ["stock", "last good", "steps back", "voltage"]
    stock, good, back, volts = found.steps
    assert (stock.values, stock.minutes) == ({}, 36)  # three times as long as it took
    assert good.values == {"core": 135.0}
    assert back.values == {"core": 120.0}
    assert volts.values == {"core": 150.0, "voltage": 5.0}
    assert found.outcome == "program crash"


@pytest.mark.parametrize(
    ("outcome", "back"),
    [("artifacts", None), ("program crash", 120.0), ("system crash", 105.0), ("no start", 75.0)],
)
def test_the_harder_the_failure_the_further_back(outcome, back):
    steps = {step.key: step for step in triage(failed(outcome), KNOBS).steps}
    # one step back from +150 is the last good setting, which is there already
    assert steps.get("steps back") is None if back is None else steps["steps back"].values == {"core": back}


def test_never_below_stock_and_never_above_the_ceiling():
    found = triage(failed("no start", values={"core": 30.0}, last_good=None), KNOBS)
    assert next(step for step in found.steps if step.key == "steps back").values == {}
    top = triage(failed(values={"core": 150.0, "voltage": 10.0}), KNOBS)
    assert "voltage" not in keys(top)


def test_memory_and_core_are_told_apart_when_both_are_turned():
    found = triage(failed("artifacts", values={"core": 90.0, "memory": 900.0}), KNOBS)
    step = next(step for step in found.steps if step.key == "memory")
    assert step.values == {"core": 90.0}
    assert "points_to_memory" in codes(step.why)
    assert "memory" not in keys(triage(failed(), KNOBS))


def test_heat_is_ruled_out_when_it_was_at_its_limit():
    hot = triage(failed(values={"core": 150.0, "memory": 600.0}, temp_max_c=83.0, limit_c=84.0), KNOBS)
    assert keys(hot) == ["stock", "last good", "steps back", "voltage", "memory", "heat"]
    assert hot.steps[-1].why == message("was_near_heat_limit", hottest_c=83.0, limit_c=84.0)
    assert "heat" not in keys(triage(failed(temp_max_c=70.0, limit_c=84.0), KNOBS))


def test_something_else_is_suspected_where_the_tuning_explains_it_badly():
    assert keys(triage(failed(chance=0.01), KNOBS))[-1] == "elsewhere"
    assert triage(failed(chance=0.01), KNOBS).steps[-1].why.params["percent"] == pytest.approx(1)
    assert triage(failed(new_build=True), KNOBS).steps[-1].why.code == "changed_since_it_held"
    assert "elsewhere" not in keys(triage(failed(chance=0.6), KNOBS))


def test_a_failure_at_stock_is_not_the_tunings():
    for case in (failed(values={}), failed(fails_at_stock=True)):
        found = triage(case, KNOBS)
        assert keys(found) == ["elsewhere"]
    assert "look_at_power" in codes(triage(failed("system crash", values={}), KNOBS).steps[0].why)


def test_times_are_bounded():
    assert triage(failed(minutes=0.1), KNOBS).steps[0].minutes == 10
    assert triage(failed(minutes=600), KNOBS).steps[0].minutes == 120
