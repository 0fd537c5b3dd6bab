"""Climbs on specimens drawn widely, to see what each strategy keeps; used by test_climb. Knows nothing of the simulator."""

import math
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from tests.core.climb.specimens import ROWS, Row, Silicon
from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import EdgeModel, after_trial, edge_posterior
from trelvo.core.climb.policy import HANDLING_MINUTES, Advice, Policy, values_of
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.strategies import advise_checked
from trelvo.core.climb.trials import Trial

RESTART_MINUTES, LATER_MINUTES, MOST_TESTS = 4.0, 10.0, 80


@dataclass(frozen=True)
class Step:
    """A test of a climb: what was advised, and what came of it."""

    advice: Advice
    lasted: float
    failed: bool


@dataclass(frozen=True)
class Kept:
    """What a climb kept: usual steps short of the best safe value (negative: past it), whether it is safe, and what it cost.

    proved: whether the climb said that it holds; longer: whether another end of the range was suggested
    stated: chances to pass that were stated and whether it passed, for every test of the climb and, at its end, for a test of
    ten minutes at every value of the knob
    """

    value: float
    short_steps: float
    safe: bool
    minutes: float
    failures: int
    longer: bool
    steps: tuple[Step, ...]
    stated: tuple[tuple[float, bool], ...]


def climb(row: Row, silicon: Silicon, policy: Policy, seed: int) -> Kept:
    """Follows the advice until it says hold or the time is used up, then keeps what it would hold."""
    rng, knob = np.random.default_rng((seed, 11)), row.knob
    known = -silicon.lighter if row.told else 0.0
    budget = policy.minutes_left
    policy = replace(policy, restart_minutes=RESTART_MINUTES, test_stress=known)
    trials: list[Trial] = []
    belief = edge_posterior(EdgeModel.of(knob), trials)
    steps: list[Step] = []
    stated, longer = [], False
    numbers = policy.strategy == "adaptive"
    while True:
        advice = advise_checked(knob, trials, policy, belief=belief if numbers else None)
        longer |= advice.range_end is not None
        if advice.act == "hold" or advice.minutes > policy.minutes_left or len(steps) >= MOST_TESTS:
            break
        at = silicon.fails_after((advice.value - knob.stock) * knob.away, rng)
        failed = at < advice.minutes
        steps.append(Step(advice, min(at, advice.minutes), failed))
        trials.append(noted(advice, at, failed, row, known))
        belief = after_trial(belief, trials[-1]) if numbers else belief
        if advice.chance_to_pass is not None:
            stated.append((advice.chance_to_pass, not failed))
        spent = (at + RESTART_MINUTES if failed else advice.minutes) + HANDLING_MINUTES
        policy = replace(policy, minutes_left=max(0.0, policy.minutes_left - spent))
    if numbers:
        for value in values_of(knob, policy)[1:]:
            distance = (value - knob.stock) * knob.away
            passed = silicon.fails_after(distance, rng) >= LATER_MINUTES
            stated.append((belief.chance_to_hold(value + knob.away * known, LATER_MINUTES), passed))
    kept = advice.value if advice.act == "hold" else last_good(knob, trials)
    distance = (kept - knob.stock) * knob.away
    short = (silicon.safe_to(knob) - distance) / row.usual_step
    safe = distance == 0 or silicon.rate(distance) <= ACCEPTED_PER_H * (1 + 1e-9)
    failures = sum(step.failed for step in steps)
    return Kept(kept, short, safe, budget - policy.minutes_left, failures, longer, tuple(steps), tuple(stated))


def noted(advice: Advice, at: float, failed: bool, row: Row, stress: float) -> Trial:
    """The test as it is written down: its time to the second, to the minute, or not at all."""
    if not failed:
        return Trial(advice.value, advice.minutes, False, stress)
    minutes = {"second": at, "minute": float(round(at)), "run": advice.minutes}[row.seen]
    return Trial(advice.value, minutes, True, stress, row.seen)


def last_good(knob: Knob, trials: list[Trial]) -> float:
    """What a person keeps when the time is over: the furthest value that held, below every one that failed."""
    bad = min(((t.value - knob.stock) * knob.away for t in trials if t.failed), default=math.inf)
    held = [(t.value - knob.stock) * knob.away for t in trials if not t.failed]
    return knob.stock + knob.away * max((d for d in held if d < bad), default=0.0)


def _one(job: tuple[Row, Policy, int]) -> Kept:
    row, policy, seed = job
    kept = climb(row, row.draw(seed), policy, seed)
    return replace(kept, steps=())


def study(row: Row, policy: Policy, specimens: int) -> list[Kept]:
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(_one, [(row, policy, seed) for seed in range(specimens)], chunksize=10))


def row_named(name: str) -> Row:
    return next(row for row in ROWS if row.name == name)


def summary(kept: list[Kept]) -> str:
    short = np.array([one.short_steps for one in kept])
    return (
        f"safe {np.mean([one.safe for one in kept]):.1%}, short by {np.median(short):.1f} steps "
        f"(median; mean {short.mean():.1f}), "
        f"{np.mean([one.minutes for one in kept]):.0f} min, {np.mean([one.failures for one in kept]):.1f} failures, "
        f"longer range suggested {np.mean([one.longer for one in kept]):.0%}"
    )
