"""What holds a chip back: its power limit, its heat, and what the supply loses."""

from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from trelvo.simulator.silicon import Specimen, curve_v, leaking_per_v3

# share of load and efficiency there, for a supply of the better kind; from no load it climbs steeply
SUPPLY_CURVE = ((0.0, 0.55), (0.05, 0.76), (0.1, 0.83), (0.2, 0.87), (0.5, 0.90), (1.0, 0.87))


@dataclass(frozen=True)
class Turned:
    """Where the knobs stand. Clocks and voltage as differences from stock.

    power_ratio: power limit against the design's; cap_w: a budget in watts that replaces it; beside_cap_w: what the chip
    beside may take of it; long_w: the main chip's long-term limit
    memory_factor: memory speed at the same clock (wait states); memory_ease_mhz: how far they move the memory's knee
    load_line: share of the droop that is left; fan_percent: fan locked at this speed
    """

    core_mhz: float = 0.0
    memory_mhz: float = 0.0
    voltage_mv: float = 0.0
    power_ratio: float = 1.0
    cap_w: float | None = None
    beside_cap_w: float | None = None
    long_w: float | None = None
    memory_factor: float = 1.0
    memory_ease_mhz: float = 0.0
    load_line: float = 1.0
    fan_percent: float | None = None


class Point(NamedTuple):
    """Where a chip runs: clock set in MHz, voltage at the die in V, power in W; and whether power held it there."""

    mhz: float
    volt: float
    power_w: float
    starved: bool


class Chain:
    """A chip with its knobs turned, at one temperature and load: what each clock asks for, with all but the clock computed."""

    __slots__ = ("added_v", "busy_w", "design", "leaking", "offset_mhz", "ohm")

    def __init__(self, chip: Specimen, offset_mhz: float, turned: Turned, temp_c: float, activity: float) -> None:
        design = self.design = chip.design
        self.offset_mhz, self.added_v = offset_mhz, turned.voltage_mv / 1000
        self.busy_w, self.leaking = design.switched_w * activity, leaking_per_v3(chip, temp_c)
        self.ohm = design.load_line_ohm * turned.load_line

    def at(self, mhz: float) -> tuple[float, float]:
        """Voltage at the die and power at a clock: the curve moved by the offset, less what droops at the power drawn."""
        design, ohm, leaking = self.design, self.ohm, self.leaking
        set_v = curve_v(design, mhz - self.offset_mhz) + self.added_v
        switched = self.busy_w * mhz / design.stock_mhz / design.stock_v**2
        # each asks for the other; after three turns neither moves any more
        volt = set_v - ohm * (set_v * set_v * (switched + leaking * set_v)) / set_v
        volt = set_v - ohm * (volt * volt * (switched + leaking * volt)) / set_v
        power = volt * volt * (switched + leaking * volt)
        return set_v - ohm * power / set_v, power


def run_at(chip: Specimen, mhz: float, offset_mhz: float, turned: Turned, temp_c: float, activity: float) -> Point:
    """Voltage and power at a clock, no limit in the way."""
    return Point(mhz, *Chain(chip, offset_mhz, turned, temp_c, activity).at(mhz), False)


def walk_down(
    chip: Specimen, top_mhz: float, offset_mhz: float, turned: Turned, temp_c: float, activity: float, limit_w: float,
    near_mhz: float,
) -> Point:  # fmt: skip
    """The highest clock on the grid whose power is within the limit, sought from where the chip ran before."""
    grid, floor = chip.design.grid_mhz, chip.design.floor_mhz
    start = top_mhz - round((top_mhz - near_mhz) / grid) * grid
    mhz = min(max(start, floor), top_mhz)
    chain = Chain(chip, offset_mhz, turned, temp_c, activity)
    volt, power = chain.at(mhz)
    while power > limit_w and mhz - grid >= floor:
        mhz -= grid
        volt, power = chain.at(mhz)
    while mhz + grid <= top_mhz + 1e-6:
        higher = chain.at(mhz + grid)
        if higher[1] > limit_w:
            return Point(mhz, volt, power, True)
        mhz += grid
        volt, power = higher
    return Point(mhz, volt, power, power > limit_w)


@dataclass
class TwoLimits:
    """A processor's short-term limit holds until the moving average of its power reaches the long-term one.

    back_share: it comes back where the average has fallen below this share of the long-term one
    """

    long_w: float
    short_w: float
    settle_s: float
    average_w: float = 0.0
    back_share: float = 1.0
    held: bool = False

    def limit_w(self) -> float:
        self.held = self.average_w >= self.long_w * (self.back_share if self.held else 1.0)
        return self.long_w if self.held else self.short_w

    def took(self, power_w: float, seconds: float) -> None:
        self.average_w += min(seconds / self.settle_s, 1.0) * (power_w - self.average_w)


def efficiency(load_w: float, rated_w: float) -> float:
    """Share of the wall's power that the supply passes on."""
    share = load_w / rated_w
    for (low, at_low), (high, at_high) in pairwise(SUPPLY_CURVE):
        if share < high:
            return (at_high - at_low) / (high - low) * (share - low) + at_low
    return SUPPLY_CURVE[-1][1]


def wall_w(load_w: float, rated_w: float) -> float:
    return load_w / efficiency(load_w, rated_w)
