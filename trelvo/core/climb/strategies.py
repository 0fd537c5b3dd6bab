"""What to try next on a climb, by four strategies behind one interface; each says why, or says to stop and hold.

A climb turns one knob. Trials and policy in, advice out; nothing is remembered between calls.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.load_kinds import Load, heaviest, loads_for
from trelvo.core.climb.adaptive import adaptive
from trelvo.core.climb.edge import EdgePosterior
from trelvo.core.climb.knob_order import group_of
from trelvo.core.climb.least_stable import advise_least
from trelvo.core.climb.policy import PROOF_MINUTES, SHORT_MINUTES, Advice, Policy, below_top, check_climb, values_of
from trelvo.core.climb.score_top import ScoreAt, score_top
from trelvo.core.climb.stability import fewer_than, passes
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message, message
from trelvo.core.registry.approaches import COARSE_STEPS, Strategy


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
        return Advice("hold", knob.stock, 0.0, message("set_by_use"))
    if knob.turning == "helps":
        downwards = None if policy.strategy == "adaptive" else _BY_STRATEGY[policy.strategy]
        advice = advise_least(knob, trials, policy, belief, downwards)
        return replace(advice, load_id=_load_for(knob, loads) if advice.act == "test" else None)
    top = score_top(knob, scores)
    policy = below_top(knob, policy, top)
    advice = _before_climbing(knob, trials, policy) or (
        adaptive(knob, trials, policy, belief)
        if policy.strategy == "adaptive"
        else _BY_STRATEGY[policy.strategy](knob, trials, policy)
    )
    if advice.act == "test" and advice.minutes > policy.minutes_left:
        advice = _out_of_time(knob, trials, policy, advice.minutes)
    if top is not None:
        why = message(
            "past_the_score_top",
            top=describe_value(knob, top.value),
            fell_at=describe_value(knob, top.fell_at),
            fell_percent=(1 - top.fell_ratio / top.ratio) * 100,
        )
        advice = replace(advice, reason=why.then(advice.reason))
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
        at = describe_value(knob, start)
        why = message("stock_beyond_limit", stock=describe_value(knob, knob.stock), nearest=at)
        teaches = message("whether_it_holds_at_all", value=at)
        ran = [trial for trial in trials if trial.value == start]
        if any(trial.failed for trial in ran):
            return Advice("hold", start, 0.0, why.then(message("nearest_within_failed")))
        if len(values) > 1:
            if any(not trial.failed and (trial.value - start) * knob.away >= 0 for trial in trials):
                return None
            return Advice("test", start, SHORT_MINUTES, why, teaches)
        if sum(trial.minutes for trial in ran) >= PROOF_MINUTES:
            return Advice("hold", start, 0.0, why.then(message("held_for_an_hour")))
        return Advice("test", start, PROOF_MINUTES, why, teaches)
    at_stock = [trial for trial in trials if trial.value == knob.stock]
    failed = [place for place, trial in enumerate(at_stock) if trial.failed]
    if not failed:
        return None
    survived = sum(trial.minutes for trial in at_stock[failed[-1] + 1 :])
    if survived >= PROOF_MINUTES:
        return None
    if len(failed) > 1:
        return Advice("hold", knob.stock, 0.0, message("stock_failed_often", failures=len(failed)))
    minutes = PROOF_MINUTES - survived
    return Advice("test", knob.stock, minutes, message("stock_failed_once"), message("stock_again_teaches"))


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


def _short(knob: Knob, value: float, why: Message) -> Advice:
    passed = passes(0.2, SHORT_MINUTES / 60) * 100
    teaches = message("short_test_teaches", value=describe_value(knob, value), minutes=SHORT_MINUTES, passed=passed)
    return Advice("test", value, SHORT_MINUTES, why, teaches)


def _prove(knob: Knob, trials: Sequence[Trial], values: Sequence[float], good: int) -> Advice:
    """The search is over: an hour at the last good value, then hold it."""
    value = values[good]
    proven = sum(t.minutes for t in trials if t.value + min(t.stress, 0.0) * knob.away == value and not t.failed)
    if good == 0:
        return Advice("hold", value, 0.0, message("nothing_above_stock_held"))
    if proven >= PROOF_MINUTES:
        why = message("held_for", minutes=proven, fewer_than=fewer_than(proven / 60))
        return Advice("hold", value, 0.0, why)
    why = message("usual_proof", value=describe_value(knob, value))
    teaches = message("usual_proof_teaches", fewer_than=fewer_than(PROOF_MINUTES / 60))
    return Advice("test", value, PROOF_MINUTES, why, teaches)


def _out_of_time(knob: Knob, trials: Sequence[Trial], policy: Policy, wanted: float) -> Advice:
    """The next test does not fit any more: hold the last good value, as little as that says."""
    values = values_of(knob, policy)
    good, _ = _bounds(knob, trials, values)
    value = values[good]
    last = message("last_that_held", value=describe_value(knob, value)) if good else message("keep_stock_then")
    return Advice("hold", value, 0.0, message("no_time_left", minutes=wanted).then(last))


def _fixed(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    if good + 1 < min(bad, len(values)):
        return _short(knob, values[good + 1], message("one_step_past", minutes=SHORT_MINUTES))
    return _prove(knob, trials, values, good)


def _coarse(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    end = min(bad, len(values))
    if bad == len(values) and good + COARSE_STEPS < end:
        return _short(knob, values[good + COARSE_STEPS], message("several_steps_at_once", steps=COARSE_STEPS))
    if good + 1 < end:
        return _short(knob, values[good + 1], message("single_steps", minutes=SHORT_MINUTES))
    return _prove(knob, trials, values, good)


def _bisection(knob: Knob, trials: Sequence[Trial], policy: Policy) -> Advice:
    values = values_of(knob, policy)
    good, bad = _bounds(knob, trials, values)
    end = min(bad, len(values))
    if end - good > 1:
        middle = (good + end) // 2
        return _short(knob, values[middle], message("half_way", minutes=SHORT_MINUTES))
    return _prove(knob, trials, values, good)


_BY_STRATEGY: dict[Strategy, Callable[[Knob, Sequence[Trial], Policy], Advice]] = {
    "fixed steps": _fixed,
    "coarse then fine": _coarse,
    "bisection": _bisection,
}
