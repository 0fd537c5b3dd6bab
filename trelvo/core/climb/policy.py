"""What a user accepts on a climb, where it may go, and the form in which advice comes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from trelvo.core.base.knobs import GRID_TOLERANCE_STEPS, Knob, check_knob, describe_value
from trelvo.core.climb.score_top import ScoreTop
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.approaches import Strategy
from trelvo.core.registry.goals import SURE

# A short test and a first proof. Common practice.
SHORT_MINUTES, PROOF_MINUTES = 5.0, 60.0
# Setting a value and starting a test costs so much besides.
HANDLING_MINUTES = 1.0
# The furthest that a test may go past what has survived, as a share of the range; less with voltage.
LARGEST_STEP_SHARE, LARGEST_STEP_SHARE_VOLTAGE = 0.1, 0.07


@dataclass(frozen=True)
class Policy:
    """What the user accepts. accepted_per_h: failures an hour of what is kept; sure: how sure to be of it

    cautious: keep only what would hold even if failures thin out slowly below the edge
    most_to_fail, most_at_once: largest chance of failing at all, and within the first minute, that a test may have
    largest_step: how far past the furthest value that survived a test may go, in the knob's unit; None: a tenth of the range
    restart_minutes: what a failure costs; minutes_left: bench time that is left, all of which may be used; without an end,
    it stops where an hour gains too little
    limit: value beyond which nothing is proposed (safety limit, tool's cap); begin: value before which nothing is proposed,
    where a
    limit is beyond stock on the way; candidates: how many values are weighed for a test
    steepness: what earlier climbs have shown of knobs of this kind; None: what is usual
    test_stress: how much nearer the edge than everything else the load of the tests takes it, in the knob's unit; below zero
    where it is lighter
    """

    strategy: Strategy = "adaptive"
    accepted_per_h: float = ACCEPTED_PER_H
    sure: float = SURE
    cautious: bool = False
    most_to_fail: float = 0.6
    most_at_once: float = 0.35
    largest_step: float | None = None
    restart_minutes: float = 4.0
    minutes_left: float = math.inf
    limit: float | None = None
    begin: float | None = None
    candidates: int = 16
    steepness: Steepness | None = None
    test_stress: float = 0.0


@dataclass(frozen=True)
class Advice:
    """Test this value for so many minutes at most, stopping at a failure, or hold it; why; and what the test would teach.

    chance_to_pass: where there is an estimate of it; range_end: a better end for the knob's range, where one is suggested
    """

    act: Literal["test", "hold"]
    value: float
    minutes: float
    reason: Message
    teaches: Message | None = None
    chance_to_pass: float | None = None
    load_id: int | None = None
    range_end: float | None = None


def below_top(knob: Knob, policy: Policy, top: ScoreTop | None) -> Policy:
    """The policy with the score's top as its limit, where the score has passed it."""
    if top is None:
        return policy
    nearer = min if knob.away == 1 else max
    return replace(policy, limit=top.value if policy.limit is None else nearer(policy.limit, top.value))


def largest_step(knob: Knob, policy: Policy) -> float:
    """How far past the furthest value that survived a test may go, in the knob's unit: a step of the knob at the least."""
    if policy.largest_step is not None:
        return max(policy.largest_step, knob.step)
    far = abs((knob.high if knob.away == 1 else knob.low) - knob.stock)
    if knob.role == "power limit" and knob.away == 1:
        # a part takes what it needs of the power it is allowed: the limit goes to its end at once. Common practice.
        return max(far, knob.step)
    share = LARGEST_STEP_SHARE_VOLTAGE if knob.role in ("voltage", "curve point") else LARGEST_STEP_SHARE
    return max(share * far, knob.step)


def check_climb(knob: Knob, trials: Sequence[Trial], policy: Policy) -> None:
    """Refuse nonsense: values that are no numbers, negative times, an impossible risk.

    A trial off the grid or outside the range counts: it was run before the knob's step or range was changed.
    """
    problems = check_knob(knob, "knob")
    if problems:
        raise Refused(*problems)
    for number, trial in enumerate(trials):
        if not math.isfinite(trial.value):
            problems.append(Problem(f"trials.{number}.value", "trial_value_not_a_number"))
        if not (math.isfinite(trial.minutes) and trial.minutes >= 0):
            problems.append(
                Problem(f"trials.{number}.minutes", "trial_minutes_out_of_range", {"minutes": trial.minutes})
            )
        elif trial.minutes == 0 and not trial.failed:
            problems.append(Problem(f"trials.{number}.minutes", "trial_of_no_time"))
    if not 0 < policy.accepted_per_h < 60:
        problems.append(
            Problem("accepted_per_h", "accepted_rate_not_above_zero", {"accepted_per_h": policy.accepted_per_h})
        )
    if not 0.5 <= policy.sure < 1:
        problems.append(Problem("sure", "sureness_out_of_range", {"sure": policy.sure}))
    if policy.largest_step is not None and not policy.largest_step > 0:
        problems.append(Problem("largest_step", "largest_step_not_above_zero", {"largest_step": policy.largest_step}))
    if problems:
        raise Refused(*problems[:20])


def values_of(knob: Knob, policy: Policy) -> list[float]:
    """The values from stock away, on the grid, inside range and limits; stock first, where the limits allow it.

    Where stock itself is beyond the limit: the one value nearest stock that is within. Refused where the range has none.
    """
    return list(_grid(knob, policy.limit, policy.begin))


# a climb that is played through thousands of times asks for the same few: without this it takes twice as long
@lru_cache(maxsize=256)
def _grid(knob: Knob, limit: float | None, begin: float | None) -> tuple[float, ...]:
    values = _up_to(knob, limit)
    if begin is not None:
        first = (begin - knob.stock) * knob.away - GRID_TOLERANCE_STEPS * knob.step
        values = tuple(value for value in values if (value - knob.stock) * knob.away >= first)
        if not values:
            raise Refused(
                Problem(
                    "limit", "limit_leaves_no_range", {"limit": describe_value(knob, begin), "knob": knob.name.lower()}
                )
            )
    return values


def _up_to(knob: Knob, limit: float | None) -> tuple[float, ...]:
    far = knob.high if knob.away == 1 else knob.low
    if limit is not None:
        far = min(far, limit) if knob.away == 1 else max(far, limit)
    steps = math.floor((far - knob.stock) * knob.away / knob.step + 1e-9)
    if steps >= 0:
        return tuple(round(knob.stock + knob.away * k * knob.step, 9) for k in range(steps + 1))
    nearest = round(knob.stock + knob.away * steps * knob.step, 9)
    if not knob.low - GRID_TOLERANCE_STEPS * knob.step <= nearest <= knob.high + GRID_TOLERANCE_STEPS * knob.step:
        raise Refused(
            Problem("limit", "limit_leaves_no_range", {"limit": describe_value(knob, far), "knob": knob.name.lower()})
        )
    return (nearest,)
