"""How far a knob has to, or may, come down: for a budget of power no further than it needs, for a goal that keeps its speed no
further than the speed allows."""

import math
from collections.abc import Collection, Mapping

from trelvo.core.base.knobs import GRID_TOLERANCE_STEPS, Knob

# A cap that leaves less of its budget than this is low enough: the rest is worth no run.
USED_UP = 0.97


def caps_power(knob: Knob) -> bool:
    """Whether the knob is a power limit that is turned down."""
    return knob.role == "power limit" and knob.away == -1


def value_for_budget(knob: Knob, drawn_w: Mapping[float, float], budget_w: float) -> float | None:
    """The value nearest stock at which the hungriest workload stays within the budget; None where nothing was measured.

    drawn_w: by value of the knob the highest mean power of any workload there
    Measured on both sides of the budget: interpolated between the nearest two, unless what is within uses it up or is the next
    step. Measured above it only: power is taken as proportional to the limit, from the value furthest from stock. Both are
    measured again at every step.
    """
    if not drawn_w:
        return None
    within = max((value for value, watts in drawn_w.items() if watts <= budget_w), default=None)
    above = min((value for value, watts in drawn_w.items() if watts > budget_w), default=None)
    if within is not None:
        if above is None or above < within or drawn_w[within] >= USED_UP * budget_w:
            return within
        share = (drawn_w[above] - budget_w) / (drawn_w[above] - drawn_w[within])
        return max(within, _snapped(knob, above - share * (above - within)))
    if above is None:
        return None
    # at least one step beyond what was measured and is too much
    return max(min(_snapped(knob, above * budget_w / drawn_w[above]), round(above - knob.step, 9)), knob.low)


def value_for_floor(
    knob: Knob, speed: Mapping[float, float], too_slow: Collection[float], floor: float
) -> float | None:
    """The value furthest from stock that still keeps a share of stock's speed; None while none is shown to be too slow.

    speed: overall speed against stock by value of the knob, which is turned down; too_slow: values that are shown not to keep it
    Interpolated between the first of those and the last before it; measured again at every step.
    """
    known = {knob.stock: 1.0, **speed}
    slow = max((value for value in too_slow if value in known and value < knob.stock), default=None)
    if slow is None:
        return None
    kept = min(value for value in known if value > slow)
    if known[kept] <= floor or known[slow] >= floor:
        return kept
    share = (known[kept] - floor) / (known[kept] - known[slow])
    steps = math.floor((knob.stock - kept + share * (kept - slow)) / knob.step + GRID_TOLERANCE_STEPS)
    # what was seen to be too slow is not asked for again
    return min(kept, max(round(knob.stock - steps * knob.step, 9), round(slow + knob.step, 9)))


def _snapped(knob: Knob, value: float) -> float:
    """The nearest value of the grid that is as far from stock, or further."""
    steps = math.ceil((knob.stock - value) / knob.step - GRID_TOLERANCE_STEPS)
    return round(knob.stock - steps * knob.step, 9)
