"""Safety limits: the first reading beyond one, whatever the order; and the ceiling that asks for typed words."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.message import message
from trelvo.core.watch.safety_limits import (
    SafetyLimit,
    beyond_ceiling,
    check_safety_limit,
    first_breach,
    is_confirmed,
    predicted_breaches,
    unwatched,
    wanted_words,
)
from trelvo.messages.texts import text_of

CHANNELS = [("die", "temperature"), ("cooler", "temperature"), ("board", "power"), ("wall", "power"), ("fan", "fan")]
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 50, -1)


def breach(safety_limits, rows, times=None):
    values = np.array(rows, dtype=float)
    return first_breach(safety_limits, CHANNELS, times if times is not None else np.arange(len(rows)), values)


def test_the_earliest_breach_is_named_with_its_numbers():
    safety_limits = [SafetyLimit("temperature", 80), SafetyLimit("power", 200)]
    rows = [[70, 40, 190, 300, 50], [79, 41, 201.5, 310, 50], [81, 42, 205, 310, 50]]
    found = breach(safety_limits, rows)
    assert (found.safety_limit.kind, found.channel, found.at_s, found.reading) == ("power", "board", 1, 201.5)
    assert text_of(found.says) == "Board read 201.5 W, above the limit of 200 W, 1.0 s into the run."


def test_power_watches_the_first_measuring_point_unless_one_is_named():
    rows = [[70, 40, 190, 300, 50]]
    assert breach([SafetyLimit("power", 200)], rows) is None
    assert breach([SafetyLimit("power", 200, "Wall")], rows).channel == "wall"


def test_temperatures_are_watched_in_every_channel():
    assert breach([SafetyLimit("temperature", 60)], [[50, 61, 100, 200, 50]]).channel == "cooler"
    assert breach([SafetyLimit("temperature", 60, "die")], [[50, 61, 100, 200, 50]]) is None


def test_a_reading_at_its_limit_is_within_it_and_a_missing_one_breaks_nothing():
    safety_limits = [SafetyLimit("temperature", 80), SafetyLimit("fan floor", 30)]
    assert breach(safety_limits, [[80, np.nan, 1, 1, 30], [np.nan, np.nan, 1, 1, np.nan]]) is None
    assert breach(safety_limits, [[79, 60, 1, 1, 29.5]]).safety_limit.kind == "fan floor"


def test_hours():
    found = breach([SafetyLimit("hours", 0.5)], [[1, 1, 1, 1, 40]] * 3, [0, 1800, 1800.2])
    assert text_of(found.says) == "The run lasted longer than 0.5 h (1800.2 s into the run)."


@given(st.lists(st.floats(20, 120), min_size=1, max_size=60), st.floats(30, 110))
def test_a_breach_is_found_exactly_when_there_is_one_wherever_batches_are_cut(readings, limit):
    rows = [[value, 30, 100, 200, 50] for value in readings]
    found = breach([SafetyLimit("temperature", limit)], rows)
    above = [i for i, value in enumerate(readings) if value > limit]
    assert (found is not None) == bool(above)
    if above:
        assert found.at_s == above[0]
        cut = above[0] // 2
        assert breach([SafetyLimit("temperature", limit)], rows[cut:], np.arange(cut, len(rows))).at_s == above[0]


def test_what_a_bench_cannot_watch_is_said():
    safety_limits = [
        SafetyLimit("temperature", 80),
        SafetyLimit("current", 20),
        SafetyLimit("hours", 2),
        SafetyLimit("power", 9, "socket"),
    ]
    assert unwatched(safety_limits, CHANNELS) == [safety_limits[1], safety_limits[3]]


def test_a_setting_above_its_ceiling_asks_for_its_own_words():
    safety_limits = [SafetyLimit("voltage ceiling", 0, "voltage")]
    assert beyond_ceiling([VOLTAGE], {"voltage": -50}, safety_limits) == []
    assert beyond_ceiling([VOLTAGE], {}, safety_limits) == []
    beyond = beyond_ceiling([VOLTAGE], {"voltage": 25}, safety_limits)
    assert wanted_words(beyond) == "voltage +25\u00a0mV"
    assert is_confirmed(beyond, "  Voltage +25 mV ")
    for typed in ("", "yes", "voltage +20 mV", "voltage 25"):
        assert not is_confirmed(beyond, typed)


@pytest.mark.parametrize(
    ("safety_limit", "code"),
    [
        (SafetyLimit("temperature", float("nan")), "limit_not_a_number"),
        (SafetyLimit("temperature", 400), "limit_out_of_range"),
        (SafetyLimit("current", -3), "limit_out_of_range"),
        (SafetyLimit("voltage ceiling", 0, "boost"), "ceiling_without_knob"),
    ],
)
def test_nonsense_is_refused_in_words(safety_limit, code):
    (problem,) = check_safety_limit(safety_limit, "safety_limits.0", [VOLTAGE])
    assert problem.code == code
    assert problem.where.startswith("safety_limits.0.")


def test_sensible_safety_limits_pass():
    assert check_safety_limit(SafetyLimit("voltage ceiling", 0, "voltage"), "safety_limits.0", [VOLTAGE]) == []
    # common practice: an 8-pin connector carries 150 W, 12.5 A at 12 V
    assert check_safety_limit(SafetyLimit("current", 12.5), "safety_limits.0") == []


def test_safety_limits_that_a_run_would_break_are_said_before_it():
    safety_limits = [
        SafetyLimit("temperature", 84),
        SafetyLimit("power", 205),
        SafetyLimit("power", 90, "cables"),
        SafetyLimit("hours", 1),
    ]
    found = predicted_breaches(safety_limits, {"temperature": (86.0, 89.0), "power": (200.0, 210.0)})
    assert [(one.safety_limit.kind, one.predicted, one.probable) for one in found] == [
        ("temperature", 86.0, True),
        ("power", 200.0, False),
    ]
    assert [one.says for one in found] == [
        message("predicted_above_limit", predicted=86.0, limit=84, unit="°C"),
        message("predicted_near_limit", predicted=200.0, limit=205, unit="W"),
    ]
    assert predicted_breaches(safety_limits, {"temperature": (70.0, 75.0)}) == []
