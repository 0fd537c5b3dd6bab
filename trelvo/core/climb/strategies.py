"""What to try next on a climb, by four strategies behind one interface; each says why, or says to stop and hold.

A climb turns one knob. Trials and policy in, advice out; nothing is remembered between calls.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.loads import Load, heaviest, loads_for
from trelvo.core.climb.by_numbers import by_numbers
from trelvo.core.climb.edge import EdgePosterior
from trelvo.core.climb.knob_order import group_of
from trelvo.core.climb.least_stable import advise_least
from trelvo.core.climb.policy import PROOF_MINUTES, SHORT_MINUTES, Advice, Policy, below_top, check_climb, values_of
from trelvo.core.climb.score_top import ScoreAt, score_top
from trelvo.core.climb.stability import fewer_than, passes
from trelvo.core.climb.trials import Trial
from trelvo.core.registry.approaches import COARSE_STEPS, Strategy

SET_BY_USE = (
    "No stability test finds where this ends: set it by noise and temperature, and compare both on the Compare page."
)


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
    if not knob.facts.tested:
        return Advice("hold", knob.stock, 0.0, SET_BY_USE)
    if knob.turning == "helps":
        downwards = None if policy.strategy == "by the numbers" else _BY_STRATEGY[policy.strategy]
        advice = advise_least(knob, trials, policy, belief, downwards)
        return replace(advice, load_id=_load_for(knob, loads) if advice.act == "test" else None)
    top = score_top(knob, scores)
    policy = below_top(knob, policy, top)
    advice = _before_climbing(knob, trials, policy) or (
        by_numbers(knob, trials, policy, belief)
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
    return replace(advice, load_id=_load_for(knob, loads) if advice.act == "test" else None)


def _load_for(knob: Knob, loads: Sequence[Load]) -> int | None:
    """The heaviest load that works the knob's part; for a memory clock one that works memory, where there is one."""
    load = heaviest(loads_for([knob.part], loads), "memory" if group_of(knob) == "memory" else None)
    return load.id if load else None


def _before_climbing(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice | None:
    """What comes before any step: a limit that stock itself is beyond, and whether stock is healthy."""
    values = values_of(knob, policy)
    start = values[0]
    if start != knob.stock:
        why = (
            f"Stock, {describe_value(knob, knob.stock)}, lies beyond the limit. Nothing past the limit is proposed: "
            f"{describe_value(knob, start)} is the nearest within."
        )
        ran = [trial for trial in trials if trial.value == start]
        if any(trial.failed for trial in ran):
            why += " It failed; going on the other way is another climb: move the limit, or turn the direction round."
            return Advice("hold", start, 0.0, why)
        if len(values) > 1:
            if any(not trial.failed and (trial.value - start) * knob.away >= 0 for trial in trials):
                return None
            return Advice("test", start, SHORT_MINUTES, why, f"Whether {describe_value(knob, start)} holds at all.")
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


def _bounds(knob: Knob, trials: Sequence[Trial], values: Sequence[float]) -> tuple[int, int]:
    """Positions of the last good value and of the first bad one (len(values) when nothing has failed).

    A value is good once its runs have survived a short test's minutes together: failures know no run's beginning.
    Off the grid, what survived counts for the value before it, what failed for the one after it.
    """

    # a failure at the start itself is answered before any climb; once it has survived an hour since, it had another cause
    failed = [math.ceil((t.value - values[0]) * knob.away / knob.step - 1e-6) for t in trials if t.failed]
    bad = min((place for place in failed if 0 < place < len(values)), default=len(values))
    survived = [0.0] * len(values)
    for trial in trials:
        # a lighter load that survives says so only of a value nearer stock
        nearer = (trial.value - values[0]) * knob.away + min(trial.stress, 0.0)
        stands = math.floor(nearer / knob.step + 1e-6)
        if not trial.failed and stands >= 0:
            survived[min(stands, len(values) - 1)] += trial.minutes
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
    proven = sum(t.minutes for t in trials if t.value + min(t.stress, 0.0) * knob.away == value and not t.failed)
    if good == 0:
        return Advice("hold", value, 0.0, "Nothing above stock has held. Keep stock.")
    if proven >= PROOF_MINUTES:
        hours = proven / 60
        why = f"It held for {proven:.0f} minutes. That means: fewer than {fewer_than(hours):.1f} failures an hour, 95 % sure."
        return Advice("hold", value, 0.0, why)
    why = f"The search is over: an hour at the last good value, {describe_value(knob, value)}, is the usual proof."
    teaches = f"If it passes: fewer than {fewer_than(PROOF_MINUTES / 60):.1f} failures an hour, 95 % sure."
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


_BY_STRATEGY: dict[Strategy, Callable[[Knob, Sequence[Trial], Policy], Advice]] = {
    "fixed steps": _fixed,
    "coarse then fine": _coarse,
    "halving": _halving,
}
