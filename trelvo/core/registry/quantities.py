"""Physical quantities that are read on a machine: one typed row for each.

Forms, tables, log import, safety limits, live charts and benches take unit, range, decimals and names from here. What is usual
and what is possible is common practice.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal

Quantity = Literal[
    "core clock", "memory clock", "voltage", "power", "energy", "current", "temperature", "fan", "fan speed", "noise", "load",
    "memory in use", "frame rate", "other",
]  # fmt: skip
UNBOUNDED = math.inf


@dataclass(frozen=True)
class QuantityFacts:
    """Everything about one quantity.

    unit: its own; others: other units with (factor, offset) to it; low, high: what is physically possible, in its own unit
    decimals: how many a reading carries
    usual: what machines read idle or under load, from old boards to large cards; outside it a reading is possible, and asked
    about where its unit is not named
    never_zero: a reading of exactly zero among others is none: the sensor did not answer
    above_zero: a reading of zero or below holds nothing
    header: pattern for a log's column of it; header_rank: patterns are tried in this order ("fan speed" has "fan" in it)
    live: where its chart stands while a run goes on: 1 to 6 always in sight, above that unfolded
    own_scale: every channel has a chart of its own: other measuring points, or other chips
    """

    quantity: Quantity
    unit: str
    others: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    low: float = -UNBOUNDED
    high: float = UNBOUNDED
    decimals: int = 2
    usual: tuple[float, float] = (-UNBOUNDED, UNBOUNDED)
    never_zero: bool = False
    above_zero: bool = False
    header: str = ""
    header_rank: int = 0
    live: int = 99
    own_scale: bool = False

    def units(self) -> dict[str, tuple[float, float]]:
        """Every unit with factor and offset to the quantity's own."""
        return {self.unit: (1.0, 0.0), **self.others}


_HERTZ = {"GHz": (1000.0, 0.0), "kHz": (0.001, 0.0), "Hz": (1e-6, 0.0)}
_BYTES = {
    "MB": (0.001, 0.0), "KB": (1e-6, 0.0), "GiB": (1.073741824, 0.0), "MiB": (0.001048576, 0.0), "KiB": (1.024e-6, 0.0),
}  # fmt: skip
_SHARE = {"0 to 1": (100.0, 0.0)}

_ROWS: tuple[QuantityFacts, ...] = (
    QuantityFacts(
        "core clock", "MHz", _HERTZ, 0, 20_000, 0, (4, 9000), never_zero=True, live=1, own_scale=True,
        header=r"clock|[mgk]hz|freq|takt\b|fréquence|frecuencia", header_rank=11,
    ),
    QuantityFacts(
        "memory clock", "MHz", _HERTZ, 0, 40_000, 0, (4, 30_000), never_zero=True, live=10,
        header=r"(mem|vram|dram).*(clock|[mgk]hz|freq|takt)|(clock|freq|takt).*(mem|vram)", header_rank=10,
    ),
    QuantityFacts(
        "voltage", "V", {"mV": (0.001, 0.0), "µV": (1e-6, 0.0)}, 0, 20, 3, (0.2, 13), never_zero=True, live=4,
        header=r"volt|vcore|_m?v$|\bm?v\b|spannung|\btension\b|tensión", header_rank=5,
    ),
    QuantityFacts(
        "power", "W", {"mW": (0.001, 0.0), "kW": (1000.0, 0.0), "µW": (1e-6, 0.0)}, 0, 3000, 1, (0.5, 2500),
        never_zero=True, above_zero=True, live=3, own_scale=True,
        header=r"power|watt|\bdraw\b|_m?w$|[\[(][mk]?w[\])]|leistung|puissance|potencia", header_rank=2,
    ),
    QuantityFacts(
        "energy", "J", {"kJ": (1000.0, 0.0), "Wh": (3600.0, 0.0), "kWh": (3.6e6, 0.0)}, 0, 1e10, 0, above_zero=True,
        header=r"joule|energy|\bk?wh\b", header_rank=13,
    ),
    QuantityFacts(
        "current", "A", {"mA": (0.001, 0.0)}, 0, 500, 1, (0.05, 500), live=7,
        header=r"\bamps?\b|_m?a$|[\[(]m?a[\])]|\bcurrent\b|strom\b", header_rank=4,
    ),
    QuantityFacts(
        "temperature", "°C", {"°F": (5 / 9, -160 / 9), "K": (1.0, -273.15)}, -200, 150, 1, (5, 112), never_zero=True,
        live=2,
        header=r"temp|°c|°f|\bdeg|hot ?spot|junction|celsius|fahrenheit|kelvin|température|\bambient\b", header_rank=1,
    ),
    QuantityFacts(
        "fan", "%", _SHARE, 0, 110, 0, (0, 100), live=6, header=r"fan|lüfter|ventilat|\bpump\b",
        header_rank=7,
    ),
    QuantityFacts(
        "fan speed", "rpm", {}, 0, 30_000, 0, (50, 20_000), live=11, header=r"rpm|tach|drehzahl", header_rank=6,
    ),
    QuantityFacts(
        "noise", "dB(A)", {}, 0, 140, 1, (10, 100), header=r"db\(?a|noise|loudness|\bsound\b", header_rank=3,
    ),
    QuantityFacts(
        "load", "%", _SHARE, 0, 110, 0, (0, 100.5), live=8, header=r"load|usage|util|busy|auslastung", header_rank=9,
    ),
    QuantityFacts(
        "memory in use", "GB", _BYTES, 0, 10_000, 2, (0.05, 1000),
        header=r"(mem|vram|ram\b).*(used|usage|in use|alloc|commit)", header_rank=8,
    ),
    QuantityFacts(
        "frame rate", "fps", {}, 0, 100_000, 1, (1, 3000), above_zero=True, live=9,
        header=r"fps|frame ?rate|frames per|frames/s", header_rank=12,
    ),
    QuantityFacts("other", "", live=12),
)  # fmt: skip
QUANTITIES: Mapping[Quantity, QuantityFacts] = MappingProxyType({row.quantity: row for row in _ROWS})
# Frame by frame, beside the quantities: a log's column and a live channel, never a figure.
FRAME_TIME = QuantityFacts(
    "other", "ms", {"s": (1000.0, 0.0), "µs": (0.001, 0.0), "ns": (1e-6, 0.0)}, 0, 60_000, 2, (0.2, 1000), live=5
)
