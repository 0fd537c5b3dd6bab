import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.decide.power_cap import caps_power, value_for_budget

CAP = Knob("cap", "Power cap", "W", 45, 1, 12, 45, -1, "power limit")
PERCENT = Knob("power", "Power limit", "%", 100, 1, 60, 120, -1, "power limit")


def test_what_is_a_cap():
    assert caps_power(CAP)
    assert not caps_power(Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit"))
    assert not caps_power(Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage"))


def test_power_is_proportional_to_the_limit_until_it_is_measured():
    # 45 W set, 47.2 read: 35 W by that readout are 33.4 set, so 33
    assert value_for_budget(CAP, {45: 47.2}, 35) == 33
    # in percent: 200 W at 100 %, 150 are 75 %
    assert value_for_budget(PERCENT, {100: 200.0}, 150) == 75
    # measured within and nearly used up: the nearest to stock of those
    assert value_for_budget(CAP, {45: 47.2, 33: 34.1, 30: 31.0}, 35) == 33
    assert value_for_budget(CAP, {45: 30.0}, 35) == 45
    # still too much where it was foretold to be enough: at least a step further
    assert value_for_budget(CAP, {45: 47.2, 33: 35.05}, 35) == 32
    assert value_for_budget(CAP, {}, 35) is None


def test_between_two_measured_values_it_is_interpolated():
    # two chips share the cap: at 35 W this one draws 13.6 of its 18, at 45 it draws 23: 45 - 10 x 5/9.4 = 39.7
    assert value_for_budget(CAP, {45: 23.0, 35: 13.6}, 18) == 39
    # 39 drew too much still, 38 within: nothing lies between
    assert value_for_budget(CAP, {45: 23.0, 39: 18.2, 38: 16.9, 35: 13.6}, 18) == 38


@given(st.floats(20, 400), st.floats(1, 400))
def test_it_stays_in_the_range_and_on_the_grid(drawn, budget):
    found = value_for_budget(CAP, {45: drawn}, budget)
    assert CAP.low <= found <= CAP.stock
    assert found == pytest.approx(round(found))
    assert found == CAP.stock if drawn <= budget else found < CAP.stock
