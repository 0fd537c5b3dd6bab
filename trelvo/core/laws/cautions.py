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
    "shared machine", "old board", "current sensing", "protection",
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


@dataclass(frozen=True)
class Caution:
    """why: what can happen; people: what people do; unknown: what Trelvo does not know; before_knobs: turned only after a yes"""

    key: CautionKey
    title: str
    why: str
    people: str
    unknown: str
    before_knobs: tuple[str, ...] = ()
    never: bool = False


FIRST = "Makers' limits and local rules come first, and licensed or trained people where the work asks for them."


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
    found: list[Caution] = []
    if up:
        found.append(
            Caution(
                "voltage", "More voltage wears silicon out, and can kill it at once",
                "Heat rises with the square of the voltage; above its maker's limit a chip ages in weeks, or dies.",
                "They set a ceiling as a guard rail before they start, raise it a step at a time, and watch temperature.",
                "Trelvo does not know your chip's limit: look it up. It says what to set and cannot see what was typed.",
                tuple(knob.key for knob in up),
            )
        )  # fmt: skip
    if limits:
        found.append(
            Caution(
                "power limit", "A raised power limit loads cables, connectors and board",
                "What is allowed is drawn. Limits raised by firmware or by soldering at the current sensing go unseen: readouts "
                "then show less than flows, and protection comes late.",
                "They raise it within what the maker's own tool allows, and leave soldering to those who do it for a living.",
                "Trelvo reads what the part reports. If the sensing was changed, every wattage is wrong, and so are its limits.",
                tuple(knob.key for knob in limits),
            )
        )  # fmt: skip
    if limits or (around.highest_w or 0) > CONNECTORS_W["8-pin"]:
        found.append(
            Caution(
                "connectors", "A power connector that is not seated melts: that is a fire",
                "A plug half in, or bent close behind it, carries the load through too little metal.",
                "They push every plug home, let the cable run straight for 3 to 4 cm, feel for heat after the "
                "first long load, and look again after every move.",
                "Trelvo sees watts, not plugs.",
            )
        )  # fmt: skip
    if around.stress_test:
        found.append(
            Caution(
                "heat", "A worst-case load on a weak cooler",
                "Stress tests draw far more than any use. A cooler that fails one may be right for what you do, but "
                "should not be left alone with it.",
                "They set a temperature guard rail first, stay in the room for the first quarter of an hour, and stop at the "
                "maker's limit.",
                "Trelvo stops a run at the limits you set; it cannot stop a machine that does not answer.",
            )
        )  # fmt: skip
    if is_cold(words, around.goal):
        found.append(
            Caution(
                "extreme cold", "Extreme cold: burns, and air without oxygen",
                "Liquid nitrogen boils at 77 K: splashes burn, and each litre becomes 694 litres of gas that displaces "
                "air. Nobody feels oxygen go: one faints first. Frost and condensation short boards out.",
                "Two people, trained, doors open and an oxygen alarm; gloves and face shield; insulated boards; never "
                "in a car or a lift together with the flask.",
                "Trelvo can do the sum for your room below. A sum is no alarm.",
                tuple(knob.key for knob in around.knobs if not knob.retired),
            )
        )  # fmt: skip
    if any(word in words for word in ("bare die", "spreader", "delid")):
        found.append(
            Caution(
                "heat spreader", "Taking a heat spreader off breaks chips",
                "Corners chip, parts beside the die are cut off, and the warranty ends.",
                "They use the tool made for that chip, or leave it.",
                "Trelvo does not know what lies under the lid.",
            )
        )  # fmt: skip
    flashed = _named(around, FIRMWARE_WORDS)
    if flashed or around.firmware_changed or _has(words, FIRMWARE_WORDS):
        found.append(
            Caution(
                "firmware", "Flashing firmware can leave a board dead",
                "A flash that breaks off, or the wrong file, and it does not start again.",
                "They save a copy first, know the second chip or the external way back before they begin, and never flash "
                "both chips.",
                "Trelvo does not flash anything, and cannot see whether a file fits.",
                flashed,
            )
        )  # fmt: skip
    sensing = _named(around, SENSING_WORDS)
    if sensing or _has(words, SENSING_WORDS):
        found.append(
            Caution(
                "current sensing", "Soldered current sensing hides the load from every protection",
                "The part reads less current than flows: its power limit, fan and protection act too late, and cables and "
                "connectors carry more than they are rated for.",
                "They leave it to people who solder for a living, and check cables with a clamp and connectors by touch.",
                "Trelvo reads what the part reports: every wattage, and every limit on it, is wrong by as much as was changed.",
                sensing,
            )
        )  # fmt: skip
    protection = _named(around, PROTECTION_WORDS)
    if protection or _has(words, PROTECTION_WORDS):
        found.append(
            Caution(
                "protection", "Without its protection a part can burn before anyone sees it",
                "Limits of current, voltage and temperature stop a fault within milliseconds. Without them, the next fault "
                "ends in a dead part, or in a fire.",
                "They leave every protection on. If one is off for one run, they stay with it, an extinguisher within reach.",
                "Trelvo's own limits act on readings once a second: far too slow to stand in for the part's own.",
                protection,
            )
        )  # fmt: skip
    if {"bus clock", "wait states"} & set(roles):
        found.append(
            Caution(
                "old board", "An old board runs everything from one clock",
                "Bus, disk and cards follow the bus clock: data can be written wrongly long before anything crashes.",
                "They work on a copy of the disk, and check files after each step.",
                "Trelvo does not see the disk.",
            )
        )  # fmt: skip
    found.append(
        Caution(
            "supply", "Never open a power supply",
            "Its capacitors hold mains voltage for minutes and longer after the plug is out.",
            "Nobody opens one. A supply under suspicion is swapped whole.",
            "", never=True,
        )
    )  # fmt: skip
    found.append(
        Caution(
            "warranty", "Warranty, and machines that are not yours alone",
            "Tuning may end the warranty. On a machine that is managed, shared or rented, others bear the risk too.",
            "They read the terms, ask whoever owns or manages it, and tell those who use it.",
            "Trelvo does not know whose machine this is.",
        )
    )  # fmt: skip
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
    says: str


def oxygen_after(room_m3: float, litres: float) -> OxygenSum:
    """Oxygen in a room after so many litres of liquid nitrogen have boiled off: 20.95 % (V − 0.694 L) / V.

    Source: gas suppliers' formula, from memory; no ventilation, gas mixed evenly. Raises ValueError for no room.
    """
    if room_m3 <= 0 or litres < 0:
        raise ValueError("a room has a volume above zero, and nobody has less than no nitrogen")
    share = OXYGEN * max(room_m3 - GAS_PER_LIQUID / 1000 * litres, 0.0) / room_m3
    below = share < ALARM
    says = f"{share:.1f} % oxygen would be left"
    says += f": below the usual alarm limit of {ALARM} %." if below else f"; the usual alarm limit is {ALARM} %."
    return OxygenSum(share, below, says)


@dataclass(frozen=True)
class ConnectorSum:
    """rated_w: of all of them; amperes: at 12 V, over the cables alone; share: of the cables' rating"""

    rated_w: float
    cables_w: float
    amperes: float
    share: float
    says: str


def connector_load(watts: float, connectors: Sequence[str], slot_w: float = 0.0) -> ConnectorSum:
    """The load on a card's power connectors.

    watts: that the card draws in all; slot_w: of them through the slot; connectors: names in `CONNECTORS_W`
    Source: ratings by PCI Express CEM, from memory; current by Ohm's law at 12 V. Raises ValueError for nonsense.
    """
    if (
        watts <= 0
        or slot_w < 0
        or slot_w > watts
        or any(one not in CONNECTORS_W for one in connectors)
        or not connectors
    ):
        raise ValueError("watts above zero, no more through the slot than in all, and known connectors")
    rated, cables = sum(CONNECTORS_W[one] for one in connectors), watts - slot_w
    share = cables / rated
    says = (
        f"{cables:.0f} W through cables rated for {rated:.0f} W: {cables / RAIL_V:.1f} A at 12 V, {share * 100:.0f} %."
    )
    if share > 1:
        says += " More than they are rated for: do not run this."
    elif share > HIGH_SHARE:
        says += " High: look at seating and bends, and feel for heat."
    if slot_w > CONNECTORS_W["slot"]:
        says += f" The slot is rated for {CONNECTORS_W['slot']:.0f} W."
    return ConnectorSum(rated, cables, cables / RAIL_V, share, says)
