"""How the header of a log's column hints at its quantity and unit."""

import re

from trelvo.core.base.figures import KINDS, Quantity, QuantityKind

FRAME_TIME = QuantityKind("ms", {"s": (1000.0, 0.0), "µs": (0.001, 0.0)}, 0, 60_000, 2)

TIME_FORMATS = ("seconds", "milliseconds", "minutes:seconds", "clock time", "date and time")

_HINTS: tuple[tuple[str, Quantity], ...] = (
    # what is allowed or wished is no reading
    (r"limit|target|\bcap\b|set ?point|throttl|\bflag\b|reason|allowed|maximum|\bmax\b.*setting", "other"),
    (r"(power|watt|draw).*(%|percent)", "other"),
    (r"temp|°c|°f|\bdeg|hot ?spot|junction", "temperature"),
    (r"power|watt|\bdraw\b|_m?w$|\bm?w\b", "power"),
    (r"\bamps?\b|_m?a$|[\[(]m?a[\])]|\bcurrent$", "current"),
    (r"volt|vcore|_m?v$|\bm?v\b", "voltage"),
    (r"rpm", "fan speed"),
    (r"fan", "fan"),
    (r"db\(?a|noise|loudness", "noise"),
    (r"(mem|vram).*(used|usage|in use|alloc)", "memory in use"),
    (r"load|usage|util|busy", "load"),
    (r"(mem|vram).*(clock|mhz|freq)|(clock|freq).*mem", "memory clock"),
    (r"clock|mhz|ghz|freq", "core clock"),
    (r"fps|frame ?rate|frames per", "frame rate"),
)

_UNIT_HINTS: tuple[tuple[str, str], ...] = (
    (r"ghz", "GHz"),
    (r"mhz", "MHz"),
    (r"\bmv\b|_mv$|[\[(]mv", "mV"),
    (r"_ma$|[\[(]ma", "mA"),
    (r"\bmw\b|_mw$", "mW"),
    (r"°f|fahrenheit|_f$", "°F"),
)


def plain(header: str) -> str:
    return header.strip().lower()


def guess_quantity(header: str) -> Quantity:
    """The quantity that a header's words hint at; "other" when none does."""
    return next((quantity for pattern, quantity in _HINTS if re.search(pattern, plain(header))), "other")


def guess_unit(header: str, quantity: Quantity) -> str:
    """The unit that a header's words hint at, else the quantity's own."""
    units = KINDS[quantity].units()
    hinted = (unit for pattern, unit in _UNIT_HINTS if re.search(pattern, plain(header)) and unit in units)
    return next(hinted, KINDS[quantity].unit)


def looks_like_frame_time(header: str) -> bool:
    return bool(re.search(r"frame[ _-]*time|ms[ _/-]*(per|between)|per frame|between", plain(header)))


def names_milliseconds(header: str) -> bool:
    return bool(re.search(r"\bms\b|_ms$|milli|[\[(]ms[\])]", plain(header)))


def names_seconds(header: str) -> bool:
    return bool(re.search(r"\bs\b|_s$|\bsec|second|[\[(]s[\])]", plain(header)))


def looks_like_time(header: str) -> bool:
    return bool(re.search(r"^(time|date|stamp|elapsed|t$|t[ _\[(]|clock time|second|ms$)|time ?stamp", plain(header)))
