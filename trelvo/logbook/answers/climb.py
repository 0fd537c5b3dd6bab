"""One knob's climb as drawn, and the campaign's knobs in the order of turning."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.base.loads import Load
from trelvo.core.climb.by_numbers import highest_hold
from trelvo.core.climb.knob_order import order_knobs, why_then
from trelvo.core.climb.policy import STRATEGIES, Advice, Policy, Strategy, below_top, largest_step, values_of
from trelvo.core.climb.score_top import ScoreAt, ScoreTop, first_top, score_top
from trelvo.core.climb.steepness import Steepness, usual_steepness
from trelvo.core.decide.stages import State
from trelvo.logbook.answers.climb_line import TrialMark, advised, believed, line_of, scores_along, within_rails
from trelvo.logbook.rows.campaign_data import CampaignData

MOST_CURVE_POINTS = 200


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
class NextStep:
    """What a strategy would do next."""

    strategy: Strategy
    advice: Advice
    setting_id: int | None


@dataclass(frozen=True)
class KnobTurn:
    """A knob in the order of turning: from which setting it is climbed, its trials, where it holds to (None: untried)."""

    key: str
    why: str
    state: State
    base: dict[str, float]
    base_title: str
    trials: int
    hold: float | None


@dataclass(frozen=True)
class ClimbView:
    """One knob's climb. base: what all other knobs stand at; hold: the furthest value that holds by the numbers

    steepness: the belief about how fast failures multiply that it began with; decade: what is believed of it now, middle
    fits: whether the runs go together with one edge
    edge_near, edge_far: between these failures reach one an hour, 90 % sure; top: where the score has passed its top
    settings: rungs of this climb, from stock away
    """

    knob: Knob
    base: dict[str, float]
    base_title: str
    hold: float
    edge_near: float
    edge_far: float
    accepted_per_h: float
    sure: float
    trials: list[TrialMark]
    curve: list[CurvePoint]
    steps: list[NextStep]
    tested_to: float
    top: ScoreTop | None
    settings: list[int]
    steepness: Steepness
    decade: float
    fits: bool
    largest_step: float


def climb_view(data: CampaignData, knob_key: str | None, base_id: int | None, policy: Policy) -> ClimbView:
    """The climb of a knob, all others standing as in a setting.

    Where none is named: for a knob, where it has been run most; else the newest setting that turned something.
    """
    line = line_of(data, knob_key, base_id)
    scores = first_top(line.knob, scores_along(data, line))
    loads = [workload.as_load() for workload in data.testable]
    policy = replace(within_rails(data, line.knob, policy), steepness=line.steepness)
    settings = {value: setting.pk for value, setting in line.along.items()}
    title = describe_setting(data.knobs, line.base)
    return view_of(line.knob, line.base, title, line.marks, settings, policy, loads, scores)


def view_of(
    knob: Knob,
    base: dict[str, float],
    base_title: str,
    marks: list[TrialMark],
    settings: dict[float, int],
    policy: Policy,
    loads: Sequence[Load] = (),
    scores: Sequence[ScoreAt] = (),
) -> ClimbView:
    """A climb as drawn, from its trials. settings: ids of the rungs that are there, by value"""
    trials = [mark.trial for mark in marks]
    belief = believed(knob, tuple(trials), policy.steepness or usual_steepness(knob))
    values = values_of(knob, policy)
    stride = math.ceil(len(values) / MOST_CURVE_POINTS)
    curve = []
    for place, value in enumerate(values):
        # a long grid is drawn through some of its values; those that have a rung, and the end, are always among them
        if place % stride and value not in settings and place != len(values) - 1:
            continue
        middle, low, high = belief.rate(value)
        holds = belief.chance_within(value, policy.accepted_per_h)
        curve.append(CurvePoint(value, holds, middle, low, high, settings.get(value)))
    steps = []
    for strategy in STRATEGIES:
        own = replace(policy, strategy=strategy)
        advice = advised(knob, tuple(trials), own, tuple(loads), tuple(scores))
        steps.append(NextStep(strategy, advice, settings.get(advice.value)))
    return ClimbView(
        knob=knob,
        base=base,
        base_title=base_title,
        hold=highest_hold(belief, policy, values_of(knob, below_top(knob, policy, score_top(knob, scores)))),
        edge_near=belief.edge_at(0.05),
        edge_far=belief.edge_at(0.95),
        accepted_per_h=policy.accepted_per_h,
        sure=policy.sure,
        trials=marks,
        curve=curve,
        steps=steps,
        tested_to=knob.stock + knob.away * belief.tested_to,
        top=score_top(knob, scores),
        settings=[settings[value] for value in sorted(settings, key=lambda value: value * knob.away)],
        steepness=belief.steepness,
        decade=belief.quantile(belief.decade, 0.5),
        fits=belief.fits,
        largest_step=largest_step(knob, policy),
    )


def knob_turns(data: CampaignData, policy: Policy) -> list[KnobTurn]:
    """The campaign's knobs in the order of turning, each with how far its climb has come."""
    turns = []
    loads = tuple(workload.as_load() for workload in data.testable)
    for knob in order_knobs(data.knobs, data.campaign.goal):
        line = line_of(data, knob.key, None)
        tried = [trial for trial in line.trials if trial.value != knob.stock]
        state: State = "to do"
        hold = None
        if tried:
            own = replace(within_rails(data, knob, policy), steepness=line.steepness)
            scores = first_top(knob, scores_along(data, line))
            belief = line.belief()
            advice = advised(knob, tuple(line.trials), own, loads, tuple(scores))
            state = "done" if advice.act == "hold" else "under way"
            own = below_top(knob, own, score_top(knob, scores))
            hold = highest_hold(belief, own, values_of(knob, own))
        title = describe_setting(data.knobs, line.base)
        turns.append(KnobTurn(knob.key, why_then(knob, data.campaign.goal), state, line.base, title, len(tried), hold))
    return turns
