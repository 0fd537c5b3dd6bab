"""The adaptive strategy: the test that raises the hold most for its time, and what is held when no test is worth it."""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.climb.edge import HOLDS_THROUGHOUT, Array, EdgeModel, EdgePosterior, after_trial, edge_posterior
from trelvo.core.climb.next_test import Test, points_of, whole_test
from trelvo.core.climb.policy import Advice, Policy, largest_step, values_of
from trelvo.core.climb.stability import hours_to_show
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message, message

# Less than this share of the usual decade to be gained an hour, and testing on is not worth it.
WORTHWHILE_DECADES_PER_H = 0.15
# So many failures at one value are enough: what a further one would say of its rate is not worth a crash. Common practice.
OFTEN = 2
# From this chance on that the hold line is beyond the range's end, another end is suggested.
BEYOND_LIKELY = 0.5


def hold_line(belief: EdgePosterior, policy: Policy) -> Array:
    """The belief's careful line for a policy; see `EdgePosterior.careful_line`."""
    return belief.careful_line(policy.accepted_per_h, cautious=policy.cautious)


def highest_hold(belief: EdgePosterior, policy: Policy, values: Sequence[float]) -> float:
    """The furthest value that holds: margin included, sure enough by the belief, or shown by its own hours alone.

    Nothing holds beyond the furthest value that has survived a trial, whatever the belief extends to.
    """
    knob = belief.knob
    reached = min(belief.survived_to, belief.quantile(hold_line(belief, policy), 1 - policy.sure))
    reached = max(reached, _shown_alone(belief, policy))
    held = [value for value in values if belief.distance(value) <= reached + 1e-6 * knob.step]
    return held[-1] if held else values[0]


def _shown_alone(belief: EdgePosterior, policy: Policy) -> float:
    """The furthest distance whose own hours without its neighbours' show the accepted rate; 0 where none does."""
    hours: dict[float, float] = {}
    failures: dict[float, int] = {}
    for trial in belief.trials:
        if trial.stress >= 0:
            hours[trial.value] = hours.get(trial.value, 0.0) + trial.minutes / 60
            failures[trial.value] = failures.get(trial.value, 0) + trial.failed
    shown = [
        belief.distance(value)
        for value, ran in hours.items()
        if ran >= hours_to_show(policy.accepted_per_h, policy.sure, failures[value])
    ]
    return max(shown, default=0.0)


def adaptive(knob: Knob, trials: Sequence[Trial], policy: Policy, belief: EdgePosterior | None = None) -> Advice:
    """The test that raises the hold most for its minutes, for as long as nothing else would be worth more; else the hold.

    belief: what is believed after these trials, where that is known already
    """
    belief = belief or edge_posterior(EdgeModel.of(knob, policy.steepness), trials)
    values = values_of(knob, policy)
    grid = np.array([belief.distance(value) for value in values])
    points = points_of(belief, hold_line(belief, policy), policy)
    points = replace(points, edge=points.edge - policy.test_stress)
    least = WORTHWHILE_DECADES_PER_H * belief.steepness.decade / 60
    test = whole_test(
        points, grid[grid < _failed_often(belief)], belief.survived_to, largest_step(knob, policy), policy, least
    )
    held = highest_hold(belief, policy, values)
    end = _better_end(belief, policy, values)
    notes = _notes(belief, policy, end)
    if policy.limit is not None and held == values[-1] and held != (knob.high if knob.away == 1 else knob.low):
        notes.append(message("no_further_allowed"))
    if test is None:
        out_of_time = policy.minutes_left < math.inf and policy.minutes_left <= 3
        return Advice("hold", held, 0.0, _why_hold(belief, policy, held, out_of_time).then(*notes), range_end=end)
    value = values[int(np.argmin(np.abs(grid - test.place)))]
    why = message("promises_most", value=describe_value(knob, value), minutes=test.minutes, chance=test.passes)
    teaches = _outcomes(belief, policy, values, value, test, held)
    return Advice("test", value, test.minutes, why.then(*notes), teaches, test.passes, range_end=end)


def _failed_often(belief: EdgePosterior) -> float:
    """The distance nearest stock at which tests have failed often enough; nobody careful tests there or beyond once more."""
    failed = [belief.distance(trial.value) for trial in belief.trials if trial.failed and trial not in belief.strangers]
    often = [distance for distance, times in Counter(failed).items() if times >= OFTEN]
    return min(often, default=math.inf) - 1e-9


def _outcomes(
    belief: EdgePosterior, policy: Policy, values: Sequence[float], value: float, test: Test, held: float
) -> Message:
    """What would hold after either answer."""
    knob = belief.knob
    passed = highest_hold(after_trial(belief, Trial(value, test.minutes, False, policy.test_stress)), policy, values)
    failed = highest_hold(after_trial(belief, Trial(value, test.minutes / 2, True, policy.test_stress)), policy, values)
    return message(
        "what_then_holds",
        held=value_or_stock(knob, held),
        passed=value_or_stock(knob, passed),
        failed=value_or_stock(knob, failed),
    )


def value_or_stock(knob: Knob, value: float) -> str | Message:
    """A value of a knob; stock where it is the knob's own."""
    return message("at_stock") if value == knob.stock else describe_value(knob, value)


def _better_end(belief: EdgePosterior, policy: Policy, values: Sequence[float]) -> float | None:
    """An end for the range that has room for the edge, where it probably is beyond the present one; None otherwise."""
    knob = belief.knob
    end = knob.high if knob.away == 1 else knob.low
    far = belief.distance(values[-1])
    if policy.limit is not None and belief.distance(end) > far + knob.step:
        return None
    if knob.role in HOLDS_THROUGHOUT:
        # its range is its maker's, and nobody looks for an edge along it
        return None
    near_end = belief.survived_to >= far - largest_step(knob, policy)
    if not near_end or float(belief.weight[belief.line(policy.accepted_per_h) > far].sum()) < BEYOND_LIKELY:
        return None
    steps = math.ceil((belief.quantile(belief.edge, 0.75) - far) / knob.step)
    return round(values[-1] + knob.away * max(steps, 1) * knob.step, 9)


def _notes(belief: EdgePosterior, policy: Policy, end: float | None) -> list[Message]:
    """What else must be said: strangers, a model that does not fit, a range that is too short."""
    knob, notes = belief.knob, []
    if not belief.fits:
        notes.append(message("runs_do_not_fit"))
    elif belief.strangers:
        places = sorted({trial.value for trial in belief.strangers}, key=lambda value: value * knob.away)
        where = tuple(describe_value(knob, value) for value in places)
        notes.append(message("another_cause_at", values=where))
    if end is not None:
        notes.append(message("edge_beyond_range", end=describe_value(knob, end)))
    if policy.cautious:
        notes.append(message("cautious_note"))
    return notes


def _why_hold(belief: EdgePosterior, policy: Policy, held: float, out_of_time: bool) -> Message:
    knob = belief.knob
    end = message("time_used_up" if out_of_time else "no_test_worth_it")
    if not belief.trials:
        return message("nothing_tested", end=end)
    at = {"end": end, "value": describe_value(knob, held), "hours": 1 / policy.accepted_per_h}
    if held == knob.stock:
        return message("nothing_past_stock", sure_percent=policy.sure * 100, **at)
    line = hold_line(belief, policy)
    chance = float(belief.weight[line >= belief.distance(held) - 1e-9].sum())
    # the chance at a quantile may fall short of its share by a rounding
    if chance >= policy.sure - 1e-3:
        return message("sure_from_all_trials", chance=chance, **at)
    if belief.distance(held) > _shown_alone(belief, policy) + 1e-9:
        return message("nearest_allowed", chance=chance, **at)
    return message("ran_long_enough", sure_percent=policy.sure * 100, **at)
