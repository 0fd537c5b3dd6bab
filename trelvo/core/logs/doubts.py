"""What in a log does not go with what is known of its run: worth a second look before it is kept."""

from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import Quantity

# A log that covers less or more than this share of the run's typed length is asked about (a run is often logged with some slack).
SHORTER, LONGER = 0.6, 1.7
# The same of a length that was only planned: a run may end early, and a log may begin long before.
MUCH_SHORTER, MUCH_LONGER = 0.05, 5.0
# Two readings of one figure by the same instrument that differ more than this are not of one run (common practice).
FACTOR, DEGREES_K = 1.6, 15.0
# A hole in a log: so many usual steps, and so much of the whole.
GAP_STEPS, GAP_SHARE = 20.0, 0.05


@dataclass(frozen=True)
class Pair:
    """A figure as a log gives it, and as it was typed for the run; both in the quantity's own unit."""

    name: str
    unit: str
    quantity: Quantity | None
    logged: float
    typed: float


def log_doubts(
    covers_s: float,
    typed_s: float | None,
    planned_s: float | None,
    every_s: float,
    longest_gap_s: float,
    pairs: Sequence[Pair],
) -> list[Problem]:
    """What does not agree; empty where nothing is odd. Method: common practice, see the limits above.

    covers_s: length of the log; typed_s: of the run as it was typed; planned_s: of its workload; every_s: usual step of the log
    """
    found = []
    if typed_s:
        if not SHORTER <= covers_s / typed_s <= LONGER:
            found.append(_doubt("log_covers_other_time", covers_s=covers_s, typed_s=typed_s))
    elif planned_s and not MUCH_SHORTER <= covers_s / planned_s <= MUCH_LONGER:
        found.append(_doubt("log_covers_other_plan", covers_s=covers_s, planned_s=planned_s))
    if every_s > 0 and longest_gap_s > GAP_STEPS * every_s and longest_gap_s > GAP_SHARE * covers_s:
        found.append(_doubt("log_has_a_gap", gap_s=longest_gap_s, every_s=every_s))
    found += [
        _doubt("log_differs_from_typed", figure=pair.name, logged=pair.logged, typed=pair.typed, unit=pair.unit)
        for pair in pairs
        if _apart(pair)
    ]
    return found


def _apart(pair: Pair) -> bool:
    if pair.quantity == "temperature":
        return abs(pair.logged - pair.typed) > DEGREES_K
    if pair.logged <= 0 or pair.typed <= 0:
        return pair.logged != pair.typed
    return not 1 / FACTOR <= pair.logged / pair.typed <= FACTOR


def _doubt(code: str, **params: object) -> Problem:
    return Problem("sure", code, params)
