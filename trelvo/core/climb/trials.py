"""Tests along a knob as evidence: where, how long, how they ended, and how well the moment of a failure is known."""

from dataclasses import dataclass
from typing import Literal

# How well the moment of a failure is known: taken by a clock, typed in whole minutes, or only that it fell within the run.
KnownTo = Literal["second", "minute", "run"]
# A crash shows itself within so many minutes of its cause. Common practice: a hang is noticed in seconds, at the latest in one.
SHOWS_WITHIN_MINUTES = 1.0
# What is typed in whole minutes was rounded up, down or to the nearest.
ROUNDED_BELOW_MINUTES, ROUNDED_ABOVE_MINUTES = 0.25, 1.0
# What failed at once failed within so many minutes.
AT_ONCE_MINUTES = 0.1
# Runs that differ by less are equally warm; a part warms by so much from a run's beginning. Common practice: 35 to 75 °C.
SAME_WARMTH_C, WARMS_BY_C = 4.0, 40.0


@dataclass(frozen=True)
class Trial:
    """A test at one value of a knob.

    value: in the knob's unit; minutes: how long it lasted, until the failure where it failed (known to the run: all of the run)
    stress: how much nearer the edge the workload takes it, in the knob's unit along the way (0: the reference workload)
    coldness: how cold the part stayed once warmed up: 0 as warm as it gets, 1 as cold as when a run begins
    by_knob: of a failure, the chance that the tuning is its cause, where that was looked into; None: as the model weighs it
    """

    value: float
    minutes: float
    failed: bool
    stress: float = 0.0
    known_to: KnownTo = "second"
    coldness: float = 0.0
    by_knob: float | None = None

    @property
    def failed_between(self) -> tuple[float, float]:
        """Minutes between which the cause of a failure fell."""
        if self.known_to == "run":
            return 0.0, max(self.minutes, AT_ONCE_MINUTES)
        below, above = SHOWS_WITHIN_MINUTES, 0.0
        if self.known_to == "minute":
            below, above = below + ROUNDED_BELOW_MINUTES, ROUNDED_ABOVE_MINUTES
        return max(0.0, self.minutes - below), max(self.minutes + above, AT_ONCE_MINUTES)


def coldness_of(temp_c: float, hottest_c: float) -> float:
    """How cold a part stayed that reached `temp_c`, against the warmest of its runs. Both in degrees Celsius.

    Differences within `SAME_WARMTH_C` are none; `WARMS_BY_C` below the warmest is as cold as when a run begins.
    """
    return min(max((hottest_c - temp_c - SAME_WARMTH_C) / (WARMS_BY_C - SAME_WARMTH_C), 0.0), 1.0)
