"""Knobs in the order of the trade, and the score's top. Orders: common practice."""

import numpy as np
import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load, heaviest, stress_decades
from trelvo.core.climb.knob_order import group_of, not_climbed, order_knobs, why_then
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.score_top import ScoreAt, score_top
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.trials import Trial
from trelvo.core.registry.guess import guess_role


def knob(key, name, unit="MHz", away=1):
    return Knob(key, name, unit, 0, 1, -10 if away == -1 else 0, 10, away, guess_role(key, name, unit).role)


CORE, MEMORY = knob("core", "Core clock"), knob("memory", "Memory clock")
POWER, VOLTAGE, FAN = knob("power", "Power limit", "%"), knob("voltage", "Voltage", "mV", -1), knob("fan", "Fan", "%")


def test_for_speed_power_comes_first_and_voltage_last():
    found = order_knobs([FAN, VOLTAGE, MEMORY, CORE, POWER], "speed")
    assert [one.key for one in found] == ["power", "core", "memory", "voltage", "fan"]


def test_to_save_power_voltage_comes_first_and_the_cap_last():
    assert [one.key for one in order_knobs([POWER, CORE, VOLTAGE], "efficiency")] == ["voltage", "core", "power"]
    assert why_then(VOLTAGE, "efficiency").code == "voltage_comes_then_saving"
    assert why_then(VOLTAGE, "speed").code == "voltage_comes_then"


@pytest.mark.parametrize(
    ("key", "name", "unit", "group"),
    [
        ("bus", "Bus clock", "MHz", "clock"), ("wait", "Memory wait states", "", "memory"), ("cap", "Power cap", "W", "power"),
        ("line", "Load line", "", "line"), ("x", "Hinge", "", "other"), ("memory", "Memory clock", "MHz", "memory"),
    ],
)  # fmt: skip
def test_groups(key, name, unit, group):
    assert group_of(knob(key, name, unit)) == group


def scores(*ratios, error=0.002):
    return [ScoreAt(100 * k, ratio, error) for k, ratio in enumerate(ratios)]


SCORED = Knob("memory", "Memory clock", "MHz", 0, 100, 0, 1000, 1, "memory clock")


def test_the_score_has_a_top_only_once_it_has_clearly_fallen():
    assert score_top(SCORED, scores(1.0, 1.02, 1.04)) is None
    # a fall of 0.4 % with an error of 0.28 % of the difference may be noise
    assert score_top(SCORED, scores(1.0, 1.02, 1.016)) is None
    top = score_top(SCORED, scores(1.0, 1.02, 1.04, 1.0))
    assert (top.value, top.fell_at) == (200, 300)
    assert score_top(SCORED, []) is None


def test_the_top_of_a_long_climb_is_found_among_those_of_its_values_that_are_tried():
    fine = Knob("memory", "Memory clock", "MHz", 0, 1, 0, 1000, 1, "memory clock")
    rng = np.random.default_rng(3)
    scores = [
        ScoreAt(value, 1 + 0.0002 * min(value, 600) - 0.0003 * max(value - 600, 0) + rng.normal(0, 0.002), 0.002)
        for value in range(0, 900, 2)
    ]
    top = score_top(fine, scores)
    assert abs(top.value - 600) <= 20
    assert top.ratio == pytest.approx(1.12, abs=0.003)


def test_the_top_of_the_score_stops_the_climb_before_the_crash():
    held = [Trial(100 * k, 5, False) for k in range(1, 5)]
    rising, fallen = scores(1.0, 1.02, 1.03, 1.04, 1.05), scores(1.0, 1.02, 1.04, 1.03, 1.0)
    for strategy in ("fixed steps", "coarse then fine", "bisection", "adaptive"):
        free = advise(SCORED, held, Policy(strategy), scores=rising)
        assert free.act == "test"
        bound = advise(SCORED, held, Policy(strategy), scores=fallen)
        assert bound.value <= 200, strategy
        # by the line through all: from 1.04 to 1.0, which is 3.8 % of the higher
        assert bound.reason.code == "past_the_score_top"
        assert (bound.reason.params["top"], bound.reason.params["fell_at"]) == ("+200\u00a0MHz", "+400\u00a0MHz")
        assert bound.reason.params["fell_percent"] == pytest.approx(3.8, abs=0.05)
    assert advise(SCORED, held, Policy("fixed steps"), scores=rising).value == 500


def load(number, kind, *parts):
    return Load(number, f"load {number}", kind, 5, frozenset(parts))


def test_the_heaviest_load_tests_and_lighter_ones_count_less():
    easy, title = load(1, "everyday", "graphics"), load(2, "title", "graphics", "processor")
    stress, memory = load(3, "stress test", "graphics"), load(4, "title", "memory")
    assert heaviest([easy, title, stress]) is stress
    assert heaviest([easy, title, stress, memory], "memory") is memory
    assert heaviest([]) is None
    assert stress_decades("stress test", ["title", "stress test"]) == 0
    assert stress_decades("everyday", ["stress test"]) < stress_decades("title", ["stress test"]) < 0
    # among titles alone a title is the heaviest there is
    assert stress_decades("title", ["title", "everyday"]) == 0
    advice = advise(CORE, [], Policy("fixed steps"), loads=[easy, title, stress])
    assert advice.load_id == 3


def test_a_limit_that_is_raised_saves_nothing():
    up, down = (
        Knob("p", "Power limit", "%", 100, 1, 60, 120, 1, "power limit"),
        Knob("p", "Cap", "W", 45, 1, 12, 45, -1, "power limit"),
    )
    clock = Knob("c", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
    assert [not_climbed(knob, "efficiency") for knob in (up, down, clock)] == [True, False, False]
    assert not not_climbed(up, "speed")
    assert why_then(up, "power budget").code == "not_raised_here"
    assert why_then(up, "speed").code == "power_comes_then"


def test_a_record_does_not_look_for_the_least_voltage():
    volts = Knob("v", "Core voltage", "mV", 1200, 10, 1000, 1700, 1, "voltage")
    undervolt = Knob("v", "Core voltage", "mV", 0, 5, -150, 0, -1, "voltage")
    assert [not_climbed(knob, "record") for knob in (volts, undervolt)] == [True, False]
    assert why_then(volts, "record").code == "record_takes_as_much"
