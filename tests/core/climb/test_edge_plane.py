import math
from itertools import pairwise

import numpy as np
import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge_plane import (
    PlaneTrial,
    Steps,
    edge_line,
    edge_plane,
    lowest_voltage,
    next_pair,
    slope_of,
)
from trelvo.core.climb.trials import Trial

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
VOLT = Knob("voltage", "Voltage", "mV", 0, 5, -125, 0, -1, "voltage")
VOLTAGES = [0.0, -25.0, -50.0, -75.0, -100.0]
SLOPE = slope_of(CLOCK, VOLT, 2370, 1.04)


def parameters(rng):
    """Threshold voltage, exponent, margin at stock and decade of a specimen."""
    return rng.uniform(0.3, 0.4), rng.uniform(1.2, 1.4), rng.normal(0.055, 0.012), rng.uniform(14, 34)


def edge_of(threshold, alpha, margin, mv):
    """An alpha-power law, written here: the edge as an offset in MHz at a voltage offset in mV."""

    def drive(volt):
        return (volt - threshold) ** alpha / volt

    return 2370 * (1 + margin) * drive(1.04 + mv / 1000) / drive(1.04) - 2370


def silicon(rng):
    """A specimen: its edge by voltage offset, and its decade."""
    threshold, alpha, margin, decade = parameters(rng)
    return lambda mv: edge_of(threshold, alpha, margin, mv), decade


def test_the_slope_is_about_a_percent_for_a_percent():
    mean, spread = SLOPE
    assert mean == pytest.approx(1.1 * 2370 / 1040)
    assert spread > 0
    assert slope_of(CLOCK, Knob("v", "V", "%", 0, 1, -5, 0, -1, "voltage"), 2370, 1.04) is None
    in_volts = Knob("v", "V", "V", 0, 0.005, -0.1, 0, -1, "voltage")
    assert slope_of(CLOCK, in_volts, 2370, 1.04)[0] == pytest.approx(1000 * mean)


def test_before_any_trial_stock_is_all_that_holds_and_little_is_known():
    line = edge_line(edge_plane(CLOCK, VOLT, [], SLOPE), VOLTAGES)
    assert line[0].hold >= 0
    assert line[-1].high - line[-1].low > 150
    assert all(a.middle >= b.middle for a, b in pairwise(line))


def test_failures_at_one_voltage_tell_of_the_others():
    trials = [PlaneTrial(0.0, Trial(value, 2, True)) for value in (90.0, 105.0)]
    before, after = (edge_line(edge_plane(CLOCK, VOLT, some, SLOPE), VOLTAGES) for some in ([], trials))
    assert after[0].middle < 100
    assert after[2].middle < before[2].middle
    assert after[2].high < before[2].high


def test_voltage_turned_up_raises_the_edge():
    up = Knob("voltage", "Voltage", "mV", 0, 5, 0, 100, 1, "voltage")
    line = edge_line(edge_plane(CLOCK, up, [PlaneTrial(0.0, Trial(60.0, 5, True))], SLOPE), [0.0, 50.0, 100.0])
    assert line[2].middle > line[1].middle > line[0].middle


@pytest.mark.parametrize("seed", range(3))
def test_following_the_advice_finds_the_line_at_every_voltage(seed):
    rng = np.random.default_rng(seed)
    edge, decade = silicon(rng)
    trials, used = [], 0.0
    for _ in range(40):
        plane = edge_plane(CLOCK, VOLT, trials, SLOPE)
        wanted = next_pair(plane, VOLTAGES)
        if wanted is None or used > 240:
            break
        fails_after = rng.exponential(60 / 10 ** ((wanted.value - edge(wanted.voltage)) / decade))
        lasted = min(fails_after, wanted.minutes)
        used += lasted + 1
        trials.append(PlaneTrial(-wanted.voltage, Trial(wanted.value, lasted, fails_after < wanted.minutes)))
    line = edge_line(plane, VOLTAGES)
    short = [(math.floor((edge(one.voltage) + decade * math.log10(1 / 50)) / 15) * 15 - one.hold) / 15 for one in line]
    assert min(short) >= -2
    assert max(short) <= 4
    # all voltages rest on one line, so that all may be off together; the benchmark counts how often
    assert all(abs(one.middle - edge(one.voltage)) <= 4 * CLOCK.step for one in line)


STEPS = Steps(30.0, 10.0)


def survived(*pairs, minutes=10.0):
    return [PlaneTrial(-voltage, Trial(value, minutes, False)) for voltage, value in pairs]


@pytest.mark.parametrize("seed", range(3))
def test_no_test_goes_far_past_what_has_survived(seed):
    rng = np.random.default_rng(seed)
    edge, decade = silicon(rng)
    trials, passed = [], [(0.0, 0.0)]
    for _ in range(60):
        plane = edge_plane(CLOCK, VOLT, trials, SLOPE)
        wanted = next_pair(plane, VOLTAGES, steps=STEPS)
        if wanted is None:
            break
        # three largest steps at most, and more than one only where it nearly surely passes
        times = 1 if wanted.passes < 0.95 else 3
        assert any(
            -wanted.voltage <= across + times * STEPS.voltage and wanted.value <= along + times * STEPS.clock
            for across, along in passed
        )
        fails_after = rng.exponential(60 / 10 ** ((wanted.value - edge(wanted.voltage)) / decade))
        lasted = min(fails_after, wanted.minutes)
        trials.append(PlaneTrial(-wanted.voltage, Trial(wanted.value, lasted, fails_after < wanted.minutes)))
        if fails_after >= wanted.minutes:
            passed.append((-wanted.voltage, wanted.value))
    else:
        raise AssertionError("no end after 60 tests")
    line = edge_line(plane, VOLTAGES)
    assert all(abs(one.middle - edge(one.voltage)) <= 4 * CLOCK.step for one in line)


def test_a_step_on_the_way_says_where_it_leads():
    found = next_pair(edge_plane(CLOCK, VOLT, [], SLOPE), VOLTAGES, steps=STEPS)
    assert found.why.code == "step_on_the_way"
    assert found.voltage >= -30


def test_voltages_that_the_clock_cannot_reach_count_for_nothing():
    deep = Knob("voltage", "Voltage", "mV", 0, 5, -400, 0, -1, "voltage")
    far = [0.0, -100.0, -200.0, -300.0, -400.0]
    plane = edge_plane(CLOCK, deep, survived((0.0, 30.0), (-50.0, -100.0)), SLOPE)
    found = next_pair(plane, far)
    assert found.voltage >= -200


def test_the_lowest_voltage_for_a_clock_is_one_that_was_reached():
    trials = survived((0.0, 90.0), (-50.0, 0.0), (-50.0, -45.0), (-100.0, -150.0), minutes=240)
    trials += [PlaneTrial(50.0, Trial(45.0, 3, True)), PlaneTrial(100.0, Trial(-60.0, 3, True))]
    plane = edge_plane(CLOCK, VOLT, trials, SLOPE)
    stock, slow, fast = (lowest_voltage(plane, clock, 0.2) for clock in (0.0, -210.0, 300.0))
    assert -50 <= stock.voltage <= -20
    # a slower clock may go lower, but no further than anything has run
    assert slow.voltage == -100
    assert slow.tried
    assert fast is None
    assert lowest_voltage(edge_plane(CLOCK, VOLT, [], SLOPE), 0.0).voltage == 0
    up = Knob("voltage", "Voltage", "mV", 0, 5, 0, 100, 1, "voltage")
    assert lowest_voltage(edge_plane(CLOCK, up, [], SLOPE), 0.0) is None
