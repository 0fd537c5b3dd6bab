"""Cautions, and the two sums that go with them, in words."""

from collections.abc import Mapping
from dataclasses import dataclass

from trelvo.core.laws.cautions import ALARM, CONNECTORS_W, RAIL_V, Caution, CautionKey, ConnectorSum, OxygenSum

FIRST = "Makers' limits and local rules come first, and licensed or trained people where the work asks for them."


@dataclass(frozen=True)
class CautionText:
    """why: what can happen; people: what people do; unknown: what Trelvo does not know"""

    title: str
    why: str
    people: str
    unknown: str


TEXTS: Mapping[CautionKey, CautionText] = {
    "supply": CautionText(
        "Never open a power supply",
        "Its capacitors hold mains voltage for minutes and longer after the plug is out.",
        "Nobody opens one. A supply under suspicion is swapped whole.",
        "",
    ),
    "warranty": CautionText(
        "Warranty, and machines that are not yours alone",
        "Tuning may end the warranty. On a machine that is managed, shared or rented, others bear the risk too.",
        "They read the terms, ask whoever owns or manages it, and tell those who use it.",
        "Trelvo does not know whose machine this is.",
    ),
    "voltage": CautionText(
        "More voltage wears silicon out, and can kill it at once",
        "Heat rises with the square of the voltage; above its maker's limit a chip ages in weeks, or dies.",
        "They set a ceiling as a safety limit before they start, raise it a step at a time, and watch temperature.",
        "Trelvo does not know your chip's limit: look it up. It says what to set and cannot see what was typed.",
    ),
    "power limit": CautionText(
        "A raised power limit loads cables, connectors and board",
        "What is allowed is drawn. Limits raised by firmware or by soldering at the current sensing go unseen: readouts then show less than flows, and protection comes late.",
        "They raise it within what the maker's own tool allows, and leave soldering to those who do it for a living.",
        "Trelvo reads what the part reports. If the sensing was changed, every wattage is wrong, and so are its limits.",
    ),
    "connectors": CautionText(
        "A power connector that is not seated melts: that is a fire",
        "A plug half in, or bent close behind it, carries the load through too little metal.",
        "They push every plug home, let the cable run straight for 3 to 4 cm, feel for heat after the first long load, and look again after every move.",
        "Trelvo sees watts, not plugs.",
    ),
    "heat": CautionText(
        "A worst-case load on a weak cooler",
        "Stress tests draw far more than any use. A cooler that fails one may be right for what you do, but should not be left alone with it.",
        "They set a temperature safety limit first, stay in the room for the first quarter of an hour, and stop at the maker's limit.",
        "Trelvo stops a run at the limits you set; it cannot stop a machine that does not answer.",
    ),
    "extreme cold": CautionText(
        "Extreme cold: burns, and air without oxygen",
        "Liquid nitrogen boils at 77 K: splashes burn, and each litre becomes 694 litres of gas that displaces air. Nobody feels oxygen go: one faints first. Frost and condensation short boards out.",
        "Two people, trained, doors open and an oxygen alarm; gloves and face shield; insulated boards; never in a car or a lift together with the flask.",
        "Trelvo can do the sum for your room below. A sum is no alarm.",
    ),
    "heat spreader": CautionText(
        "Taking a heat spreader off breaks chips",
        "Corners chip, parts beside the die are cut off, and the warranty ends.",
        "They use the tool made for that chip, or leave it.",
        "Trelvo does not know what lies under the lid.",
    ),
    "firmware": CautionText(
        "Flashing firmware can leave a board dead",
        "A flash that breaks off, or the wrong file, and it does not start again.",
        "They save a copy first, know the second chip or the external way back before they begin, and never flash both chips.",
        "Trelvo does not flash anything, and cannot see whether a file fits.",
    ),
    "current sensing": CautionText(
        "Soldered current sensing hides the load from every protection",
        "The part reads less current than flows: its power limit, fan and protection act too late, and cables and connectors carry more than they are rated for.",
        "They leave it to people who solder for a living, and check cables with a clamp and connectors by touch.",
        "Trelvo reads what the part reports: every wattage, and every limit on it, is wrong by as much as was changed.",
    ),
    "protection": CautionText(
        "Without its protection a part can burn before anyone sees it",
        "Limits of current, voltage and temperature stop a fault within milliseconds. Without them, the next fault ends in a dead part, or in a fire.",
        "They leave every protection on. If one is off for one run, they stay with it, an extinguisher within reach.",
        "Trelvo's own limits act on readings once a second: far too slow to stand in for the part's own.",
    ),
    "old board": CautionText(
        "An old board runs everything from one clock",
        "Bus, disk and cards follow the bus clock: data can be written wrongly long before anything crashes.",
        "They work on a copy of the disk, and check files after each step.",
        "Trelvo does not see the disk.",
    ),
}


def caution_text(caution: Caution) -> CautionText:
    """A caution in words."""
    return TEXTS[caution.key]


def agreed_text(caution: Caution) -> str:
    """What somebody who says yes to a caution has read, as it is kept."""
    text = caution_text(caution)
    return f"{text.title}. {text.why} {text.people}"


def oxygen_text(left: OxygenSum) -> str:
    """How much oxygen would be left, beside the usual alarm limit."""
    limit = f": below the usual alarm limit of {ALARM} %." if left.below else f"; the usual alarm limit is {ALARM} %."
    return f"{left.share:.1f} % oxygen would be left{limit}"


def connectors_text(load: ConnectorSum) -> str:
    """The load on power connectors, and what it calls for."""
    of = f"{load.cables_w:.0f} W through cables rated for {load.rated_w:.0f} W"
    parts = [f"{of}: {load.amperes:.1f} A at {RAIL_V:g} V, {load.share * 100:.0f} %."]
    if load.load == "above rating":
        parts.append("More than they are rated for: do not run this.")
    elif load.load == "high":
        parts.append("High: look at seating and bends, and feel for heat.")
    if load.slot_above:
        parts.append(f"The slot is rated for {CONNECTORS_W['slot']:.0f} W.")
    return " ".join(parts)
