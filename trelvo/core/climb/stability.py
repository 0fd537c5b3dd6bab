"""How stable a setting is by what was run on it alone: failures an hour, and what an hour without one says."""

import math
from dataclasses import dataclass
from functools import lru_cache

from scipy import special

from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.goals import ACCEPTED_HOURS

# What is accepted where nobody says otherwise, as failures an hour.
ACCEPTED_PER_H = 1 / ACCEPTED_HOURS


@dataclass(frozen=True)
class RateEstimate:
    """Failures an hour with an exact interval. per_h and high are None where nothing has been run; low is 0 then, and where
    nothing failed."""

    per_h: float | None
    low: float
    high: float | None
    hours: float
    failures: int
    confidence: float


def failure_rate(hours: float, failures: int, confidence: float = 0.95) -> RateEstimate:
    """Failures an hour over survived time, censored runs counted with the time they lasted.

    hours: total time under test, survived and until failure; failures: how many
    Source: exact Poisson (Garwood) interval by the chi-square distribution; maximum likelihood failures / hours, which is
    the exponential survival estimate with right censoring.
    """
    if hours < 0 or failures < 0:
        raise Refused(Problem("hours", "negative_time_or_failures"))
    if hours == 0:
        return RateEstimate(None, 0.0, None, 0.0, failures, confidence)
    tail = (1 - confidence) / 2
    low = float(special.gammaincinv(failures, tail)) / hours if failures else 0.0
    high = float(special.gammaincinv(failures + 1, 1 - tail)) / hours
    return RateEstimate(failures / hours, low, high, hours, failures, confidence)


def fewer_than(hours: float, sure: float = 0.95) -> float:
    """Failures an hour that no failure in so many hours rules out, one-sided: "an hour passed says fewer than three".

    Infinite for no hours: nothing is ruled out.
    Source: rule of three, exactly −ln(1 − sure) / hours (Hanley and Lippman-Hand 1983, from memory).
    """
    if hours <= 0:
        return math.inf
    return -math.log(1 - sure) / hours


# a climb that is played through thousands of times asks for the same few: without this it takes twice as long
@lru_cache(maxsize=4096)
def hours_to_show(per_h: float, sure: float, failures: int = 0) -> float:
    """Hours that show a rate no higher than this on their own, with so many failures in them; one-sided.

    Source: Garwood's upper bound solved for the time; −ln(1 − sure) / per_h where nothing failed.
    """
    return float(special.gammaincinv(failures + 1, sure)) / per_h


def passes(per_h: float, hours: float) -> float:
    """Chance that a setting which fails so many times an hour passes a test of so many hours."""
    return math.exp(-per_h * hours)
