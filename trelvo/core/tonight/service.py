"""What fits into an evening: the situation from the campaign's rows, and the core's plan of it."""

from datetime import datetime

import numpy as np

from trelvo.core.campaign_climbs.service import KnobClimb, climbs_of
from trelvo.core.case import Case
from trelvo.core.climb.policy import below_top
from trelvo.core.climb.score_top import score_top
from trelvo.core.climb_line.scores import first_top_along
from trelvo.core.memo import asked_last
from trelvo.core.next_step.rules import Situation, best_of, worth_climbing
from trelvo.core.next_step.service import situation_of
from trelvo.core.next_step.standing import standing_of
from trelvo.core.prove.approaches import Proof, prove
from trelvo.core.prove.service import proof_by
from trelvo.core.tonight.plan import ClimbAhead, ProofAhead, Tonight, plan_tonight


def tonight_of(case: Case, begins_at: datetime, minutes: float) -> Tonight:
    """The plan of the minutes there are. The same draws whenever it is asked: it changes only with what is known."""
    # what is to be done changes with the day at most, and the plan is asked for again every minute
    hour = begins_at.replace(minute=0, second=0, microsecond=0)
    plan = _tonight_of(case, hour, minutes)
    return plan.begun_at(begins_at)


@asked_last
def _tonight_of(case: Case, begins_at: datetime, minutes: float) -> Tonight:
    situation = situation_of(case, standing_of(case), begins_at, far_ahead=True)
    climbs = {} if situation.missing else {one.knob.key: _ahead(case, one) for one in climbs_of(case)}
    proof = [] if situation.missing else _proof(case, situation)
    return plan_tonight(situation, climbs, proof, begins_at, minutes, np.random.default_rng(1))


def _ahead(case: Case, one: KnobClimb) -> ClimbAhead:
    top = score_top(one.knob, first_top_along(case.campaign, one.line))
    return ClimbAhead(one.knob, tuple(one.line.trials), below_top(one.knob, one.policy, top))


def _proof(case: Case, situation: Situation) -> list[ProofAhead]:
    """What the best setting still lacks by the approach of choice; where knobs are still climbed, what any setting will need.

    With the statistical approach a setting at its stability limit is proved by the climb: the climb is its proof.
    """
    way, terms, best = case.way, case.terms, best_of(situation)
    loads = {one.id: one.as_load() for one in case.campaign.testable}
    proof: Proof | None = None
    if not worth_climbing(situation) or (best and best.standing == "meets it" and situation.enough):
        setting = next((one for one in case.campaign.settings if best and one.id == best.setting_id), None)
        proof = proof_by(case, setting, way.approach, terms) if setting and setting.values else None
    elif way.approach != "statistical":
        proof = prove(way.approach, [], list(loads.values()))
    if proof is None:
        return []
    found, before = [], 0.0
    for item in proof.items:
        if not item.minutes_left or item.load_id not in loads:
            continue
        each = item.run_minutes or loads[item.load_id].minutes
        if item.in_one_go:
            # what was run in one go counts in the longer stretch as well
            before = each
        elif before and item.run_minutes and before < each:
            each, before = each - before, 0.0
        found.append(ProofAhead(item.title, item.runs, each, not item.in_one_go))
    return found
