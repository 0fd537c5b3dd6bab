"""What the laboratory takes of runs and logs, and what it leaves alone."""

from dataclasses import replace
from importlib import import_module

import numpy as np
import pytest
from django.apps import apps

from tests.core.laws.traces import Truth, warming
from tests.drafts import run_draft
from trelvo.core.base.knobs import Knob
from trelvo.core.lab.heat import heat_view
from trelvo.core.lab.heat_logs import remembered_forecast, trace_of
from trelvo.core.lab.power import power_view
from trelvo.core.lab.response import way_of
from trelvo.core.lab.sweep import SweepWish, wished_values
from trelvo.core.logs.figures import Channel
from trelvo.core.logs.kept import PartLog
from trelvo.core.problems import Refused
from trelvo.exchange.logs.drafting import draft_log
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.text_table import read_table
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.logs import attach_log
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.kept_logs import KeptLogs, readings_of, sent_part
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.live_series import Sent
from trelvo.logbook.rows.log_draft import channel_entry

POWER = Knob("power", "Power limit", "%", 100, 5, 50, 120, -1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
VOLT = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")


def logged(campaign, setting, workload, now, minutes=6, seed=1, **truth):
    """A run with a log of a warming part: temperature, watts and fan once a second."""
    trace, end = warming(Truth(**truth), minutes, np.random.default_rng(seed), room=22.0, power=(200.0, 200.0))
    lines = [f"{t:.0f},{temp:.1f},200.0,50" for t, temp in zip(trace.time_s, trace.temp_c, strict=True)]
    table = read_table("\n".join(["time s,hot spot °C,board power W,fan %", *lines]).encode())
    run = log_run(campaign, setting, workload, run_draft("completed", now, 90.0, room_c=22.0), now)
    attach_log(run, draft_log(table, guess_choice(table).choice, "warm.csv", "frame rate"), [], now)
    return run, end


@pytest.fixture
def warmed(campaign, stock, gorge, now):
    return logged(campaign, stock, gorge, now)


def view_of(campaign, **wish):
    case = case_alone(campaign)
    asked = {"run_id": None, "limit_c": None, "room_c": None, "setting_id": None} | wish
    return heat_view(case, [case], KeptLogs([campaign.pk]), **asked)


def test_a_dropped_log_is_told_and_its_resistance_counted(campaign, warmed):
    run, end = warmed
    found = view_of(campaign)
    assert found.of == len(found.logs) == 1
    assert found.logs[0].run_id == run.pk
    assert found.trace.learnt_from == 0
    assert found.logs[0].settles_c.low <= end <= found.logs[0].settles_c.high
    # 45 °C at 200 W, with the fan at its reference
    assert found.builds[0].resistance.value == pytest.approx(0.225, rel=0.05)
    assert found.builds[0].fan_read


def test_a_log_set_aside_is_left_out_and_a_short_one_is_not_told(campaign, stock, gorge, now, warmed):
    run, _ = warmed
    logged(campaign, stock, gorge, now, minutes=0.5)
    assert [log.run_id for log in view_of(campaign).logs] == [run.pk]
    set_aside(run, "the window was open", now)
    assert view_of(campaign).logs == []
    assert view_of(campaign).trace is None


def test_a_part_that_did_not_warm_up_says_so(campaign, stock, gorge, now):
    run, _ = logged(campaign, stock, gorge, now, fast_c=0.5, slow_c=0.5)
    (line,) = view_of(campaign).logs
    assert line.settles_c is None
    assert [problem.code for problem in line.says.problems] == ["did_not_warm_up"]
    assert view_of(campaign, run_id=run.pk).trace.says == line.says


def test_earlier_logs_of_the_build_are_learnt_from(campaign, stock, gorge, now, warmed):
    later, end = logged(campaign, stock, gorge, now, minutes=4, seed=2)
    found = view_of(campaign, run_id=later.pk)
    assert found.trace.learnt_from == 1
    alone = next(log for log in found.logs if log.run_id == later.pk)
    told = found.trace.told[0].settles_c
    assert told.high - told.low < alone.settles_c.high - alone.settles_c.low
    assert told.low <= end <= told.high


def test_a_forecast_lives_on_its_log_and_a_refusal_is_one_too(campaign, warmed, monkeypatch):
    logs = KeptLogs([campaign.pk])
    log = logs.read(logs.headers)[logs.headers[0].id]
    trace = trace_of(log, 22.0)
    first = remembered_forecast(log, trace, None)
    short = PartLog(log.time_s[:10], {"temperature": log.readings["temperature"][:10]})
    refused = remembered_forecast(short, trace_of(short, 22.0), None)
    assert isinstance(refused, Refused)
    monkeypatch.setattr("trelvo.core.lab.heat_logs.forecast", lambda *_: pytest.fail("asked again"))
    assert remembered_forecast(log, trace, None) is first
    assert remembered_forecast(short, trace_of(short, 22.0), None) is refused


def test_only_the_tuned_parts_own_channels_are_taken(campaign, warmed):
    (header,) = KeptLogs([campaign.pk]).headers
    assert {channel["quantity"]: channel["part"] for channel in header.channels}["temperature"] == "tuned part"
    log = readings_of([header])[header.id]
    assert set(log.readings) == {"temperature", "power", "fan"}
    assert log.time_s[0] == 0
    wall = channel_entry(Channel("wall", "power", "W", np.zeros(1), "whole machine", None, "wall"))
    assert (wall["part"], wall["point"]) == ("whole machine", "wall")
    # as logs were kept before parts were noted: the first of each quantity
    channels = [
        {**channel, "part": "graphics"} if channel["quantity"] == "power" else channel for channel in header.channels
    ]
    assert "power" not in readings_of([replace(header, channels=channels)])[header.id].readings


def test_a_live_run_is_read_the_same_way():
    channels = [
        {"name": "die", "quantity": "temperature", "unit": "°C"},
        {"name": "room", "quantity": "temperature", "unit": "°C", "part": "room"},
        {"name": "card", "quantity": "power", "unit": "W"},
    ]
    live = LiveRun(channels=channels)
    found = sent_part(
        live, Sent(np.array([5.0, 6.0]), np.array([[50.0, 20.0, 180.0], [51.0, 20.0, 181.0]]), np.empty(0))
    )
    assert found.readings["temperature"].tolist() == [50.0, 51.0]
    assert found.time_s.tolist() == [0.0, 1.0]


@pytest.mark.parametrize(
    ("values", "way"),
    [
        ({"power": 80}, "cap the power"),
        ({"power": 120}, "something else"),
        ({"voltage": -50}, "hold a voltage"),
        ({"voltage": -50, "power": 80}, "hold a voltage"),
        ({"core": 60}, "something else"),
        ({}, "something else"),
    ],
)
def test_ways_of_saving(values, way):
    assert way_of(values, [POWER, CORE, VOLT]) == way


def test_values_of_a_sweep_stand_on_the_grid():
    assert wished_values(POWER, SweepWish("power", 100, 80, 10)) == [100, 90, 80]
    assert wished_values(CORE, SweepWish("core", -30, 30, 30)) == [-30, 0, 30]
    assert wished_values(CORE, SweepWish("core", 0, 30, None)) == []
    with pytest.raises(Refused):
        wished_values(POWER, SweepWish("power", 100, 40, 30))


def test_power_needs_three_settings_and_says_so(campaign, stock, gorge, now):
    read = {"power_w": 180.0, "core_mhz": 2300.0, "voltage_v": 1.0, "power_point": "software"}
    log_run(campaign, stock, gorge, run_draft("completed", now, 90.0, **read), now)
    found = power_view(case_alone(campaign), None, None, 3.0, None)
    assert [(one.code, one.params["least"]) for one in found.refused] == [("too_few_settings_with_power", 3)]
    assert found.settings[0].law_w is None
    for i, core in enumerate((15, 30)):
        setting = add_setting(campaign, {"core": core}, "", now)
        more = read | {"core_mhz": 2315.0 + 15 * i, "power_w": 181.0 + i}
        log_run(campaign, setting, gorge, run_draft("completed", now, 91.0, **more), now)
    found = power_view(case_alone(campaign), None, None, 3.0, 0.25)
    assert found.refused == ()
    assert found.readings == 3
    assert found.bills[0].year.cost == pytest.approx(found.bills[0].year.kwh * 0.25)


def starting_fast(campaign, stock, gorge, now, seconds=120, falls_at=28):
    """A run at stock whose clock holds 2700 MHz for a while, then 1800."""
    clocks = [2700 if second < falls_at else 1800 for second in range(seconds)]
    lines = [f"{second},{clock + (second % 3) - 1},200.0" for second, clock in enumerate(clocks)]
    table = read_table("\n".join(["time s,core clock MHz,board power W", *lines]).encode())
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 90.0), now)
    attach_log(run, draft_log(table, guess_choice(table).choice, "fast.csv", "frame rate"), [], now)
    setting = add_setting(campaign, {"core": 30}, "", now)
    log_run(campaign, setting, gorge, run_draft("completed", now, 91.0), now)
    return run


def short_passes(client, campaign):
    found = client.get(f"/api/campaigns/{campaign.pk}/compare").json()
    return [one for one in found["traps"] if one["code"] == "short_pass"]


def test_a_short_run_with_a_fast_start_is_a_trap_where_it_is_compared(client, campaign, stock, gorge, now):
    run = starting_fast(campaign, stock, gorge, now)
    (trap,) = short_passes(client, campaign)
    # 28 of 120 s at half as much again: 11.7 %. Arithmetic
    assert "clock 50 % higher for the first 28 s" in trap["evidence"]
    assert "up to 12 %" in trap["claims"]
    assert run.pk in trap["run_ids"]
    set_aside(run, "first pass", now)
    assert short_passes(client, campaign) == []


def test_a_steady_log_is_no_short_first_pass(client, campaign, stock, gorge, now):
    starting_fast(campaign, stock, gorge, now, falls_at=0)
    assert short_passes(client, campaign) == []


def test_the_migration_reads_the_starts_of_logs_that_are_there(client, campaign, stock, gorge, now):
    starting_fast(campaign, stock, gorge, now)
    kept = Series.objects.values("first_pass_s", "first_pass_ahead").get()
    Series.objects.update(first_pass_s=None, first_pass_ahead=None)
    import_module("trelvo.logbook.migrations.0016_first_pass").read_logs(apps, None)
    assert Series.objects.values("first_pass_s", "first_pass_ahead").get() == kept
    # 28 s at half as much again, as the log was made
    assert kept["first_pass_s"] == pytest.approx(28, abs=1)
    assert kept["first_pass_ahead"] == pytest.approx(0.5, abs=0.01)
