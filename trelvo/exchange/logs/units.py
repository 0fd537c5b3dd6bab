"""Units as programs write them: in a column's name, in a row of units, or behind each number."""

import re

from trelvo.core.registry.quantities import QUANTITIES, Quantity

# How a unit may be written, in lower case, and how Trelvo calls it. MW cannot be megawatts in a machine.
SPELLINGS: dict[str, str] = {
    **{unit.lower(): unit for kind in QUANTITIES.values() for unit in kind.units() if unit and unit != "0 to 1"},
    **dict.fromkeys(("c", "º c", "ºc", "° c", "degc", "deg c", "deg. c", "celsius", "℃", "degrees c"), "°C"),
    **dict.fromkeys(("f", "ºf", "° f", "degf", "deg f", "deg. f", "fahrenheit", "℉", "degrees f"), "°F"),
    **dict.fromkeys(("kelvin", "deg k"), "K"),
    **dict.fromkeys(("watt", "watts"), "W"),
    **dict.fromkeys(("milliwatt", "milliwatts"), "mW"),
    **dict.fromkeys(("kilowatt", "kilowatts"), "kW"),
    **dict.fromkeys(("volt", "volts"), "V"),
    **dict.fromkeys(("millivolt", "millivolts"), "mV"),
    **dict.fromkeys(("uv", "μv", "microvolt", "microvolts"), "µV"),
    **dict.fromkeys(("uw", "μw", "microwatt", "microwatts"), "µW"),
    **dict.fromkeys(("amp", "amps", "ampere", "amperes"), "A"),
    **dict.fromkeys(("percent", "pct", "prozent"), "%"),
    **dict.fromkeys(("r/min", "1/min", "min-1", "u/min"), "rpm"),
    **dict.fromkeys(("db", "dba", "db a", "dbа"), "dB(A)"),
    **dict.fromkeys(("frames/s", "frames per second", "1/s"), "fps"),
    **dict.fromkeys(("gigahertz",), "GHz"),
    **dict.fromkeys(("megahertz",), "MHz"),
    **dict.fromkeys(("sec", "secs", "second", "seconds", "s"), "s"),
    **dict.fromkeys(("ms", "msec", "milliseconds", "millisecond", "millis"), "ms"),
    **dict.fromkeys(("us", "µs", "μs", "usec", "microseconds", "microsecond", "micros"), "µs"),
    **dict.fromkeys(("ns", "nsec", "nanoseconds", "nanosecond", "nanos"), "ns"),
    **dict.fromkeys(("min", "minutes", "minute"), "min"),
    **dict.fromkeys(("h", "hours", "hour", "hrs"), "h"),
    **dict.fromkeys(("d", "days", "day"), "d"),
}
TIME_UNITS = frozenset({"s", "ms", "µs", "ns", "min", "h", "d"})
# Units that belong to one quantity: what a column with such cells is, whatever its name. Of two clocks it is the core's.
TELLING: dict[str, Quantity] = {
    unit: facts.quantity
    for facts in reversed(list(QUANTITIES.values()))
    for unit in facts.units()
    if unit not in ("", "%", "0 to 1")
}


def known_unit(word: str) -> str | None:
    """The unit that a word stands for, however it is written; None for any other word."""
    return SPELLINGS.get(word.strip().strip("[](){}").strip().lower())


def header_unit(header: str) -> str | None:
    """The unit that a column's name carries: in brackets, behind a comma or slash, or as its last word ("core_mhz")."""
    lowered = header.strip().lower()
    # the brackets are part of the unit
    if re.search(r"db ?\(a\)", lowered):
        return "dB(A)"
    if re.search(r"frames? (per|a) second|frames?/s", lowered):
        return "fps"
    if re.search(r"\bper\b", lowered):
        return None
    for inner in reversed(re.findall(r"[\[({]([^\[\](){}]*)[\])}]", lowered)):
        if unit := known_unit(inner):
            return unit
    words = re.split(r"[\s_,/|:.-]+", lowered)
    if len(words) > 1 and (unit := known_unit(words[-1])):
        return unit
    if found := re.search(r"%|(?:^|[^a-z])(?:° ?[cf]|[mgk]hz|rpm|fps|fahrenheit|celsius|kelvin)(?![a-z])", lowered):
        return known_unit(re.sub(r"^[^a-z°%]", "", found.group(0)))
    # a name that is nothing but a unit
    return known_unit(lowered) if len(lowered) > 1 else None


def is_lone_letter(header: str) -> bool:
    """Whether the unit is one letter behind a space that often numbers things: "Sensor A" need not be amperes."""
    return bool(re.search(r"\s[acfks]\s*$", header.strip().lower()))
