"""What to do after a failure, in order. Each step says which setting to run, for how long, and what its answer means."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.loads import Load
from trelvo.core.base.texts import chance_words
from trelvo.core.climb.harder import endangers_most
from trelvo.core.climb.knob_order import group_of
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
    temp_max_c, limit_c: heat and its limit; new_fitting: whether driver, firmware or parts changed since the last good run
    fails_at_stock: whether stock has failed under the same fitting
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
    new_fitting: bool = False
    fails_at_stock: bool = False


@dataclass(frozen=True)
class Step:
    """values: the setting to run, None where there is nothing to run; minutes: how long"""

    key: str
    title: str
    why: str
    values: dict[str, float] | None = None
    minutes: float = 0.0


@dataclass(frozen=True)
class Triage:
    meaning: str
    steps: tuple[Step, ...]


def triage(failed: Failed, knobs: Mapping[str, Knob]) -> Triage:
    """What to do after a failure, in order.

    knobs: all knobs of the campaign by key
    Order: back to stock to see whether the tuning is to blame; last good rung; steps back by the kind of failure, or a step of
    voltage; memory or core, where both are turned; heat, where it was at its limit; what else to suspect. Common practice.
    """
    turned = {key: value for key, value in failed.values.items() if key in knobs and value != knobs[key].stock}
    minutes = min(max(TIMES * failed.minutes, LEAST_MINUTES), MOST_MINUTES)
    heat = _heat(failed, turned, minutes)
    if not turned or failed.fails_at_stock:
        why = "Stock itself fails, so the tuning is not to blame."
        return Triage(OUTCOMES[failed.outcome].meaning, (*heat, _elsewhere(failed, why)))
    told = -math.expm1(-minutes / max(failed.minutes, 1.0))
    took = f"after {failed.minutes:.0f} min" if failed.minutes >= 1 else "within a minute"
    why = (
        f"If {failed.load.name} also fails here, the tuning is not to blame. It failed {took}, so {minutes:.0f} minutes "
        f"without a failure say with {chance_words(told)} that it is."
    )
    steps = [Step("stock", "Back to stock: is the tuning to blame?", why, {}, minutes)]
    steps += [*_back(failed, turned, knobs, minutes), *_memory_or_core(failed, turned, knobs, minutes), *heat]
    doubts = []
    if failed.chance is not None and failed.chance < UNLIKELY:
        doubts.append(f"All trials so far gave this failure {failed.chance * 100:.1f} %.")
    if failed.new_fitting:
        doubts.append("Driver, firmware or parts have changed since it last held.")
    if doubts:
        steps.append(_elsewhere(failed, " ".join(doubts)))
    return Triage(OUTCOMES[failed.outcome].meaning, tuple(steps))


def _heat(failed: Failed, turned: dict[str, float], minutes: float) -> list[Step]:
    """The same again, cooler, where the part stood near its limit."""
    if failed.temp_max_c is None or failed.limit_c is None or failed.temp_max_c <= failed.limit_c - NEAR_LIMIT_C:
        return []
    why = f"It was at {failed.temp_max_c:.0f} °C, the limit is {failed.limit_c:.0f} °C: the edge falls with heat."
    return [Step("heat", "Rule out heat: more fan or a cooler room, then the same again", why, dict(turned), minutes)]


def _elsewhere(failed: Failed, why: str) -> Step:
    """What else it may be, by how it failed."""
    if failed.outcome in ("machine down", "no start"):
        look = "seat and bend of the power connectors, the supply under load, the log of the system"
    else:
        look = "driver, the program's own files, another program in the background"
    what = f"{why} Look at: {look}. If one of them was it, set the run aside with that reason."
    return Step("elsewhere", "Suspect something else", what)


def _memory_or_core(failed: Failed, turned: dict[str, float], knobs: Mapping[str, Knob], minutes: float) -> list[Step]:
    """Where both are turned, one goes to stock: memory first, for it fails without warning."""
    groups = {key: group_of(knobs[key]) for key in turned}
    memory = [key for key, group in groups.items() if group == "memory"]
    clock = [key for key, group in groups.items() if group == "clock"]
    if not memory or not clock:
        return []
    why = "Memory and core are both turned. Holds with memory at stock: it was the memory. Fails again: it is the core."
    if failed.outcome == "odd numbers":
        why += " Speckles and odd numbers point to the memory."
    left = {key: value for key, value in turned.items() if key not in memory}
    return [Step("memory", "Memory or core? Memory back to stock", why, left, minutes)]


def _back(failed: Failed, turned: dict[str, float], knobs: Mapping[str, Knob], minutes: float) -> list[Step]:
    """The last good rung, then as many steps back as the kind of failure says, then a step of voltage."""
    steps = []

    def at(knob: Knob, new: float) -> dict[str, float]:
        others = {key: one for key, one in turned.items() if key != knob.key}
        return others if new == knob.stock else {**others, knob.key: new}

    last = failed.last
    if last is not None and last.key in turned and failed.last_good is not None:
        why = "The same workload where it held last: if it fails there too, what held then was luck."
        title = f"The last that held: {last.name.lower()} {_words(last, failed.last_good)}"
        steps.append(Step("last good", title, why, at(last, failed.last_good), minutes))
    knob = endangers_most(list(knobs.values()), turned)
    if knob is None:
        return steps
    count, value = OUTCOMES[failed.outcome].steps_back, turned[knob.key]
    way = 1 if value > knob.stock else -1
    from_stock = round(abs(value - knob.stock) / knob.step)
    back = round(knob.stock + way * knob.step * max(0, from_stock - count), 9)
    if count and back != value and not (knob == last and back == failed.last_good):
        why = f"“{failed.outcome}” sends {count} {'step' if count == 1 else 'steps'} back: the harder it fails, the further."
        steps.append(Step("steps back", f"{knob.name} back to {_words(knob, back)}", why, at(knob, back), minutes))
    voltage = next((one for one in knobs.values() if group_of(one) == "voltage" and one.key != knob.key), None)
    if voltage is not None and not (voltage == last and failed.last_good is not None):
        more = round(turned.get(voltage.key, voltage.stock) + voltage.step, 9)
        if voltage.low <= more <= voltage.high:
            why = "Or keep the clock and give it a step more voltage: heat and power rise with its square."
            values = {key: one for key, one in turned.items() if key != voltage.key}
            if more != voltage.stock:
                values[voltage.key] = more
            steps.append(Step("voltage", f"{voltage.name} up to {_words(voltage, more)}", why, values, minutes))
    return steps


def _words(knob: Knob, value: float) -> str:
    return "stock" if value == knob.stock else describe_value(knob, value)
