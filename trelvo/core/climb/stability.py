"""How stable a setting is: failures an hour from all that was run, and where the edge of a knob lies.

Failures come as a Poisson process whose rate depends on the value of a knob. Nothing here knows any particular silicon.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy import stats

from trelvo.core.base.knobs import Knob
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.runs import Outcome

Array = npt.NDArray[np.float64]

# One failure in fifty hours, and how sure one wants to be of it. A user may change both.
ACCEPTED_PER_H = 1 / 50
SURE = 0.9
# Stock runs for weeks without a failure before anyone turns a knob: taken as so many hours survived there. Common practice.
STOCK_HOURS = 100.0
# Nobody tests one setting for longer than this: two hundred hours.
MOST_MINUTES = 12_000.0

# How far beyond the range an edge is looked for, and how fast the weight of such edges falls, in lengths of the range.
BEYOND, FADE = 0.5, 0.06
GRID = (181, 21)
# How many steps of the knob last turned each outcome sends one back. Common practice: the harder the failure, the further.
STEPS_BACK: dict[Outcome, int] = {
    "completed": 0,
    "odd numbers": 1,
    "program closed": 2,
    "machine down": 3,
    "no start": 5,
    "stopped by a guard rail": 0,
    "stopped by hand": 0,
    "contact lost": 0,
}


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
        raise Refused(Problem("hours", "Time and failures cannot be below zero.", "Check both."))
    if hours == 0:
        return RateEstimate(None, 0.0, None, 0.0, failures, confidence)
    tail = (1 - confidence) / 2
    low = float(stats.chi2.ppf(tail, 2 * failures) / 2 / hours) if failures else 0.0
    high = float(stats.chi2.ppf(1 - tail, 2 * failures + 2) / 2 / hours)
    return RateEstimate(failures / hours, low, high, hours, failures, confidence)


def fewer_than(hours: float, sure: float = 0.95) -> float:
    """Failures an hour that no failure in so many hours rules out, one-sided: "an hour passed says fewer than three".

    Source: rule of three, exactly −ln(1 − sure) / hours (Hanley and Lippman-Hand 1983, from memory).
    """
    return -math.log(1 - sure) / hours


def hours_to_show(per_h: float, sure: float, failures: int = 0) -> float:
    """Hours that show a rate no higher than this on their own, with so many failures in them; one-sided.

    Source: Garwood's upper bound solved for the time; −ln(1 − sure) / per_h where nothing failed.
    """
    return float(stats.chi2.ppf(sure, 2 * failures + 2) / 2 / per_h)


def passes(per_h: float, hours: float) -> float:
    """Chance that a setting which fails so many times an hour passes a test of so many hours."""
    return math.exp(-per_h * hours)


@dataclass(frozen=True)
class Trial:
    """A test at one value of a knob.

    value: in the knob's unit; minutes: how long it lasted, until the failure where it failed
    timed: whether the moment of a failure is known; where it is not, it failed somewhere within the minutes
    stress: how much nearer the edge the workload takes it, in the knob's unit along the way (0: the reference workload)
    """

    value: float
    minutes: float
    failed: bool
    stress: float = 0.0
    timed: bool = True


@dataclass(frozen=True)
class EdgeModel:
    """What is believed before the first trial, in the knob's own steps.

    decades: how far past the edge failures become ten times as frequent, lowest and highest, even on a log scale
    grid: how many edges and decades are weighed
    The edge is anywhere in the range, evenly, and with falling weight beyond its end: whoever sets a range expects the edge in
    it. Stock itself is the safe end.
    """

    knob: Knob
    lowest_decade: float
    highest_decade: float
    grid: tuple[int, int] = GRID

    @classmethod
    def of(cls, knob: Knob, grid: tuple[int, int] = GRID) -> "EdgeModel":
        """Wide beliefs from the knob alone: a decade from half a step to a sixth of the way."""
        far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
        return cls(knob, 0.5 * knob.step, max(0.16 * far, 1.5 * knob.step), grid)


@dataclass(frozen=True)
class EdgePosterior:
    """Belief about edge and decade as weights on a grid. Distances run from stock, positive away from it."""

    knob: Knob
    edge: Array
    decade: Array
    weight: Array
    trials: tuple[Trial, ...] = field(default=())

    def distance(self, value: float) -> float:
        return (value - self.knob.stock) * self.knob.away

    def hazard_per_h(self, distance: float) -> Array:
        """Failures an hour at a distance, for each point of the grid."""
        decades = np.minimum((distance - self.edge) / self.decade, 6.0)
        return np.asarray(np.exp(math.log(10) * decades), dtype=np.float64)

    def quantile(self, numbers: Array, share: float) -> float:
        order = np.argsort(numbers)
        cumulated = np.cumsum(self.weight[order])
        return float(numbers[order][min(int(np.searchsorted(cumulated, share * cumulated[-1])), numbers.size - 1)])

    @cached_property
    def tested_to(self) -> float:
        """The furthest distance that has been tried."""
        return max((self.distance(trial.value) for trial in self.trials), default=0.0)

    def chance_within(self, value: float, per_h: float = ACCEPTED_PER_H) -> float:
        """Chance that the value fails no more often than this."""
        return float(self.weight[self.hazard_per_h(self.distance(value)) <= per_h * (1 + 1e-12)].sum())

    def rate(self, value: float, confidence: float = 0.9) -> tuple[float, float, float]:
        """Failures an hour at a value: median, and the interval that holds it with this confidence."""
        hazard = self.hazard_per_h(self.distance(value))
        tail = (1 - confidence) / 2
        return self.quantile(hazard, 0.5), self.quantile(hazard, tail), self.quantile(hazard, 1 - tail)

    def edge_at(self, share: float) -> float:
        """The value at which failures reach one an hour lies nearer stock than this with a chance of `share`."""
        return self.knob.stock + self.knob.away * self.quantile(self.edge, share)

    def minutes_to_believe(self, value: float, per_h: float = ACCEPTED_PER_H, sure: float = SURE) -> float:
        """Minutes more that a value must survive before it holds with this sureness; inf where no time would do."""
        hazard = self.hazard_per_h(self.distance(value))
        within = hazard <= per_h * (1 + 1e-12)

        def believed(minutes: float) -> bool:
            weight = self.weight * np.exp(-hazard * minutes / 60)
            return float(weight[within].sum()) >= sure * float(weight.sum())

        if believed(0.0):
            return 0.0
        if not believed(MOST_MINUTES):
            return math.inf
        low, high = 0.0, MOST_MINUTES
        while high - low > 0.5:
            middle = (low + high) / 2
            low, high = (low, middle) if believed(middle) else (middle, high)
        return high

    def chance_to_hold(self, value: float, minutes: float) -> float:
        """Chance to survive so many minutes at a value."""
        return float((self.weight * np.exp(-self.hazard_per_h(self.distance(value)) * minutes / 60)).sum())


def edge_posterior(model: EdgeModel, trials: Sequence[Trial]) -> EdgePosterior:
    """Belief about a knob's edge and decade after all trials, long and short, survived and failed.

    Method: likelihood of a Poisson process with rate 10^((x − edge) / decade) an hour: a trial that failed after t hours gives
    rate · exp(−rate · t), one that survived exp(−rate · t), one that failed at an unknown moment within t, or at once (within
    a second), 1 − exp(−rate · t); weights on a grid.
    Stock counts as survived for `STOCK_HOURS` before the first trial.
    """
    knob = model.knob
    far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
    edges = np.linspace(0.0, (1 + BEYOND) * far, model.grid[0])
    decades = np.geomspace(model.lowest_decade, model.highest_decade, model.grid[1])
    edge, decade = (grid.ravel() for grid in np.meshgrid(edges, decades, indexing="ij"))
    log_weight = -np.maximum(edge - far, 0.0) / (FADE * far)
    log_weight -= STOCK_HOURS * np.exp(math.log(10) * np.minimum(-edge / decade, 6.0))
    log_weight += _evidence(knob, edge, decade, trials)
    return EdgePosterior(knob, edge, decade, _shares(log_weight), tuple(trials))


def after_trial(belief: EdgePosterior, trial: Trial) -> EdgePosterior:
    """The belief after one more trial, without going through the earlier ones again."""
    log_weight = np.log(belief.weight + 1e-300) + _evidence(belief.knob, belief.edge, belief.decade, [trial])
    return replace(belief, weight=_shares(log_weight), trials=(*belief.trials, trial))


def _evidence(knob: Knob, edge: Array, decade: Array, trials: Iterable[Trial]) -> Array:
    """Log likelihood of the trials at each place of the grid. Hours survived at one place add up, so each place counts once."""
    found = np.zeros_like(edge)
    survived_h: dict[float, float] = defaultdict(float)
    for trial in trials:
        x = (trial.value - knob.stock) * knob.away + trial.stress
        if not trial.failed:
            survived_h[x] += trial.minutes / 60
            continue
        log_rate = _log_rate(x, edge, decade)
        rate = np.exp(log_rate)
        if not trial.timed or trial.minutes * 60 < 1:
            within_h = max(trial.minutes / 60, 1 / 3600)
            found += np.log(-np.expm1(-rate * within_h) + 1e-300)
        else:
            found += log_rate - rate * trial.minutes / 60
    for x, hours in survived_h.items():
        found -= np.exp(_log_rate(x, edge, decade)) * hours
    return found


def _log_rate(x: float, edge: Array, decade: Array) -> Array:
    return math.log(10) * np.minimum((x - edge) / decade, 6.0)


def _shares(log_weight: Array) -> Array:
    weight = np.exp(log_weight - log_weight.max())
    return np.asarray(weight / weight.sum())
