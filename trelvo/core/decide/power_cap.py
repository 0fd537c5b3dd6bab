"""How far a power limit has to come down for a budget: no further, since every watt less costs speed."""

import math
from collections.abc import Mapping

from trelvo.core.base.knobs import GRID_TOLERANCE_STEPS, Knob


def caps_power(knob: Knob) -> bool:
    """Whether the knob is a power limit that is turned down."""
    return knob.role == "power limit" and knob.away == -1


def value_for_budget(knob: Knob, drawn_w: Mapping[float, float], budget_w: float) -> float | None:
    """The value nearest stock at which the hungriest workload stays within the budget; None where nothing was measured.

    drawn_w: by value of the knob the highest mean power of any workload there
    A value that was measured within the budget is taken as it is. Else power is taken as proportional to the limit, from the
    measured value furthest from stock: true while the limit is what holds the part back, and measured again at every step.
    """
    within = [value for value, watts in drawn_w.items() if watts <= budget_w]
    if within:
        return min(within, key=lambda value: abs(value - knob.stock))
    if not drawn_w:
        return None
    furthest = min(drawn_w)
    wanted = furthest * budget_w / drawn_w[furthest]
    steps = math.ceil((knob.stock - wanted) / knob.step - GRID_TOLERANCE_STEPS)
    # at least one step beyond what was measured and is too much
    steps = max(steps, round((knob.stock - furthest) / knob.step) + 1)
    return max(round(knob.stock - steps * knob.step, 9), knob.low)
