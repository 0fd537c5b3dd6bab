"""What to keep of a setting, component by component: each as it is, at less, or back to stock, with the reason."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from trelvo.core.base.figures import PARTS
from trelvo.core.base.knobs import Knob, describe_value, fingerprint
from trelvo.core.base.what_counts import SMALLEST_GAIN
from trelvo.core.climb.harder import endangers_most
from trelvo.core.keep.attribution import Brought, Effect, Together
from trelvo.core.message import Message, message
from trelvo.core.registry.goals import Improve

Decision = Literal["keep", "keep at less", "back to stock", "not known yet", "not tuned"]
# What settles it is told as so many runs on each side; the usual number where nothing better is known.
SETTLING_RUNS = 3


@dataclass(frozen=True)
class Settle:
    """The runs that would tell: at these values, so many of every workload."""

    values: dict[str, float]
    runs: int


@dataclass(frozen=True)
class ComponentDecision:
    """says: why; at_less: the values to keep it at, where it is kept at less; settle: runs that would tell"""

    brought: Brought
    decision: Decision
    says: Message
    at_less: Mapping[str, float] | None = None
    settle: Settle | None = None


def decide_components(
    chosen: Mapping[str, float],
    found: Sequence[Brought],
    improve: Improve,
    holds: Mapping[str, float],
    smallest_gain: float = SMALLEST_GAIN,
    tried: frozenset[str] = frozenset(),
) -> list[ComponentDecision]:
    """Each component of a setting.

    chosen: its values by knob key; holds: by knob, the furthest value that its climb holds to be safe, where one was climbed
    tried: fingerprints of the settings with runs of every workload
    A component is kept where it is shown to bring something in the goal's measure; at less where it stands beyond what its climb
    holds, or has failed with nothing else turned; back to stock where it brings less than counts, or nothing is shown.
    """
    return [_decide(chosen, one, improve, holds, smallest_gain, tried) for one in found]


def _decide(
    chosen: Mapping[str, float],
    one: Brought,
    improve: Improve,
    holds: Mapping[str, float],
    smallest_gain: float,
    tried: frozenset[str],
) -> ComponentDecision:
    knobs = one.component.knobs
    if not one.tuned:
        return ComponentDecision(one, "not tuned", message("stands_at_stock", part=part_of(one)))
    turned = [knob for knob in knobs if chosen.get(knob.key, knob.stock) != knob.stock]
    without = {key: value for key, value in chosen.items() if key not in {knob.key for knob in turned}}
    settle = Settle(without, SETTLING_RUNS)
    less = {
        knob.key: holds[knob.key]
        for knob in turned
        if knob.key in holds and _beyond(knob, chosen[knob.key], holds[knob.key]) > knob.step / 2
    }
    effect, floor = _effect(one, improve)
    if effect is None:
        if fingerprint(without) in tried:
            read = improve in ("power", "heat", "noise")
            return ComponentDecision(one, "not known yet", message("not_read_alike" if read else "not_measured_alike"))
        says = message("turned_with_others" if without else "not_run_with_and_without")
        return ComponentDecision(one, "not known yet", says, settle=settle)
    brings = message(
        "brings",
        effect=effect_of(effect, improve),
        workloads=effect.workloads,
        measured=effect.measured,
        watts=None if one.watts is None or improve == "power" else one.watts.value,
    )
    if effect.low is None or effect.high is None:
        says = message("brings_not_repeated", brings=brings)
        return ComponentDecision(one, "not known yet", says, settle=settle)
    if effect.high < floor:
        return ComponentDecision(one, "back to stock", message("brings_loss", brings=brings))
    little = message("brings_too_little", brings=brings, least=smallest_gain * 100)
    if effect.low <= floor:
        least = 1 + smallest_gain if floor == 1 else floor
        if effect.high < least:
            return ComponentDecision(one, "back to stock", little)
        says = message("brings_not_shown", brings=brings)
        return ComponentDecision(one, "back to stock", says, settle=Settle(dict(chosen), SETTLING_RUNS))
    if floor == 1 and effect.value < 1 + smallest_gain:
        return ComponentDecision(one, "back to stock", little)
    if less or one.failures_alone:
        failures = one.failures_alone
        why = message("failed_alone", failures=failures) if failures else message("beyond_what_holds")
        last = endangers_most(knobs, chosen)
        if not less and last is None:
            return ComponentDecision(one, "keep", message("look_for_another_cause", brings=brings, why=why))
        if not less and last is not None:
            less = {last.key: _one_step_less(last, chosen[last.key])}
        at = tuple(
            message("knob_at", knob=knob.name, value=describe_value(knob, less[knob.key]))
            for knob in turned
            if knob.key in less
        )
        says = message("keep_it_at", brings=brings, why=why, values=at)
        return ComponentDecision(one, "keep at less", says, less)
    return ComponentDecision(one, "keep", message("brings_as_it_is", brings=brings))


def _beyond(knob: Knob, value: float, hold: float) -> float:
    """How far a value is beyond what is stable, in the knob's unit: of a knob that helps, too little is beyond."""
    return (value - hold) * (-knob.away if knob.turning == "helps" else knob.away)


def _one_step_less(knob: Knob, value: float) -> float:
    return round(value - knob.away * knob.step, 9)


def _effect(one: Brought, improve: Improve) -> tuple[Effect | None, float]:
    """The effect in the goal's measure, so turned that more is better, and the value at which it is nothing."""
    if improve == "power":
        return one.saving, 1.0
    if improve in ("heat", "noise"):
        found = one.degrees
        if found is None:
            return None, 0.0
        flipped = [None if value is None else -value for value in (found.high, found.low)]
        return replace(found, value=-found.value, low=flipped[0], high=flipped[1]), 0.0
    return one.speed, 1.0


def effect_of(effect: Effect, improve: Improve) -> Message:
    """A share of the gain: "+4.1 % (+3.5 to +4.7)" for speed, "−18.3 % power" for power."""
    if improve in ("heat", "noise"):
        code = "degrees_effect" if improve == "heat" else "noise_effect"
        middle, low, high = (None if one is None else -one for one in (effect.value, effect.high, effect.low))
    elif improve == "power":
        # saving is a ratio above 1 where it draws less
        code = "power_effect"
        middle, low, high = (None if v is None else (1 / v - 1) * 100 for v in (effect.value, effect.high, effect.low))
    else:
        code = "speed_effect"
        middle, low, high = (None if v is None else (v - 1) * 100 for v in (effect.value, effect.low, effect.high))
    return message(code, value=middle, low=low, high=high)


def part_of(one: Brought) -> Message:
    """The part of the rig that a component is."""
    key = one.component.key
    return message(f"the_{key.replace(' ', '_')}") if key in PARTS else message("the_part", part=key)


def sums_up(found: Sequence[Brought], together: Sequence[Together]) -> list[Message]:
    """What the shares rest on, and where they do not simply add up."""
    tuned = [one for one in found if one.tuned]
    if len(tuned) < 2:
        return []
    if not together:
        return [message("shares_multiply")]
    parts = {one.component.key: part_of(one) for one in found}
    return [
        message(
            "more_together",
            first=parts[one.first],
            second=parts[one.second],
            percent=(one.more - 1) * 100,
            low=(one.low - 1) * 100,
            high=(one.high - 1) * 100,
        )
        for one in together
    ]
