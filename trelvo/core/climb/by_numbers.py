"""The strategy by the numbers: the test that raises the hold most for its time, and what is held when no test is worth it."""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.texts import chance_words
from trelvo.core.climb.edge import HOLDS_THROUGHOUT, Array, EdgeModel, EdgePosterior, after_trial, edge_posterior
from trelvo.core.climb.next_test import Test, points_of, whole_test
from trelvo.core.climb.policy import Advice, Policy, largest_step, values_of
from trelvo.core.climb.stability import hours_to_show
from trelvo.core.climb.trials import Trial

# Less than this share of the usual decade to be gained an hour, and testing on is not worth it.
WORTHWHILE_DECADES_PER_H = 0.15
# So many failures at one value are enough: what a further one would say of its rate is not worth a crash. Common practice.
OFTEN = 2
# From this chance on that the hold line lies beyond the range's end, another end is suggested.
BEYOND_LIKELY = 0.5


def hold_line(belief: EdgePosterior, policy: Policy) -> Array:
    """The belief's careful line for a policy; see `EdgePosterior.careful_line`."""
    return belief.careful_line(policy.accepted_per_h, wary=policy.wary)


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


def by_numbers(knob: Knob, trials: Sequence[Trial], policy: Policy, belief: EdgePosterior | None = None) -> Advice:
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
        notes.append("The goal or a guard rail allows no further.")
    if test is None:
        out_of_time = policy.minutes_left < math.inf and policy.minutes_left <= 3
        return Advice(
            "hold", held, 0.0, " ".join([*_why_hold(belief, policy, held, out_of_time), *notes]), range_end=end
        )
    value = values[int(np.argmin(np.abs(grid - test.place)))]
    why = (
        f"{describe_value(knob, value)} for up to {test.minutes:g} min promises most for its time: "
        f"{chance_words(test.passes)} likely to survive that; a failure costs a restart."
    )
    teaches = _outcomes(belief, policy, values, value, test, held)
    return Advice("test", value, test.minutes, " ".join([why, *notes]), teaches, test.passes, range_end=end)


def _failed_often(belief: EdgePosterior) -> float:
    """The distance nearest stock at which tests have failed often enough; nobody careful tests there or beyond once more."""
    failed = [belief.distance(trial.value) for trial in belief.trials if trial.failed and trial not in belief.strangers]
    often = [distance for distance, times in Counter(failed).items() if times >= OFTEN]
    return min(often, default=math.inf) - 1e-9


def _outcomes(
    belief: EdgePosterior, policy: Policy, values: Sequence[float], value: float, test: Test, held: float
) -> str:
    """What would hold after either answer."""
    knob = belief.knob
    passed = highest_hold(after_trial(belief, Trial(value, test.minutes, False, policy.test_stress)), policy, values)
    failed = highest_hold(after_trial(belief, Trial(value, test.minutes / 2, True, policy.test_stress)), policy, values)

    def name(one: float) -> str:
        return "stock" if one == knob.stock else describe_value(knob, one)

    return f"Now {name(held)} holds. If it passes: {name(passed)}; if it fails half-way: {name(failed)}."


def _better_end(belief: EdgePosterior, policy: Policy, values: Sequence[float]) -> float | None:
    """An end for the range that has room for the edge, where it probably lies beyond the present one; None otherwise."""
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


def _notes(belief: EdgePosterior, policy: Policy, end: float | None) -> list[str]:
    """What else must be said: strangers, a model that does not fit, a range that is too short."""
    knob, notes = belief.knob, []
    if not belief.fits:
        notes.append(
            "The runs do not fit one edge: several values failed that lie well below others which held. Look for another "
            "cause first (heat, supply, memory, driver); what holds is less sure until then."
        )
    elif belief.strangers:
        places = sorted({trial.value for trial in belief.strangers}, key=lambda value: value * knob.away)
        where = " and ".join(describe_value(knob, value) for value in places)
        notes.append(f"The failure at {where} probably had another cause: values further on have held for long.")
    if end is not None:
        notes.append(
            f"The edge probably lies beyond the end of the range: consider moving it to {describe_value(knob, end)}."
        )
    if policy.wary:
        notes.append("Wary: it counts on failures that thin out slowly below the edge.")
    return notes


def _why_hold(belief: EdgePosterior, policy: Policy, held: float, out_of_time: bool) -> list[str]:
    knob = belief.knob
    end = "The time is used up" if out_of_time else "No test is worth its minutes any more"
    if not belief.trials:
        return [f"{end}, and nothing has been tested yet. Keep stock."]
    where = describe_value(knob, held) if held != knob.stock else "stock"
    hours = f"{1 / policy.accepted_per_h:.0f} hours"
    if held == knob.stock:
        return [f"{end}. No value past stock is {policy.sure * 100:.0f} % sure to fail no more than once in {hours}."]
    line = hold_line(belief, policy)
    chance = float(belief.weight[line >= belief.distance(held) - 1e-9].sum())
    # the chance at a quantile may fall short of its share by a rounding
    if chance >= policy.sure - 1e-3:
        return [
            f"{end}. At {where} no more than one failure in {hours}, {chance_words(chance)} sure, from all trials together."
        ]
    if belief.distance(held) > _shown_alone(belief, policy) + 1e-9:
        return [
            f"{end}. Of what the limits allow, {where} is the nearest to stock; it is not proved ({chance_words(chance)} sure)."
        ]
    return [
        f"{end}. {where} has run long enough by itself: no more than one failure in {hours}, {policy.sure * 100:.0f} % sure."
    ]
