"""What a column's name hints at: its quantity, the part it reads, and whether it is the part's own reading."""

import re
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.figures import Part
from trelvo.core.registry.quantities import QUANTITIES, Quantity
from trelvo.exchange.logs.units import TELLING, header_unit, is_lone_letter

# main: the part's reading; spot: a hotter place of it, or one core of many; derived: a lowest, highest or mean of another column
Kind = Literal["main", "spot", "derived"]

# What is allowed or wished for is no reading, nor is a share of it, nor a yes or no.
_NO_READING = (
    r"limit|target|\bcap\b|capped|set ?point|\bset\b|setting|throttl|\bflag\b|reason|allowed|request|offset|margin|headroom"
    r"|slowdown|shutdown|critical|\bcrit\b|threshold|alarm|warn"
    r"|\bmax(imum)? (power|clock|temp|freq|fan)|grenze|sollwert|\bvid\b|\bboost state\b|\bmultiplier\b|\bratio\b"
)
_HINTS: tuple[tuple[str, Quantity], ...] = (
    (_NO_READING, "other"),
    (r"(power|watt|draw|leistung).*(%|percent|pct)|(%|percent).*(power|watt)|\btdp\b", "other"),
    *(
        (facts.header, facts.quantity)
        for facts in sorted(QUANTITIES.values(), key=lambda one: one.header_rank)
        if facts.header
    ),
)
_PARTS: tuple[tuple[str, Part], ...] = (
    (r"\broom\b|ambient|environment|outside|raum", "room"),
    (r"wall|mains|plug|socket|whole|system power|total system|machine", "whole machine"),
    (r"psu|\bsupply\b|netzteil", "supply"),
    (r"\bmem|vram|dram|dimm|memory|speicher", "memory"),
    (
        r"vrm|\bmos|motherboard|mainboard|board(?! power)|chipset|\bpch\b|case|chassis|inlet|intake|exhaust|\bvr\b",
        "board",
    ),
    (r"gpu|graphics|\bcard\b|\bvga\b|video", "graphics"),
    (r"cpu|processor|\bp[- ]?core|\be[- ]?core|\bcore #?\d|\bccd|\bthread", "processor"),
)
# Temperatures of things that are no part of a rig.
_ELSEWHERE = r"ssd|disk|drive|nvme|hdd|water|coolant|liquid|radiator|\bloop\b"
_SPOT = (
    r"hot ?spot|junction|\bpeak\b|\bcore ?#?\d+|\b[pe][- ]?core ?#?\d+|\bccd ?\d"
    r"|\bthread ?#?\d+|\bcpu ?\d+\b|\bfan ?[2-9]\b"
)
_DERIVED = r"\b(min|max|avg|average|minimum|maximum|highest|lowest|mean|1 ?% low|0\.1 ?% low)\b"


@dataclass(frozen=True)
class Named:
    """What a name says. part: None where it names none; unit: the unit named, None where it names none"""

    quantity: Quantity
    part: Part | None
    kind: Kind
    unit: str | None


def plain(header: str) -> str:
    return re.sub(r"[_.]+", " ", header.strip().lower()).strip()


def read_name(header: str, row_unit: str | None = None, cell_unit: str | None = None) -> Named:
    """What a column's name hints at, with the unit in the row below the names or behind its numbers."""
    words = plain(header)
    quantity = guess_quantity(header)
    own = header_unit(header)
    unit = cell_unit or row_unit or own
    if (
        quantity == "other"
        and unit in TELLING
        and not re.search(_NO_READING, words)
        and not (unit == own and is_lone_letter(header))
    ):
        quantity = TELLING[unit]
    if quantity in ("power", "temperature", "core clock", "memory clock", "voltage") and (
        row_unit == "%" or cell_unit == "%"
    ):
        # a share of a limit
        quantity = "other"
    if quantity == "fan" and unit == "rpm":
        quantity = "fan speed"
    if quantity == "temperature" and re.search(_ELSEWHERE, words):
        quantity = "other"
    part = next((part for pattern, part in _PARTS if re.search(pattern, words)), None)
    if quantity == "power" and part == "board" and not re.search(r"motherboard|mainboard|vrm|chipset", words):
        # the whole card's power is called so
        part = None
    if quantity in ("memory clock", "memory in use") and part == "memory":
        # it is the tuned part's own memory unless another part is named beside it
        part = next((part for pattern, part in _PARTS[-2:] if re.search(pattern, words)), None)
    if quantity == "temperature" and part is None and re.fullmatch(r"(inlet|intake|exhaust|case|chassis).*", words):
        part = "board"
    kind: Kind = "spot" if re.search(_SPOT, words) else "derived" if re.search(_DERIVED, words) else "main"
    usable = unit if unit is not None and unit in QUANTITIES[quantity].units() else None
    return Named(quantity, part, kind, usable)


def guess_quantity(header: str) -> Quantity:
    """The quantity that a header's words hint at; "other" when none does."""
    lowered = header.strip().lower()
    return next(
        (quantity for pattern, quantity in _HINTS if re.search(pattern, lowered) or re.search(pattern, plain(header))),
        "other",
    )


def looks_like_frame_time(header: str) -> bool:
    return bool(
        re.search(r"frame[ _-]*time|ms[ _/-]*(per|between)|per frame|between|frame ?duration", header.strip().lower())
    )
