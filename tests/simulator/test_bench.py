"""The whole bench: what settles, what fails, what the instruments make of it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from trelvo.simulator.bench import COLD_FACTOR, Bench, true_edge_mhz
from trelvo.simulator.limits import wall_w
from trelvo.simulator.rigs import DOME, RIGS, draw_rig, turned


def bench(kind="dome", seed=70, room_c=25.0, luck=1):
    return Bench(draw_rig(kind, seed), room_c, np.random.default_rng(luck))


def run(one, values, load, minutes=None, seconds=7200):
    one.start(values, load, minutes)
    return one.advance(seconds)


def column(one, stretch, name):
    return stretch.values[:, [c.name for c in one.channels()].index(name)]


def mean(one, stretch, name):
    readings = column(one, stretch, name)
    return float(np.nanmean(readings[readings.size // 2 :]))


@pytest.mark.parametrize(("kind", "load"), [(key, load) for key, rig in RIGS.items() for load in rig.loads])
def test_every_workload_ends_at_stock_with_its_figure(kind, load):
    one = bench(kind)
    design = RIGS[kind].loads[load]
    stretch = run(one, {}, load, min(design.minutes, 2))
    assert stretch.ending.outcome == "completed"
    assert stretch.ending.value > 0
    assert (stretch.frames_ms.size > 0) == (design.yields == "frames")
    read = np.isfinite(stretch.values).any(axis=0)
    rate = [c.name for c in one.channels()].index("frame rate")
    assert np.delete(read, rate).all()
    assert read[rate] == (design.yields == "frames")


def test_there_are_eight_workloads_and_more():
    assert sum(len(rig.loads) for rig in RIGS.values()) >= 8


@settings(max_examples=2)
@given(st.integers(0, 300))
def test_energy_in_is_heat_out_once_settled(seed):
    one = bench(seed=seed)
    run(one, {}, "Kiln", 40, 2400)
    now = one.now
    # board, processor, fan and rest behind the supply make up what the wall gives
    flow = (now.heat.cooler_c - one.room_c) / (DOME.cooling.to_room_c_per_w * (now.heat.fan_percent / 100) ** -0.6)
    assert flow == pytest.approx(now.point.power_w, rel=0.03)
    assert now.board_w <= DOME.limit_w + 0.5
    assert now.total_w > now.board_w + now.beside.power_w + DOME.rest_w
    assert wall_w(now.total_w, DOME.supply_w) > now.total_w


def test_the_same_luck_gives_the_same_run_however_it_is_cut():
    whole, cut = bench(), bench()
    first = run(whole, {"core": 45}, "Gorge flythrough")
    cut.start({"core": 45}, "Gorge flythrough")
    pieces = [cut.advance(seconds) for seconds in (0.2, 3.4, 20, 0.2, 200)]
    np.testing.assert_array_equal(first.values, np.concatenate([piece.values for piece in pieces]))
    np.testing.assert_array_equal(first.frames_ms, np.concatenate([piece.frames_ms for piece in pieces]))
    assert pieces[-1].ending == first.ending


def test_more_power_means_more_clock_more_heat_and_more_speed():
    found = []
    for limit in (80, 100, 120):
        one = bench()
        stretch = run(one, {"power": limit}, "Kiln", 20)
        found.append((stretch.ending.value, mean(one, stretch, "core clock"), mean(one, stretch, "die")))
    assert found == sorted(found)
    assert found[0][0] < found[2][0]


def test_clock_got_is_below_clock_set_by_a_fixed_gap():
    one = bench()
    gaps = []
    for core in (0, 30):
        stretch = run(one, {"core": core, "power": 120}, "Winter sky show", 2)
        gaps.append(2370 + core - mean(one, stretch, "core clock"))
    assert gaps == pytest.approx([one.rig.chip.gap_mhz] * 2, abs=1)


def test_the_readout_stays_where_it_was_after_a_change():
    one = bench()
    before = mean(one, run(one, {}, "Winter sky show", 1), "core clock")
    stretch = run(one, {"core": 60, "power": 120}, "Winter sky show", 1)
    readout = column(one, stretch, "core clock")
    stale = int(one.rig.tools.stale_s / one.step_s) - 1
    assert np.abs(readout[:stale] - before).max() < 25
    assert readout[stale + 3 :].mean() > before + 40


def test_each_power_instrument_tells_another_story():
    one = bench()
    stretch = run(one, {}, "Kiln", 5)
    software, cables, wall = (mean(one, stretch, name) for name in ("power", "cables", "at the wall"))
    true = one.now.board_w
    assert software == pytest.approx(true * one.rig.tools.power_scale, rel=0.02)
    # common practice: 2.4 A at 12 V = 28.8 W come through the slot, where a clamp on the cables does not see them
    assert cables == pytest.approx((true - 28.8) * one.rig.tools.clamp_scale, rel=0.02)
    assert wall > true + 100
    # they read at their own pace: cables twice a second, wall once, software at every step
    rates = [np.isfinite(column(one, stretch, name)).mean() for name in ("power", "cables", "at the wall")]
    assert rates == pytest.approx([1, 0.4, 0.2], abs=0.01)


def test_failures_come_more_often_and_harder_past_the_edge():
    rig, shares, kinds = draw_rig("dome", 70), [], []
    for core in (0, 90, 120, 150, 225):
        seen = []
        for luck in range(12):
            one = bench(luck=luck)
            seen.append(run(one, {"core": core, "power": 120}, "Dust rings", 0.5).ending.outcome)
        shares.append(sum(outcome != "completed" for outcome in seen))
        kinds.append(set(seen))
    assert shares == sorted(shares)
    assert (shares[0], shares[-1]) == (0, 12)
    assert kinds[-1] <= {"system crash", "no start"}
    assert true_edge_mhz(rig, {"core": 225}, DOME.loads["Dust rings"], 60) > 0


def test_memory_gains_to_its_knee_then_loses_before_it_fails():
    rig = draw_rig("dome", 70)
    scores = []
    for memory in (0, 600, round(rig.knee_mhz / 50) * 50 + 350):
        one = bench()
        run(one, {}, "Dust rings", 0.1)
        ended = run(one, {"memory": memory, "power": 120}, "Dust rings", 2).ending
        assert ended.outcome == "completed"
        scores.append(ended.value)
    assert scores[1] > max(scores[0], scores[2])


def test_first_run_after_a_start_is_slow():
    one, ratios = bench(), []
    for _ in range(3):
        first = run(one, {}, "Gorge flythrough").ending.value
        ratios.append(first / run(one, {}, "Gorge flythrough").ending.value)
        one.restart()
    assert np.mean(ratios) == pytest.approx(COLD_FACTOR, abs=0.02)


def test_run_to_run_noise_is_about_half_a_percent():
    values = []
    for luck in range(40):
        one = bench(luck=luck)
        run(one, {"power": 120}, "Winter sky show", 0.1)
        values.append(run(one, {"power": 120}, "Gorge flythrough", 0.2).ending.value)
    assert 0.003 < np.std(values) / np.mean(values) < 0.008


def test_a_hot_room_and_a_locked_fan_reach_the_heat_limit():
    rig = draw_rig("dome", 70)
    one = Bench(rig, 45.0, np.random.default_rng(1))
    one.at = turned(DOME, {})
    stretch = run(one, {"power": 120}, "Kiln", 30)
    free = mean(one, stretch, "core clock")
    weak = Bench(rig, 62.0, np.random.default_rng(1))
    stretch = run(weak, {"power": 120}, "Kiln", 30)
    assert weak.now.heat.die_c == pytest.approx(DOME.temp_limit_c, abs=2.5)
    assert mean(weak, stretch, "core clock") < free - 30


def test_the_loft_box_shares_one_budget():
    one = bench("loft")
    run(one, {"cap": 20}, "Small dome")
    total = one.now.point.power_w + one.now.beside.power_w + 3 + 3
    assert total <= 20.5
    assert one.now.point.mhz < 3450
    alone = bench("loft")
    run(alone, {"cap": 30}, "Orbit tables")
    assert alone.now.point.power_w > 20


@pytest.mark.parametrize("load", ["Small dome", "Millrace"])
def test_the_loft_box_keeps_its_cap_down_to_what_it_needs_at_its_lowest_clock(load):
    one = bench("loft", seed=28)
    for cap in (28, 20, 18):
        assert mean(one, run(one, {"cap": cap}, load, 2), "power") <= 1.01 * cap


def test_the_relic_pays_bus_clock_with_wait_states():
    # common practice: cache parts of 20 ns serve a bus of 40 MHz
    rig = draw_rig("relic", 70)
    quick, slow = (Bench(rig, 22.0, np.random.default_rng(2)) for _ in range(2))
    assert run(slow, {"bus": 48, "multiplier": 1.5, "wait": 0}, "Orrery").ending.outcome != "completed"
    ended = run(quick, {"bus": 40, "multiplier": 1.5, "wait": 1}, "Orrery", 1).ending
    assert ended.outcome == "completed"


def test_what_is_not_there_is_said():
    with pytest.raises(KeyError, match="no knob boost"):
        turned(DOME, {"boost": 3})
    with pytest.raises(KeyError):
        bench().start({}, "No such load")
    with pytest.raises(RuntimeError, match="no run"):
        bench().advance(1)


def test_the_laptop_starts_fast_and_falls_back_to_what_it_holds():
    one = bench("lectern")
    stretch = run(one, {}, "Treadmill", 20)
    clock = stretch.values[:, [channel.name for channel in one.channels()].index("core clock")]
    power = stretch.values[:, [channel.name for channel in one.channels()].index("power")]
    first, later = stretch.time_s < 15, stretch.time_s > 60
    # common practice: a start at the short-term limit, then the long-term one, to the end
    assert np.median(clock[first]) > 1.25 * np.median(clock[later])
    assert np.ptp(np.quantile(clock[later], [0.02, 0.98])) < 120
    assert 24 < np.mean(power[later]) < 34
    less = bench("lectern")
    lower = run(less, {"voltage": -50}, "Treadmill", 3)
    held = lower.values[lower.time_s > 60, [channel.name for channel in less.channels()].index("core clock")]
    assert np.median(held) > np.median(clock[later]) + 20


def test_a_closed_shell_soaks_through_slowly():
    one = bench("lectern")
    stretch = run(one, {}, "Treadmill", 20)
    die = stretch.values[:, [channel.name for channel in one.channels()].index("die")]
    at = {minutes: np.mean(die[np.abs(stretch.time_s - 60 * minutes) < 10]) for minutes in (2, 10, 19)}
    assert at[10] > at[2] + 2
    assert at[19] > at[10] + 0.3


def test_a_smaller_load_line_leaves_more_voltage():
    volts = {}
    for line in (100, 20):
        one = bench("lectern")
        stretch = run(one, {"line": line}, "Page setting", 0.2)
        volts[line] = mean(one, stretch, "voltage")
    # 1.6 mOhm at about 45 A: 72 mV, of which a fifth is left. Ohm's law
    assert volts[20] - volts[100] == pytest.approx(0.8 * 0.072, abs=0.02)
