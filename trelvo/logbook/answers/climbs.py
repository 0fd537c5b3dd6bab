"""All knobs of a campaign in the order of turning, each climbed from where those before it hold."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from trelvo.core.base.knobs import Knob, fingerprint
from trelvo.core.climb.knob_order import not_climbed, order_knobs, why_then
from trelvo.core.climb.least_stable import hold_along
from trelvo.core.climb.policy import Advice, Policy, below_top, values_of
from trelvo.core.climb.score_top import score_top
from trelvo.core.decide.left_to_find import left_to_find
from trelvo.core.decide.power_cap import caps_power, value_for_budget, value_for_floor
from trelvo.core.decide.way import policy_for
from trelvo.logbook.answers.climb_line import Line, advised, first_top_along, line_of, within_rails
from trelvo.logbook.answers.goal import GoalView, goal_view, highest_mean_power, terms_of, way_of
from trelvo.logbook.answers.within_limits import within_limits
from trelvo.logbook.models import Goal
from trelvo.logbook.rows.campaign_data import CampaignData


@dataclass(frozen=True)
class KnobClimb:
    """A knob's climb as the one step takes it. hold: the furthest value that holds by the numbers; None: untried"""

    knob: Knob
    line: Line
    policy: Policy
    advice: Advice
    why: str
    tried: int
    hold: float | None
    to_find: float | None

    @property
    def done(self) -> bool:
        return self.advice.act == "hold"


def climbs_of(data: CampaignData, minutes: float | None = None) -> list[KnobClimb]:
    """Every knob in the order of turning, each climbed from where those before it hold."""
    return data.lately(("climbs", minutes), lambda: _climbs_of(data, minutes))


def _climbs_of(data: CampaignData, minutes: float | None) -> list[KnobClimb]:
    terms, way = terms_of(data.campaign), way_of(data.campaign)
    goal = goal_view(data)
    stacked: dict[str, float] = {}
    found = []
    for knob in order_knobs(data.knobs, terms.goal):
        line = _line_for(data, knob, stacked, goal)
        policy = within_goal(data, line, within_rails(data, knob, policy_for(way, terms, knob.key, minutes)))
        climb = _climb_of(data, knob, line, replace(policy, steepness=line.steepness), goal)
        found.append(climb)
        if climb.hold is not None and climb.hold != knob.stock:
            stacked = {**line.base, knob.key: climb.hold}
    return found


def within_goal(data: CampaignData, line: Line, policy: Policy) -> Policy:
    """The policy with the value that keeps the goal's budget, or the speed that it must keep, as a limit of the way down."""
    if line.knob.away == 1:
        return policy
    terms = terms_of(data.campaign)
    limits = [policy.limit]
    if terms.most_power_w is not None and caps_power(line.knob):
        budget = _for_budget(data, line, terms.most_power_w)
        limits.append(budget)
        if budget is not None:
            # down to the budget in one test: less power is no risk, and nothing between is of use
            step = policy.largest_step or abs(line.knob.stock - budget) or None
            policy = replace(policy, largest_step=step)
    if terms.least_speed is not None:
        judged = {one.setting_id: one for one in goal_view(data).judged if one.speed}
        along = {value: judged[setting.pk] for value, setting in line.along.items() if setting.pk in judged}
        speed = {value: one.speed.ratio for value, one in along.items() if one.speed}
        slow = [value for value, one in along.items() if one.broken("speed")]
        limits.append(value_for_floor(line.knob, speed, slow, terms.least_speed))
    return replace(policy, limit=max((one for one in limits if one is not None), default=None))


def _for_budget(data: CampaignData, line: Line, most_power_w: float) -> float | None:
    drawn = {value: highest_mean_power(data, setting.pk) for value, setting in line.along.items()}
    return value_for_budget(line.knob, {value: one for value, one in drawn.items() if one is not None}, most_power_w)


def _line_for(data: CampaignData, knob: Knob, stacked: Mapping[str, float], goal: GoalView) -> Line:
    """Where the knob has been climbed, unless that was from a setting that has failed; else from where the others hold. A record
    goes on from the best result."""
    if data.campaign.goal == Goal.RECORD and goal.best is not None:
        return line_of(data, knob.key, goal.best.setting_id)
    line = line_of(data, knob.key, None)
    tried = any(mark.value != knob.stock for mark in line.marks)
    if tried and (knob.turning == "helps" or not _failed_at(data, line.base)):
        # a knob that helps is turned just because the others fail without it
        return line
    if tried and fingerprint(line.base) == fingerprint(dict(stacked)):
        return line
    return line_of(data, knob.key, None, stacked)


def _failed_at(data: CampaignData, values: Mapping[str, float]) -> bool:
    """Whether a setting has failed more often than it was completed."""
    mark = fingerprint(dict(values))
    setting = next((one for one in data.settings if one.fingerprint == mark), None)
    runs = data.runs_at(setting, data.judged_fitting) if setting and setting.values else []
    return sum(run.failed for run in runs) > sum(run.outcome == "completed" for run in runs)


def _climb_of(data: CampaignData, knob: Knob, line: Line, policy: Policy, goal: GoalView) -> KnobClimb:
    loads = tuple(workload.as_load() for workload in data.testable)
    scores = first_top_along(data, line)
    advice = advised(knob, tuple(line.trials), policy, loads, scores)
    tried = sum(mark.value != knob.stock for mark in line.marks)
    hold = to_find = None
    if not_climbed(knob, goal.terms.goal):
        # what was tried of it stays in the drawing
        return KnobClimb(knob, line, policy, advice, why_then(knob, goal.terms.goal), tried, None, 0.0)
    if tried:
        belief = line.belief()
        under_top = below_top(knob, policy, score_top(knob, scores))
        hold = advice.value if advice.act == "hold" else hold_along(knob, belief, under_top)
        if not knob.facts.tested or knob.turning == "helps":
            # nothing is gained by going on along it: what is left is to find how little is enough
            advice = within_limits(data, line, policy, advice, hold)
            return KnobClimb(knob, line, policy, advice, why_then(knob, goal.terms.goal), tried, hold, None)
        furthest = min(abs(belief.edge_at(0.95) - knob.stock), abs(values_of(knob, under_top)[-1] - knob.stock))
        to_find = _to_find(data, line, goal, abs(hold - knob.stock), furthest)
    advice = within_limits(data, line, policy, advice, knob.stock if hold is None else hold)
    return KnobClimb(knob, line, policy, advice, why_then(knob, goal.terms.goal), tried, hold, to_find)


def _to_find(data: CampaignData, line: Line, goal: GoalView, hold: float, furthest: float) -> float | None:
    scores = {one.setting_id: one.measure.score for one in goal.judged if one.measure and one.measure.unit == "ratio"}
    scores |= {data.stock.pk: 0.0}
    along = [
        (abs(value - line.knob.stock), scores[setting.pk])
        for value, setting in line.along.items()
        if setting.pk in scores
    ]
    return left_to_find([x for x, _ in along], [y for _, y in along], hold, furthest) if along else None
