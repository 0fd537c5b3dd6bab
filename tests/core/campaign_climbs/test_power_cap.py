import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.campaign_climbs.power_cap import caps_power, value_for_budget, value_for_floor

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
    # still too much where it was predicted to be enough: at least a step further
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


def test_speed_that_must_be_kept_ends_the_way_down():
    # nothing shown to be too slow yet: the way is open
    assert value_for_floor(CAP, {35: 0.995}, [], 0.98) is None
    assert value_for_floor(CAP, {35: 0.979}, [], 0.98) is None
    # from 100 % at 45 W to 96 % at 35: 98 % halfway
    assert value_for_floor(CAP, {35: 0.96}, [35], 0.98) == 40
    # 99.5 % at 35, 97 % at 30: 98 % at 35 - 5 x 1.5 / 2.5 = 32
    assert value_for_floor(CAP, {35: 0.995, 30: 0.97}, [30], 0.98) == 32
    # neighbours on both sides: nothing lies between
    assert value_for_floor(CAP, {32: 0.981, 31: 0.969}, [31], 0.98) == 32
    # one between that only looks too slow: no further than that
    assert value_for_floor(CAP, {35: 0.979, 30: 0.95}, [30], 0.98) == 35
    # the first step is too slow already: stock
    assert value_for_floor(CAP, {44: 0.96}, [44], 0.98) == 45


@given(st.dictionaries(st.integers(12, 44), st.floats(0.5, 1.02), max_size=8), st.floats(0.8, 0.995))
def test_what_was_too_slow_is_never_asked_for_again(speed, floor):
    slow = [value for value, ratio in speed.items() if ratio < floor]
    found = value_for_floor(CAP, speed, slow, floor)
    assert (found is None) == (not slow)
    if found is not None:
        assert found == round(found)
        assert max(slow) < found <= CAP.stock
