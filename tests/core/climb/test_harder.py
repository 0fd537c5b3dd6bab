import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.harder import asks_no_more, harder_on_the_way, values_at

POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
MEMORY = Knob("memory", "Memory clock", "MHz", 0, 25, 0, 1500, 1, "memory clock")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 50, -1, "voltage")
KNOBS = [POWER, CORE, MEMORY, VOLTAGE]


def harder(along, base, *settings, knobs=KNOBS):
    return harder_on_the_way(knobs, along, base, values_at(knobs, settings)).tolist()


@pytest.mark.parametrize(
    ("setting", "counts"),
    [
        ({"power": 120, "core": 60}, True),
        ({"power": 120, "core": 60, "memory": 900, "voltage": -50}, True),
        # the line itself is no harder than the line
        ({"power": 120}, False),
        ({}, False),
        # a lower clock or a higher voltage asks less
        ({"power": 120, "core": -15, "memory": 900}, False),
        ({"power": 120, "core": 60, "voltage": 25}, False),
        # the wrong side of stock is another way
        ({"power": 90, "core": 60}, False),
    ],
)
def test_clocks_up_and_voltage_down_ask_more(setting, counts):
    assert harder("power", {}, setting) == [counts]


def test_another_limit_tells_nothing():
    """What a higher power limit allows may be more or less than stock's."""
    assert harder("core", {}, {"power": 120, "core": 60}, {"power": 80, "core": 60}) == [False, False]
    assert harder("core", {"power": 120}, {"power": 120, "core": 60, "memory": 300}) == [True]


def test_tighter_wait_states_ask_more():
    waits = Knob("waits", "Wait states", "", 3, 1, 0, 3, -1, "wait states")
    knobs = [CORE, waits]
    assert harder("core", {}, {"core": 15, "waits": 2}, {"core": 15}, knobs=knobs) == [True, False]
    assert harder("core", {"waits": 1}, {"core": 15, "waits": 2}, knobs=knobs) == [False]


def test_another_part_may_take_the_watts():
    processor = Knob("multiplier", "Multiplier", "x", 40, 1, 40, 50, 1, "multiplier", "processor")
    knobs = [CORE, processor]
    assert harder("core", {}, {"core": 15, "multiplier": 42}, knobs=knobs) == [False]
    bus = Knob("bus", "Bus clock", "MHz", 100, 1, 100, 110, 1, "bus clock", "processor")
    assert harder("bus", {}, {"bus": 102, "multiplier": 42}, knobs=[bus, processor]) == [True]


placed = st.fixed_dictionaries(
    {
        "power": st.sampled_from([100.0, 120.0]),
        "core": st.sampled_from([0.0, 15.0, 30.0]),
        "voltage": st.sampled_from([0.0, -5.0, -10.0]),
    }
)


@given(placed, placed, placed)
def test_harder_than_harder_is_harder(a, b, c):
    def than(one, other):
        """Whether at the same core clock one asks more than the line through the other."""
        return harder("core", other, {**one, "core": other["core"]})[0]

    if than(c, b) and than(b, a):
        assert than(c, a)
    assert not (than(a, b) and than(b, a))


def test_no_settings_at_all():
    assert harder_on_the_way(KNOBS, "core", {}, values_at(KNOBS, [])).shape == (0,)
    assert np.isfinite(values_at(KNOBS, [{}])).all()


@pytest.mark.parametrize(
    ("easier", "harder", "says"),
    [
        ({"core": 60.0}, {"core": 90.0}, True),
        ({"core": 60.0}, {"core": 60.0, "memory": 300.0}, True),
        ({"core": 60.0}, {"core": 45.0, "memory": 300.0}, False),
        ({"core": 60.0, "power": 110.0}, {"core": 60.0}, True),
        ({}, {"core": 15.0}, True),
    ],
)
def test_what_asks_no_more(easier, harder, says):
    assert asks_no_more(KNOBS, easier, harder) is says
