"""What the bench's instruments show: their channels, what they take a step, and how that is rounded."""

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.simulator import instruments as read
from trelvo.simulator.limits import wall_w
from trelvo.simulator.luck import Luck
from trelvo.simulator.moment import Now
from trelvo.simulator.rigs import RigDesign, SimulatorRig

Array = npt.NDArray[np.float64]
CABLES, CURRENT = "cables", "cable current"
CABLE_V = 12.0
# the clock's readout flickers by so many MHz; that of a chip from before it was measured in hundreds, by less
FLICKER_MHZ, OLD_FLICKER_MHZ, OLD_MHZ = 2.0, 0.02, 500


@dataclass(frozen=True)
class Reading:
    """A channel of the bench: what it is called, what it reads, its unit, where power is measured, and of which part it is
    (empty: of what is tuned)."""

    name: str
    quantity: str
    unit: str
    point: str = ""
    part: str = ""


def channels(design: RigDesign) -> list[tuple[Reading, int | None]]:
    """What the instruments read, in the order of a stretch's columns; and how many decimals each shows, None: as it comes."""
    found: list[tuple[Reading, int | None]] = [
        (Reading("core clock", "core clock", "MHz"), 1),
        (Reading("memory clock", "memory clock", "MHz"), None),
        (Reading("voltage", "voltage", "V"), 4),
        (Reading("power", "power", "W", "software"), 2),
        (Reading("die", "temperature", "°C"), 1),
        (Reading("fan", "fan", "%"), 1),
        (Reading("fan speed", "fan speed", "rpm"), 0),
        (Reading("load", "load", "%"), 1),
        (Reading("frame rate", "frame rate", "fps"), None),
        (Reading("at the wall", "power", "W", "wall"), 1),
        (Reading("thermocouple", "temperature", "°C"), 1),
    ]
    if design.cables:
        found += [(Reading(CABLES, "power", "W", "cables"), 1), (Reading(CURRENT, "current", "A"), 2)]
    if design.beside:
        word = design.beside_word
        found += [
            (Reading(f"{word} clock", "core clock", "MHz", "", word), 1),
            (Reading(f"{word} power", "power", "W", "software", word), 2),
            (Reading(f"{word} heat", "temperature", "°C", "", word), 1),
        ]
    if design.shared:
        # what is tuned is both in one; each has a counter of its own
        found.append((Reading(f"{design.main_word} power", "power", "W", "software", design.main_word), 2))
    return found


def taken(rig: SimulatorRig, now: Now, luck: Luck, clock_s: float, dt: float, stale_mhz: float | None) -> list[float]:
    """What every instrument takes in the step that ends at `clock_s`, before it is rounded; NaN where none is due, and for the
    frame rate, which is known once the frames are.

    stale_mhz: what the clock's readout still shows after a change of setting
    """
    design, tools, normal = rig.design, rig.tools, luck.next_normal
    point, _, beside, _, _, board_w, total_w, (die_c, cooler_c, fan_percent, _), beside_heat, busy = now
    got = (
        point.mhz - rig.chip.gap_mhz + (FLICKER_MHZ if design.main.stock_mhz > OLD_MHZ else OLD_FLICKER_MHZ) * normal()
    )
    # the order is that of the draws
    row = [
        got if stale_mhz is None else stale_mhz,
        now.memory_mhz,
        point.volt + 0.0015 * normal(),
        read.software_w(tools, board_w + (beside.power_w if design.shared and beside else 0.0), normal()),
        die_c + 0.2 * normal(),
        fan_percent,
        fan_percent / 100 * design.cooling.fan_most_rpm,
        100 * min(busy, 1.0),
        math.nan,
    ]
    if read.due(clock_s, dt, 1.0):
        row.append(read.wall_meter_w(wall_w(total_w, design.supply_w), normal()))
        row.append(read.thermocouple_c(tools, cooler_c, normal()))
    else:
        row += (math.nan, math.nan)
    if design.cables:
        row.append(read.clamp_w(tools, board_w, normal()) if read.due(clock_s, dt, 0.5) else math.nan)
        row.append(math.nan)
    if rig.beside and beside and beside_heat:
        row.append(beside.mhz - rig.beside.gap_mhz)
        row.append(read.software_w(tools, beside.power_w, normal()))
        row.append(beside_heat.die_c + 0.2 * normal())
    if design.shared:
        row.append(read.software_w(tools, point.power_w, normal()))
    return row


def shown(design: RigDesign, rows: list[list[float]], rates_fps: Array) -> Array:
    """What the instruments show of the steps' rows: rounded, with the frame rates and what follows from other columns."""
    named = channels(design)
    values = np.array(rows, dtype=np.float64).reshape(len(rows), len(named))
    at = {channel.name: index for index, (channel, _) in enumerate(named)}
    values[:, at["frame rate"]] = rates_fps
    for index, (channel, decimals) in enumerate(named):
        if channel.name == CURRENT:
            # a clamp cannot show less than nothing
            values[:, at[CABLES]] = np.maximum(values[:, at[CABLES]], 0.0)
            values[:, index] = values[:, at[CABLES]] / CABLE_V
        if decimals is not None:
            values[:, index] = np.round(values[:, index], decimals)
    return values
