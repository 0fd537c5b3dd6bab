"""A climb along a knob that helps stability: the least of it that is stable while everything else stays as it is.

More voltage at the same clock is more stable, hotter and shorter-lived, so the question is not how far it goes but how little
is enough. From the last value that failed the climb goes up until one survives, then back down between the two. Common practice.
"""

import math
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Literal

from trelvo.core.base.knobs import Knob, describe_value, from_the_far_end
from trelvo.core.climb.adaptive import adaptive, highest_hold, hold_line, value_or_stock
from trelvo.core.climb.edge import STOCK_HOURS, EdgeModel, EdgePosterior, edge_posterior
from trelvo.core.climb.policy import SHORT_MINUTES, Advice, Policy, largest_step, values_of
from trelvo.core.climb.stability import fewer_than
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message, message
from trelvo.core.registry.approaches import STRATEGIES

# How far the value to keep along a knob is shown to be stable.
HoldState = Literal["sure", "survived", "nothing"]
Downwards = Callable[[Knob, Sequence[Trial], Policy], Advice]


def stock_is_stable(knob: Knob) -> Trial:
    """Weeks at stock without a failure, as a trial: for a line on which nothing else asks more than stock."""
    return Trial(knob.stock, STOCK_HOURS * 60, False)


def hold_along(knob: Knob, belief: EdgePosterior, policy: Policy) -> float:
    """The value to keep along a knob: the furthest that is stable, or for a knob that helps the least that is.

    belief: by `EdgeModel.of(knob)` and its trials. Nothing is kept that is beyond what has survived. Stock where nothing has.
    """
    if knob.turning != "helps":
        return highest_hold(belief, policy, values_of(knob, policy))
    upwards = values_of(knob, policy)
    survived = [trial.value for trial in belief.trials if not trial.failed and trial.minutes > 0]
    if len(upwards) < 2 or not survived:
        return upwards[0]
    most = max(survived, key=lambda value: value * knob.away)
    enough = _enough(knob, belief, policy, upwards)
    if enough is not None and (enough - most) * knob.away <= 0:
        return enough
    # none that was reached is sure enough: the one with the most of it that has survived
    return most if (most - knob.stock) * knob.away >= 0 else upwards[0]


def hold_state(belief: EdgePosterior, policy: Policy, hold: float) -> HoldState:
    """Say how well the value to keep along a knob is shown to be stable.

    Returns "sure" where it fails no more often than accepted, as sure as the policy asks; "survived" where tests passed there and
    do not show it yet; "nothing" where no test has passed there either.
    """
    # the limit of the last step of a belief's grid may miss the wanted figure by a hair
    if belief.chance_stable(hold, policy.accepted_per_h, cautious=policy.cautious) >= policy.sure - 1e-3:
        return "sure"
    reached = belief.distance(hold) <= belief.survived_to + 1e-9 and any(not trial.failed for trial in belief.trials)
    return "survived" if reached else "nothing"


def _enough(knob: Knob, belief: EdgePosterior, policy: Policy, upwards: Sequence[float]) -> float | None:
    """The least value that is sure enough by the belief; None where none within the limits is."""
    reached = min(belief.survived_to, belief.quantile(hold_line(belief, policy), 1 - policy.sure))
    return next((value for value in upwards if belief.distance(value) <= reached + 1e-6 * knob.step), None)


def advise_least(
    knob: Knob, trials: Sequence[Trial], policy: Policy, belief: EdgePosterior | None, downwards: Downwards | None
) -> Advice:
    """The next step along a knob that helps stability.

    downwards: how the fixed strategies search between a value that survived and one that failed; None: by the belief
    """
    belief = belief or edge_posterior(EdgeModel.of(knob, policy.steepness), trials)
    upwards = values_of(knob, policy)
    if len(upwards) < 2 and upwards[0] == knob.stock:
        return Advice("hold", knob.stock, 0.0, message("limit_leaves_stock", knob=knob.name))
    held, failed = _survived_and_failed(upwards, knob, trials)
    worst = max(failed, default=-1)
    if worst < 0:
        return Advice("hold", knob.stock, 0.0, message("no_more_needed"), message("for_a_higher_clock", knob=knob.name))
    if not any(place > worst for place in held):
        return _upwards(knob, upwards, worst, policy)
    return _between(knob, trials, policy, belief, downwards, upwards)


def _survived_and_failed(upwards: Sequence[float], knob: Knob, trials: Sequence[Trial]) -> tuple[list[int], list[int]]:
    """Places on the grid that survived a short test together, and that failed. Off the grid: what survived counts for the value
    above it, what failed for the one below."""
    minutes: dict[int, float] = defaultdict(float)
    failed = []
    for trial in trials:
        steps = (trial.value - upwards[0]) * knob.away / knob.step
        if trial.failed:
            failed.append(min(max(math.floor(steps + 1e-6), 0), len(upwards) - 1))
        elif trial.stress >= 0 or steps >= 0:
            minutes[max(math.ceil(steps - 1e-6), 0)] += trial.minutes
    return [place for place, ran in minutes.items() if ran >= SHORT_MINUTES], failed


def _upwards(knob: Knob, upwards: Sequence[float], worst: int, policy: Policy) -> Advice:
    """Nothing has survived above the last failure: the next value up, or the end."""
    failed_at = value_or_stock(knob, upwards[worst])
    if worst == len(upwards) - 1:
        return Advice("hold", knob.stock, 0.0, message("most_allowed_fails", value=failed_at))
    step = STRATEGIES[policy.strategy].steps
    step = step or max(1, math.floor(largest_step(knob, policy) / knob.step + 1e-9))
    value = upwards[min(worst + step, len(upwards) - 1)]
    if policy.minutes_left < SHORT_MINUTES:
        why = message("no_time_left", minutes=SHORT_MINUTES).then(message("fails_nothing_above", value=failed_at))
        return Advice("hold", knob.stock, 0.0, why)
    why = message("more_helps", value=failed_at, knob=knob.name)
    return Advice("test", value, SHORT_MINUTES, why, message("enough_teaches", value=describe_value(knob, value)))


def _between(
    knob: Knob,
    trials: Sequence[Trial],
    policy: Policy,
    belief: EdgePosterior,
    downwards: Downwards | None,
    upwards: Sequence[float],
) -> Advice:
    """Something has survived above the last failure: how little is enough."""
    reverse = replace(from_the_far_end(knob), stock=upwards[-1], low=min(upwards), high=max(upwards))
    inner = replace(policy, limit=None, begin=None)
    found = downwards(reverse, trials, inner) if downwards else adaptive(reverse, trials, inner, belief)
    held = found.value if downwards and found.act == "hold" else hold_along(knob, belief, policy)
    if found.act == "test" and found.minutes <= policy.minutes_left:
        least, tried = describe_value(knob, held), describe_value(knob, found.value)
        why = message("least_needs_time" if found.value == held else "is_less_enough", least=least, tried=tried)
        if found.chance_to_pass is not None:
            why = why.then(message("chance_to_survive", chance=found.chance_to_pass))
        teaches = message("less_may_do", tried=tried, least=least)
        return replace(found, reason=why, teaches=teaches, range_end=None)
    enough = None if downwards else _enough(knob, belief, policy, upwards)
    if enough is not None and (enough - held) * knob.away > 0 and policy.minutes_left >= SHORT_MINUTES:
        kept = describe_value(knob, enough)
        why = message("not_sure_enough", held=describe_value(knob, held), hours=1 / policy.accepted_per_h, kept=kept)
        return Advice("test", enough, SHORT_MINUTES, why, message("kept_if_it_passes", value=kept))
    return Advice("hold", held, 0.0, _why_hold(knob, belief, policy, held))


def _why_hold(knob: Knob, belief: EdgePosterior, policy: Policy, held: float) -> Message:
    where = describe_value(knob, held)
    chance = float(belief.weight[hold_line(belief, policy) >= belief.distance(held) - 1e-9].sum())
    if chance >= policy.sure - 1e-3:
        return message("least_that_is_enough", value=where, hours=1 / policy.accepted_per_h, chance=chance)
    ran = math.fsum(trial.minutes for trial in belief.trials if trial.value == held and not trial.failed)
    survived = message("it_survived", minutes=ran, fewer_than=fewer_than(ran / 60)) if ran else None
    return message("least_that_survived", value=where, chance=chance).then(survived)
