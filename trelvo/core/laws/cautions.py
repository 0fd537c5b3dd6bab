"""Where the work can hurt someone or break something: which cautions apply, and the two sums that go with them.

Common practice where nothing else is named. Makers' limits, local rules and licensed or trained people always come first.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.cooling import is_cold
from trelvo.core.base.knobs import Knob

CautionKey = Literal[
    "heat", "voltage", "connectors", "power limit", "firmware", "heat spreader", "supply", "extreme cold", "warranty",
    "old board", "current sensing", "protection",
]  # fmt: skip

# Oxygen: a normal share of the air, and the share at which the usual alarm sounds. OSHA 29 CFR 1910.134, from memory.
OXYGEN, ALARM = 20.95, 19.5
# Litres of gas at 20 °C that a litre of liquid nitrogen makes. Gas suppliers' tables, from memory.
GAS_PER_LIQUID = 694.0
# What each connector is rated for, W. PCI Express CEM, from memory.
CONNECTORS_W: dict[str, float] = {"slot": 75.0, "6-pin": 75.0, "8-pin": 150.0, "12+4-pin": 600.0}
RAIL_V = 12.0
# From this share of a rating on, a load is said to be high. Common practice.
HIGH_SHARE = 0.8
# Words that name dangerous work, in a knob's name or anywhere in the description of the rig.
FIRMWARE_WORDS = ("firmware", "flash", "bios", "vbios", "rom")
SENSING_WORDS = ("shunt", "sense", "sensing", "solder", "soldered", "soldering", "resistor", "resistors")
PROTECTION_WORDS = (
    "protection",
    "protections",
    "ocp",
    "ovp",
    "otp",
    "opp",
    "failsafe",
    "prochot",
    "thermtrip",
    "safeguard",
)

# Of those, what is usual in the name of a part: soldered memory, a flash drive, an optical drive, surge protection.
USUAL_IN_PARTS = ("flash", "rom", "solder", "soldered", "soldering", "protection", "protections")


@dataclass(frozen=True)
class Caution:
    """before_knobs: keys of the knobs that are turned only after a yes; never: nobody should do it, so there is no yes to it"""

    key: CautionKey
    before_knobs: tuple[str, ...] = ()
    never: bool = False


@dataclass(frozen=True)
class Surroundings:
    """What cautions are chosen from. cooling, enclosure: as typed; stress_test: whether one is among the workloads

    highest_w: that was read, any instrument; goal: of the campaign
    note: of the build; build: names of its parts, and what else is typed of it
    firmware_changed: whether the firmware is another than in the build before
    """

    knobs: Sequence[Knob]
    goal: str
    cooling: str = ""
    enclosure: str = ""
    stress_test: bool = False
    highest_w: float | None = None
    system: str = ""
    note: str = ""
    build: str = ""
    firmware_changed: bool = False


def cautions_for(around: Surroundings) -> list[Caution]:
    """The cautions that this campaign touches, those that ask for a yes first."""
    roles = {knob.role: knob for knob in around.knobs if not knob.retired}
    raised = [knob for knob in around.knobs if not knob.retired and _raises(knob)]
    up = [knob for knob in raised if knob.facts.raised_caution == "voltage"]
    limits = [knob for knob in raised if knob.facts.raised_caution == "power limit"]
    words = f"{around.cooling} {around.enclosure} {around.note} {around.system} {around.build}".lower()

    def described(dangerous: Sequence[str]) -> bool:
        """Whether the description of the rig names such work; a part's name may hold some of these words for another reason."""
        own = f"{around.cooling} {around.enclosure} {around.note} {around.system}".lower()
        parts = [word for word in dangerous if word not in USUAL_IN_PARTS]
        return _has(own, dangerous) or _has(around.build.lower(), parts)

    found: list[Caution] = []
    if up:
        found.append(Caution("voltage", tuple(knob.key for knob in up)))
    if limits:
        found.append(Caution("power limit", tuple(knob.key for knob in limits)))
    if limits or (around.highest_w or 0) > CONNECTORS_W["8-pin"]:
        found.append(Caution("connectors"))
    if around.stress_test:
        found.append(Caution("heat"))
    if is_cold(words, around.goal):
        found.append(Caution("extreme cold", tuple(knob.key for knob in around.knobs if not knob.retired)))
    if any(word in words for word in ("bare die", "spreader", "delid")):
        found.append(Caution("heat spreader"))
    flashed = _named(around, FIRMWARE_WORDS)
    if flashed or around.firmware_changed or described(FIRMWARE_WORDS):
        found.append(Caution("firmware", flashed))
    sensing = _named(around, SENSING_WORDS)
    if sensing or described(SENSING_WORDS):
        found.append(Caution("current sensing", sensing))
    protection = _named(around, PROTECTION_WORDS)
    if protection or described(PROTECTION_WORDS):
        found.append(Caution("protection", protection))
    if {"bus clock", "wait states"} & set(roles):
        found.append(Caution("old board"))
    found.append(Caution("supply", never=True))
    found.append(Caution("warranty"))
    return found


def _has(text: str, words: Sequence[str]) -> bool:
    return any(re.search(rf"\b{word}\b", text) for word in words)


def _named(around: Surroundings, words: Sequence[str]) -> tuple[str, ...]:
    """Keys of the knobs whose name or key has one of these words."""
    turned = (knob for knob in around.knobs if not knob.retired)
    return tuple(knob.key for knob in turned if _has(f"{knob.key} {knob.name}".lower(), words))


def _raises(knob: Knob) -> bool:
    """Whether the knob can be turned above stock."""
    return knob.high > knob.stock + knob.step / 2


@dataclass(frozen=True)
class OxygenSum:
    """share: of oxygen left, percent, if all of it boils off at once with no air coming in; below: the usual alarm limit"""

    share: float
    below: bool


def oxygen_after(room_m3: float, litres: float) -> OxygenSum:
    """Oxygen in a room after so many litres of liquid nitrogen have boiled off: 20.95 % (V − 0.694 L) / V.

    Source: gas suppliers' formula, from memory; no ventilation, gas mixed evenly. Raises ValueError for no room.
    """
    if room_m3 <= 0 or litres < 0:
        raise ValueError("a room has a volume above zero, and nobody has less than no nitrogen")
    share = OXYGEN * max(room_m3 - GAS_PER_LIQUID / 1000 * litres, 0.0) / room_m3
    return OxygenSum(share, share < ALARM)


@dataclass(frozen=True)
class ConnectorSum:
    """rated_w: of all of them; amperes: at 12 V, over the cables alone; share: of the cables' rating

    load: what that share calls for; slot_above: whether more goes through the slot than it is rated for
    """

    rated_w: float
    cables_w: float
    amperes: float
    share: float
    load: Literal["usual", "high", "above rating"]
    slot_above: bool


def connector_load(watts: float, connectors: Sequence[str], slot_w: float = 0.0) -> ConnectorSum:
    """The load on a card's power connectors.

    watts: that the card draws in all; slot_w: of them through the slot; connectors: names in `CONNECTORS_W`
    Source: ratings by PCI Express CEM, from memory; current by Ohm's law at 12 V. Raises ValueError for nonsense.
    """
    if (
        watts <= 0
        or slot_w < 0
        or slot_w > watts
        or any(connector not in CONNECTORS_W for connector in connectors)
        or not connectors
    ):
        raise ValueError("watts above zero, no more through the slot than in all, and known connectors")
    rated, cables = sum(CONNECTORS_W[connector] for connector in connectors), watts - slot_w
    share = cables / rated
    load: Literal["usual", "high", "above rating"] = "usual"
    if share > HIGH_SHARE:
        load = "above rating" if share > 1 else "high"
    return ConnectorSum(rated, cables, cables / RAIL_V, share, load, slot_w > CONNECTORS_W["slot"])
