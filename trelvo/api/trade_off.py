from dataclasses import replace

import numpy as np
from django.http import HttpRequest
from ninja import Router

from trelvo.api.errors import Problems
from trelvo.api.found import found_case
from trelvo.api.schema import Schema
from trelvo.core.base.knobs import describe_last
from trelvo.core.goal.alternatives import Alternative, alternatives, worth_tuning
from trelvo.core.goal.service import goal_view, target_ratios
from trelvo.core.goal.trade_off import AXES, Axis, Limit, Spot, TargetLine, limits_of, target_lines, trade_off
from trelvo.messages.goal import AXES as NAMES

router = Router(tags=["goal"])


class AxisOut(Schema):
    axis: Axis
    name: str
    unit: str
    more_is_better: bool


class TradeOffOut(Schema):
    """spots: every setting that was measured in both; best_id: the best by the goal"""

    x: AxisOut
    y: AxisOut
    axes: list[AxisOut]
    spots: list[Spot]
    limits: list[Limit]
    targets: list[TargetLine]
    stock_id: int
    best_id: int | None


def _axis(axis: Axis) -> AxisOut:
    unit, more = AXES[axis]
    return AxisOut(axis=axis, name=NAMES[axis], unit=unit, more_is_better=more)


@router.get("/campaigns/{int:campaign_id}/trade-off", response={200: TradeOffOut, 404: Problems, 422: Problems})
def show_trade_off(request: HttpRequest, campaign_id: int, x: Axis = "power", y: Axis = "speed") -> TradeOffOut:
    """Two figures of every setting against each other, and which settings no other beats in both."""
    case = found_case(campaign_id)
    goal = goal_view(case)
    # always the same draws, so that the answer changes only with what is known
    values = {setting.id: setting.values for setting in case.campaign.settings}
    spots = [
        replace(spot, label=describe_last(case.campaign.knobs, values[spot.setting_id]))
        for spot in trade_off(goal.judged, case.campaign.stock.id, x, y, np.random.default_rng(1))
    ]
    return TradeOffOut(
        x=_axis(x),
        y=_axis(y),
        axes=[_axis(axis) for axis in AXES],
        spots=spots,
        limits=limits_of(goal.terms, x, y),
        targets=target_lines(x, y, target_ratios(case)),
        stock_id=case.campaign.stock.id,
        best_id=goal.best.setting_id if goal.best else None,
    )


@router.get("/campaigns/{int:campaign_id}/alternatives", response={200: list[Alternative], 404: Problems})
def show_alternatives(request: HttpRequest, campaign_id: int) -> list[Alternative]:
    """Keep stock, tune to the best so far, or buy what was typed as a target: what each gives, and what it costs."""
    case = found_case(campaign_id)
    goal = goal_view(case)
    best = worth_tuning(goal.best, goal.judged, case.campaign.stock.id)
    return alternatives(best, case.campaign.stock.id, target_ratios(case), case.campaign.price)
