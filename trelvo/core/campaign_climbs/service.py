"""All knobs of a campaign in the order of turning, each climbed from where those before it hold."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from trelvo.core.base.knobs import Knob, fingerprint
from trelvo.core.campaign_climbs.left_to_find import left_to_find
from trelvo.core.campaign_climbs.power_cap import caps_power, value_for_budget, value_for_floor
from trelvo.core.campaign_climbs.within_limits import within_limits
from trelvo.core.case import Case
from trelvo.core.climb.knob_order import not_climbed, order_knobs, why_then
from trelvo.core.climb.least_stable import hold_along
from trelvo.core.climb.policy import Advice, Policy, below_top, values_of
from trelvo.core.climb.score_top import score_top
from trelvo.core.climb_line.beliefs import advised
from trelvo.core.climb_line.line import Line, line_of, within_safety_limits
from trelvo.core.climb_line.scores import first_top_along
from trelvo.core.goal.service import GoalView, goal_view, highest_mean_power
from trelvo.core.memo import on_snapshot
from trelvo.core.message import Message
from trelvo.core.way import policy_for


@dataclass(frozen=True)
class KnobClimb:
    """A knob's climb as the one step takes it. hold: the furthest value that is stable by the estimate; None: untried"""

    knob: Knob
    line: Line
    policy: Policy
    advice: Advice
    why: Message
    tried: int
    hold: float | None
    to_find: float | None

    @property
    def done(self) -> bool:
        return self.advice.act == "hold"


def climbs_of(case: Case, minutes: float | None = None) -> tuple[KnobClimb, ...]:
    """Every knob in the order of turning, each climbed from where those before it hold."""
    return _without_end(case) if minutes is None else _climbs_of(case, minutes)


@on_snapshot
def _without_end(case: Case) -> tuple[KnobClimb, ...]:
    return _climbs_of(case, None)


def _climbs_of(case: Case, minutes: float | None) -> tuple[KnobClimb, ...]:
    terms, way = case.terms, case.way
    goal = goal_view(case)
    stacked: dict[str, float] = {}
    found = []
    for knob in order_knobs(case.campaign.knobs, terms.goal):
        line = _line_for(case, knob, stacked, goal)
        policy = within_goal(
            case, line, within_safety_limits(case.campaign, knob, policy_for(way, terms, knob.key, minutes))
        )
        climb = _climb_of(case, knob, line, replace(policy, steepness=line.steepness), goal)
        found.append(climb)
        if climb.hold is not None and climb.hold != knob.stock:
            stacked = {**line.base, knob.key: climb.hold}
    return tuple(found)


def within_goal(case: Case, line: Line, policy: Policy) -> Policy:
    """The policy with the value that keeps the goal's budget, or the speed that it must keep, as a limit of the way down."""
    if line.knob.away == 1:
        return policy
    terms = case.terms
    limits = [policy.limit]
    if terms.most_power_w is not None and caps_power(line.knob):
        budget = _for_budget(case, line, terms.most_power_w)
        limits.append(budget)
        if budget is not None:
            # down to the budget in one test: less power is no risk, and nothing between is of use
            step = policy.largest_step or abs(line.knob.stock - budget) or None
            policy = replace(policy, largest_step=step)
    if terms.least_speed is not None:
        judged = {one.setting_id: one for one in goal_view(case).judged if one.speed}
        along = {value: judged[setting.id] for value, setting in line.along.items() if setting.id in judged}
        speed = {value: one.speed.ratio for value, one in along.items() if one.speed}
        slow = [value for value, one in along.items() if one.broken("speed")]
        limits.append(value_for_floor(line.knob, speed, slow, terms.least_speed))
    return replace(policy, limit=max((limit for limit in limits if limit is not None), default=None))


def _for_budget(case: Case, line: Line, most_power_w: float) -> float | None:
    drawn = {value: highest_mean_power(case, setting.id) for value, setting in line.along.items()}
    return value_for_budget(line.knob, {value: one for value, one in drawn.items() if one is not None}, most_power_w)


def _line_for(case: Case, knob: Knob, stacked: Mapping[str, float], goal: GoalView) -> Line:
    """Where the knob has been climbed, unless that was from a setting that has failed; else from where the others hold. A record
    goes on from the best result."""
    if case.terms.goal == "record" and goal.best is not None:
        return line_of(case.campaign, case.priors, knob.key, goal.best.setting_id)
    line = line_of(case.campaign, case.priors, knob.key, None)
    tried = any(mark.value != knob.stock for mark in line.marks)
    if tried and (knob.turning == "helps" or not _failed_at(case, line.base)):
        # a knob that helps is turned just because the others fail without it
        return line
    if tried and fingerprint(line.base) == fingerprint(dict(stacked)):
        return line
    return line_of(case.campaign, case.priors, knob.key, None, stacked)


def _failed_at(case: Case, values: Mapping[str, float]) -> bool:
    """Whether a setting has failed more often than it was completed."""
    mark = fingerprint(dict(values))
    setting = next((one for one in case.campaign.settings if one.fingerprint == mark), None)
    runs = case.campaign.runs_at(setting, case.campaign.judged_build) if setting and setting.values else []
    return sum(run.failed for run in runs) > sum(run.outcome == "completed" for run in runs)


def _climb_of(case: Case, knob: Knob, line: Line, policy: Policy, goal: GoalView) -> KnobClimb:
    loads = tuple(workload.as_load() for workload in case.campaign.testable)
    scores = first_top_along(case.campaign, line)
    advice = advised(knob, tuple(line.trials), policy, loads, scores)
    tried = sum(mark.value != knob.stock for mark in line.marks)
    hold = to_find = None
    if not_climbed(knob, goal.terms.goal):
        # what was tried of it stays in the drawing
        return KnobClimb(
            knob=knob,
            line=line,
            policy=policy,
            advice=advice,
            why=why_then(knob, goal.terms.goal),
            tried=tried,
            hold=None,
            to_find=0.0,
        )
    if tried:
        belief = line.belief
        under_top = below_top(knob, policy, score_top(knob, scores))
        hold = advice.value if advice.act == "hold" else hold_along(knob, belief, under_top)
        if not knob.facts.tested or knob.turning == "helps":
            # nothing is gained by going on along it: what is left is to find how little is enough
            advice = within_limits(case, line, policy, advice, hold)
            return KnobClimb(
                knob=knob,
                line=line,
                policy=policy,
                advice=advice,
                why=why_then(knob, goal.terms.goal),
                tried=tried,
                hold=hold,
                to_find=None,
            )
        furthest = min(abs(belief.edge_at(0.95) - knob.stock), abs(values_of(knob, under_top)[-1] - knob.stock))
        to_find = _to_find(case, line, goal, abs(hold - knob.stock), furthest)
    advice = within_limits(case, line, policy, advice, knob.stock if hold is None else hold)
    return KnobClimb(
        knob=knob,
        line=line,
        policy=policy,
        advice=advice,
        why=why_then(knob, goal.terms.goal),
        tried=tried,
        hold=hold,
        to_find=to_find,
    )


def _to_find(case: Case, line: Line, goal: GoalView, hold: float, furthest: float) -> float | None:
    scores = {one.setting_id: one.measure.score for one in goal.judged if one.measure and one.measure.unit == "ratio"}
    scores |= {case.campaign.stock.id: 0.0}
    along = [
        (abs(value - line.knob.stock), scores[setting.id])
        for value, setting in line.along.items()
        if setting.id in scores
    ]
    return left_to_find([x for x, _ in along], [y for _, y in along], hold, furthest) if along else None
