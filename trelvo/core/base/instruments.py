"""Instruments: where a reading was taken, how far it can be trusted, and which of several counts."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Literal, NamedTuple, get_args

from trelvo.core.base.deviations import Z
from trelvo.core.base.figures import FigureKey, Part
from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import Quantity

Point = Literal["software", "cables", "wall", "unknown"]

POINT_MEANING: dict[Point, str] = {
    "software": "what the part itself reports",
    "cables": "a clamp on the supply cables; misses what the slot delivers",
    "wall": "a meter at the wall; the whole rig and the supply's losses",
    "unknown": "not written down",
}

InstrumentKind = Literal["own report", "clamp", "wall meter", "thermometer", "sound meter", "other"]
INSTRUMENT_KINDS: tuple[InstrumentKind, ...] = get_args(InstrumentKind)
Trust = Literal["trusted", "suspect", "wrong"]
TRUSTS: tuple[Trust, ...] = get_args(Trust)

# Which measuring point of power a kind of instrument reads at.
POINT_OF: dict[InstrumentKind, Point] = {"own report": "software", "clamp": "cables", "wall meter": "wall"}
KIND_AT: dict[Point, InstrumentKind] = {point: kind for kind, point in POINT_OF.items()}
# What is read there, where it is not the tuned part alone.
PART_AT: dict[Point, Part] = {"wall": "whole machine"}
NAME_AT: dict[Point, str] = {
    "software": "The part's own report",
    "cables": "Clamp on the cables",
    "wall": "Meter at the wall",
}


@dataclass(frozen=True)
class Doubt:
    """How unsure an instrument's correction is: one error, the same in everything that it reads, so that no further run takes it
    away, but most of it falls out of a comparison with itself.

    Readings are corrected ones, reading · factor + offset, in their quantity's unit; deviations are standard ones.
    Source: propagation of uncertainty to first order (GUM, from memory).
    """

    offset: float
    offset_sd: float
    factor: float
    factor_sd: float

    def of_level(self, value: float) -> float:
        """Deviation of a reading by itself."""
        return math.hypot(self.offset_sd, (value - self.offset) / self.factor * self.factor_sd)

    def of_difference(self, first: float, second: float) -> float:
        """Deviation of one reading less another: the offset falls out."""
        return abs(first - second) / self.factor * self.factor_sd

    def of_ratio(self, first: float, second: float) -> float:
        """Deviation of ln(first / second), both above zero: without an offset, the factor falls out."""
        by_offset = (1 / first - 1 / second) * self.offset_sd
        by_factor = self.offset / self.factor * (1 / second - 1 / first) * self.factor_sd
        return math.hypot(by_offset, by_factor)


def half_of(first: tuple[float, Doubt | None], less: tuple[float, Doubt | None] | None = None) -> float:
    """95 % half width that corrections leave to a reading, or to one less another; 0 where they are exact.

    first, less: each a corrected reading, and how unsure its instrument's correction is; the same instrument has the same doubt
    """
    value, doubt = first
    alone = doubt.of_level(value) if doubt else 0.0
    if less is None:
        return Z * alone
    other, others = less
    if doubt is not None and doubt == others:
        return Z * doubt.of_difference(value, other)
    return Z * math.hypot(alone, others.of_level(other) if others else 0.0)


@dataclass(frozen=True)
class Instrument:
    """Something that reads one quantity at one place.

    resolution, offset, offset_sd: in the quantity's unit; a corrected reading is reading · factor + offset
    trust_since: from when on `trust` holds; None: always
    """

    id: int
    name: str
    kind: InstrumentKind
    quantity: Quantity
    part: Part
    resolution: float | None = None
    offset: float = 0.0
    offset_sd: float = 0.0
    factor: float = 1.0
    factor_sd: float = 0.0
    trust: Trust = "trusted"
    trust_since: datetime | None = None

    @property
    def point(self) -> Point:
        return POINT_OF.get(self.kind, "unknown")

    @property
    def corrects(self) -> bool:
        return self.offset != 0 or self.factor != 1

    @cached_property
    def doubt(self) -> Doubt | None:
        """None where its correction is exact, or none is known."""
        unsure = self.offset_sd > 0 or self.factor_sd > 0
        return Doubt(self.offset, self.offset_sd, self.factor, self.factor_sd) if unsure else None

    def counts_at(self, moment: datetime) -> bool:
        """Whether what it read at that moment may enter a mean."""
        return self.trust != "wrong" or (self.trust_since is not None and moment < self.trust_since)

    def corrected(self, reading: float) -> float:
        return reading * self.factor + self.offset


class Reading(NamedTuple):
    """A figure of a run as it was read: value in its quantity's own unit, and by which instrument (None: not said)."""

    key: FigureKey
    value: float
    instrument_id: int | None = None


@dataclass(frozen=True)
class Counted:
    """The reading that counts for a figure: corrected where its instrument has a correction; by which instrument."""

    value: float
    instrument: Instrument | None
    corrected: bool


def check_instrument(instrument: Instrument, where: str = "") -> list[Problem]:
    """What is wrong with an instrument's description; empty when it can be used. where: prefix of the field names"""
    problems = []
    if not instrument.name.strip():
        problems.append(Problem(f"{where}name", "instrument_without_name"))
    if not (math.isfinite(instrument.factor) and 0.1 <= instrument.factor <= 10):
        problems.append(Problem(f"{where}factor", "factor_out_of_range", {"factor": instrument.factor}))
    for field in ("offset", "offset_sd", "factor_sd"):
        if not math.isfinite(getattr(instrument, field)):
            problems.append(Problem(f"{where}{field}", "not_a_number_or_zero"))
    for field in ("offset_sd", "factor_sd"):
        if getattr(instrument, field) < 0:
            problems.append(Problem(f"{where}{field}", "negative_uncertainty"))
    if instrument.resolution is not None and not (math.isfinite(instrument.resolution) and instrument.resolution > 0):
        problems.append(Problem(f"{where}resolution", "resolution_not_above_zero"))
    if instrument.quantity == "other":
        problems.append(Problem(f"{where}quantity", "instrument_without_quantity"))
    return problems


def usual_reader(
    instruments: Sequence[Instrument], chosen: Mapping[Quantity, int], quantity: Quantity, moment: datetime
) -> int | None:
    """Who is taken to have read a quantity where nobody says so: the instrument that counts, else the oldest trusted one."""
    own = [instrument for instrument in instruments if instrument.quantity == quantity and instrument.counts_at(moment)]
    if any(one.id == chosen.get(quantity) for one in own):
        return chosen[quantity]
    return min((one.id for one in own if one.trust == "trusted"), default=None)


def counted(
    readings: Sequence[Reading],
    instruments: Mapping[int, Instrument],
    chosen: Mapping[Quantity, int],
    moment: datetime,
) -> dict[FigureKey, Counted]:
    """The figures of one run as they count: one reading each, none by an instrument that was wrong at that moment.

    chosen: which instrument counts for a quantity. Where it did not read, or none is chosen: the older one; a reading by
    nobody in particular comes last.
    """
    found: dict[FigureKey, Counted] = {}

    def rank(reading: Reading) -> tuple[bool, bool, int]:
        i = reading.instrument_id
        return i is None or i != chosen.get(reading.key.quantity), i is None, i or 0

    for reading in sorted(readings, key=rank) if len(readings) > 1 else readings:
        if reading.key in found:
            continue
        instrument = instruments.get(reading.instrument_id) if reading.instrument_id is not None else None
        if instrument is None:
            found[reading.key] = Counted(reading.value, None, False)
        elif instrument.counts_at(moment):
            value = instrument.corrected(reading.value) if instrument.corrects else reading.value
            found[reading.key] = Counted(value, instrument, instrument.corrects)
    return found
