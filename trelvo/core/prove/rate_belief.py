"""What is believed of a kept setting's failures an hour: from its proof, moved by what changes, sharpened by use and checks."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from trelvo.core.climb.edge import EdgePosterior
from trelvo.core.climb.stability import ACCEPTED_PER_H

Array = npt.NDArray[np.float64]

# Rates from one failure in a million hours to a thousand an hour, in steps of a twentieth of a power of ten.
LOWEST, HIGHEST, PER_DECADE = -6.0, 3.0, 20
PLACES = round((HIGHEST - LOWEST) * PER_DECADE) + 1
LOG_RATES = np.linspace(LOWEST, HIGHEST, PLACES)
# Each place stands for what lies half a step to either side.
_UPPER = LOG_RATES + 0.5 / PER_DECADE
# Nobody checks for longer than this.
MOST_MINUTES = 12_000.0


@dataclass(frozen=True)
class RateBelief:
    """weights: over `LOG_RATES`, log10 of failures an hour under the heaviest load that is in use; they add up to one"""

    weights: tuple[float, ...]

    @classmethod
    def from_edge(
        cls, belief: EdgePosterior, value: float, per_h: float = ACCEPTED_PER_H, *, cautious: bool = False
    ) -> "RateBelief":
        """What a climb believes of a value of its knob; its chance to stay within `per_h` is exactly `chance_stable`.

        Rates are sorted into places on either side of `per_h`, the first place above it left empty, and both sides are scaled to
        that chance.
        """
        logs = np.log10(np.maximum(belief.careful_hazard_per_h(value, per_h, cautious=cautious), 10**LOWEST))
        places = np.clip(np.rint((logs - LOWEST) * PER_DECADE), 0, PLACES - 1).astype(np.int64)
        last = min(max(int(np.searchsorted(_UPPER, math.log10(per_h) + 1e-9)) - 1, 0), PLACES - 3)
        within = logs <= math.log10(per_h) + 1e-9
        below = np.bincount(np.minimum(places[within], last), belief.weight[within], PLACES)
        above = np.bincount(np.maximum(places[~within], last + 2), belief.weight[~within], PLACES)
        chance = belief.chance_stable(value, per_h, cautious=cautious)
        share = chance * _scaled(below, last) + (1 - chance) * _scaled(above, last + 2)
        return _made(share)

    @classmethod
    def from_hours(cls, hours: float, failures: int) -> "RateBelief":
        """Where nothing but hours is known. Every rate is as likely as the next before them, so that hours without a failure say
        what the rule of three says of them, and no more."""
        return _made(10**LOG_RATES).after(hours, failures)

    @property
    def array(self) -> Array:
        return np.array(self.weights)

    def after(self, hours: float, failures: int = 0, lighter: float = 0.0) -> "RateBelief":
        """The belief after so many hours with so many failures in them.

        lighter: how much nearer the edge than the heaviest load these hours took it, in powers of ten of the rate: below zero
        for everyday use, of which an hour without failure says less
        Method: Bayes' rule with a Poisson process; what has not failed yet counts with its time (right censoring).
        """
        log_rate = LOG_RATES + lighter
        evidence = -(10**log_rate) * hours + failures * math.log(10) * log_rate
        weights = np.log(self.array + 1e-300) + evidence
        return _made(np.exp(weights - weights.max()))

    def moved(self, chance: float, middle: float, deviation: float) -> "RateBelief":
        """The belief after something that raises the rate with this chance, by so many powers of ten.

        middle, deviation: at least `middle`, and beyond it the size of a normal deviate: a change is not believed to be for the
        better before a check has shown it
        Method: mixture of the belief as it was and the belief moved on; what leaves the scale stays at its end.
        """
        reach = np.arange(PLACES)
        steps = reach / PER_DECADE
        if deviation > 1 / PER_DECADE:
            share = np.exp(-0.5 * (steps / deviation) ** 2)
            # the first place stands for half a step only
            share[0] /= 2
        else:
            share = (reach == 0).astype(np.float64)
        share /= share.sum()
        whole = math.floor(middle * PER_DECADE)
        part = middle * PER_DECADE - whole
        changed = np.zeros(PLACES)
        for place in reach[share > 1e-9]:
            for one, of_it in ((int(place) + whole, 1 - part), (int(place) + whole + 1, part)):
                if of_it:
                    changed += share[place] * of_it * _shift(self.array, one)
        return _made((1 - chance) * self.array + chance * changed)

    def chance_within(self, per_h: float) -> float:
        """Chance that it fails no more often than this under the heaviest load."""
        return float(np.interp(math.log10(per_h), _UPPER, np.cumsum(self.array), left=0.0))

    def minutes_to_believe(self, per_h: float, sure: float) -> float:
        """Minutes of the heaviest load without a failure after which that is believed with this sureness; inf where no time
        would do."""
        if self.chance_within(per_h) >= sure:
            return 0.0
        if self.after(MOST_MINUTES / 60).chance_within(per_h) < sure:
            return math.inf
        low, high = 0.0, MOST_MINUTES
        while high - low > 0.5:
            middle = (low + high) / 2
            enough = self.after(middle / 60).chance_within(per_h) >= sure
            low, high = (low, middle) if enough else (middle, high)
        return high

    def at_most(self, sure: float) -> float:
        """Failures an hour that it does not exceed, with this sureness."""
        return float(10 ** np.interp(sure, np.cumsum(self.array), _UPPER))


def _scaled(weights: npt.NDArray[Any], otherwise: int) -> Array:
    """The weights so that they add up to one; all at one place where there are none."""
    total = float(weights.sum())
    return weights / total if total > 0 else np.asarray(np.arange(PLACES) == otherwise, dtype=np.float64)


def _made(weights: npt.NDArray[Any]) -> RateBelief:
    return RateBelief(tuple(float(one) for one in weights / weights.sum()))


def _shift(weights: Array, places: int) -> Array:
    """Moved towards more failures; what leaves the scale stays at its end."""
    at = np.clip(np.arange(PLACES) + places, 0, PLACES - 1)
    return np.asarray(np.bincount(at, weights, PLACES), dtype=np.float64)
