"""What to try next on a climb, by four strategies behind one interface; each says why, or says to stop and hold.

A climb turns one knob. Trials and policy in, advice out; nothing is remembered between calls.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

import numpy as np
from scipy import stats

from trelvo.core.base.knobs import GRID_TOLERANCE_STEPS, Knob, check_knob, check_value, describe_value
from trelvo.core.base.loads import Load, heaviest
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.climb.knob_order import group_of
from trelvo.core.climb.most_taught import Taught, most_taught
from trelvo.core.climb.score_top import ScoreAt, ScoreTop, score_top
from trelvo.core.climb.stability import (
    ACCEPTED_PER_H,
    GRID,
    SURE,
    Array,
    EdgeModel,
    EdgePosterior,
    Trial,
    edge_posterior,
    fewer_than,
    passes,
)

Strategy = Literal["fixed steps", "coarse then fine", "halving", "by the numbers"]
STRATEGIES: tuple[Strategy, ...] = ("fixed steps", "coarse then fine", "halving", "by the numbers")

# A short test and a first proof, as practitioners run them. Common practice.
SHORT_MINUTES, PROOF_MINUTES = 5.0, 60.0
COARSE_STEPS = 4
# Lengths that are weighed against each other.
LENGTHS = (1.0, 2.0, 5.0, 10.0, 20.0, 40.0)
# "Fails at once": within a quarter of a minute.
AT_ONCE_MINUTES = 0.25
# The kept value stands this share of a step below what the belief allows: real silicon is no straight power of ten.
MODEL_MARGIN_STEPS = 0.75
# Less than this to be gained, in steps, and testing on is not worth it; and without a limit of time, less than this an hour.
WORTHWHILE_STEPS = 0.25
WORTHWHILE_STEPS_PER_H = 0.2


@dataclass(frozen=True)
class Policy:
    """What the user accepts. accepted_per_h: failures an hour of what is kept; sure: how sure to be of it

    most_at_once: largest chance of failing at once that a test may have; restart_minutes: what a failure costs
    minutes_left: bench time that is left, all of which may be used; without an end, it stops where an hour gains too little
    limit: value beyond which nothing is proposed (guard rail, tool's cap)
    grid: how finely edges and decades are weighed; candidates: how many values are weighed for a test before the best of
    them is looked at closely, which matters on long grids only
    """

    strategy: Strategy = "by the numbers"
    accepted_per_h: float = ACCEPTED_PER_H
    sure: float = SURE
    most_at_once: float = 0.3
    restart_minutes: float = 4.0
    minutes_left: float = math.inf
    limit: float | None = None
    grid: tuple[int, int] = GRID
    candidates: int = 120


@dataclass(frozen=True)
class Advice:
    """Test this value for so many minutes with this load, or hold it; why; and what the test would teach.

    chance_to_pass: where there is an estimate of it
    """

    act: Literal["test", "hold"]
    value: float
    minutes: float
    reason: str
    teaches: str = ""
    chance_to_pass: float | None = None
    load_id: int | None = None


def advise(
    knob: Knob,
    trials: Sequence[Trial],
    policy: Policy,
    loads: Sequence[Load] = (),
    scores: Sequence[ScoreAt] = (),
    belief: EdgePosterior | None = None,
) -> Advice:
    """The next step of a climb. Raises Refused for trials or a policy that cannot be.

    loads: what there is to test with; the heaviest is taken. scores: performance along the knob: where it has passed its top,
    nothing beyond the top is proposed, whatever would hold there
    belief: what is believed after these trials, where that is known already
    """
    check_climb(knob, trials, policy)
    return advise_checked(knob, trials, policy, loads, scores, belief)


def advise_checked(
    knob: Knob,
    trials: Sequence[Trial],
    policy: Policy,
    loads: Sequence[Load] = (),
    scores: Sequence[ScoreAt] = (),
    belief: EdgePosterior | None = None,
) -> Advice:
    """The next step after trials that were checked before: a plan asks a thousand times about the same ones."""
    top = score_top(knob, scores)
    policy = below_top(knob, policy, top)
    advice = _before_climbing(knob, trials, policy) or (
        _by_numbers(knob, trials, policy, belief)
        if policy.strategy == "by the numbers"
        else _BY_STRATEGY[policy.strategy](knob, trials, policy)
    )
    if advice.act == "test" and advice.minutes > policy.minutes_left:
        advice = _out_of_time(knob, trials, policy, advice.minutes)
    if top is not None:
        fell = (1 - top.fell_ratio / top.ratio) * 100
        words = (
            f"The score is highest at {describe_value(knob, top.value)}; at {describe_value(knob, top.fell_at)} it is "
        )
        advice = replace(advice, reason=f"{words}{fell:.1f} % lower, so nothing past the top is tried. {advice.reason}")
    load = heaviest(loads, "memory" if group_of(knob) == "memory" else None) if advice.act == "test" else None
    return replace(advice, load_id=load.id if load else None)


def below_top(knob: Knob, policy: Policy, top: ScoreTop | None) -> Policy:
    """The policy with the score's top as its limit, where the score has passed it."""
    if top is None:
        return policy
    nearer = min if knob.away == 1 else max
    return replace(policy, limit=top.value if policy.limit is None else nearer(policy.limit, top.value))


def check_climb(knob: Knob, trials: Sequence[Trial], policy: Policy) -> None:
    """Refuses nonsense in words: values off the grid, negative times, a risk that is no rate."""
    problems = check_knob(knob, "knob")
    if problems:
        raise Refused(*problems)
    for number, trial in enumerate(trials):
        if wrong := check_value(knob, trial.value, f"trials.{number}.value"):
            problems.append(wrong)
        if not (math.isfinite(trial.minutes) and trial.minutes >= 0):
            what = f"{trial.minutes:g} minutes is no length for a test."
            problems.append(Problem(f"trials.{number}.minutes", what, "Type how long it ran."))
        elif trial.minutes == 0 and not trial.failed:
            what = "A test of 0 minutes that survived tells nothing."
            problems.append(Problem(f"trials.{number}.minutes", what, "Type how long it ran, or leave it out."))
    if not 0 < policy.accepted_per_h < 60:
        what = f"{policy.accepted_per_h:g} failures an hour cannot be accepted."
        problems.append(Problem("accepted_per_h", what, "Type a rate above zero, such as 0.02."))
    if not 0.5 <= policy.sure < 1:
        problems.append(Problem("sure", f"{policy.sure:g} is no degree of sureness.", "Type 0.5 to 0.99."))
    if problems:
        raise Refused(*problems[:20])


def values_of(knob: Knob, policy: Policy) -> list[float]:
    """The values from stock away, on the grid, inside range and limit; stock first.

    Where stock itself lies beyond the limit: the one value nearest stock that is within. Refused where the range has none.
    """
    return list(_grid(knob, policy.limit))


@lru_cache(maxsize=256)
def _grid(knob: Knob, limit: float | None) -> tuple[float, ...]:
    far = knob.high if knob.away == 1 else knob.low
    if limit is not None:
        far = min(far, limit) if knob.away == 1 else max(far, limit)
    steps = math.floor((far - knob.stock) * knob.away / knob.step + 1e-9)
    if steps >= 0:
        return tuple(round(knob.stock + knob.away * k * knob.step, 9) for k in range(steps + 1))
    nearest = round(knob.stock + knob.away * steps * knob.step, 9)
    if not knob.low - GRID_TOLERANCE_STEPS * knob.step <= nearest <= knob.high + GRID_TOLERANCE_STEPS * knob.step:
        what = f"The limit of {describe_value(knob, far)} leaves nothing of {knob.name.lower()}'s range."
        raise Refused(Problem("limit", what, "Move the guard rail, or widen the knob's range."))
    return (nearest,)


def _before_climbing(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice | None:
    """What comes before any step: a limit that stock itself is beyond, and whether stock is healthy."""
    start = values_of(knob, policy)[0]
    if start != knob.stock:
        why = (
            f"Stock, {describe_value(knob, knob.stock)}, lies beyond the limit. Nothing past the limit is proposed: "
            f"{describe_value(knob, start)} is the nearest within."
        )
        ran = [trial for trial in trials if trial.value == start]
        if any(trial.failed for trial in ran):
            why += " It failed; going on the other way is another climb: move the limit, or turn the direction round."
            return Advice("hold", start, 0.0, why)
        if sum(trial.minutes for trial in ran) >= PROOF_MINUTES:
            return Advice("hold", start, 0.0, f"{why} It held for an hour.")
        return Advice("test", start, PROOF_MINUTES, why, f"Whether {describe_value(knob, start)} holds at all.")
    at_stock = [trial for trial in trials if trial.value == knob.stock]
    failed = [place for place, trial in enumerate(at_stock) if trial.failed]
    if not failed:
        return None
    survived = sum(trial.minutes for trial in at_stock[failed[-1] + 1 :])
    if survived >= PROOF_MINUTES:
        return None
    if len(failed) > 1:
        why = (
            f"Stock failed {len(failed)} times. Nothing is proposed until stock is healthy: look at heat, memory, supply, "
            "cables and driver; set those runs aside once another cause is found."
        )
        return Advice("hold", knob.stock, 0.0, why)
    why = "Stock itself failed once, so the first question is whether the machine is healthy without any tuning."
    teaches = "Passed, it was probably something else; failed again, the tuning is not to blame and no climb will help."
    return Advice("test", knob.stock, PROOF_MINUTES - survived, why, teaches)


def furthest_survived(knob: Knob, trials: Sequence[Trial]) -> float:
    """The furthest distance from stock (knob's unit) at which a trial survived; 0 without one."""
    return max(((t.value - knob.stock) * knob.away for t in trials if not t.failed and t.minutes > 0), default=0.0)


def _bounds(knob: Knob, trials: Sequence[Trial], values: Sequence[float]) -> tuple[int, int]:
    """Positions of the last good value and of the first bad one (len(values) when nothing has failed).

    A value is good once its runs have survived a short test's minutes together: failures know no run's beginning.
    """
    place = {value: position for position, value in enumerate(values)}
    # a failure at the start itself is answered before any climb; once it has survived an hour since, it had another cause
    bad = min((place[t.value] for t in trials if t.failed and place.get(t.value)), default=len(values))
    survived = [0.0] * len(values)
    for trial in trials:
        if not trial.failed and trial.value in place:
            survived[place[trial.value]] += trial.minutes
    good = max((position for position, minutes in enumerate(survived[:bad]) if minutes >= SHORT_MINUTES), default=0)
    return good, max(bad, 1)


def _short(knob: Knob, value: float, why: str) -> Advice:
    teaches = (
        f"Whether {describe_value(knob, value)} fails at once. What fails once in five hours passes "
        f"{SHORT_MINUTES:g} minutes {passes(0.2, SHORT_MINUTES / 60) * 100:.0f} times in 100."
    )
    return Advice("test", value, SHORT_MINUTES, why[0].upper() + why[1:], teaches)


def _prove(knob: Knob, trials: Sequence[Trial], values: Sequence[float], good: int) -> Advice:
    """The search is over: an hour at the last good value, then hold it."""
    value = values[good]
    proven = sum(t.minutes for t in trials if t.value == value and not t.failed)
    if good == 0:
        return Advice("hold", value, 0.0, "Nothing above stock has held. Keep stock.")
    if proven >= PROOF_MINUTES:
        hours = proven / 60
        why = f"It held for {proven:.0f} minutes. That says: fewer than {fewer_than(hours):.1f} failures an hour, 95 % sure."
        return Advice("hold", value, 0.0, why)
    why = f"The search is over: an hour at the last good value, {describe_value(knob, value)}, is the usual proof."
    teaches = f"Passed, it says: fewer than {fewer_than(PROOF_MINUTES / 60):.1f} failures an hour, 95 % sure."
    return Advice("test", value, PROOF_MINUTES, why, teaches)


def _out_of_time(knob: Knob, trials: Sequence[Trial], policy: Policy, wanted: float) -> Advice:
    """The next test does not fit any more: hold the last good value, as little as that says."""
    values = values_of(knob, policy)
    good, _ = _bounds(knob, trials, values)
    value = values[good]
    words = f"{describe_value(knob, value)} is the last that held; it is not proved." if good else "Keep stock."
    return Advice("hold", value, 0.0, f"The next test takes {wanted:g} min, which are not left. {words}")


def _fixed(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    if good + 1 < min(bad, len(values)):
        return _short(knob, values[good + 1], f"one step past the last that held for {SHORT_MINUTES:g} min.")
    return _prove(knob, trials, values, good)


def _coarse(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    end = min(bad, len(values))
    if bad == len(values) and good + COARSE_STEPS < end:
        return _short(knob, values[good + COARSE_STEPS], f"nothing has failed yet, so {COARSE_STEPS} steps at once.")
    if good + 1 < end:
        return _short(
            knob,
            values[good + 1],
            f"single steps from the last that held for {SHORT_MINUTES:g} min, below the first that failed.",
        )
    return _prove(knob, trials, values, good)


def _halving(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    end = min(bad, len(values))
    if end - good > 1:
        middle = (good + end) // 2
        return _short(
            knob,
            values[middle],
            f"half-way between the last that held for {SHORT_MINUTES:g} min and the first that failed or the end.",
        )
    return _prove(knob, trials, values, good)


def highest_hold(belief: EdgePosterior, policy: Policy, values: Sequence[float]) -> float:
    """The furthest value that holds: no value up to it, the margin for the model included, is less sure than wanted.

    Nothing holds beyond the furthest value that has survived a trial, whatever the belief extends to.
    """
    knob = belief.knob
    margin = MODEL_MARGIN_STEPS * knob.step * knob.away
    survived = furthest_survived(knob, belief.trials) + GRID_TOLERANCE_STEPS * knob.step
    # the chance falls along the way, so the last that holds is found by halving
    low, high = 0, sum(belief.distance(value) <= survived for value in values) - 1
    while low < high:
        middle = (low + high + 1) // 2
        if belief.chance_within(values[middle] + margin, policy.accepted_per_h) >= policy.sure:
            low = middle
        else:
            high = middle - 1
    return values[low]


def _by_numbers(knob: Knob, trials: Sequence[Trial], policy: Policy, belief: EdgePosterior | None = None) -> Advice:
    """The test that narrows the place of the hold line most for its minutes, a failure's restart counted.

    Method: for each value and length, the variance of the hold line (edge + decade · log10 of the accepted rate) that is left on
    average after the answer (failed in one of four stretches of the test, or passed), against the expected minutes.
    """
    values = values_of(knob, policy)
    belief = belief or edge_posterior(EdgeModel.of(knob, policy.grid), trials)
    held = highest_hold(belief, policy, values)
    keep = belief.weight > belief.weight.max() * 1e-5
    edge, decade, weight = belief.edge[keep], belief.decade[keep], belief.weight[keep]
    weight = weight / weight.sum()
    line = edge + decade * math.log10(policy.accepted_per_h)
    variance = float(weight @ (line - weight @ line) ** 2)
    end = belief.distance(values[-1])
    to_gain = float(weight @ np.clip(np.minimum(line, end) - belief.distance(held), 0, None)) / knob.step
    lengths = np.array([minutes for minutes in LENGTHS if minutes <= policy.minutes_left])
    best = _best_test(values, lengths, belief, (edge, decade, weight, line), policy) if lengths.size else None
    if best is None or to_gain < WORTHWHILE_STEPS or _gains_little(best, variance, policy, knob):
        return Advice("hold", held, 0.0, _why_hold(knob, belief, policy, held, best is None))
    why = (
        f"{describe_value(knob, best.value)} for {best.minutes:g} min teaches most for its time: it passes with "
        f"{best.passes * 100:.0f} %, and a failure costs its restart."
    )
    now, then = math.sqrt(variance) / knob.step, math.sqrt(best.left) / knob.step
    teaches = f"It narrows the place of the hold line from ± {now:.2f} to ± {then:.2f} steps on average."
    return Advice("test", best.value, best.minutes, why, teaches, best.passes)


def _best_test(
    values: Sequence[float],
    lengths: Array,
    belief: EdgePosterior,
    points: tuple[Array, Array, Array, Array],
    policy: Policy,
) -> Taught | None:
    """Of values past the first and lengths (minutes) the test that teaches most for its time; None where all are too risky.

    points: edge, decade, weight and hold line for each point of the belief that has any weight
    """
    edge, decade, weight, line = points

    def best_of(places: Sequence[int]) -> tuple[int, Taught] | None:
        best: tuple[int, Taught] | None = None
        for place in places:
            hazard = 10 ** np.minimum((belief.distance(values[place]) - edge) / decade, 6.0)
            if 1 - weight @ np.exp(-hazard * AT_ONCE_MINUTES / 60) > policy.most_at_once:
                break
            found = most_taught(values[place], lengths, hazard, weight, line, policy.restart_minutes)
            if best is None or found.per_minute > best[1].per_minute:
                best = place, found
        return best

    stride = math.ceil((len(values) - 1) / policy.candidates) or 1
    best = best_of(range(stride, len(values), stride))
    if stride > 1:
        at = best[0] if best else 1
        closer = best_of(range(max(1, at - stride + 1), min(len(values), at + stride)))
        best = max(filter(None, (best, closer)), key=lambda one: one[1].per_minute, default=None)
    return best[1] if best else None


def _gains_little(best: Taught, variance: float, policy: Policy, knob: Knob) -> bool:
    """Whether a test raises the hold line too slowly, where time has no end: its quantile rises as the spread falls."""
    if math.isfinite(policy.minutes_left):
        return False
    rise = float(stats.norm.ppf(policy.sure)) * (math.sqrt(variance) - math.sqrt(best.left)) / knob.step
    return rise * 60 < WORTHWHILE_STEPS_PER_H * best.cost


def _why_hold(knob: Knob, belief: EdgePosterior, policy: Policy, held: float, out_of_time: bool) -> str:
    chance = belief.chance_within(held, policy.accepted_per_h)
    end = "The time is used up" if out_of_time else "There is little more to gain"
    if not belief.trials:
        return f"{end}, and nothing has been tested yet. Keep stock."
    where = describe_value(knob, held) if held != knob.stock else "stock"
    if chance < policy.sure:
        shown = f"{chance * 100:.0f} % sure"
        return f"{end}. Of what was tested, {where} is the furthest to keep; it is not proved yet ({shown})."
    return (
        f"{end}. At {where} no more than one failure in "
        f"{1 / policy.accepted_per_h:.0f} hours, {chance * 100:.0f} % sure, from all trials together."
    )


_BY_STRATEGY: dict[Strategy, Callable[[Knob, Sequence[Trial], Policy], Advice]] = {
    "fixed steps": _fixed,
    "coarse then fine": _coarse,
    "halving": _halving,
}
