"""The stand-in obeys physics; nothing here uses Trelvo's own computations."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.server.demo.tower import DOME_CARD, DOME_LOADS, GORGE
from trelvo.standin.chip import Knobs, draw_specimen, fail, settle
from trelvo.standin.workload import frame_times_ms, memory_gain, run_load, telemetry, warming

seeds = st.integers(0, 500)
LOAD = DOME_LOADS[GORGE.name]


@given(seeds, st.floats(5, 35))
def test_heat_balance(seed, room_c):
    chip = draw_specimen(DOME_CARD, seed)
    state = settle(chip, Knobs(power_limit=1.2), 1.0, room_c)
    assert state.temp_c == pytest.approx(room_c + DOME_CARD.heat_c_per_w * state.power_w, abs=0.01)


@given(seeds)
def test_the_power_limit_holds_and_costs_clock(seed):
    chip = draw_specimen(DOME_CARD, seed)
    free, held = settle(chip, Knobs(power_limit=2), 1.0, 25), settle(chip, Knobs(power_limit=0.7), 1.0, 25)
    assert held.power_w <= DOME_CARD.limit_w * 0.7
    assert held.starved
    assert held.core_mhz < free.core_mhz


@given(seeds)
def test_less_voltage_draws_less_and_moves_the_edge_nearer(seed):
    chip = draw_specimen(DOME_CARD, seed)
    stock = settle(chip, Knobs(power_limit=2), 1.0, 25)
    # the same clock at 50 mV less: the offset makes up for what the curve loses
    less = settle(chip, Knobs(core_mhz=0.05 / DOME_CARD.volt_per_mhz, voltage_mv=-50, power_limit=2), 1.0, 25)
    assert less.core_mhz == pytest.approx(stock.core_mhz, abs=DOME_CARD.grid_mhz)
    assert less.power_w < stock.power_w
    assert less.over_edge_mhz > stock.over_edge_mhz


def test_clock_got_is_below_clock_set_by_a_fixed_gap():
    chip = draw_specimen(DOME_CARD, 3)
    gaps = [
        DOME_CARD.stock_mhz + offset - settle(chip, Knobs(core_mhz=offset, power_limit=2), 1, 25).core_mhz
        for offset in (0, 15, 90)
    ]
    assert gaps == pytest.approx([chip.gap_mhz] * 3)
    # common practice: an offset of 10 may do nothing, where steps are of 15 MHz
    assert settle(chip, Knobs(core_mhz=10, power_limit=2), 1, 25) == settle(chip, Knobs(power_limit=2), 1, 25)


def test_failures_come_more_often_and_harder_past_the_edge():
    chip, rng = draw_specimen(DOME_CARD, 5), np.random.default_rng(1)
    shares, kinds = [], []
    for offset in (0, 120, 180, 300):
        state = settle(chip, Knobs(core_mhz=offset, power_limit=2), 1, 25)
        seen = [fail(chip, state, 0, 5, rng) for _ in range(300)]
        shares.append(sum(one is not None for one in seen) / 300)
        kinds.append({one[0] for one in seen if one})
    assert shares == sorted(shares)
    assert shares[0] < 0.02
    assert shares[-1] > 0.95
    assert kinds[-1] <= {"machine down", "no start"}


def test_memory_past_its_knee_loses():
    chip = draw_specimen(DOME_CARD, 5)
    gain = [
        memory_gain(chip, settle(chip, Knobs(memory_mhz=o), 1, 25)) for o in (0, chip.knee_mhz, chip.knee_mhz + 400)
    ]
    assert gain[0] == 1
    assert gain[1] > gain[2]


def test_the_same_seed_gives_the_same_run():
    chip = draw_specimen(DOME_CARD, 8)
    first, second = (run_load(chip, Knobs(), LOAD, 0.5, 22, np.random.default_rng(2)) for _ in range(2))
    assert first.rate == second.rate
    assert (first.frame_times_ms == second.frame_times_ms).all()


def test_frame_times_add_up_to_the_rate_and_a_cap_holds():
    times = frame_times_ms(90, 0.004, 1, np.random.default_rng(3))
    assert 1000 / times.mean() == pytest.approx(90)
    capped = run_load(draw_specimen(DOME_CARD, 8), Knobs(), LOAD, 0.5, 22, np.random.default_rng(2), cap_fps=60)
    assert capped.rate == pytest.approx(59.9, abs=0.3)


def test_readings_warm_up_towards_the_settled_state():
    chip, rng = draw_specimen(DOME_CARD, 8), np.random.default_rng(3)
    measured = run_load(chip, Knobs(), LOAD, 10, 22, rng)
    readings = telemetry(chip, measured, 22, rng)
    assert readings["temp"][-1] == pytest.approx(measured.state.temp_c, abs=1.5)
    assert (np.diff(warming(chip, measured.state, 22, readings["time"])) >= 0).all()
