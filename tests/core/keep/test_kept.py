import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.stability import fewer_than
from trelvo.core.keep.kept import to_type, tuned_places, use_so_far, warmest_room
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.messages.texts import text_of

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 50, 1, "voltage")


def said_of_use(hours, failures, days):
    return text_of(use_so_far(hours, failures, days))


def test_what_to_type_comes_in_the_order_of_turning():
    lines = to_type([VOLTAGE, CORE, POWER], {"core": 90.0, "power": 112.0, "voltage": 0.0}, "speed")
    assert [(line.knob, line.value, line.stock) for line in lines] == [
        ("Power limit", "112\u00a0%", "100\u00a0%"),
        ("Core clock", "+90\u00a0MHz", "0\u00a0MHz"),
    ]
    assert to_type([CORE], {}, "speed") == []


def test_use_says_what_the_rule_of_three_says():
    """570 h without a failure: fewer than one in 570 / 3 h (Hanley and Lippman-Hand 1983, from memory)."""
    assert 1 / fewer_than(570, 0.95) == pytest.approx(190.3, abs=0.1)
    assert (
        said_of_use(570, 0, 142)
        == "about 4 h a day, no failure (these hours alone say: at most one in 190 h, 95 % sure)"
    )
    assert said_of_use(0, 0, 10) == "no hours of use logged yet"
    # no day has 38 hours: they were before it was kept here
    assert said_of_use(38, 0, 0.01).startswith("38 h in all, no failure")
    # Garwood: one failure, one-sided 95 %: 4.744 / T
    assert (
        said_of_use(100, 1, 200) == "100 h in all, one failure (these hours alone say: at most one in 21 h, 95 % sure)"
    )
    assert (
        said_of_use(2, 2, 1) == "about 2 h a day, 2 failures (these hours alone say: at most one in 19 min, 95 % sure)"
    )


def test_up_to_which_room_it_holds():
    belief = RateBelief.from_hours(200, 0)
    room = warmest_room(belief, 23.0, 1 / 50, 0.9)
    assert 24 <= room <= 38
    assert warmest_room(RateBelief.from_hours(135, 0), 23.0, 1 / 50, 0.9) < room
    assert warmest_room(RateBelief.from_hours(20, 0), 23.0, 1 / 50, 0.9) is None
    assert warmest_room(belief, None, 1 / 50, 0.9) is None


def test_which_parts_are_tuned():
    places = ["processor", "graphics card", "memory", "board"]
    assert tuned_places(places, ["tuned part"]) == {"graphics card"}
    assert tuned_places(places, ["processor", "memory"]) == {"processor", "memory"}
    assert tuned_places(["chip"], ["tuned part"]) == {"chip"}
    assert tuned_places(["main board of the loft"], ["tuned part"]) == {"main board of the loft"}
    assert tuned_places([], ["tuned part"]) == frozenset()
