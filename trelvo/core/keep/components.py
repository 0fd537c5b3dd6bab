"""What to keep of a setting, component by component: each as it is, at less, or back to stock, with the reason."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from trelvo.core.base.knobs import Knob, describe_value, fingerprint
from trelvo.core.base.what_counts import SMALLEST_GAIN
from trelvo.core.climb.harder import endangers_most
from trelvo.core.keep.attribution import Brought, Effect, Together
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
    """says: why, in one sentence; at_less: the values to keep it at, where it is kept at less; settle: runs that would tell"""

    brought: Brought
    decision: Decision
    says: str
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
    name, knobs = component_name(one), one.component.knobs
    if not one.tuned:
        return ComponentDecision(one, "not tuned", f"{name} stands at stock.")
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
            what = "read" if improve in ("power", "heat", "noise") else "measured"
            says = f"What it brings is not known: it was not {what} alike on both sides."
            return ComponentDecision(one, "not known yet", says)
        others = "It was only ever turned together with others, so its share is not known."
        says = others if without else "What it brings is not known: no workload was run both with it and at stock."
        return ComponentDecision(one, "not known yet", says, settle=settle)
    some = f" in {effect.workloads} of {effect.measured} workloads" if effect.workloads < effect.measured else ""
    brings = f"It brings {in_words(effect, improve)}{some}{_price(one, improve)}"
    if effect.low is None or effect.high is None:
        return ComponentDecision(one, "not known yet", f"{brings}; nothing was repeated.", settle=settle)
    if effect.high < floor:
        return ComponentDecision(one, "back to stock", f"{brings}: a loss.")
    if effect.low <= floor:
        least = 1 + smallest_gain if floor == 1 else floor
        if effect.high < least:
            return ComponentDecision(
                one, "back to stock", f"{brings}: less than the {smallest_gain * 100:g} % that count."
            )
        says = f"{brings}: not shown; keep it at stock unless more runs show it."
        return ComponentDecision(one, "back to stock", says, settle=Settle(dict(chosen), SETTLING_RUNS))
    if floor == 1 and effect.value < 1 + smallest_gain:
        return ComponentDecision(one, "back to stock", f"{brings}: less than the {smallest_gain * 100:g} % that count.")
    if less or one.failures_alone:
        why = (
            f"failed {_times(one.failures_alone)} with nothing else turned"
            if one.failures_alone
            else "beyond what holds"
        )
        last = endangers_most(knobs, chosen)
        if not less and last is None:
            return ComponentDecision(one, "keep", f"{brings}, but it {_is(why)}: look for another cause first.")
        if not less and last is not None:
            less = {last.key: _one_step_less(last, chosen[last.key])}
        at = ", ".join(
            f"{knob.name.lower()} {describe_value(knob, less[knob.key])}" for knob in turned if knob.key in less
        )
        return ComponentDecision(one, "keep at less", f"{brings}, but it {_is(why)}: keep it at {at}.", less)
    return ComponentDecision(one, "keep", f"{brings}.")


def _is(why: str) -> str:
    return why if why.startswith("failed") else f"stands {why}"


def _beyond(knob: Knob, value: float, hold: float) -> float:
    """How far a value lies beyond what is stable, in the knob's unit: of a knob that helps, too little is beyond."""
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


def in_words(effect: Effect, improve: Improve) -> str:
    """ "+4.1 %, +3.5 to +4.7" for speed, "−18.3 %, −19.0 to −17.6 power" for power: as one says it."""
    if improve in ("heat", "noise"):
        numbers = [None if value is None else f"{-value:+.1f}" for value in (effect.value, effect.high, effect.low)]
        unit = " °C" if improve == "heat" else " dB(A)"
    elif improve == "power":
        # saving is a ratio above 1 where it draws less
        numbers = [None if v is None else f"{(1 / v - 1) * 100:+.1f}" for v in (effect.value, effect.high, effect.low)]
        unit = " % power"
    else:
        numbers = [None if v is None else f"{(v - 1) * 100:+.1f}" for v in (effect.value, effect.low, effect.high)]
        unit = " %"
    middle, low, high = (None if one is None else one.replace("-", "−") for one in numbers)
    return f"{middle}{unit}" + (f" ({low} to {high})" if low and high else "")


def _price(one: Brought, improve: Improve) -> str:
    """What it costs besides: watts, where the goal is not about them."""
    watts = one.watts
    if watts is None or improve == "power" or abs(watts.value) < 0.5:
        return ""
    return f" for {watts.value:.0f} W more" if watts.value > 0 else f" and saves {-watts.value:.0f} W"


_NAMES = {
    "tuned part": "The tuned part", "graphics": "The graphics card", "processor": "The processor", "memory": "The memory",
    "board": "The board", "supply": "The power supply", "whole machine": "The machine", "room": "The room",
}  # fmt: skip


def component_name(one: Brought) -> str:
    key = one.component.key
    return _NAMES.get(key, key[:1].upper() + key[1:])


def sums_up(found: Sequence[Brought], together: Sequence[Together]) -> list[str]:
    """What the shares rest on, and where they do not simply add up; one sentence each."""
    tuned = [one for one in found if one.tuned]
    if len(tuned) < 2:
        return []
    if not together:
        return ["The shares are taken to multiply: no runs show otherwise."]
    names = {one.component.key: component_name(one) for one in found}
    return [
        f"{names[one.first]} and {names[one.second].lower()} bring {(one.more - 1) * 100:+.1f} % more together than apart "
        f"({(one.low - 1) * 100:+.1f} to {(one.high - 1) * 100:+.1f}).".replace("-", "−")
        for one in together
    ]


def _times(count: int) -> str:
    return {1: "once", 2: "twice"}.get(count, f"{count} times")
