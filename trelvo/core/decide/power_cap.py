"""How far a power limit has to come down for a budget: no further, since every watt less costs speed."""

import math
from collections.abc import Mapping

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


def _snapped(knob: Knob, value: float) -> float:
    """The nearest value of the grid that is as far from stock, or further."""
    steps = math.ceil((knob.stock - value) / knob.step - GRID_TOLERANCE_STEPS)
    return round(knob.stock - steps * knob.step, 9)
