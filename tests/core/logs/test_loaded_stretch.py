"""The loaded stretch of a log, and single readings that leap away and back. Made logs; common practice."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.logs.figures import Channel
from trelvo.core.logs.loaded_stretch import loaded_stretch, within
from trelvo.core.logs.lone_jumps import lone_jumps


def log(idle_before, run_s, idle_after, *, idle=8.0, busy=190.0, quantity="power", pause=0, every=1.0):
    """Idle, then load with a pause in the middle, then idle; noise as a meter has it."""
    rng = np.random.default_rng(4)
    levels = np.concatenate(
        [np.full(idle_before, idle), np.full(run_s // 2, busy), np.full(pause, idle), np.full(run_s - run_s // 2, busy),
         np.full(idle_after, idle)]
    )  # fmt: skip
    values = levels * rng.normal(1, 0.02, levels.size)
    unit = {"power": "W", "load": "%", "core clock": "MHz"}[quantity]
    return np.arange(levels.size) * every, Channel(quantity, quantity, unit, values)


@pytest.mark.parametrize(("quantity", "idle", "busy"), [("power", 8, 190), ("load", 3, 98), ("core clock", 210, 1912)])
def test_idle_at_either_end_is_cut_off(quantity, idle, busy):
    time_s, channel = log(35, 300, 60, idle=idle, busy=busy, quantity=quantity)
    found = loaded_stretch(time_s, [channel])
    assert found.from_s == pytest.approx(35, abs=2)
    assert found.to_s == pytest.approx(334, abs=2)
    part = channel.values[within(time_s, found.from_s, found.to_s)]
    assert part.mean() == pytest.approx(busy, rel=0.01)
    assert channel.values.mean() < 0.85 * busy


def test_a_pause_between_passes_stays():
    time_s, channel = log(30, 300, 30, pause=40)
    found = loaded_stretch(time_s, [channel])
    assert found.to_s - found.from_s == pytest.approx(339, abs=3)


def test_a_log_of_nothing_but_load_or_idle_is_left_whole():
    assert loaded_stretch(*_alone(log(0, 300, 0))) is None
    assert loaded_stretch(*_alone(log(300, 0, 0))) is None
    # falling back to a limit is load, too: 2.7 to 1.8 GHz
    time_s, channel = log(60, 200, 0, idle=2700, busy=1800, quantity="core clock")
    assert loaded_stretch(time_s, [channel]) is None
    assert loaded_stretch(np.array([0.0, 1.0]), [Channel("power", "power", "W", np.array([np.nan, np.nan]))]) is None


def _alone(made):
    time_s, channel = made
    return time_s, [channel]


@given(st.integers(0, 60), st.integers(40, 200), st.integers(0, 60), st.floats(0.2, 5))
def test_whatever_is_cut_the_run_stays(before, run_s, after, every):
    time_s, channel = log(before, run_s, after, every=every)
    found = loaded_stretch(time_s, [channel])
    if found is not None:
        assert 0 <= found.from_s <= (before + 2) * every
        assert (before + run_s - 4) * every <= found.to_s <= time_s[-1]


@pytest.mark.parametrize(
    ("quantity", "values", "places"),
    [
        ("temperature", [58, 58, 59, 122, 58, 59, 58], [3]),
        ("temperature", [58, 60, 62, 64, 66, 68, 70], []),
        # heat that comes and goes over several readings is heat
        ("temperature", [58, 70, 85, 92, 85, 70, 58], []),
        ("power", [190, 191, 1200, 189, 190, 192], [2]),
        ("power", [190, 30, 190, 35, 190, 30], []),
        ("power", [20, 20, 190, 190, 190, 20], []),
        ("load", [50, 50, 100, 50, 50, 50], []),
        # one that is not the highest changes no figure
        ("temperature", [40, 95, 40, 99, 98, 97, 96], []),
    ],
)
def test_a_reading_that_stands_alone(quantity, values, places):
    assert lone_jumps(np.array(values, dtype=float), quantity).tolist() == places


def test_missing_readings_are_passed_over():
    values = np.array([58, np.nan, 58, 122, np.nan, 58, 59.0])
    assert lone_jumps(values, "temperature").tolist() == [3]
