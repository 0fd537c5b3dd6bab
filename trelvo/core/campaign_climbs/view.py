"""One knob's climb as drawn, and the campaign's knobs in the order of turning."""

import math
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.base.load_kinds import Load
from trelvo.core.campaign_climbs.left_to_find import is_worth, what_is_left
from trelvo.core.campaign_climbs.service import climbs_of, within_goal
from trelvo.core.campaign_climbs.within_limits import within_limits
from trelvo.core.case import Case
from trelvo.core.climb.least_stable import HoldState, hold_along, hold_state, stock_is_stable
from trelvo.core.climb.policy import Advice, Policy, below_top, largest_step, values_of
from trelvo.core.climb.score_top import ScoreAt, ScoreTop, score_top
from trelvo.core.climb.steepness import Steepness, usual_steepness
from trelvo.core.climb.trials import Trial
from trelvo.core.climb_line.beliefs import advised, believed
from trelvo.core.climb_line.line import Line, line_of, within_safety_limits
from trelvo.core.climb_line.scores import first_top_along
from trelvo.core.climb_line.trials import TrialMark
from trelvo.core.memo import asked_last
from trelvo.core.message import Message
from trelvo.core.registry.approaches import STRATEGIES, Strategy
from trelvo.core.registry.roles import Effect
from trelvo.core.stages import State
from trelvo.core.way import policy_for

MOST_CURVE_POINTS = 60
# So many runs are drawn one by one at a value; how many there are is told besides.
MOST_MARKS = 6


@dataclass(frozen=True)
class RunsAt:
    """How many runs along the knob were made at a value, and how many of them failed."""

    value: float
    runs: int
    failed: int


@dataclass(frozen=True)
class CurvePoint:
    """A value of the knob: chance that it fails no more often than accepted, failures an hour with their 90 % interval,
    and the setting that has this value, where there is one."""

    value: float
    holds: float
    per_h: float
    low_per_h: float
    high_per_h: float
    setting_id: int | None


@dataclass(frozen=True)
class StrategyStep:
    """What a strategy would do next."""

    strategy: Strategy
    advice: Advice
    setting_id: int | None


@dataclass(frozen=True)
class KnobTurn:
    """A knob in the order of turning: from which setting it is climbed, its trials, and what is left to find along it
    (None: not known).

    hold: where it holds to (None: untried); hold_state: how well that is shown
    """

    key: str
    why: Message
    state: State
    base: dict[str, float]
    base_title: str
    trials: int
    hold: float | None
    hold_state: HoldState
    to_find_says: Message | None


@dataclass(frozen=True)
class ClimbView:
    """One knob's climb. base: what all other knobs are at; hold: the furthest value that is stable by the estimate

    hold_state, hold_chance: how well that is shown, and how sure it is that it fails no more often than accepted
    steepness: the belief about how fast failures multiply that it began with; decade: what is believed of it now, middle
    fits: whether the runs go together with one edge
    edge_near, edge_far: between these failures reach one an hour, 90 % sure (None: beyond all that is weighed)
    tested_to: the value furthest from stock that was tried; top: where the score has passed its top
    trials: of every value the last few, those that failed before the others; runs_at: how many there are
    settings: settings of this climb, from stock away; harder_h: hours survived at settings that ask more than these, h
    easier_failures: how many failures at settings that ask less than these count here, too
    use_h, use_failures: hours without a failure and failures of kept settings in use that count here
    turning: what turning it away from stock does to stability; tested: whether a stability test finds its limit
    """

    knob: Knob
    base: dict[str, float]
    base_title: str
    hold: float
    hold_state: HoldState
    hold_chance: float
    edge_near: float | None
    edge_far: float | None
    accepted_per_h: float
    sure: float
    trials: tuple[TrialMark, ...]
    runs_at: tuple[RunsAt, ...]
    curve: tuple[CurvePoint, ...]
    steps: tuple[StrategyStep, ...]
    tested_to: float
    top: ScoreTop | None
    settings: tuple[int, ...]
    steepness: Steepness
    decade: float
    fits: bool
    largest_step: float
    harder_h: float
    easier_failures: int
    use_h: float
    use_failures: int
    turning: Effect
    tested: bool


@asked_last
def climb_view(case: Case, knob_key: str | None, base_id: int | None, minutes: float | None = None) -> ClimbView:
    """The climb of a knob, all others standing as in a setting; of the one that the next step turns where none is named.

    Where no setting is named: where it has been run most, or where the knobs before it hold. minutes: bench time there is
    """
    line = chosen_line(case, knob_key, base_id, minutes)
    policy = policy_for(case.way, case.terms, line.knob.key, minutes)
    scores = first_top_along(case.campaign, line)
    loads = [workload.as_load() for workload in case.campaign.testable]
    policy = within_goal(case, line, within_safety_limits(case.campaign, line.knob, policy))
    policy = replace(policy, steepness=line.steepness)
    settings = {value: setting.id for value, setting in line.along.items()}
    title = describe_setting(case.campaign.knobs, line.base)
    view = view_of(
        knob=line.knob,
        base=dict(line.base),
        base_title=title,
        marks=list(line.marks),
        settings=settings,
        policy=policy,
        loads=loads,
        scores=scores,
        survived=line.survived,
        failed=line.failed,
        in_use=line.in_use,
    )
    steps = []
    for step in view.steps:
        advice = within_limits(case, line, policy, step.advice, view.hold)
        steps.append(StrategyStep(step.strategy, advice, settings.get(advice.value)))
    return replace(view, steps=tuple(steps))


def chosen_line(case: Case, knob_key: str | None, base_id: int | None, minutes: float | None = None) -> Line:
    """The line that is looked at: the one named, else the first that is not done in the order of turning."""
    if base_id is not None:
        return line_of(case.campaign, case.priors, knob_key, base_id)
    climbs = climbs_of(case, minutes)
    named = [climb for climb in climbs if climb.knob.key == knob_key]
    if knob_key is not None and not named:
        return line_of(case.campaign, case.priors, knob_key, None)
    worth = [climb for climb in climbs if is_worth(climb.done, climb.to_find, case.campaign.smallest_gain)]
    tried = [climb for climb in climbs if climb.tried]
    return (
        (named or worth or tried[-1:] or climbs)[0].line if climbs else line_of(case.campaign, case.priors, None, None)
    )


def view_of(
    knob: Knob,
    base: dict[str, float],
    base_title: str,
    marks: list[TrialMark],
    settings: dict[float, int],
    policy: Policy,
    loads: Sequence[Load] = (),
    scores: Sequence[ScoreAt] = (),
    survived: Sequence[Trial] = (),
    failed: Sequence[Trial] = (),
    in_use: Sequence[Trial] = (),
) -> ClimbView:
    """A climb as drawn. settings: ids of the settings that are there, by value

    survived: at settings that ask more; failed: at settings that ask less; in_use: of kept settings
    """
    trials = (*(mark.trial for mark in marks), *survived, *failed, *in_use)
    belief = believed(knob, trials, policy.steepness or usual_steepness(knob))
    values = values_of(knob, policy)
    stride = math.ceil(len(values) / MOST_CURVE_POINTS)
    # a long grid is drawn through some of its values, and its end; those that have a setting lie on the line between them
    drawn = [value for place, value in enumerate(values) if place % stride == 0 or place == len(values) - 1]
    rates = np.log(np.maximum([belief.rate(value) for value in drawn], 1e-300))
    shown = sorted({*drawn, *(value for value in values if value in settings)}, key=lambda value: value * knob.away)
    along = np.array([value * knob.away for value in drawn])
    curve = []
    for value in shown:
        middle, low, high = (math.exp(np.interp(value * knob.away, along, some)) for some in rates.T)
        holds = belief.chance_stable(value, policy.accepted_per_h, cautious=policy.cautious)
        curve.append(CurvePoint(value, holds, middle, low, high, settings.get(value)))
    steps = []
    for strategy in STRATEGIES:
        own = replace(policy, strategy=strategy)
        advice = advised(knob, trials, own, tuple(loads), tuple(scores))
        steps.append(StrategyStep(strategy, advice, settings.get(advice.value)))
    hold = hold_along(knob, belief, below_top(knob, policy, score_top(knob, scores)))
    return ClimbView(
        knob=knob,
        base=base,
        base_title=base_title,
        hold=hold,
        hold_state=hold_state(belief, policy, hold) if knob.facts.tested else "sure",
        hold_chance=belief.chance_stable(hold, policy.accepted_per_h, cautious=policy.cautious),
        edge_near=belief.edge_within(0.05),
        edge_far=belief.edge_within(0.95),
        accepted_per_h=policy.accepted_per_h,
        sure=policy.sure,
        trials=tuple(_few_at_each_value(marks)),
        runs_at=tuple(_runs_at(marks)),
        curve=tuple(curve),
        steps=tuple(steps),
        tested_to=max((knob.stock, *(trial.value for trial in trials)), key=lambda value: value * knob.away),
        top=score_top(knob, scores),
        settings=tuple(settings[value] for value in sorted(settings, key=lambda value: value * knob.away)),
        steepness=belief.steepness,
        decade=belief.quantile(belief.decade, 0.5),
        fits=belief.fits,
        largest_step=largest_step(knob, policy),
        harder_h=math.fsum(one.minutes for one in survived if one != stock_is_stable(knob)) / 60,
        easier_failures=len(failed),
        use_h=math.fsum(one.minutes for one in in_use if not one.failed) / 60,
        use_failures=sum(one.failed for one in in_use),
        turning=knob.turning,
        tested=knob.facts.tested,
    )


def _few_at_each_value(marks: Sequence[TrialMark]) -> list[TrialMark]:
    """As many marks as are drawn at one value: those that failed before the others, the newest of each."""
    by_value: dict[float, list[TrialMark]] = defaultdict(list)
    for mark in marks:
        by_value[mark.value].append(mark)
    shown: set[int] = set()
    for some in by_value.values():
        shown |= {id(mark) for mark in sorted(some, key=lambda mark: mark.failed)[-MOST_MARKS:]}
    return [mark for mark in marks if id(mark) in shown]


def _runs_at(marks: Sequence[TrialMark]) -> list[RunsAt]:
    every, failed = Counter(mark.value for mark in marks), Counter(mark.value for mark in marks if mark.failed)
    return [RunsAt(value, every[value], failed[value]) for value in sorted(every)]


def knob_turns(case: Case, minutes: float | None = None) -> list[KnobTurn]:
    """The campaign's knobs in the order of turning, each with how far its climb has come."""
    turns = []
    for one in climbs_of(case, minutes):
        state: State = ("done" if one.done else "under way") if one.tried else "to do"
        title = describe_setting(case.campaign.knobs, one.line.base)
        says = None if one.to_find is None else what_is_left(one.to_find)
        held = (
            "sure"
            if one.hold is None or not one.knob.facts.tested
            else hold_state(one.line.belief, one.policy, one.hold)
        )
        turns.append(
            KnobTurn(
                key=one.knob.key,
                why=one.why,
                state=state,
                base=dict(one.line.base),
                base_title=title,
                trials=one.tried,
                hold=one.hold,
                hold_state=held,
                to_find_says=says,
            )
        )
    return turns
