"""How long a climb or a proof will take, with its spread, and what fits into the time one has."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import (
    WARM_UP_MINUTES,
    EdgeModel,
    EdgePosterior,
    after_trial,
    edge_posterior,
    failures_per_h,
)
from trelvo.core.climb.policy import HANDLING_MINUTES, Advice, Policy, check_climb, values_of
from trelvo.core.climb.strategies import advise_checked
from trelvo.core.climb.trials import Trial

# A coarser belief is enough to count minutes with.
COARSE_GRID = (61, 9)
COARSE_CANDIDATES = 8
DRAWS = 24
MOST_TESTS = 80
# A part cools in this time. Common practice: a cooler settles in 10 to 15 minutes, most of it in five.
COOL_DOWN_MINUTES = 5.0


@dataclass(frozen=True)
class Minutes:
    """Minutes of bench time: the middle, and what four in five cases lie between."""

    likely: float
    low: float
    high: float


@dataclass(frozen=True)
class Held:
    """Where a knob is held at the end: the middle, and between what four in five cases lie, nearest stock first."""

    likely: float
    near: float
    far: float


@dataclass(frozen=True)
class ClimbPlan:
    """A climb to its hold from here: minutes with restarts, failures and tests to expect, and where it is held afterwards.

    finished: in how many cases it ends by itself rather than with the time
    """

    minutes: Minutes
    failures: float
    tests: float
    hold: Held
    finished: float


def plan_climb(
    knob: Knob, trials: Sequence[Trial], policy: Policy, rng: np.random.Generator, draws: int = DRAWS
) -> ClimbPlan:
    """The rest of a climb, played through on specimens drawn from what is believed so far.

    draws: how many specimens
    Method: Monte Carlo; each failure costs `policy.restart_minutes`, each test `HANDLING_MINUTES` to set up. The policy's
    minutes_left bounds each of them.
    """
    policy = replace(policy, candidates=COARSE_CANDIDATES)
    check_climb(knob, trials, policy)
    belief = edge_posterior(EdgeModel.of(knob, policy.steepness, COARSE_GRID), trials)
    trials = added_up(trials)
    begun = _Place(knob, policy, replace(belief, trials=tuple(trials)), policy.minutes_left)
    values = values_of(knob, policy)
    spent, failures, tests, held, ended = [], [], [], [], []
    for specimen in rng.choice(belief.weight.size, size=draws, p=belief.weight):
        at, minutes, failed = begun, 0.0, 0
        for _ in range(MOST_TESTS):
            if at.advice.act == "hold":
                break
            lasts = _fails_after(belief, int(specimen), belief.distance(at.advice.value), rng)
            fails = lasts < at.advice.minutes
            cost = min(lasts, at.advice.minutes) + policy.restart_minutes * fails + HANDLING_MINUTES
            minutes, failed = minutes + cost, failed + fails
            at = at.after(min(lasts, at.advice.minutes), fails, cost)
        else:
            at = _Place(knob, policy, at.known, 0.0)
        spent.append(minutes)
        failures.append(failed)
        tests.append(len(at.known.trials) - len(trials))
        held.append(values.index(at.advice.value))
        ended.append(at.ends_by_itself)
    near, middle, far = (values[round(place)] for place in np.quantile(held, [0.1, 0.5, 0.9]))
    low, likely, high = np.quantile(spent, [0.1, 0.5, 0.9])
    return ClimbPlan(
        Minutes(float(likely), float(low), float(high)),
        float(np.mean(failures)),
        float(np.mean(tests)),
        Held(middle, near, far),
        float(np.mean(ended)),
    )


class _Place:
    """A place on a climb that is played through: what is known there, what is advised, and where a test that passes leads.

    Specimens that have passed the same tests are at the same place, which is thought through once.
    """

    def __init__(self, knob: Knob, policy: Policy, known: EdgePosterior, left: float) -> None:
        self.knob, self.policy, self.known, self.left = knob, policy, known, left
        self._passed: _Place | None = None

    @cached_property
    def advice(self) -> Advice:
        policy = replace(self.policy, minutes_left=self.left)
        return advise_checked(self.knob, self.known.trials, policy, belief=self.known)

    @cached_property
    def ends_by_itself(self) -> bool:
        """What ends for want of time would go on with more of it."""
        if math.isinf(self.left):
            return self.advice.act == "hold"
        without_end = replace(self.policy, minutes_left=math.inf)
        return advise_checked(self.knob, self.known.trials, without_end, belief=self.known).act == "hold"

    def after(self, minutes: float, failed: bool, cost: float) -> "_Place":
        if failed or self._passed is None:
            known = after_trial(self.known, Trial(self.advice.value, minutes, failed))
            there = _Place(self.knob, self.policy, known, max(0.0, self.left - cost))
            if failed:
                return there
            self._passed = there
        return self._passed


def _fails_after(belief: EdgePosterior, place: int, distance: float, rng: np.random.Generator) -> float:
    """Minutes until a test at a distance fails, on the specimen that one point of the belief describes."""
    at = slice(place, place + 1)
    edge, decade, cap, cold = belief.edge[at], belief.decade[at], belief.cap[at], belief.cold[at]
    first = float(rng.exponential(60 / float(failures_per_h(distance, edge + cold, decade, cap)[0])))
    if first <= WARM_UP_MINUTES:
        return first
    return WARM_UP_MINUTES + float(rng.exponential(60 / float(failures_per_h(distance, edge, decade, cap)[0])))


def added_up(trials: Sequence[Trial]) -> list[Trial]:
    """The same knowledge in fewer trials: hours survived at one place and stress are one trial, in its latest place."""
    found: dict[object, Trial] = {}
    for number, trial in enumerate(trials):
        key = number if trial.failed else (trial.value, trial.stress)
        before = found.pop(key, None)
        found[key] = replace(trial, minutes=trial.minutes + before.minutes) if before else trial
    return list(found.values())


def with_overheads(minutes: float, sessions: int, failures_per_h: float, restart_minutes: float) -> Minutes:
    """What a test really takes: its own time, cooling down and setting up for each session, and restarts after failures.

    failures_per_h: how often it is expected to fail; a failure costs its restart and half of the session again
    """
    base = minutes + sessions * (COOL_DOWN_MINUTES + HANDLING_MINUTES)
    expected = failures_per_h * minutes / 60
    each = restart_minutes + 0.5 * minutes / max(sessions, 1)
    return Minutes(base + expected * each, base, base + (expected + 1.28 * math.sqrt(expected)) * each)


def together(parts: Sequence[Minutes]) -> Minutes:
    """Minutes one after the other: middles add, spreads add as squares (independent parts)."""
    likely = sum(part.likely for part in parts)
    below = math.sqrt(sum((part.likely - part.low) ** 2 for part in parts))
    above = math.sqrt(sum((part.high - part.likely) ** 2 for part in parts))
    return Minutes(likely, likely - below, likely + above)


@dataclass(frozen=True)
class Activity:
    """Something that takes bench time. teaches: how much it adds to what is known, in any one measure"""

    key: str
    minutes: Minutes
    teaches: float


@dataclass(frozen=True)
class Fitted:
    """Which activities fit, in their given order, which are dropped, and what the rest takes."""

    kept: tuple[str, ...]
    dropped: tuple[str, ...]
    minutes: Minutes


def fit(activities: Sequence[Activity], minutes: float) -> Fitted:
    """What fits into so many minutes: what teaches least for its time is dropped first, and taken back where it still fits."""

    def takes(chosen: Iterable[Activity]) -> Minutes:
        return together([one.minutes for one in chosen])

    worth = sorted(activities, key=lambda one: one.teaches / max(one.minutes.likely, 1e-9))
    kept = {activity.key: activity for activity in activities}
    for one in worth:
        if takes(kept.values()).likely <= minutes:
            break
        del kept[one.key]
    for one in reversed(worth):
        if one.key not in kept and takes([*kept.values(), one]).likely <= minutes:
            kept[one.key] = one
    order = [activity.key for activity in activities]
    return Fitted(
        tuple(key for key in order if key in kept),
        tuple(key for key in order if key not in kept),
        takes(kept.values()),
    )
