"""Advice kept within the safety limits: no test is proposed that is predicted to exceed one."""

from collections.abc import Mapping
from dataclasses import replace
from statistics import median

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.load_kinds import by_weight, loads_for
from trelvo.core.campaign import Variant
from trelvo.core.case import Case
from trelvo.core.climb.policy import Advice, Policy, values_of
from trelvo.core.climb_line.line import Line
from trelvo.core.message import message
from trelvo.core.predicted_power import predicted_power, read_power
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.safety_limits import NATURES, PredictedBreach, predicted_breaches


def within_limits(case: Case, line: Line, policy: Policy, advice: Advice, hold: float) -> Advice:
    """The advice, or where it is predicted to exceed a safety limit: with a lighter workload, else at a value nearer the hold.

    hold: what is kept so far along the line. Where nothing can be tested the advice is to hold, and says why.
    """
    if (
        advice.act != "test"
        or advice.load_id is None
        or not any(NATURES[safety_limit.kind].quantity for safety_limit in case.campaign.safety_limits)
    ):
        return advice
    variants = {one.id: one for one in case.campaign.testable}
    breach = _breach(case, line, advice.value, variants[advice.load_id])
    if breach is None:
        return advice
    heavier = variants[advice.load_id].name
    lighter = [
        load.id for load in by_weight(loads_for([line.knob.part], [one.as_load() for one in case.campaign.testable]))
    ]
    for load_id in lighter[lighter.index(advice.load_id) + 1 :]:
        if _breach(case, line, advice.value, variants[load_id]) is None:
            why = message("workload_instead", workload=variants[load_id].name, heavier=heavier, breach=breach.says)
            return replace(advice, load_id=load_id, reason=advice.reason.then(why))
    knob = line.knob
    for value in _nearer(knob, policy, advice.value, hold):
        if _breach(case, line, value, variants[advice.load_id]) is None:
            at, advised = describe_value(knob, value), describe_value(knob, advice.value)
            why = message("value_instead", value=at, advised=advised, breach=breach.says)
            teaches = message("whether_stable", value=at)
            return replace(advice, value=value, reason=why, teaches=teaches, chance_to_pass=None)
    why = message("every_test_exceeds", value=describe_value(knob, advice.value), breach=breach.says)
    return Advice("hold", hold, 0.0, why)


def _nearer(knob: Knob, policy: Policy, value: float, hold: float) -> list[float]:
    """Values between the one advised and the hold, the one advised first."""
    between = [one for one in values_of(knob, policy) if min(value, hold) < one < max(value, hold)]
    return sorted(between, key=lambda one: abs(one - value))


def _breach(case: Case, line: Line, value: float, variant: Variant) -> PredictedBreach | None:
    """The first limit that a test is predicted to exceed by the middle of what is expected."""
    values: Mapping[str, float] = {**line.base, line.knob.key: value}
    values = {key: one for key, one in values.items() if one != _stock(case, key)}
    watts = predicted_power(case, values, variant.id)
    told: dict[Quantity, tuple[float, float]] = {}
    if watts is not None:
        told["power"] = (watts.value, watts.high)
        degrees = _degrees(case, variant.id, watts.value)
        if degrees is not None:
            told["temperature"] = (degrees, degrees)
    return next((one for one in predicted_breaches(case.campaign.safety_limits, told) if one.probable), None)


def _degrees(case: Case, variant_id: int, watts: float) -> float | None:
    """Highest temperature at these watts, from completed runs of the workload with room, watts and degrees; None without any.

    Each run says how many degrees over the room a watt is worth; the middle of them counts, in the room of the newest.
    """
    facts = [
        one
        for one in read_power(case).facts
        if one.workload_id == variant_id and one.power_w and one.temp_max_c is not None and one.room_c is not None
    ]
    if not facts:
        return None
    per_watt = median(((one.temp_max_c or 0.0) - (one.room_c or 0.0)) / (one.power_w or 1.0) for one in facts)
    newest = max(facts, key=lambda one: (one.started_h, one.id))
    return None if newest.room_c is None else newest.room_c + per_watt * watts


def _stock(case: Case, key: str) -> float | None:
    return next((knob.stock for knob in case.campaign.knobs if knob.key == key), None)
