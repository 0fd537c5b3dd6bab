"""Knob roles: one typed row for each, with everything that other modules need to know about it.

Forms, climb, triage, keep, cautions, log import and quick line read this table. Common practice where no source is named.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal, get_args

Role = Literal[
    "power limit", "core clock", "memory clock", "voltage", "curve point", "load line", "multiplier", "bus clock",
    "wait states", "fan", "core count", "other",
]  # fmt: skip
ROLES: tuple[Role, ...] = get_args(Role)

# What raising a knob does to stability.
Effect = Literal["endangers", "helps", "neutral"]
Group = Literal["power", "clock", "memory", "other", "voltage", "line", "fan"]

FREQUENCY = ("Hz", "kHz", "MHz", "GHz", "MT/s", "Mbps", "Gbps")
VOLTS = ("µV", "uV", "mV", "V")
WATTS = ("mW", "W", "kW")
SPEED = ("rpm",)
ANY_OTHER = ("", "step", "steps", "level", "levels", "cycles", "clk", "T", "ns")


@dataclass(frozen=True)
class RoleFacts:
    """Everything about one role.

    raising: what a higher value does to stability
    tested: whether a stability test can find its limit; a fan is set by noise and heat
    group: place in the order of turning; moves: word of the figure that should follow it ("" for none)
    units: units such a knob can have; words: what its key or name contains; with_words: words that must also be there
    usual_step: a usual step of such a knob and its unit, None where nothing is usual
    processor: True where only a processor or its board has such a knob
    raised_caution: key of the caution that raising it above stock requires ("" for none)
    """

    role: Role
    raising: Effect
    group: Group
    tested: bool = True
    moves: str = ""
    units: tuple[str, ...] = ()
    words: tuple[str, ...] = ()
    usual_step: tuple[float, str] | None = None
    processor: bool = False
    raised_caution: Literal["", "voltage", "power limit"] = ""


_ROWS: tuple[RoleFacts, ...] = (
    RoleFacts(
        "power limit", "neutral", "power", moves="power_w", units=("%", *WATTS, "A"),
        words=("power", "limit", "cap", "watt", "watts", "tdp", "tgp", "ppt", "pl", "pl1", "pl2", "current limit"),
        usual_step=(2.0, "%"), raised_caution="power limit",
    ),
    RoleFacts(
        "core clock", "endangers", "clock", moves="core_mhz", units=(*FREQUENCY, "%"),
        words=("core", "clock", "gpu", "cpu", "frequency", "shader"), usual_step=(15.0, "MHz"),
    ),
    RoleFacts(
        "memory clock", "endangers", "memory", moves="memory_mhz", units=(*FREQUENCY, "%", "x"),
        words=("memory", "mem", "ram", "vram"), usual_step=(25.0, "MHz"),
    ),
    RoleFacts(
        "voltage", "helps", "voltage", moves="voltage_v", units=(*VOLTS, "%"),
        words=("voltage", "volt", "volts", "vcore", "vdd", "vdimm", "vid", "undervolt", "offset"),
        usual_step=(5.0, "mV"), raised_caution="voltage",
    ),
    RoleFacts(
        "curve point", "helps", "voltage", moves="voltage_v", units=VOLTS,
        words=("curve", "cap", "ceiling", "vf", "v f", "voltage limit", "max voltage", "maximum voltage"),
        usual_step=(5.0, "mV"), raised_caution="voltage",
    ),
    RoleFacts(
        "load line", "helps", "line", moves="voltage_v", units=(*ANY_OTHER, "%", "mOhm", "mΩ"),
        words=("load line", "loadline", "llc", "line"), processor=True, raised_caution="voltage",
    ),
    RoleFacts(
        "multiplier", "endangers", "clock", moves="core_mhz", units=("x", ""),
        words=("multiplier", "mult", "multi", "ratio"), usual_step=(0.4, "x"), processor=True,
    ),
    RoleFacts(
        "bus clock", "endangers", "clock", moves="core_mhz", units=FREQUENCY,
        words=("bus", "bclk", "fsb", "base clock"), usual_step=(1.0, "MHz"), processor=True,
    ),
    RoleFacts(
        "wait states", "helps", "memory", units=ANY_OTHER,
        words=("wait", "ws", "timing", "timings", "latency", "cas", "cl", "tcl", "trcd", "trp", "tras", "trfc"), processor=True,
    ),
    RoleFacts(
        "fan", "helps", "fan", tested=False, moves="fan_rpm", units=("%", *SPEED, *ANY_OTHER),
        words=("fan", "fans", "pump", "blower", "cooler", "cooling"),
    ),
    RoleFacts(
        "core count", "endangers", "other", units=ANY_OTHER,
        words=("cores", "core count", "threads", "units"), processor=True,
    ),
    RoleFacts("other", "neutral", "other"),
)  # fmt: skip
FACTS: Mapping[Role, RoleFacts] = MappingProxyType({row.role: row for row in _ROWS})
