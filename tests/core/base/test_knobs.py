"""Knobs: what can be set, and clear words for what cannot."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import (
    Knob,
    check_knob,
    check_value,
    describe_last,
    describe_setting,
    describe_shortest,
    describe_value,
    distinguish,
    height,
    steps_from_stock,
)

CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1)
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1)
BUS = Knob("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1)
MULTIPLIER = Knob("mult", "Multiplier", "x", 2, 0.5, 1, 4, 1)


@pytest.mark.parametrize(
    ("changes", "field", "code"),
    [
        ({"step": 0}, "step", "knob_step_not_above_zero"),
        ({"step": -5}, "step", "knob_step_not_above_zero"),
        ({"stock": 400}, "stock", "knob_stock_out_of_range"),
        ({"low": 300, "high": -300}, "low", "knob_range_empty"),
        ({"step": 700}, "step", "knob_step_above_range"),
        ({"high": math.nan}, "high", "knob_field_not_a_number"),
        ({"stock": 300}, "away", "knob_stock_at_end"),
    ],
)
def test_impossible_knobs_say_which_field_and_why(changes, field, code):
    knob = Knob(**{**CORE.__dict__, **changes})
    problems = check_knob(knob, "knobs.0")
    assert [(problem.where, problem.code) for problem in problems] == [(f"knobs.0.{field}", code)]


def test_a_possible_knob_has_no_problem():
    assert [check_knob(knob, "k") for knob in (CORE, VOLTAGE, BUS, MULTIPLIER)] == [[], [], [], []]


def test_off_the_grid_names_the_neighbours():
    # common practice: many cards move in steps of 15 MHz
    problem = check_value(CORE, 100, "values.core")
    assert problem is not None
    assert (problem.code, problem.params["nearest"]) == ("knob_value_off_grid", "90 and 105")
    assert check_value(CORE, 105, "values.core") is None


def test_outside_the_range():
    problem = check_value(VOLTAGE, 5, "values.voltage")
    assert problem is not None
    assert (problem.code, problem.params["low"], problem.params["high"]) == ("knob_value_out_of_range", -150, 0)


def test_steps_count_in_the_direction_of_travel():
    assert steps_from_stock(VOLTAGE, -25) == 5
    assert steps_from_stock(CORE, -30) == -2


def test_values_in_words():
    assert describe_value(CORE, 135) == "+135\u00a0MHz"
    assert describe_value(VOLTAGE, -25) == "−25\u00a0mV"
    assert describe_value(BUS, 40) == "40\u00a0MHz"
    assert describe_value(MULTIPLIER, 2.5) == "2.5x"
    assert describe_setting([CORE, VOLTAGE], {"core": 0}) == "stock"
    assert describe_setting([CORE, VOLTAGE], {"voltage": -25}) == "voltage −25\u00a0mV"


def test_the_knob_turned_last_counts_most_for_the_height():
    low, high = {"core": 300}, {"core": 0, "voltage": -5}
    assert height([CORE, VOLTAGE], low) < height([CORE, VOLTAGE], high)


@given(st.integers(-20, 20))
def test_every_step_is_on_the_grid(steps):
    fine = Knob("v", "Voltage", "V", 1.1, 0.005, 0.9, 1.3, -1)
    assert check_value(fine, 1.1 + steps * 0.005, "v") is None
    assert check_value(CORE, steps * 15.0, "c") is None
    assert check_value(CORE, steps * 15.0 + 7, "c") is not None or abs(steps * 15 + 7) > 300


def test_settings_are_told_apart_by_what_differs():
    settings = [{"core": 60, "voltage": -25}, {"core": 90, "voltage": -25}, {"voltage": -25}]
    common, apart = distinguish([CORE, VOLTAGE], settings)
    assert common == "voltage −25\u00a0mV"
    assert apart == ["core clock +60\u00a0MHz", "core clock +90\u00a0MHz", "core clock 0\u00a0MHz"]


def test_a_single_setting_keeps_its_full_name():
    assert distinguish([CORE, VOLTAGE], [{"core": 60, "voltage": -25}]) == (
        "",
        ["core clock +60\u00a0MHz, voltage −25\u00a0mV"],
    )
    assert distinguish([CORE], []) == ("", [])


def test_a_point_is_labelled_by_the_knob_turned_last():
    knobs = [Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1), Knob("volts", "Voltage", "mV", 0, 5, -150, 0, -1)]
    assert describe_last(knobs, {"core": 75.0, "volts": -25.0}) == "voltage −25\u00a0mV"
    assert describe_last(knobs, {"core": 75.0}) == "core clock +75\u00a0MHz"
    assert describe_last(knobs, {}) == "stock"


def test_among_settings_of_one_knob_its_value_is_name_enough():
    knobs = [Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1), Knob("volts", "Voltage", "mV", 0, 5, -150, 0, -1)]
    assert describe_shortest(knobs, {"volts": -25.0}) == "−25\u00a0mV"
    assert describe_shortest(knobs, {"core": 75.0, "volts": -25.0}) == describe_setting(
        knobs, {"core": 75.0, "volts": -25.0}
    )
    assert describe_shortest(knobs, {}) == "stock"
