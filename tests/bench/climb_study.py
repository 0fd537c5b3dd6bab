"""Climbs on specimens drawn widely, to see what each strategy keeps; used by test_climb. Knows nothing of the stand-in."""

import math
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.stability import ACCEPTED_PER_H, EdgeModel, Trial, edge_posterior
from trelvo.core.climb.strategies import Policy, Strategy, advise, values_of

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")
BUDGET_MINUTES, RESTART_MINUTES, LATER_MINUTES = 120.0, 4.0, 10.0


@dataclass(frozen=True)
class Silicon:
    """A specimen: distance of its edge from stock and its decade, in the knob's unit; how it departs from the model.

    tail: below one decade under the edge, failures thin out this many times more slowly
    heat: the edge differs by this much (one deviation) from run to run, and is this much better for the first two minutes
    other_per_h: failures an hour that have nothing to do with the knob
    """

    edge: float
    decade: float
    tail: float = 1.0
    heat: float = 0.0
    other_per_h: float = 0.0

    def rate(self, distance: float, shift: float = 0.0) -> float:
        decades = (distance - self.edge - shift) / self.decade
        if decades < -1:
            decades = -1 + (decades + 1) / self.tail
        return 10 ** min(decades, 6.0)

    def safe_to(self, knob: Knob) -> float:
        """The furthest distance on the knob's grid whose own rate is within the accepted one."""
        steps = round(abs((knob.high if knob.away == 1 else knob.low) - knob.stock) / knob.step)
        return max(k * knob.step for k in range(steps + 1) if k == 0 or self.rate(k * knob.step) <= ACCEPTED_PER_H)

    def fails_after(self, distance: float, rng: np.random.Generator) -> float:
        """Minutes until a failure, from either cause."""
        shift = float(rng.normal(0, self.heat)) if self.heat else 0.0
        first = float(rng.exponential(60 / self.rate(distance, shift + self.heat)))
        if first > 2 and self.heat:
            first = 2 + float(rng.exponential(60 / self.rate(distance, shift)))
        other = float(rng.exponential(60 / self.other_per_h)) if self.other_per_h else math.inf
        return min(first, other)


@dataclass(frozen=True)
class Kept:
    """What a climb kept: steps short of the best safe value (negative: past it), whether it is safe, and what it cost.

    stated: chances to pass that were stated and whether it passed, for every test of the climb and, at its end, for a test of
    ten minutes at every value of the knob
    """

    short_steps: float
    safe: bool
    minutes: float
    failures: int
    stated: tuple[tuple[float, bool], ...]


def draw(knob: Knob, seed: int, **faults: float) -> Silicon:
    """Edges from a tenth of the way to a little beyond the end, decades over a factor of five, in steps of the knob."""
    rng = np.random.default_rng((seed, 7))
    far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
    decade = knob.step * math.exp(rng.uniform(math.log(0.53), math.log(2.67)))
    return Silicon(float(rng.uniform(0.1, 1.05) * far), decade, **faults)


def climb(knob: Knob, silicon: Silicon, strategy: Strategy, seed: int) -> Kept:
    """Follows the advice until it says hold or the time is used up, then keeps what it would hold."""
    rng = np.random.default_rng((seed, 11))
    trials: list[Trial] = []
    policy = Policy(strategy=strategy, restart_minutes=RESTART_MINUTES, minutes_left=BUDGET_MINUTES)
    failures, stated = 0, []
    while True:
        advice = advise(knob, trials, policy)
        if advice.act == "hold" or advice.minutes > policy.minutes_left:
            break
        at = silicon.fails_after((advice.value - knob.stock) * knob.away, rng)
        failed = at < advice.minutes
        trials.append(Trial(advice.value, at if failed else advice.minutes, failed))
        if advice.chance_to_pass is not None:
            stated.append((advice.chance_to_pass, not failed))
        spent = (at + RESTART_MINUTES if failed else advice.minutes) + 0.5
        policy = replace(policy, minutes_left=max(0.0, policy.minutes_left - spent))
        failures += failed
    if strategy == "by the numbers":
        belief = edge_posterior(EdgeModel.of(knob), trials)
        for value in values_of(knob, policy)[1:]:
            passed = silicon.fails_after((value - knob.stock) * knob.away, rng) >= LATER_MINUTES
            stated.append((belief.chance_to_hold(value, LATER_MINUTES), passed))
    kept = advice.value if advice.act == "hold" else last_good(knob, trials)
    distance = (kept - knob.stock) * knob.away
    short = (silicon.safe_to(knob) - distance) / knob.step
    safe = distance == 0 or silicon.rate(distance) <= ACCEPTED_PER_H * (1 + 1e-9)
    return Kept(short, safe, BUDGET_MINUTES - policy.minutes_left, failures, tuple(stated))


def last_good(knob: Knob, trials: list[Trial]) -> float:
    """What a person keeps when the time is over: the furthest value that held, below every one that failed."""
    bad = min(((t.value - knob.stock) * knob.away for t in trials if t.failed), default=math.inf)
    held = [(t.value - knob.stock) * knob.away for t in trials if not t.failed]
    return knob.stock + knob.away * max((d for d in held if d < bad), default=0.0)


def _one(job: tuple[Knob, Strategy, int, dict[str, float]]) -> Kept:
    knob, strategy, seed, faults = job
    return climb(knob, draw(knob, seed, **faults), strategy, seed)


def study(
    knob: Knob, strategy: Strategy, specimens: int, faults: Callable[[Knob], dict[str, float]] | None = None
) -> list[Kept]:
    jobs = [(knob, strategy, seed, faults(knob) if faults else {}) for seed in range(specimens)]
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(_one, jobs, chunksize=10))
