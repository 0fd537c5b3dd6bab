"""Speed against power by each way of saving: capping the power, and holding a lower voltage."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from trelvo.core.base.knobs import Knob, describe_shortest
from trelvo.core.base.runs import mean_of
from trelvo.core.case import Case
from trelvo.core.goal.judging import Judged
from trelvo.core.goal.service import goal_view
from trelvo.core.lab.predicted_step import PredictedPower, PredictedSetting
from trelvo.core.lab.untried import predicted_power
from trelvo.core.laws.response import (
    EqualPower,
    EqualSpeed,
    Response,
    ResponsePlace,
    at_equal_speed,
    at_equal_x,
    response,
)
from trelvo.core.memo import on_snapshot

Way = Literal["cap the power", "hold a voltage", "something else"]
SPEEDS = (0.85, 0.9, 0.95, 0.98, 1.0)
ROUND_W = (300, 250, 200, 175, 150, 125, 115, 100, 80, 65, 45, 35, 28, 25, 20, 15, 10)
MOST_ROUND, MOST_OWN = 5, 3


@dataclass(frozen=True)
class WayView:
    """A way of saving with its settings. response: of capping the power alone; None where fewer than three were tried"""

    way: Way
    places: list[ResponsePlace]
    response: Response | None


@dataclass(frozen=True)
class ResponseView:
    """stock_w: mean power at stock over the workloads that count; equal_speed, equal_power: both ways,
    first the cap; untried: predicted settings that would beat these; least_speed: what the goal keeps"""

    stock_w: float | None
    ways: list[WayView]
    equal_speed: list[EqualSpeed]
    equal_power: list[EqualPower]
    untried: list[PredictedSetting]
    least_speed: float | None


@dataclass(frozen=True)
class Places:
    """Every judged setting that has speed and power against stock, by its way of saving; stock is one of the caps.

    everywhere: settings that ran every workload that stock did
    """

    stock_w: float
    by_way: dict[Way, list[ResponsePlace]]
    everywhere: set[int]


def response_view(case: Case) -> ResponseView:
    """Speed against power by each way of saving, both at equal speed and at equal power, and what would beat them."""
    least = case.terms.least_speed
    places = _places(case)
    if places is None:
        return ResponseView(None, [], [], [], [], least)
    ways, stock_w = places.by_way, places.stock_w
    # always the same draws, so that the answer changes only with what is known
    cap, volts = response(ways["cap the power"], np.random.default_rng(1)), ways["hold a voltage"]
    found = [WayView(way, some, cap if way == "cap the power" else None) for way, some in ways.items() if some]
    untried = list(predicted_of(case).settings)
    if cap is None or not volts:
        return ResponseView(stock_w, found, [], [], untried, least)
    xs = sorted({*_round_watts(cap), *(float(round(volt.x)) for volt in volts[:MOST_OWN])}, reverse=True)
    return ResponseView(stock_w, found, at_equal_speed(cap, volts, SPEEDS), at_equal_x(cap, volts, xs), untried, least)


@on_snapshot
def predicted_of(case: Case) -> PredictedPower:
    """Settings not yet run that should beat those that were."""
    places = _places(case)
    measured = [one for some in places.by_way.values() for one in some] if places else []
    return predicted_power(case, measured, places.everywhere) if places else PredictedPower()


def _places(case: Case) -> Places | None:
    """None where no power was read at stock."""
    stock_w = mean_of(_stock_watts(case))
    if stock_w is None:
        return None
    values = {setting.id: setting.values for setting in case.campaign.settings}
    everywhere = _run_everywhere(case)
    at_stock = ResponsePlace(case.campaign.stock.id, "stock", stock_w, 1.0, 1e-4, "stock")
    ways: dict[Way, list[ResponsePlace]] = {"cap the power": [at_stock], "hold a voltage": [], "something else": []}
    for one in goal_view(case).judged:
        place = _place(one, stock_w) if one.setting_id in everywhere else None
        if place is not None and one.setting_id != case.campaign.stock.id:
            place = replace(place, label=describe_shortest(case.campaign.knobs, values[one.setting_id]))
            ways[way_of(values[one.setting_id], case.campaign.knobs)].append(place)
    return Places(stock_w, ways, everywhere)


def way_of(values: Mapping[str, float], knobs: Sequence[Knob]) -> Way:
    """How a setting saves: by a lower power limit alone, by a lower voltage, or not by one of these."""
    turned = [knob for knob in knobs if knob.key in values]
    if turned and all(knob.role == "power limit" and values[knob.key] < knob.stock for knob in turned):
        return "cap the power"
    if any(knob.facts.group == "voltage" and values[knob.key] < knob.stock for knob in turned):
        return "hold a voltage"
    return "something else"


def _run_everywhere(case: Case) -> set[int]:
    """Settings that ran every workload that stock did: watts of one workload cannot be compared with those of several."""
    found: dict[int, set[int]] = defaultdict(set)
    measured = {workload.id for workload in case.campaign.workloads}
    build_id = case.campaign.judged_build.id if case.campaign.judged_build else None
    for run in case.campaign.runs:
        if run.build_id != build_id or not case.campaign.was_made(run):
            continue
        if run.variant_id in measured:
            found[run.setting_id].add(run.variant_id)
    return {pk for pk, ran in found.items() if ran >= found[case.campaign.stock.id]}


def _stock_watts(case: Case) -> list[float]:
    """Mean power at stock of each workload."""
    facts = case.facts(case.campaign.runs_at(case.campaign.stock, case.campaign.judged_build))
    by_workload: dict[int, list[float]] = {}
    for one in facts:
        if one.power_w is not None and one.outcome == "completed" and not one.set_aside:
            by_workload.setdefault(one.workload_id, []).append(one.power_w)
    measured = {workload.id for workload in case.campaign.workloads}
    return [math.fsum(some) / len(some) for pk, some in by_workload.items() if pk in measured]


def _place(one: Judged, stock_w: float) -> ResponsePlace | None:
    if one.speed is None or one.power is None or one.power.ratio <= 0:
        return None
    deviation = (one.speed.error_log or 0.005) * one.speed.ratio
    return ResponsePlace(one.setting_id, one.title, stock_w / one.power.ratio, one.speed.ratio, deviation)


def _round_watts(curve: Response) -> list[float]:
    low, high = curve.curve[0].x, curve.curve[-1].x
    return [float(watts) for watts in ROUND_W if low <= watts <= high][:MOST_ROUND]
