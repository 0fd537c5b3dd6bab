"""Safety limits: limits that stop a run, checked on every reading; and the voltage ceiling that a setting must not pass
unasked."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import Quantity

Kind = Literal["temperature", "voltage", "power", "current", "hours", "fan floor", "voltage ceiling"]


@dataclass(frozen=True)
class Nature:
    """What a kind of safety limit watches: a quantity of the bench's channels, its unit, and limits that make sense."""

    quantity: Quantity | None
    unit: str
    low: float
    high: float
    means: str


NATURES: dict[Kind, Nature] = {
    "temperature": Nature("temperature", "°C", 20, 130, "no reading of a temperature above this"),
    "voltage": Nature("voltage", "V", 0.3, 20, "no reading of a voltage above this"),
    "power": Nature("power", "W", 1, 3000, "no reading of power above this"),
    "current": Nature("current", "A", 0.1, 200, "no reading of a connector's current above this"),
    "hours": Nature(None, "h", 0.001, 720, "no run longer than this"),
    "fan floor": Nature("fan", "%", 0, 100, "no reading of a fan below this"),
    "voltage ceiling": Nature(None, "", -2000, 2000, "no setting beyond this without a typed yes"),
}


@dataclass(frozen=True)
class SafetyLimit:
    """A limit in the unit of its kind.

    channel: name of the one channel it watches. Left empty, temperatures, voltages, currents and fans are watched in
    every channel, and power in the first one (a meter at the wall and a card cannot share a limit). For the voltage ceiling:
    key of the knob, whose unit the limit is in.
    """

    kind: Kind
    limit: float
    channel: str = ""


@dataclass(frozen=True)
class Breach:
    """The first reading beyond a safety limit: which safety limit, in which channel, when (seconds into the run), and the
    reading."""

    safety_limit: SafetyLimit
    channel: str
    at_s: float
    reading: float

    @property
    def says(self) -> Message:
        """What happened, with its numbers."""
        if self.safety_limit.kind == "hours":
            return message("run_lasted_too_long", hours=self.safety_limit.limit, at_s=self.at_s)
        return message(
            "below_the_floor" if self.safety_limit.kind == "fan floor" else "above_the_limit",
            channel=self.channel,
            reading=self.reading,
            limit=self.safety_limit.limit,
            unit=NATURES[self.safety_limit.kind].unit,
            at_s=self.at_s,
        )


# The lowest temperature limit where the part is cooled below the room. Nitrogen boils at -196 °C (NIST, from memory).
COLD_C = -200.0


def check_safety_limit(
    safety_limit: SafetyLimit, where: str, knobs: Sequence[Knob] = (), *, cold: bool = False
) -> list[Problem]:
    """What is wrong with a safety limit; empty when it can be kept.

    where: prefix of the field names ("safety limits.0"); cold: whether the part is cooled below the room
    """
    nature = NATURES[safety_limit.kind]
    if cold and safety_limit.kind == "temperature":
        nature = replace(nature, low=COLD_C)
    if not math.isfinite(safety_limit.limit):
        return [Problem(f"{where}.limit", "limit_not_a_number")]
    if not nature.low <= safety_limit.limit <= nature.high:
        params = {
            "limit": safety_limit.limit,
            "unit": nature.unit,
            "kind": safety_limit.kind,
            "low": nature.low,
            "high": nature.high,
        }
        return [Problem(f"{where}.limit", "limit_out_of_range", params)]
    if safety_limit.kind == "voltage ceiling" and safety_limit.channel not in {knob.key for knob in knobs}:
        keys = ", ".join(knob.key for knob in knobs) or "none"
        return [Problem(f"{where}.channel", "ceiling_without_knob", {"known": keys})]
    return []


def watched(safety_limit: SafetyLimit, channels: Sequence[tuple[str, Quantity]]) -> list[int]:
    """Positions of the channels (name, quantity) that a safety limit watches; empty when the bench has none."""
    quantity = NATURES[safety_limit.kind].quantity
    if quantity is None:
        return []
    found = [i for i, (_, kind) in enumerate(channels) if kind == quantity]
    if safety_limit.channel:
        return [i for i in found if channels[i][0].casefold() == safety_limit.channel.casefold()]
    return found[:1] if safety_limit.kind == "power" else found


def unwatched(safety_limits: Sequence[SafetyLimit], channels: Sequence[tuple[str, Quantity]]) -> list[SafetyLimit]:
    """Safety limits that this bench cannot keep, since it reads nothing they watch."""
    return [
        safety_limit
        for safety_limit in safety_limits
        if NATURES[safety_limit.kind].quantity is not None and not watched(safety_limit, channels)
    ]


def first_breach(
    safety_limits: Sequence[SafetyLimit],
    channels: Sequence[tuple[str, Quantity]],
    time_s: npt.ArrayLike,
    values: npt.ArrayLike,
) -> Breach | None:
    """The earliest reading beyond a safety limit, or None. A reading equal to its limit is within it.

    channels: name and quantity of each column; time_s: seconds from the start of the run, length n
    values: n by channels, in each quantity's own unit, NaN where missing
    """
    t, v = np.asarray(time_s, dtype=np.float64), np.asarray(values, dtype=np.float64)
    found: list[Breach] = []
    for safety_limit in safety_limits:
        if safety_limit.kind == "hours":
            beyond = np.flatnonzero(t > safety_limit.limit * 3600)
            if beyond.size:
                at = float(t[beyond[0]])
                found.append(Breach(safety_limit, "run", at, at / 3600))
            continue
        for column in watched(safety_limit, channels):
            readings = v[:, column]
            beyond = np.flatnonzero(
                readings < safety_limit.limit if safety_limit.kind == "fan floor" else readings > safety_limit.limit
            )
            if beyond.size:
                first = int(beyond[0])
                found.append(Breach(safety_limit, channels[column][0], float(t[first]), float(readings[first])))
    return min(found, key=lambda breach: breach.at_s, default=None)


@dataclass(frozen=True)
class Beyond:
    """A knob set beyond its ceiling, and what has to be typed to go on."""

    knob: Knob
    value: float
    ceiling: float

    @property
    def words(self) -> str:
        return f"{self.knob.key} {describe_value(self.knob, self.value)}"


def beyond_ceiling(
    knobs: Sequence[Knob], values: Mapping[str, float], safety_limits: Sequence[SafetyLimit]
) -> list[Beyond]:
    """Knobs of a setting that stand above their voltage ceiling. values: by key; what is left out is at stock."""
    by_key = {knob.key: knob for knob in knobs}
    found = []
    for safety_limit in safety_limits:
        if safety_limit.kind == "voltage ceiling" and (knob := by_key.get(safety_limit.channel)):
            value = values.get(knob.key, knob.stock)
            if value > safety_limit.limit:
                found.append(Beyond(knob, value, safety_limit.limit))
    return found


def wanted_words(beyond: Sequence[Beyond]) -> str:
    """What has to be typed to open a setting beyond its ceiling, such as "voltage +25 mV"."""
    return ", ".join(one.words for one in beyond)


def is_confirmed(beyond: Sequence[Beyond], typed: str) -> bool:
    """Whether the typed words name every knob and value beyond its ceiling; spaces, case and kind of minus do not matter."""

    def bare(text: str) -> str:
        return "".join(text.replace("−", "-").casefold().split())

    return bare(typed) == bare(wanted_words(beyond))


@dataclass(frozen=True)
class PredictedBreach:
    """A limit that a run not yet started is predicted to exceed. predicted: middle of what is expected, in the safety limit's
    unit

    probable: whether the middle exceeds it, and not only the upper end of the interval
    """

    safety_limit: SafetyLimit
    predicted: float
    probable: bool

    @property
    def says(self) -> Message:
        code = "predicted_above_limit" if self.probable else "predicted_near_limit"
        unit = NATURES[self.safety_limit.kind].unit
        return message(code, predicted=self.predicted, limit=self.safety_limit.limit, unit=unit)


def predicted_breaches(
    safety_limits: Sequence[SafetyLimit], predicted: Mapping[Quantity, tuple[float, float]]
) -> list[PredictedBreach]:
    """Limits that a run would probably or possibly exceed, before it is started.

    predicted: by quantity the middle and the upper end of what is expected, in the quantity's unit
    Limits of one channel are left out, since nothing is predicted of it.
    """
    found = []
    for safety_limit in safety_limits:
        quantity = NATURES[safety_limit.kind].quantity
        if safety_limit.channel or quantity not in ("temperature", "power") or quantity not in predicted:
            continue
        middle, high = predicted[quantity]
        if high > safety_limit.limit:
            found.append(PredictedBreach(safety_limit, middle, middle > safety_limit.limit))
    return found
