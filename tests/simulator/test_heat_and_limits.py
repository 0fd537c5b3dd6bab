"""Heat flows as it must, limits hold, the supply loses what it should."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.simulator.heat import Cooling, at_rest, fan_power_w, room_resistance, step_heat
from trelvo.simulator.limits import Turned, TwoLimits, efficiency, run_at, walk_down, wall_w
from trelvo.simulator.loads import Load, draw_frames, frame_times_ms, pace, with_options
from trelvo.simulator.luck import Luck
from trelvo.simulator.rigs import DOME, draw_rig

COOLING = DOME.cooling


@given(st.floats(5, 300), st.floats(-10, 40), st.floats(10, 100))
def test_no_energy_is_lost_between_the_nodes(power_w, room_c, fan):
    heat, stored_j, out_j, in_j = at_rest(COOLING, room_c), 0.0, 0.0, 0.0
    for _ in range(400):
        out_j += 0.2 * (heat.cooler_c - room_c) / room_resistance(COOLING, heat.fan_percent)
        heat = step_heat(COOLING, heat, power_w, room_c, 0.2, fan)
        in_j += 0.2 * power_w
    stored_j = COOLING.die_j_per_c * (heat.die_c - room_c) + COOLING.cooler_j_per_c * (heat.cooler_c - room_c)
    assert stored_j + out_j == pytest.approx(in_j, rel=1e-9)


def test_it_settles_where_power_times_resistance_says_and_in_minutes():
    heat, minutes = at_rest(COOLING, 25.0), []
    final = 25 + 150 * (COOLING.to_cooler_c_per_w + room_resistance(COOLING, 60))
    for step in range(9000):
        heat = step_heat(COOLING, heat, 150, 25, 0.2, 60.0)
        if heat.die_c > 25 + 0.95 * (final - 25):
            minutes.append(step * 0.2 / 60)
    assert heat.die_c == pytest.approx(final, abs=0.1)
    # common practice: a cooler settles in 10 to 15 minutes; it is most of the way well before
    assert 3 < minutes[0] < 15


def test_one_time_constant_gives_63_percent():
    # first-order step response, any textbook: 63.2 % of the rise after one time constant, 95.0 % after three
    alone = Cooling(die_j_per_c=20, cooler_j_per_c=1e12, to_cooler_c_per_w=0.1, to_room_c_per_w=0.2)
    heat, tau_s, shares = at_rest(alone, 20.0), 20 * 0.1, []
    for _ in range(3):
        for _ in range(1000):
            heat = step_heat(alone, heat, 100.0, 20.0, tau_s / 1000, 50.0)
        shares.append((heat.die_c - 20) / (100 * 0.1))
    assert shares[0] == pytest.approx(0.632, abs=0.001)
    assert shares[2] == pytest.approx(0.950, abs=0.001)


def test_fan_law():
    # ASHRAE fan laws, from memory: power with the cube of speed
    assert fan_power_w(COOLING, 50) / fan_power_w(COOLING, 100) == pytest.approx(1 / 8)
    assert room_resistance(COOLING, 100) < room_resistance(COOLING, 40)


@given(st.integers(0, 200), st.floats(60, 260), st.floats(-150, 240), st.floats(30, 90))
def test_a_power_limit_holds_on_the_grid_and_wastes_no_step(seed, limit_w, offset, temp_c):
    chip = draw_rig("dome", seed).chip
    offset = math.floor(offset / 15) * 15
    top = DOME.main.stock_mhz + offset
    point = walk_down(chip, top, offset, Turned(), temp_c, 1.0, limit_w, top)
    assert point.power_w <= limit_w or point.mhz - 15 < DOME.main.floor_mhz
    assert (top - point.mhz) % 15 == pytest.approx(0, abs=1e-6)
    if point.mhz + 15 <= top:
        assert run_at(chip, point.mhz + 15, offset, Turned(), temp_c, 1.0).power_w > limit_w
    # where it was sought from does not matter
    assert walk_down(chip, top, offset, Turned(), temp_c, 1.0, limit_w, 1500.0).mhz == point.mhz


def test_less_voltage_at_the_same_clock_saves_power():
    # common practice: 20 to 30 % less power for a deep undervolt at the same clock
    chip = draw_rig("dome", 3).chip
    full = run_at(chip, 2370, 0, Turned(), 60, 1.0)
    less = run_at(chip, 2370, 0, Turned(voltage_mv=-120), 60, 1.0)
    assert 0.70 < less.power_w / full.power_w < 0.80


def test_a_processor_holds_its_short_limit_for_a_while_only():
    limits, seconds = TwoLimits(long_w=105, short_w=142, settle_s=28), 0.0
    while limits.limit_w() == 142:
        limits.took(142, 0.2)
        seconds += 0.2
    # the average of a step from 0 to 142 W reaches 105 W after 28 s · ln(142 / 37)
    assert seconds == pytest.approx(28 * math.log(142 / 37), abs=0.5)


def test_supply_of_the_better_kind():
    # 80 PLUS programme, Gold at 115 V, from memory: 87 / 90 / 87 % at 20 / 50 / 100 % load
    assert [efficiency(750 * share, 750) for share in (0.2, 0.5, 1.0)] == pytest.approx([0.87, 0.90, 0.87])
    assert wall_w(375, 750) == pytest.approx(375 / 0.9)


def test_the_slower_chip_decides():
    starved = Load("frames", 100, 1, core=0.9, memory=0.05, other=0.05, beside=2.0)
    free = Load("frames", 100, 1, core=0.9, memory=0.05, other=0.05, beside=0.1)
    assert pace(starved, 1.2, 1, 1).ratio < 1.01
    assert pace(free, 1.2, 1, 1).ratio == pytest.approx(1 / (0.9 / 1.2 + 0.1), abs=0.001)
    assert pace(starved, 1, 1, 1.2).ratio == pytest.approx(1.19, abs=0.02)
    # Amdahl (Hennessy and Patterson, from memory): 40 % of the work 10 times faster gives 1.5625
    assert pace(Load("frames", 1, 1, 0.4, 0, 0.6, 0), 10, 1, 1).ratio == pytest.approx(1.5625)


def test_fewer_pixels_do_not_help_a_rig_that_waits_for_its_processor():
    load = Load("frames", 60, 1, beside=0.95)
    small = with_options(load, pixels=0.25)
    faster = small.rate / load.rate * pace(small, 1, 1, 1).ratio
    assert faster > 1
    assert pace(small, 1.2, 1, 1).ratio < 1.01 < pace(small, 1, 1, 1.2).ratio


def test_frame_times_average_to_the_rate_hitch_and_keep_the_cap():
    luck, load = Luck(np.random.default_rng(3)), Load("frames", 90, 1)
    times = frame_times_ms(load, [draw_frames(90, load, 200_000, 0.0, luck)])
    assert 1000 / times.mean() == pytest.approx(90, rel=0.01)
    assert (times > 1.35 * np.median(times)).mean() == pytest.approx(load.hitch, rel=0.15)
    held = Load("frames", 90, 1, cap_fps=60)
    capped = frame_times_ms(held, [draw_frames(90, held, 20_000, 0.0, luck)])
    assert 1000 / capped.mean() == pytest.approx(60, rel=0.01)
