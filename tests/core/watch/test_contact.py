"""What has probably happened to a bench that fell silent. Rules: common practice."""

import numpy as np
import pytest

from trelvo.core.watch.contact import likely_outcome, queue_left_s, time_left_s

CHANNELS = [("busy", "load"), ("die", "temperature"), ("board", "power")]


def silent(seconds=40, planned=90, load=100.0, last_load=None, die=60.0, channels=CHANNELS, **more):
    t = np.arange(0, seconds, 0.5)
    values = np.column_stack([np.full(t.size, load), np.full(t.size, die), np.full(t.size, 2 * load)])
    if last_load is not None:
        values[t > t[-1] - 2.5, 0] = last_load
        values[t > t[-1] - 2.5, 2] = 2 * last_load
    return likely_outcome(t, values, channels, planned, **more)


def test_breaking_off_at_full_load_is_a_machine_that_went_down():
    found = silent()
    assert found.outcome == "system crash"
    assert found.why.code == "broke_off_at_load"
    assert found.why.params["at_s"] == pytest.approx(39.5, abs=0.6)


def test_heat_is_named_when_it_was_near_its_limit():
    assert silent(die=82.0, temp_limit_c=84).why.code == "broke_off_hot"


def test_load_gone_while_readings_went_on_is_a_program_that_closed():
    found = silent(last_load=4.0)
    assert found.outcome == "program crash"
    assert found.why.params["before"] == pytest.approx(100, abs=0.5)


def test_power_speaks_where_load_is_not_read():
    assert silent(last_load=5.0, channels=[("x", "other"), *CHANNELS[1:]]).outcome == "program crash"


def test_no_reading_at_all_is_no_start():
    empty = likely_outcome(np.empty(0), np.empty((0, 3)), CHANNELS, 90)
    assert empty.outcome == "no start"


def test_silence_after_the_planned_time_is_a_run_that_ended():
    assert silent(seconds=89, planned=89).outcome == "completed"


@pytest.mark.parametrize("simulator", [True, False])
def test_when_trelvo_itself_went_down_nothing_is_said_about_the_setting(simulator):
    found = silent(server_stopped=True, simulator=simulator)
    assert found.outcome == "connection lost"
    assert found.why.code == ("server_and_simulator_stopped" if simulator else "server_stopped")


def test_time_left_is_never_below_zero():
    assert time_left_s(30, 90) == 60
    assert time_left_s(100, 90) == 0


def test_a_queue_counts_what_runs_cost_besides_their_own_time():
    # 90 s at ten times real time are 9 s; opening and closing is not known yet
    assert queue_left_s([90, 90], None, 10, []) == pytest.approx(2 * (9 + 1.5))
    # two runs of 9 s took 12 and 14 s until the next began: 4 s each besides
    assert queue_left_s([90], 45, 10, [(90, 12), (90, 14)]) == pytest.approx((9 + 4) + (4.5 + 2))
    # a clock that jumped back makes no time
    assert queue_left_s([90], None, 10, [(90, -500)]) == pytest.approx(9)
