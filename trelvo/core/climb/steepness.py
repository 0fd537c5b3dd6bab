"""How fast failures multiply along a knob: what is usual for its kind, and what a user's earlier climbs have shown.

Neither the range nor the smallest step of a knob says anything about silicon, so neither enters here, but for a knob of which
nothing else is known.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.base.knobs import Knob
from trelvo.core.registry.roles import FACTS, Role

# Common practice: five usual steps lie between artifacts and no start at all, which is three and a half powers of ten in
# failures an hour; so a power of ten takes 5 / 3.5 of the usual step of a knob of the role (MHz, mV, %, or the knob's own unit).
_BY_UNIT: dict[str, Role] = {"MHz": "core clock", "mV": "voltage", "%": "power limit", "x": "multiplier"}
_PREFIXES: dict[str, tuple[str, float]] = {"GHz": ("MHz", 1e-3), "kHz": ("MHz", 1e3), "V": ("mV", 1e-3)}
STEPS_A_DECADE = 5 / 3.5
# Deviations of the logarithm: how far the usual value may be off for a rig, and how far specimens differ from each other.
# Both together are a factor of 1.6 either way, with heavier tails than a normal's.
OFF, BETWEEN = 0.35, 0.35
# Of a knob of which nothing is known the decade may lie anywhere between its step and its range.
UNKNOWN_OFF = 1.0


@dataclass(frozen=True)
class Steepness:
    """Belief about a knob's decade, the distance over which failures become ten times as frequent.

    decade: the middle, in the knob's unit; off, between: deviations of its logarithm, of the rig's usual value and of one
    specimen from the next; climbs: how many earlier ones it was learnt from
    """

    decade: float
    off: float = OFF
    between: float = BETWEEN
    climbs: int = 0

    @property
    def spread(self) -> float:
        """Deviation of the logarithm for the next specimen."""
        return math.hypot(self.off, self.between)


@dataclass(frozen=True)
class Seen:
    """What one climb has shown of its decade: middle in the knob's unit and deviation of its logarithm, without the belief
    that the climb began with."""

    decade: float
    deviation: float


def usual_steepness(knob: Knob) -> Steepness:
    """What is usual for a knob of this role or unit; for an unknown one the middle of step and a tenth of the range."""
    unit, factor = _PREFIXES.get(knob.unit, (knob.unit, 1.0))
    usual = knob.facts.usual_step
    if usual is None or usual[1] != unit:
        usual = FACTS[_BY_UNIT[unit]].usual_step if unit in _BY_UNIT else None
    if usual is None:
        far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
        return Steepness(math.sqrt(knob.step * max(far / 10, knob.step)), UNKNOWN_OFF)
    return Steepness(usual[0] * factor * STEPS_A_DECADE)


def learnt_steepness(usual: Steepness, earlier: Sequence[Seen]) -> Steepness:
    """The belief for the next specimen after earlier climbs of the same kind of part.

    Method: two-level normal model on the logarithm of the decade; the deviation between specimens stays as it is, the usual
    value is weighed against what was seen, each climb with the inverse of its own variance and that between specimens.
    """
    precision = 1 / usual.off**2
    total = math.log(usual.decade) * precision
    for seen in earlier:
        weight = 1 / (seen.deviation**2 + usual.between**2)
        precision += weight
        total += weight * math.log(seen.decade)
    return Steepness(math.exp(total / precision), precision**-0.5, usual.between, len(earlier))
