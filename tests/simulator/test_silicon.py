"""The simulator's silicon obeys physics; nothing here uses Trelvo's own computations."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.simulator import silicon
from trelvo.simulator.rigs import DOME, RIGS, draw_rig

seeds = st.integers(0, 500)
volts = st.floats(0.75, 1.2)
CARD = DOME.main


def test_switched_power_goes_with_frequency_and_voltage_squared():
    # Hennessy and Patterson, from memory: 15 % less voltage and frequency leave 0.85³ = 0.61 of the dynamic power
    chip = silicon.Specimen(CARD, 0, 20, 0, leak=0.0)
    full = silicon.chip_power_w(chip, 2000, 1.0, 60, 1.0)
    assert silicon.chip_power_w(chip, 2000 * 0.85, 0.85, 60, 1.0) / full == pytest.approx(0.614, abs=0.001)
    assert silicon.chip_power_w(chip, 1000, 1.0, 60, 1.0) / full == pytest.approx(0.5)


def test_droop_is_ohms_law():
    # 1.0 mΩ at 100 A = 100 mV
    ohm = silicon.ChipDesign(100, 1.0, 50, 0.8, 10, 1, 1, load_line_ohm=0.001)
    assert silicon.at_die_v(ohm, 1.0, 100.0) == pytest.approx(0.9)
    assert silicon.at_die_v(ohm, 1.0, 100.0, load_line=0.5) == pytest.approx(0.95)


@given(seeds, volts, st.floats(30, 95))
def test_the_edge_rises_with_voltage_and_falls_with_heat(seed, volt, temp_c):
    chip = draw_rig("dome", seed).chip
    here = silicon.edge_mhz(chip, volt, temp_c)
    assert silicon.edge_mhz(chip, volt + 0.02, temp_c) > here
    assert silicon.edge_mhz(chip, volt, temp_c + 5) == pytest.approx(here - 5 * CARD.heat_mhz_per_c)


@given(seeds, volts, st.floats(30, 90))
def test_leakage_rises_with_voltage_and_heat(seed, volt, temp_c):
    chip = draw_rig("dome", seed).chip
    here = silicon.chip_power_w(chip, 2000, volt, temp_c, activity=0)
    assert silicon.chip_power_w(chip, 2000, volt * 1.1, temp_c, 0) == pytest.approx(here * 1.331)
    assert silicon.chip_power_w(chip, 2000, volt, temp_c + 55, 0) == pytest.approx(here * np.e)


@given(st.floats(-80, 40), st.floats(10, 40))
def test_failures_become_ten_times_as_frequent_each_decade(over, decade):
    assert silicon.hazard_per_h(over + decade, decade) == pytest.approx(10 * silicon.hazard_per_h(over, decade))
    assert silicon.hazard_per_h(0.0, decade) == 1.0


def test_further_past_the_edge_it_fails_harder():
    kinds = [silicon.failure_kind(over, 20, 0.5) for over in (0, 30, 55, 90, 400)]
    assert kinds == ["artifacts", "program crash", "system crash", "no start", "no start"]


def test_clocks_move_in_steps_and_the_offset_is_capped():
    # common practice: an offset of 10 may do nothing, where steps are of 15 MHz; tools cap the offset at 1000 MHz
    assert silicon.on_grid(CARD, 10) == 0
    assert silicon.on_grid(CARD, 29) == 15
    assert silicon.on_grid(CARD, -10) == -15
    assert silicon.on_grid(CARD, 1400) == 990


@given(st.floats(600, 3200), st.floats(1, 300))
def test_the_voltage_curve_rises(mhz, more):
    assert silicon.curve_v(CARD, mhz + more) >= silicon.curve_v(CARD, mhz)
    assert silicon.curve_v(CARD, CARD.stock_mhz) == CARD.stock_v


@pytest.mark.parametrize("kind", list(RIGS))
def test_specimens_differ_and_a_seed_gives_the_same_one(kind):
    assert draw_rig(kind, 7) == draw_rig(kind, 7)
    margins = [draw_rig(kind, seed).chip.margin_mhz for seed in range(60)]
    assert np.std(margins) == pytest.approx(RIGS[kind].main.margin_spread * RIGS[kind].main.stock_mhz, rel=0.4)
    assert len({draw_rig(kind, seed).chip.decade_mhz for seed in range(20)}) == 20


def test_the_steep_card_needs_more_than_its_tool_allows_where_its_silicon_still_holds():
    """At 870 mV the edge lies far above its curve: further than the largest offset reaches."""
    design = RIGS["annexe"].main
    chip = draw_rig("annexe", 28).chip
    edge = silicon.edge_mhz(chip, 0.87, 60)
    on_curve = next(mhz for mhz in range(600, 3000) if silicon.curve_v(design, mhz) >= 0.87)
    assert edge - on_curve > design.most_offset_mhz
    assert silicon.on_grid(design, edge - on_curve) == 495
    # the same clock less saves far fewer millivolts than on the dome's card
    steep, plain = (
        silicon.curve_v(one, one.stock_mhz) - silicon.curve_v(one, one.stock_mhz - 300) for one in (design, CARD)
    )
    assert steep < 0.6 * plain
