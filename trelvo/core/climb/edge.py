"""Where the edge of a knob lies: belief from all trials, long and short, survived and failed. Nothing here knows any silicon."""

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy import special

from trelvo.core.base.knobs import Knob, from_the_far_end
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.steepness import Seen, Steepness, usual_steepness
from trelvo.core.climb.trials import Trial
from trelvo.core.registry.goals import SURE
from trelvo.core.registry.roles import Role

Array = npt.NDArray[np.float64]

# Stock runs for weeks without a failure before anyone turns a knob: taken as so many hours survived there. Common practice.
STOCK_HOURS = 100.0
# Nobody tests one setting for longer than this: two hundred hours.
MOST_MINUTES = 12_000.0
# How many edges and decades are weighed.
GRID = (121, 13)
# Edges are weighed evenly on the logarithm of their distance, counted from so many usual decades before stock; beyond the end of
# the range their weight falls e-fold in each so many lengths of it: who sets a range expects the edge in it, and may be wrong.
EDGE_FROM_DECADES, FADE = 10.0, 0.25
# So sure is it beforehand that nothing fails along a knob of a role, however far it is turned. Common practice: a power limit is
# raised first and all at once, or lowered at will; what comes of it is heat, and that has its own safety limit.
HOLDS_THROUGHOUT: dict[Role, float] = {"power limit": 0.95}
# Decades from so much to so much of the usual one; the share of cliffs goes to the steepest three.
DECADES, CLIFF_SHARE, CLIFF_PLACES = (0.08, 6.0), 0.1, 3
# Student's degrees of freedom of the decade's logarithm: a specimen unlike all others is not excluded.
TAILS = 8.0
# A part is cold, and may hold better, for so many minutes of a run. Common practice: most of the warming takes a few minutes.
WARM_UP_MINUTES = 3.0
# The most failures an hour that can show (a crash takes seconds, or minutes, to show itself); how much better cold silicon holds,
# in usual decades; and the weight of each pair before the first trial.
SHAPES = (
    (1200.0, 0.0, 0.35), (120.0, 0.0, 0.25), (20.0, 0.0, 0.08), (1200.0, 0.5, 0.12), (120.0, 0.5, 0.08), (1200.0, 1.5, 0.08),
    (120.0, 1.5, 0.04),
)  # fmt: skip
# Failures an hour that have nothing to do with the knob (driver, cable, program), and the least chance of one near any moment.
UNRELATED_PER_H, UNRELATED_LEAST = 0.12, 0.002
# A failure is taken for a stranger from this chance on; so many of them, and so large a share of all failures, do not fit.
STRANGER, STRANGERS, STRANGERS_SHARE = 0.5, 2, 0.3
# A climb has shown something of the decade once its variance has fallen below this share of what it was.
LEARNT_BELOW = 0.9
# What does not fit counts with this power only, which widens the belief.
TEMPERED = 0.5
_FEWEST_DECADES = -12.0
# The kept value stands so far below what the belief allows, in usual decades: real silicon is no straight power of ten. Half a
# step of the knob, by which a value on the grid lies lower on average anyway, is taken off this margin, down to the least.
MARGIN_DECADES, LEAST_MARGIN_DECADES = 0.75, 0.35
# From a decade below the edge on, where hardly anything fails within a test, failures may thin out so many times more slowly than
# above it; and so many times for the cautious.
TAIL, CAUTIOUS_TAIL = 1.5, 2.6


@dataclass(frozen=True)
class EdgeModel:
    """What is believed before the first trial. steepness: of the knob's decade; grid: how many edges and decades are weighed

    stable_start: whether the value that distances are counted from is known to be stable, as stock is
    """

    knob: Knob
    steepness: Steepness
    grid: tuple[int, int] = GRID
    stable_start: bool = True

    @classmethod
    def of(cls, knob: Knob, steepness: Steepness | None = None, grid: tuple[int, int] = GRID) -> "EdgeModel":
        """The model of a knob. One that helps stability is counted from the far end of its range, which is not known to be
        stable: failures become rarer towards that end."""
        steepness = steepness or usual_steepness(knob)
        if knob.turning == "helps":
            return cls(from_the_far_end(knob), steepness, grid, stable_start=False)
        return cls(knob, steepness, grid)


def failures_per_h(distance: float | Array, edge: Array, decade: Array, cap: Array) -> Array:
    """Failures an hour at a distance: 10^((distance − edge) / decade), saturating at the cap: a failure takes time to show."""
    return np.asarray(1 / (_hours_between(distance, edge, decade) + 1 / cap))


def _hours_between(distance: float | Array, edge: Array, decade: Array) -> Array:
    """Hours from one failure to the next, if each showed at once."""
    decades = np.maximum((distance - edge) / decade, _FEWEST_DECADES)
    return np.asarray(np.exp(-math.log(10) * decades))


@dataclass(frozen=True)
class Axes:
    """What a belief's grid is made of: pairs of edge and decade, each with every shape (cap and what cold adds), in this order.

    Many points share what takes long to compute, so it is done by shape and pair, and put in the grid's order at the end.
    """

    edges: Array
    decades: Array
    caps: Array
    colds: Array

    @classmethod
    def of(cls, edges: Array, decades: Array, caps: Array, colds: Array) -> "Axes":
        """Every edge with every decade."""
        return cls(np.repeat(edges, decades.size), np.tile(decades, edges.size), caps, colds)

    @staticmethod
    def flat(by_shape: Array) -> Array:
        """In the grid's order. by_shape: shapes × pairs"""
        return by_shape.T.ravel()

    def rates(self, distance: float, colder: float) -> Array:
        """`failures_per_h` at a distance, edges moved by a share of what cold adds: shapes × pairs."""
        if colder == 0:
            found = _hours_between(distance, self.edges, self.decades) + (1 / self.caps)[:, None]
        else:
            colds, which = self._distinct
            moved = np.array([_hours_between(distance, self.edges + colder * cold, self.decades) for cold in colds])
            found = moved[which] + (1 / self.caps)[:, None]
        return np.asarray(np.divide(1, found, out=found))

    @cached_property
    def _distinct(self) -> tuple[Array, npt.NDArray[np.intp]]:
        """What cold adds, each once; and which of these each shape has."""
        return np.unique(self.colds, return_inverse=True)


@dataclass(frozen=True)
class EdgePosterior:
    """Belief about edge, decade, cap and what cold adds, as weights on a grid. Distances run from stock, positive away from it.

    cap: the most failures an hour that show; cold: how much further a cold part holds, in the knob's unit
    log_decade_before: mean and variance of ln(decade) before the first trial
    strangers: trials that failed where, by all others, hardly anything fails: probably from another cause
    fits: whether trials and model go together; where they do not the belief is widened
    stable_start: as in the model. Without it, a failure beyond all that survived has no other cause: nothing speaks for one
    """

    knob: Knob
    axes: Axes
    edge: Array
    decade: Array
    cap: Array
    cold: Array
    weight: Array
    steepness: Steepness
    log_decade_before: tuple[float, float]
    stable_start: bool = True
    trials: tuple[Trial, ...] = field(default=())
    strangers: tuple[Trial, ...] = field(default=())
    fits: bool = True

    def distance(self, value: float) -> float:
        return (value - self.knob.stock) * self.knob.away

    def value_at(self, distance: float) -> float:
        return self.knob.stock + self.knob.away * distance

    def hazard_per_h(self, distance: float) -> Array:
        """Failures an hour of the warm part at a distance, for each point of the grid."""
        return self.axes.flat(self.axes.rates(distance, 0.0))

    def quantile(self, numbers: Array, share: float) -> float:
        return self.quantiles(numbers, (share,))[0]

    def quantiles(self, numbers: Array, shares: Sequence[float]) -> list[float]:
        """The numbers, one for each point of the belief, below which these shares of it lie."""
        return self._quantiles(numbers[self._told], shares)

    @cached_property
    def _told(self) -> npt.NDArray[np.intp]:
        """The points of the grid with weight: the others hold no quantile, and most of a belief has none."""
        return np.flatnonzero(self.weight > 1e-9)

    def _quantiles(self, numbers: Array, shares: Sequence[float]) -> list[float]:
        weight = self.weight[self._told]
        order = np.argsort(numbers)
        cumulated = np.cumsum(weight[order])
        at = np.searchsorted(cumulated, np.asarray(shares) * cumulated[-1])
        return [float(one) for one in numbers[order][np.minimum(at, numbers.size - 1)]]

    @cached_property
    def _where_told(self) -> tuple[Array, Array, Array]:
        return self.edge[self._told], self.decade[self._told], self.cap[self._told]

    @cached_property
    def survived_to(self) -> float:
        """The furthest distance at which a trial has survived, 0 without one."""
        return max((self.distance(t.value) for t in self.trials if not t.failed and t.minutes > 0), default=0.0)

    def line(self, per_h: float = ACCEPTED_PER_H) -> Array:
        """The distance at which failures reach a rate, for each point of the grid; where it never shows, the edge's own line."""
        return np.asarray(self.edge + self.decade * math.log10(per_h))

    def chance_within(self, value: float, per_h: float = ACCEPTED_PER_H) -> float:
        """Chance that the value fails no more often than this."""
        return float(self.weight[self.line(per_h) >= self.distance(value) - 1e-9].sum())

    def careful_line(self, per_h: float = ACCEPTED_PER_H, *, cautious: bool = False) -> Array:
        """For each point of the grid the distance at which failures reach a rate, the margin taken off.

        As if, from a decade below the edge on, failures thinned out `TAIL` times more slowly, or `CAUTIOUS_TAIL` times.
        """
        decades = math.log10(per_h)
        if decades < -1:
            decades = -1 + (decades + 1) * (CAUTIOUS_TAIL if cautious else TAIL)
        return np.asarray(self.edge + self.decade * decades - margin(self.knob, self.steepness.decade))

    def chance_stable(self, value: float, per_h: float = ACCEPTED_PER_H, *, cautious: bool = False) -> float:
        """How sure it is that a value fails no more often than this: the one figure that every screen shows.

        By the careful line, or by the value's own hours alone where they say more. Beyond all that has survived it is no more
        than even.
        """
        careful = self.careful_line(per_h, cautious=cautious) >= self.distance(value) - 1e-9
        chance = float(self.weight[careful].sum())
        if self.distance(value) > self.survived_to + 1e-9:
            chance = min(chance, 0.5)
        return max(chance, self._alone(value, per_h))

    def _alone(self, value: float, per_h: float) -> float:
        """The same by the hours at just this value, under loads no lighter than the heaviest; 0 without any."""
        hours, failures = self._own.get(value, (0.0, 0))
        return float(special.gammainc(failures + 1, per_h * hours)) if hours else 0.0

    @cached_property
    def _own(self) -> Mapping[float, tuple[float, int]]:
        """By value, hours under loads no lighter than the heaviest, and the failures in them."""
        trials: dict[float, list[Trial]] = defaultdict(list)
        for trial in self.trials:
            if trial.stress >= 0:
                trials[trial.value].append(trial)
        return {
            value: (math.fsum(trial.minutes for trial in some) / 60, sum(trial.failed for trial in some))
            for value, some in trials.items()
        }

    def careful_hazard_per_h(self, value: float, per_h: float, *, cautious: bool = False) -> Array:
        """Failures an hour at a value for each point of the grid, moved by the margin: below `per_h` just where the careful line
        is beyond the value."""
        moved = self.line(per_h) - self.careful_line(per_h, cautious=cautious)
        return failures_per_h(self.distance(value) + moved, self.edge, self.decade, np.full_like(self.edge, np.inf))

    def rate(self, value: float, confidence: float = 0.9) -> tuple[float, float, float]:
        """Failures an hour at a value: median, and the interval that holds it with this confidence."""
        edge, decade, cap = self._where_told
        hazard = failures_per_h(self.distance(value), edge, decade, cap)
        tail = (1 - confidence) / 2
        middle, low, high = self._quantiles(hazard, (0.5, tail, 1 - tail))
        return middle, low, high

    def edge_at(self, share: float) -> float:
        """The value at which failures reach one an hour lies nearer stock than this with a chance of `share`."""
        return self.value_at(self.quantile(self.edge, share))

    def edge_within(self, share: float) -> float | None:
        """The same; None where it is at the end of all that is weighed, or beyond."""
        edge = self.quantile(self.edge, share)
        return None if edge >= float(self.edge.max()) * (1 - 1e-9) else self.value_at(edge)

    def minutes_to_believe(
        self, value: float, per_h: float = ACCEPTED_PER_H, sure: float = SURE, *, cautious: bool = False
    ) -> float:
        """Minutes more that a value must survive before it is stable with this sureness; inf where no time would do."""
        cold, warm = map(self.axes.flat, _rates(self, self.distance(value), 0.0))
        within = self.careful_line(per_h, cautious=cautious) >= self.distance(value) - 1e-9
        own = [trial for trial in self.trials if trial.value == value and trial.stress >= 0]
        ran_h = math.fsum(trial.minutes for trial in own) / 60
        failures = sum(trial.failed for trial in own)

        def believed(minutes: float) -> bool:
            weight = self.weight * np.exp(-_integral(cold, warm, minutes))
            alone = float(special.gammainc(failures + 1, per_h * (ran_h + minutes / 60)))
            return max(float(weight[within].sum()) / float(weight.sum()), alone) >= sure

        if believed(0.0) and self.distance(value) <= self.survived_to + 1e-9:
            return 0.0
        if not believed(MOST_MINUTES):
            return math.inf
        low, high = 0.0, MOST_MINUTES
        while high - low > 0.5:
            middle = (low + high) / 2
            low, high = (low, middle) if believed(middle) else (middle, high)
        return high

    def chance_to_hold(self, value: float, minutes: float) -> float:
        """Chance to survive so many minutes at a value, from a cold start."""
        expected = _expected(self, self.distance(value), 0.0, minutes)
        return float((self.weight * np.exp(-expected)).sum())

    @cached_property
    def seen(self) -> Seen | None:
        """What the trials have shown of the decade, without the belief they began with; None where that is nothing."""
        log = np.log(self.decade)
        mean = float(self.weight @ log)
        variance = float(self.weight @ (log - mean) ** 2)
        before, spread = self.log_decade_before
        if variance >= LEARNT_BELOW * spread:
            return None
        left = 1 / variance - 1 / spread
        return Seen(math.exp((mean / variance - before / spread) / left), left**-0.5)


def margin(knob: Knob, decade: float) -> float:
    """How far below what is believed a value must stand to be kept, in the knob's unit. decade: the usual one"""
    return max(MARGIN_DECADES * decade - knob.step / 2, LEAST_MARGIN_DECADES * decade)


def edge_posterior(model: EdgeModel, trials: Sequence[Trial]) -> EdgePosterior:
    """Belief about a knob's edge and decade after all trials.

    Method: Bayes' rule on a grid. A trial is a Poisson process with rate r = 1 / (10^((edge − x) / decade) + 1 / cap) an hour, x
    less by what cold adds while the part is cold. One that survived m minutes weighs exp(−∫r); one that failed between a and b
    minutes exp(−∫₀ᵃ r) − exp(−∫₀ᵇ r), and besides it, unless its cause was looked into, a small chance of a failure from
    another cause. While such a cause is in doubt the belief is a mixture: the knob is to blame for all of these failures, or for
    none, and they survived. Stock counts as survived
    for `STOCK_HOURS`. Where several failures can only be strangers, the evidence counts half (`TEMPERED`): the model does not
    fit.
    """
    doubtful = [one for one in trials if one.failed and one.by_knob is not None and one.by_knob < 1]
    if doubtful:
        share = max(one.by_knob for one in doubtful if one.by_knob is not None)
        blamed = edge_posterior(model, [replace(one, by_knob=1.0) if one in doubtful else one for one in trials])
        cleared = edge_posterior(model, [replace(one, failed=False) if one in doubtful else one for one in trials])
        weight = share * blamed.weight + (1 - share) * cleared.weight
        return replace(blamed, weight=weight, trials=tuple(trials), fits=blamed.fits and cleared.fits)
    start = _before(model)
    log_start = np.log(start.weight + 1e-300)
    evidence = _evidence(start, trials)
    belief = replace(start, weight=_shares(log_start + evidence), trials=tuple(trials))
    strangers = tuple(trial for trial in trials if trial.failed and _unrelated(belief, trial) > STRANGER)
    failed = sum(trial.failed for trial in trials)
    if len(strangers) >= STRANGERS and len(strangers) > STRANGERS_SHARE * failed:
        belief = replace(belief, weight=_shares(log_start + TEMPERED * evidence), fits=False)
    return replace(belief, strangers=strangers)


def after_trial(belief: EdgePosterior, trial: Trial) -> EdgePosterior:
    """The belief after one more trial, without going through the earlier ones again."""
    log_weight = np.log(belief.weight + 1e-300) + _evidence(belief, [trial])
    return replace(belief, weight=_shares(log_weight), trials=(*belief.trials, trial))


def likelihood_of(belief: EdgePosterior, trials: Sequence[Trial]) -> float:
    """Log of the chance of these trials by what is believed."""
    evidence = _evidence(belief, trials)
    most = float(evidence.max())
    return most + math.log(float((belief.weight * np.exp(evidence - most)).sum()) + 1e-300)


def _before(model: EdgeModel) -> EdgePosterior:
    knob, usual = model.knob, model.steepness.decade
    far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
    first = EDGE_FROM_DECADES * usual
    end = far + max(far / 2, 8 * usual)
    if model.stable_start:
        edges = np.geomspace(first, end + first, model.grid[0]) - first
    else:
        # nothing is known of where between the ends it lies; it may lie before the start
        edges = np.linspace(-first, end, model.grid[0])
    weight_edges = np.exp(-np.maximum(edges - far, 0.0) / (FADE * far))
    throughout = HOLDS_THROUGHOUT.get(knob.role, 0.0)
    weight_edges *= (1 - throughout) / weight_edges.sum()
    weight_edges[-1] += throughout
    decades = np.geomspace(*DECADES, model.grid[1])
    away = np.log(decades) / model.steepness.spread
    weight_decades = (1 + away**2 / TAILS) ** (-(TAILS + 1) / 2)
    weight_decades *= (1 - CLIFF_SHARE) / weight_decades.sum()
    weight_decades[:CLIFF_PLACES] += CLIFF_SHARE / CLIFF_PLACES
    cap, cold, weight_shapes = np.array(SHAPES).T
    axes = Axes.of(edges, decades * usual, cap, cold * usual)
    shapes, pairs = cap.size, axes.edges.size
    edge, decade = np.repeat(axes.edges, shapes), np.repeat(axes.decades, shapes)
    weight = np.einsum("i,j,k->ijk", weight_edges, weight_decades, weight_shapes).ravel()
    if model.stable_start:
        weight *= np.exp(-STOCK_HOURS * axes.flat(axes.rates(0.0, 0.0)))
    weight /= weight.sum()
    log = np.log(decade)
    mean = float(weight @ log)
    before = mean, float(weight @ (log - mean) ** 2)
    caps, colds = np.tile(cap, pairs), np.tile(axes.colds, pairs)
    return EdgePosterior(
        knob=knob,
        axes=axes,
        edge=edge,
        decade=decade,
        cap=caps,
        cold=colds,
        weight=weight,
        steepness=model.steepness,
        log_decade_before=before,
        stable_start=model.stable_start,
    )


def _rates(belief: EdgePosterior, x: float, coldness: float) -> tuple[Array, Array]:
    """Failures an hour at a distance while the part is cold, and after: shapes × pairs."""
    return belief.axes.rates(x, 1.0), belief.axes.rates(x, coldness)


def _expected(belief: EdgePosterior, x: float, coldness: float, minutes: float) -> Array:
    """Failures to expect within so many minutes of a run, from its cold start on, at each point of the grid."""
    return belief.axes.flat(_integral(*_rates(belief, x, coldness), minutes))


def _integral(cold: Array, warm: Array, minutes: float) -> Array:
    return (cold * min(minutes, WARM_UP_MINUTES) + warm * max(minutes - WARM_UP_MINUTES, 0.0)) / 60


def _evidence(belief: EdgePosterior, trials: Iterable[Trial]) -> Array:
    """Log likelihood of the trials at each point of the grid. Cold and warm minutes survived at one place add up."""
    trials = tuple(trials)
    reached = _survived_to(belief, trials)
    found = np.zeros((belief.axes.caps.size, belief.axes.edges.size))
    survived: dict[tuple[float, float], list[float]] = defaultdict(lambda: [0.0, 0.0])
    failed: dict[tuple[float, float], list[Trial]] = defaultdict(list)
    for trial in trials:
        place = (belief.distance(trial.value) + trial.stress, trial.coldness)
        if trial.failed:
            failed[place].append(trial)
            continue
        survived[place][0] += min(trial.minutes, WARM_UP_MINUTES) / 60
        survived[place][1] += max(trial.minutes - WARM_UP_MINUTES, 0.0) / 60
    for place, (cold_h, warm_h) in survived.items():
        cold, warm = _rates(belief, *place)
        found -= cold * cold_h + warm * warm_h
    for place, some in failed.items():
        cold, warm = _rates(belief, *place)
        for trial in some:
            own, other = _failing(cold, warm, trial, other_cause=place[0] <= reached and trial.by_knob is None)
            found += np.log(own + other + 1e-300)
    return belief.axes.flat(found)


def _survived_to(belief: EdgePosterior, trials: Sequence[Trial]) -> float:
    """The distance up to which a failure may have had another cause."""
    if belief.stable_start:
        return math.inf
    every = (*belief.trials, *trials)
    return max((belief.distance(one.value) + one.stress for one in every if not one.failed), default=-math.inf)


def _failing(cold: Array, warm: Array, trial: Trial, *, other_cause: bool = True) -> tuple[Array, Array]:
    """Likelihood of a failure by the knob, and by another cause."""
    first, last = trial.failed_between
    until = np.exp(-_integral(cold, warm, first))
    own = until - np.exp(-_integral(cold, warm, last))
    other = max(UNRELATED_PER_H * (last - first) / 60, UNRELATED_LEAST) if other_cause else 0.0
    return own, other * until


def _unrelated(belief: EdgePosterior, trial: Trial) -> float:
    """Chance that a failure came from another cause."""
    place = belief.distance(trial.value) + trial.stress
    possible = place <= _survived_to(belief, belief.trials) and trial.by_knob is None
    own, other = _failing(*_rates(belief, place, trial.coldness), trial, other_cause=possible)
    return float((belief.weight * belief.axes.flat(other / np.maximum(own + other, 1e-300))).sum())


def _shares(log_weight: Array) -> Array:
    weight = np.exp(log_weight - log_weight.max())
    return np.asarray(weight / weight.sum())
