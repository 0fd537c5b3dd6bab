"""Where the score stops rising along a knob. Memory that corrects errors loses score long before it fails."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.base.knobs import Knob

# A fall counts from this many standard errors of the difference on: the top is picked from several values, so two are too few.
CLEAR_ERRORS = 3.0


@dataclass(frozen=True)
class ScoreAt:
    """Performance at a value, as a ratio to the start of the climb (more is better), and its standard error."""

    value: float
    ratio: float
    error: float


@dataclass(frozen=True)
class ScoreTop:
    """The value with the best score, and the nearest one past it where the score is clearly lower."""

    value: float
    ratio: float
    fell_at: float
    fell_ratio: float


def first_top(knob: Knob, by_workload: Sequence[Sequence[ScoreAt]]) -> Sequence[ScoreAt]:
    """Of several workloads' scores those whose top comes first on the way; empty where none has passed its top."""
    tops = [(top.value * knob.away, scores) for scores in by_workload if (top := score_top(knob, scores))]
    return min(tops, key=lambda found: found[0])[1] if tops else ()


def score_top(knob: Knob, scores: Sequence[ScoreAt]) -> ScoreTop | None:
    """The top of the score, once it is passed; None while it rises or the fall may be noise.

    Method: the best value against each further one, by the normal approximation with `CLEAR_ERRORS` standard errors.
    """
    if len(scores) < 2:
        return None
    best = max(scores, key=lambda at: at.ratio)
    for at in sorted(scores, key=lambda at: at.value * knob.away):
        further = (at.value - best.value) * knob.away > 0
        if further and best.ratio - at.ratio > CLEAR_ERRORS * math.hypot(best.error, at.error):
            return ScoreTop(best.value, best.ratio, at.value, at.ratio)
    return None
