"""Which test raises the value that will be held most for its minutes."""

from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.climb.edge import WARM_UP_MINUTES, Array, EdgePosterior, failures_per_h
from trelvo.core.climb.policy import HANDLING_MINUTES, Policy

# Lengths that are weighed against each other; a longer test is one of these, gone on with.
LENGTHS = np.array([2.0, 4.0, 8.0, 15.0, 30.0, 60.0, 120.0])
# The hold is judged at its own sureness and at surer and less sure ones, so that what narrows the belief near it counts too.
SHARES = (0.5, 1.0, 2.0, 3.0)
# How many points of the belief are weighed: half of them stand for all of it, half for its careful end, where the hold is found.
POINTS = 480
# A test is gone on with at most so many times.
EXTENSIONS = 5


@dataclass(frozen=True)
class Points:
    """Points of a belief by their hold line, nearest first. weight: what each stands for"""

    edge: Array
    decade: Array
    cap: Array
    cold: Array
    line: Array
    weight: Array

    def after_passing(self, x: float, minutes: float) -> "Points":
        """What is believed once a test has passed."""
        weight = self.weight * self.survival(np.array([x]), np.array([minutes]))[0, 0]
        return replace(self, weight=weight / weight.sum())

    def survival(self, places: Array, minutes: Array) -> Array:
        """Chance to survive at each place for so many minutes from a cold start, for each point: places × minutes × points."""
        cold = failures_per_h(places[:, None], self.edge + self.cold, self.decade, self.cap)[:, None, :]
        warm = failures_per_h(places[:, None], self.edge, self.decade, self.cap)[:, None, :]
        cold_h = (np.minimum(minutes, WARM_UP_MINUTES) / 60)[:, None]
        warm_h = (np.maximum(minutes - WARM_UP_MINUTES, 0.0) / 60)[:, None]
        return np.asarray(np.exp(-(cold * cold_h + warm * warm_h)))


@dataclass(frozen=True)
class Test:
    """A test that could be made. place: distance from stock; passes: chance to; gain: rise of the hold, in the knob's unit,
    expected a minute of bench time"""

    place: float
    minutes: float
    passes: float
    gain: float


def points_of(belief: EdgePosterior, line: Array, policy: Policy) -> Points:
    """A few hundred points that stand for the whole belief, more of them where the hold is decided.

    Method: systematic sampling along the hold line from a half-and-half mixture of the belief and of its careful end, each
    point weighed by what the mixture drew too often.
    """
    order = np.argsort(line)
    weight = belief.weight[order]
    careful = np.cumsum(weight) <= max(SHARES) * (1 - policy.sure)
    end = np.where(careful, weight, 0.0)
    mixed = weight + end / max(float(end.sum()), 1e-300)
    cumulated = np.cumsum(mixed) / mixed.sum()
    marks = (np.arange(POINTS) + 0.5) / POINTS
    drawn, often = np.unique(np.searchsorted(cumulated, marks), return_counts=True)
    share = often * weight[drawn] / mixed[drawn]
    at = order[drawn]
    return Points(belief.edge[at], belief.decade[at], belief.cap[at], belief.cold[at], line[at], share / share.sum())


def best_test(
    points: Points,
    places: Array,
    survived_to: float,
    policy: Policy,
    minutes_left: float,
    going_on: float | None = None,
) -> Test | None:
    """The place and length at which the hold is expected to rise most a minute; None where none is allowed or fits.

    places: distances from stock; survived_to: the furthest that has survived, beyond which nothing is held
    going_on: a place at which a test is running already, which costs no handling
    Method: one step of lookahead. A length's answers are "failed between two of the lengths below it" and "passed"; after each
    the hold is found again, and their mean is compared with the minutes that the test takes on average, restart and handling
    counted.
    """
    lengths = LENGTHS[minutes_left + 1e-9 >= LENGTHS]
    if not (lengths.size and places.size):
        return None
    at_once = 1 - points.survival(places, np.array([1.0]))[:, 0] @ points.weight
    places = places[at_once <= policy.most_at_once]
    if not places.size:
        return None
    passing = points.survival(places, lengths)
    failing = np.concatenate([np.ones_like(passing[:, :1]), passing[:, :-1]], axis=1) - passing
    cumulated = np.cumsum(np.concatenate([failing, passing], axis=1) * points.weight, axis=2)
    chance = cumulated[:, :, -1]
    reached = np.full(chance.shape, survived_to)
    reached[:, lengths.size :] = np.maximum(survived_to, places)[:, None]
    held = _held(points.line, cumulated, reached, policy.sure) * chance
    failed, passed = chance[:, : lengths.size], chance[:, lengths.size :]
    after = np.cumsum(held[:, : lengths.size], axis=1) + held[:, lengths.size :]
    now = _held(points.line, np.cumsum(points.weight)[None], np.array([survived_to]), policy.sure)[0]
    middles = (lengths + np.concatenate([[0.0], lengths[:-1]])) / 2
    lasts = np.cumsum(failed * middles, axis=1) + passed * lengths
    handling = np.where(places == going_on, 0.0, HANDLING_MINUTES)[:, None]
    gain = (after - now) / (lasts + (1 - passed) * policy.restart_minutes + handling)
    gain = np.where(1 - passed > policy.most_to_fail, -np.inf, gain)
    place, length = np.unravel_index(int(np.argmax(gain)), gain.shape)
    if not np.isfinite(gain[place, length]):
        return None
    return Test(float(places[place]), float(lengths[length]), float(passed[place, length]), float(gain[place, length]))


def _held(line: Array, cumulated: Array, reached: Array, sure: float) -> Array:
    """The hold by cumulated weights along the line, never beyond what survived; the mean over `SHARES`."""
    total = cumulated[..., -1]
    held = np.zeros_like(total)
    for share in SHARES:
        wanted = share * (1 - sure) * total
        at = np.minimum((cumulated < wanted[..., None]).sum(axis=-1), line.size - 1)
        before = np.maximum(at - 1, 0)
        above = np.take_along_axis(cumulated, at[..., None], -1)[..., 0]
        below = np.where(at > 0, np.take_along_axis(cumulated, before[..., None], -1)[..., 0], 0.0)
        part = np.clip((wanted - below) / np.maximum(above - below, 1e-300), 0.0, 1.0)
        held += np.minimum(line[before] + (line[at] - line[before]) * part, reached)
    return np.asarray(held / len(SHARES))


def candidate_places(grid: Array, points: Points, survived_to: float, step: float, count: int) -> Array:
    """Places worth weighing: on the grid, from where the hold surely lies to one largest step past what has survived."""
    low = float(points.line[min(int(np.searchsorted(np.cumsum(points.weight), 0.02)), points.line.size - 1)])
    low = max(min(low, survived_to - 3 * step), 0.0)
    within = grid[(grid > low) & (grid <= survived_to + step + 1e-9) & (grid > 0)]
    if within.size > count:
        within = within[np.unique(np.round(np.linspace(0, within.size - 1, count)).astype(int))]
    return within


def whole_test(
    points: Points, grid: Array, survived_to: float, step: float, policy: Policy, least: float
) -> Test | None:
    """The best test, gone on with for as long as nothing else would be worth more if it passes; None where none is worth `least`.

    least: rise of the hold a minute below which no test is worth its time, in the knob's unit
    """
    left = policy.minutes_left - HANDLING_MINUTES
    places = candidate_places(grid, points, survived_to, step, policy.candidates)
    best = best_test(points, places, survived_to, policy, left)
    if best is None or best.gain < least:
        return None
    more, minutes, passes = best, best.minutes, best.passes
    for _ in range(EXTENSIONS):
        points = points.after_passing(best.place, more.minutes)
        survived_to = max(survived_to, best.place)
        places = candidate_places(grid, points, survived_to, step, policy.candidates)
        found = best_test(
            points, np.union1d(places, [best.place]), survived_to, policy, left - minutes, going_on=best.place
        )
        if found is None or found.place != best.place or found.gain < least:
            break
        if 1 - passes * found.passes > policy.most_to_fail:
            break
        more, minutes, passes = found, minutes + found.minutes, passes * found.passes
    return replace(best, minutes=minutes, passes=passes)
