"""A chip under load: voltage and frequency, power, heat, and the edge past which it fails.

Every specimen is drawn from a seed. All of it is invented; the shapes are those of any modern processor or card:
dynamic power goes with voltage squared times frequency, leakage with voltage and temperature, and the highest stable
frequency falls with less voltage and more heat. Written with numpy only.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

Failure = Literal["odd numbers", "program closed", "machine down", "no start"]


@dataclass(frozen=True)
class Design:
    """What all specimens of a chip have in common. Powers in watts, clocks in MHz, voltages in volts, heat in °C/W."""

    stock_mhz: float
    stock_v: float
    volt_per_mhz: float
    dynamic_w: float
    leakage_w: float
    base_w: float
    limit_w: float
    heat_c_per_w: float
    settle_s: float
    grid_mhz: float
    memory_mhz: float
    memory_w: float


@dataclass(frozen=True)
class Specimen:
    """One chip with its own luck.

    margin_mhz: distance of the edge above the stock clock at stock voltage and 60 °C
    decade_mhz: how far past the edge failures become ten times as frequent
    gap_mhz: how far the clock got stays below the clock set
    knee_mhz: memory clock offset from which corrected errors cost more than the clock gains
    """

    design: Design
    margin_mhz: float
    decade_mhz: float
    gap_mhz: float
    leak: float
    knee_mhz: float


@dataclass(frozen=True)
class Knobs:
    """Where the knobs stand, as differences from stock: clocks in MHz, voltage in mV, power limit as a ratio."""

    core_mhz: float = 0.0
    memory_mhz: float = 0.0
    voltage_mv: float = 0.0
    power_limit: float = 1.0


@dataclass(frozen=True)
class State:
    """The chip settled under a load."""

    core_mhz: float
    memory_mhz: float
    voltage_v: float
    power_w: float
    temp_c: float
    over_edge_mhz: float
    starved: bool


def draw_specimen(design: Design, seed: int) -> Specimen:
    """The specimen of this seed; the same seed always gives the same one."""
    rng = np.random.default_rng(seed)
    return Specimen(
        design=design,
        margin_mhz=float(rng.normal(0.055, 0.012) * design.stock_mhz),
        decade_mhz=float(rng.uniform(14, 34)),
        gap_mhz=float(rng.uniform(5, 40)),
        leak=float(rng.lognormal(0, 0.18)),
        knee_mhz=float(rng.normal(0.1, 0.015) * design.memory_mhz),
    )


def settle(chip: Specimen, knobs: Knobs, activity: float, room_c: float) -> State:
    """The chip after warming up: walks down the voltage-frequency curve until power is within its limit.

    activity: share of the chip that switches, 1 for a heavy load; room_c: °C
    """
    design = chip.design
    # set clocks take effect in whole grid steps
    offset = math.floor(knobs.core_mhz / design.grid_mhz + 1e-9) * design.grid_mhz
    top_v = design.stock_v + knobs.voltage_mv / 1000
    top_mhz = design.stock_mhz + offset + (top_v - design.stock_v) / design.volt_per_mhz
    limit_w = design.limit_w * knobs.power_limit
    memory = design.memory_mhz + knobs.memory_mhz
    down = 0.0
    while True:
        mhz = top_mhz - down
        volt = top_v - down * design.volt_per_mhz
        power, temp = _power_and_heat(chip, mhz, volt, memory, activity, room_c)
        if power <= limit_w or mhz <= design.stock_mhz * 0.4:
            break
        down += 1.0
    edge = _edge_mhz(chip, volt, temp)
    return State(mhz - chip.gap_mhz, memory, volt, power, temp, mhz - edge, down > 0)


def _power_and_heat(
    chip: Specimen, mhz: float, volt: float, memory_mhz: float, activity: float, room_c: float
) -> tuple[float, float]:
    """Power and temperature that agree with each other: leakage heats, heat leaks."""
    design = chip.design
    dynamic = design.dynamic_w * activity * (volt / design.stock_v) ** 2 * mhz / design.stock_mhz
    memory = design.memory_w * memory_mhz / design.memory_mhz
    temp = room_c + 30
    power = 0.0
    for _ in range(12):
        leakage = design.leakage_w * chip.leak * (volt / design.stock_v) ** 3 * math.exp((temp - 60) / 60)
        power = design.base_w + dynamic + leakage + memory
        temp = room_c + design.heat_c_per_w * power
    return power, temp


def _edge_mhz(chip: Specimen, volt: float, temp_c: float) -> float:
    """Clock at which a heavy load fails once an hour: alpha-power law in voltage, falling with heat."""
    threshold, alpha = 0.35, 1.3
    drive = ((volt - threshold) ** alpha / volt) / ((chip.design.stock_v - threshold) ** alpha / chip.design.stock_v)
    return float((chip.design.stock_mhz + chip.margin_mhz) * drive - 0.6 * (temp_c - 60))


def fail(
    chip: Specimen, state: State, stress: float, minutes: float, rng: np.random.Generator
) -> tuple[Failure, float] | None:
    """Whether and when (minutes) a load of this stress fails, and how: the further past the edge, the harder."""
    over = state.over_edge_mhz + stress
    hazard_per_h = min(10 ** (over / chip.decade_mhz), 1e5)
    at = float(rng.exponential(60 / hazard_per_h))
    if at > minutes:
        return None
    decades = over / chip.decade_mhz
    kinds: tuple[Failure, ...] = ("odd numbers", "program closed", "machine down", "no start")
    grade = int(np.clip(math.floor(decades / 1.2 + rng.uniform(-0.4, 0.4)), 0, 3))
    return kinds[grade], 0.0 if kinds[grade] == "no start" else at
