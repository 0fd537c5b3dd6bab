"""What to do after a failure, in order. Each step says which setting to run, for how long, and what its answer means."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load
from trelvo.core.climb.adaptive import value_or_stock
from trelvo.core.climb.harder import endangers_most
from trelvo.core.climb.knob_order import group_of
from trelvo.core.message import Message, message
from trelvo.core.registry.outcomes import OUTCOMES, Outcome

# Three times as long without a failure says with 95 % that the rate has fallen: the rule of three.
TIMES = 3.0
LEAST_MINUTES, MOST_MINUTES = 10.0, 120.0
# From so near the limit on, heat is suspected. Common practice.
NEAR_LIMIT_C = 4.0
# A failure that the belief gave less than this is suspected to have another cause.
UNLIKELY = 0.05


@dataclass(frozen=True)
class Failed:
    """A failure and what is known around it.

    values: the setting, by knob key; stock knobs may be left out; last: the knob along which it is judged, None at stock
    last_good: the value of that knob nearest the failure that held: towards stock, or further on for a knob that helps; None
    where nothing did
    chance: how likely the belief made a failure within this time; None where there is no belief
    temp_max_c, limit_c: heat and its limit; new_build: whether driver, firmware or parts changed since the last good run
    fails_at_stock: whether stock has failed under the same build
    """

    outcome: Outcome
    minutes: float
    load: Load
    values: Mapping[str, float]
    last: Knob | None = None
    last_good: float | None = None
    chance: float | None = None
    temp_max_c: float | None = None
    limit_c: float | None = None
    new_build: bool = False
    fails_at_stock: bool = False


@dataclass(frozen=True)
class Step:
    """values: the setting to run, None where there is nothing to run; minutes: how long"""

    key: str
    title: Message
    why: Message
    values: dict[str, float] | None = None
    minutes: float = 0.0


@dataclass(frozen=True)
class Triage:
    """outcome: how it failed; steps: what to do, in order"""

    outcome: Outcome
    steps: tuple[Step, ...]


def triage(failed: Failed, knobs: Mapping[str, Knob]) -> Triage:
    """What to do after a failure, in order.

    knobs: all knobs of the campaign by key
    Order: back to stock to see whether the tuning is to blame; last good setting; steps back by the kind of failure, or a step of
    voltage; memory or core, where both are turned; heat, where it was at its limit; what else to suspect. Common practice.
    """
    turned = {key: value for key, value in failed.values.items() if key in knobs and value != knobs[key].stock}
    minutes = min(max(TIMES * failed.minutes, LEAST_MINUTES), MOST_MINUTES)
    heat = _heat(failed, turned, minutes)
    if not turned or failed.fails_at_stock:
        return Triage(failed.outcome, (*heat, _elsewhere(failed, message("stock_fails"))))
    told = -math.expm1(-minutes / max(failed.minutes, 1.0))
    why = message(
        "fails_at_stock_too", workload=failed.load.name, failed_min=failed.minutes, minutes=minutes, chance=told
    )
    steps = [Step("stock", message("back_to_stock"), why, {}, minutes)]
    steps += [*_back(failed, turned, knobs, minutes), *_memory_or_core(failed, turned, knobs, minutes), *heat]
    doubts = []
    if failed.chance is not None and failed.chance < UNLIKELY:
        doubts.append(message("failure_was_unlikely", percent=failed.chance * 100))
    if failed.new_build:
        doubts.append(message("changed_since_it_held"))
    if doubts:
        steps.append(_elsewhere(failed, doubts[0].then(*doubts[1:])))
    return Triage(failed.outcome, tuple(steps))


def _heat(failed: Failed, turned: dict[str, float], minutes: float) -> list[Step]:
    """The same again, cooler, where the part stood near its limit."""
    if failed.temp_max_c is None or failed.limit_c is None or failed.temp_max_c <= failed.limit_c - NEAR_LIMIT_C:
        return []
    why = message("was_near_heat_limit", hottest_c=failed.temp_max_c, limit_c=failed.limit_c)
    return [Step("heat", message("rule_out_heat"), why, dict(turned), minutes)]


def _elsewhere(failed: Failed, why: Message) -> Step:
    """What else it may be, by how it failed."""
    whole_machine = failed.outcome in ("system crash", "no start")
    look = message("look_at_power" if whole_machine else "look_at_software")
    return Step("elsewhere", message("suspect_something_else"), why.then(look))


def _memory_or_core(failed: Failed, turned: dict[str, float], knobs: Mapping[str, Knob], minutes: float) -> list[Step]:
    """Where both are turned, one goes to stock: memory first, for it fails without warning."""
    groups = {key: group_of(knobs[key]) for key in turned}
    memory = [key for key, group in groups.items() if group == "memory"]
    clock = [key for key, group in groups.items() if group == "clock"]
    if not memory or not clock:
        return []
    why = message("both_are_turned").then(message("points_to_memory") if failed.outcome == "artifacts" else None)
    left = {key: value for key, value in turned.items() if key not in memory}
    return [Step("memory", message("memory_or_core"), why, left, minutes)]


def _back(failed: Failed, turned: dict[str, float], knobs: Mapping[str, Knob], minutes: float) -> list[Step]:
    """The last good setting, then as many steps back as the kind of failure says, then a step of voltage."""
    steps = []

    def at(knob: Knob, new: float) -> dict[str, float]:
        others = {key: one for key, one in turned.items() if key != knob.key}
        return others if new == knob.stock else {**others, knob.key: new}

    last = failed.last
    if last is not None and last.key in turned and failed.last_good is not None:
        why = message("last_good_why")
        title = message("last_good", knob=last.name, value=value_or_stock(last, failed.last_good))
        steps.append(Step("last good", title, why, at(last, failed.last_good), minutes))
    knob = endangers_most(list(knobs.values()), turned)
    if knob is None:
        return steps
    count, value = OUTCOMES[failed.outcome].steps_back, turned[knob.key]
    way = 1 if value > knob.stock else -1
    from_stock = round(abs(value - knob.stock) / knob.step)
    back = round(knob.stock + way * knob.step * max(0, from_stock - count), 9)
    if count and back != value and not (knob == last and back == failed.last_good):
        why = message("steps_back_why", outcome=failed.outcome, steps=count)
        title = message("knob_back_to", knob=knob.name, value=value_or_stock(knob, back))
        steps.append(Step("steps back", title, why, at(knob, back), minutes))
    voltage = next((one for one in knobs.values() if group_of(one) == "voltage" and one.key != knob.key), None)
    if voltage is not None and not (voltage == last and failed.last_good is not None):
        more = round(turned.get(voltage.key, voltage.stock) + voltage.step, 9)
        if voltage.low <= more <= voltage.high:
            title = message("knob_up_to", knob=voltage.name, value=value_or_stock(voltage, more))
            values = {key: one for key, one in turned.items() if key != voltage.key}
            if more != voltage.stock:
                values[voltage.key] = more
            steps.append(Step("voltage", title, message("more_voltage_why"), values, minutes))
    return steps
