"""How much more of the goal's measure is at most to be found along a knob."""

import math
from collections.abc import Sequence

import numpy as np
from scipy import special

from trelvo.core.message import Message, message

# From so many values on a line is drawn through them.
FEWEST_VALUES = 4
OPTIMISTIC = 0.9


def left_to_find(distances: Sequence[float], scores: Sequence[float], hold: float, furthest: float) -> float | None:
    """Relative gain (0.003 = 0.3 %) that going on from the hold to the furthest value that may hold would bring at most.

    distances: from stock, of the settings measured along the knob, stock's included; scores: ln of the goal's measure there,
    higher is better; hold, furthest: distances, the latter as far as it may be with some luck
    None for fewer than four values: a line through three says next to nothing of its own error.
    Source: least squares of a straight line; its slope's upper 90 % bound.
    """
    x, y = np.asarray(distances, dtype=np.float64), np.asarray(scores, dtype=np.float64)
    if np.unique(x).size < FEWEST_VALUES:
        return None
    about = x - x.mean()
    square = float(about @ about)
    slope = float(about @ (y - y.mean())) / square
    left = y - y.mean() - slope * about
    df = x.size - 2
    error = math.sqrt(float(left @ left) / df / square)
    most = slope + float(special.stdtrit(df, OPTIMISTIC)) * error
    return math.expm1(max(0.0, most * max(0.0, furthest - hold)))


def what_is_left(to_find: float) -> Message:
    """What is left to find (relative, 0.003 = 0.3 %); what rounds to nothing is nothing."""
    return message("nothing_to_find") if to_find < 0.0005 else message("at_most_to_find", percent=to_find * 100)


def is_worth(done: bool, to_find: float | None, smallest_gain: float) -> bool:
    """Whether a climb is worth going on with. to_find: relative, None where it is not known"""
    return not done and (to_find is None or to_find >= smallest_gain)
