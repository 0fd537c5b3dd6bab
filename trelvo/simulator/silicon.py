"""A chip: voltage for a clock, power for both, the edge past which it fails, and how.

Shapes are those of any modern processor or card (docs/simulator.md); every number is invented. Written with numpy only.
"""

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

Failure = Literal["artifacts", "program crash", "system crash", "no start"]
KINDS: tuple[Failure, ...] = ("artifacts", "program crash", "system crash", "no start")

# Past this the load fails within the first step anyway; more only overflows.
MOST_DECADES = 6.0


@dataclass(frozen=True)
class ChipDesign:
    """What all specimens of a chip have in common.

    floor_mhz, floor_v to stock_mhz, stock_v: the voltage-frequency curve, bent upwards by `bend`
    switched_w: power at activity 1, stock clock and voltage; leakage_w: at stock voltage and 60 °C
    grid_mhz: steps in which a clock takes effect; most_offset_mhz: largest offset that is taken over
    load_line_ohm: voltage lost for each ampere drawn
    heat_mhz_per_c: how far the edge falls for each degree
    margin_share, margin_spread: edge above stock, as a share of the stock clock: mean and deviation over specimens
    """

    stock_mhz: float
    stock_v: float
    floor_mhz: float
    floor_v: float
    switched_w: float
    leakage_w: float
    grid_mhz: float
    most_offset_mhz: float = 1000.0
    bend: float = 1.6
    load_line_ohm: float = 0.00015
    threshold_v: float = 0.35
    alpha: float = 1.3
    heat_mhz_per_c: float = 0.6
    margin_share: float = 0.055
    margin_spread: float = 0.012
    decade_low_mhz: float = 14.0
    decade_high_mhz: float = 34.0
    gap_high_mhz: float = 40.0

    @cached_property
    def loaded_v(self) -> float:
        """Voltage at the die at stock under a full load, after droop: where the margin is counted."""
        return at_die_v(self, self.stock_v, self.switched_w + self.leakage_w)

    @cached_property
    def loaded_drive(self) -> float:
        """What `drive` gives there."""
        return drive(self, self.loaded_v)

    @cached_property
    def curve_read(self) -> dict[float, float]:
        """Voltages of the curve at clocks already asked for: a run asks for the same few again and again."""
        return {}


@dataclass(frozen=True)
class Specimen:
    """One chip with its own luck.

    margin_mhz: distance of the edge above the stock clock at stock voltage under full load, at 60 °C
    decade_mhz: how far past the edge failures become ten times as frequent
    gap_mhz: how far the clock got stays below the clock set
    leak: leakage against the design's
    """

    design: ChipDesign
    margin_mhz: float
    decade_mhz: float
    gap_mhz: float
    leak: float


def draw_specimen(design: ChipDesign, rng: np.random.Generator) -> Specimen:
    """A specimen by luck of the draw."""
    return Specimen(
        design=design,
        margin_mhz=float(rng.normal(design.margin_share, design.margin_spread) * design.stock_mhz),
        decade_mhz=float(rng.uniform(design.decade_low_mhz, design.decade_high_mhz)),
        gap_mhz=float(rng.uniform(0.1, 1.0) * design.gap_high_mhz),
        leak=float(rng.lognormal(0, 0.18)),
    )


def on_grid(design: ChipDesign, offset_mhz: float) -> float:
    """The offset that takes effect: whole steps, rounded down, and no more than the cap allows."""
    capped = min(max(offset_mhz, -design.most_offset_mhz), design.most_offset_mhz)
    return math.floor(capped / design.grid_mhz + 1e-9) * design.grid_mhz


def curve_v(design: ChipDesign, mhz: float) -> float:
    """Voltage that the curve asks for a clock, without any offset; goes on straight above the stock clock."""
    found = design.curve_read.get(mhz)
    if found is None:
        span_mhz, span_v = design.stock_mhz - design.floor_mhz, design.stock_v - design.floor_v
        x = (mhz - design.floor_mhz) / span_mhz
        if x >= 1:
            found = design.stock_v + design.bend * span_v * (x - 1)
        else:
            found = float(design.floor_v + span_v * max(x, 0.0) ** design.bend)
        design.curve_read[mhz] = found
    return found


def at_die_v(design: ChipDesign, set_v: float, power_w: float, load_line: float = 1.0) -> float:
    """Voltage that arrives when `power_w` is drawn: Ohm's law over the load line.

    load_line: share of the design's droop that the load line setting leaves (0 = none)
    """
    return set_v - design.load_line_ohm * load_line * power_w / set_v


def leaking_per_v3(chip: Specimen, temp_c: float) -> float:
    """What leakage takes per V³: e-fold for each 55 °C."""
    design = chip.design
    return design.leakage_w * chip.leak * math.exp((min(temp_c, 160.0) - 60) / 55) / design.stock_v**3


def chip_power_w(chip: Specimen, mhz: float, volt: float, temp_c: float, activity: float) -> float:
    """Activity · C · V² · f, and leakage. activity: share of the chip that switches, 1 for a heavy load"""
    design = chip.design
    switched = design.switched_w * activity * mhz / design.stock_mhz / design.stock_v**2
    return switched * volt**2 + leaking_per_v3(chip, temp_c) * volt**3


def drive(design: ChipDesign, volt: float) -> float:
    """How fast its transistors switch at a voltage: alpha-power law."""
    return math.pow(max(volt - design.threshold_v, 0.0), design.alpha) / volt


def edge_mhz(chip: Specimen, volt: float, temp_c: float) -> float:
    """Clock at which a load of no extra stress fails once an hour: it follows the drive and falls with heat."""
    design = chip.design
    pace = drive(design, volt) / design.loaded_drive
    return (design.stock_mhz + chip.margin_mhz) * pace - design.heat_mhz_per_c * (temp_c - 60)


def hazard_per_h(over_mhz: float, decade_mhz: float) -> float:
    """Failures an hour at a distance past the edge: ten times as many for each `decade_mhz`."""
    return math.pow(10, min(over_mhz / decade_mhz, MOST_DECADES))


def failure_kind(over_mhz: float, decade_mhz: float, luck: float) -> Failure:
    """How it fails: the further past the edge, the harder. luck: uniform from 0 to 1."""
    grade = math.floor(over_mhz / decade_mhz / 1.2 + 0.8 * luck - 0.4)
    return KINDS[min(max(grade, 0), 3)]
