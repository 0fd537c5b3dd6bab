"""Whether the edge of one specimen moves over the years: successive checks, each with its own uncertainty."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy import special

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message, message
from trelvo.core.stats.noise import CONFIDENCE

# Checks nearer together than this are one.
APART_DAYS = 14.0


@dataclass(frozen=True)
class Check:
    """years: since any moment common to all; edge, deviation: where it was believed to lie then, in the knob's unit"""

    years: float
    edge: float
    deviation: float


@dataclass(frozen=True)
class Ageing:
    """a_year: how far the edge moves towards stock each year, with its interval, in the knob's unit; None: cannot be told"""

    a_year: float | None
    low: float | None
    high: float | None
    says: Message


def digits_of(knob: Knob) -> int:
    """Decimals that an edge is told with: whole numbers, or one more than the knob's step has where that is a fraction."""
    return 0 if knob.step >= 1 else math.ceil(-math.log10(knob.step) - 1e-9) + 1


def found_an_edge(knob: Knob, trials: Sequence[Trial]) -> bool:
    """Whether the trials enclose an edge: a value away from stock that held, and one further out that failed."""
    held = [(trial.value - knob.stock) * knob.away for trial in trials if not trial.failed and trial.minutes > 0]
    failed = [(trial.value - knob.stock) * knob.away for trial in trials if trial.failed]
    return any(0 < one < max(failed, default=0) for one in held)


def checks_apart(days: Sequence[float]) -> list[list[int]]:
    """Which trials belong to one check: places in `days`, parted wherever nothing was run for two weeks; oldest first."""
    found: list[list[int]] = []
    order = sorted(range(len(days)), key=lambda place: days[place])
    for place in order:
        if not found or days[place] - days[found[-1][-1]] >= APART_DAYS:
            found.append([])
        found[-1].append(place)
    return found


def ageing(knob: Knob, checks: Sequence[Check]) -> Ageing:
    """The slope of the edge over time.

    Method: least squares weighted with the inverse variance of each check, the variances taken as known (normal interval); any
    textbook, checked against statsmodels' WLS. Two checks are the fewest.
    """
    if len(checks) < 2 or max(check.years for check in checks) - min(check.years for check in checks) <= 0:
        return Ageing(None, None, None, message("checked_once"))
    weights = [1 / check.deviation**2 for check in checks]
    total = sum(weights)
    middle = sum(w * one.years for w, one in zip(weights, checks, strict=True)) / total
    mean = sum(w * one.edge for w, one in zip(weights, checks, strict=True)) / total
    spread = sum(w * (one.years - middle) ** 2 for w, one in zip(weights, checks, strict=True))
    slope = sum(w * (one.years - middle) * (one.edge - mean) for w, one in zip(weights, checks, strict=True)) / spread
    lost = -slope * knob.away
    half = float(special.ndtri(0.5 + CONFIDENCE / 2)) / math.sqrt(spread)
    low, high = lost - half, lost + half
    a_year = {"low": low, "high": high, "unit": knob.unit, "digits": digits_of(knob)}
    if low > 0:
        return Ageing(lost, low, high, message("edge_comes_nearer", lost=lost, **a_year))
    if high < 0:
        return Ageing(lost, low, high, message("edge_moves_away", gained=-lost, **a_year))
    return Ageing(lost, low, high, message("ageing_not_known", checks=len(checks), **a_year))
