"""What is read, where, how often, and how it lies. A reading that is not due is missing (NaN)."""

from dataclasses import dataclass

import numpy as np

from trelvo.standin.luck import Luck


@dataclass(frozen=True)
class Instruments:
    """One bench's instruments with their fixed faults.

    power_scale: what software makes of the part's power; temp_bias_c: the thermocouple's error
    slot_w: what reaches a card through its slot, which a clamp on the cables misses
    stale_s: how long the clock's readout stays where it was after a change of setting
    """

    power_scale: float
    clamp_scale: float
    temp_bias_c: float
    slot_w: float
    stale_s: float


def draw_instruments(rng: np.random.Generator) -> Instruments:
    return Instruments(
        power_scale=float(rng.uniform(0.94, 1.0)),
        clamp_scale=float(rng.normal(1.0, 0.01)),
        temp_bias_c=float(rng.normal(0, 1.2)),
        slot_w=28.8,
        stale_s=float(rng.uniform(6, 20)),
    )


def due(clock_s: float, step_s: float, every_s: float) -> bool:
    """Whether an instrument that reads every so often has a reading in the step that ends at `clock_s`."""
    return int(clock_s / every_s + 1e-9) > int((clock_s - step_s) / every_s + 1e-9)


def thermocouple_c(tools: Instruments, true_c: float, luck: Luck) -> float:
    return round(true_c + tools.temp_bias_c + luck.normal(0, 0.15), 1)


def software_w(tools: Instruments, true_w: float, luck: Luck) -> float:
    return round(true_w * tools.power_scale + luck.normal(0, 0.8), 2)


def clamp_w(tools: Instruments, true_w: float, luck: Luck) -> float:
    """Power by the cables alone: what comes through the slot is missed."""
    return max(0.0, round((true_w - min(tools.slot_w, true_w)) * tools.clamp_scale + luck.normal(0, 0.6), 1))


def wall_meter_w(true_w: float, luck: Luck) -> float:
    return round(true_w + luck.normal(0, 0.7), 1)
