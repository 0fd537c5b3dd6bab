"""What is read, where, how often, and how it lies."""

from dataclasses import dataclass

import numpy as np


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


def thermocouple_c(tools: Instruments, true_c: float, luck: float) -> float:
    """luck, here and below: a standard normal"""
    return true_c + tools.temp_bias_c + 0.15 * luck


def software_w(tools: Instruments, true_w: float, luck: float) -> float:
    return true_w * tools.power_scale + 0.8 * luck


def clamp_w(tools: Instruments, true_w: float, luck: float) -> float:
    """Power by the cables alone: what comes through the slot is missed."""
    return (true_w - min(tools.slot_w, true_w)) * tools.clamp_scale + 0.6 * luck


def wall_meter_w(true_w: float, luck: float) -> float:
    return true_w + 0.7 * luck
