"""Where the score stops rising along a knob. Memory that corrects errors loses score long before it fails."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.base.knobs import Knob

# A fall counts from this many standard errors of its slope on: the place of the top is picked from several, so two are too few.
CLEAR_ERRORS = 3.0
# A line that turns needs values on both sides of the turn, and one more to show that it is a line.
FEWEST_VALUES = 4
# Of a long climb so many of its values are tried as the turn, evenly spread over it.
MOST_TURNS = 100


@dataclass(frozen=True)
class ScoreAt:
    """Performance at a value, as a ratio to the start of the climb (more is better).

    error: its own standard error, without that of the start, which all values share
    """

    value: float
    ratio: float
    error: float


@dataclass(frozen=True)
class ScoreTop:
    """The value from which on the score falls, and the furthest that was run; both ratios as the line through all has them."""

    value: float
    ratio: float
    fell_at: float
    fell_ratio: float


def first_top(knob: Knob, by_workload: Sequence[Sequence[ScoreAt]]) -> Sequence[ScoreAt]:
    """Of several workloads' scores those whose top comes first on the way; empty where none has passed its top."""
    tops = [(top.value * knob.away, scores) for scores in by_workload if (top := score_top(knob, scores))]
    return min(tops, key=lambda found: found[0])[1] if tops else ()


def score_top(knob: Knob, scores: Sequence[ScoreAt]) -> ScoreTop | None:
    """The top of the score along a knob; see `top_of`."""
    return top_of(scores, knob.away)


def top_of(scores: Sequence[ScoreAt], away: int = 1) -> ScoreTop | None:
    """The top of the score, once it is passed; None while it rises or the fall may be noise.

    Method: weighted least squares of a line that turns at one of the values; of all turns the one that fits best, if the line
    falls beyond it by more than `CLEAR_ERRORS` standard errors of that slope. Checked against statsmodels' WLS.
    """
    ordered = sorted(scores, key=lambda at: at.value * away)
    if len(ordered) < FEWEST_VALUES:
        return None
    way = np.array([(at.value - ordered[0].value) * away for at in ordered])
    ratio, error = np.array([at.ratio for at in ordered]), np.array([max(at.error, 1e-9) for at in ordered])
    # all turns at once: one row of past distances and one fit for each
    turns = np.unique(np.linspace(1, len(ordered) - 2, min(len(ordered) - 2, MOST_TURNS)).round().astype(int))
    past = way[None, :] - way[turns, None]
    weight = 1 / error**2
    # before and past the turn no distance is both, so their product is nothing
    before, beyond = np.minimum(past, 0.0), np.maximum(past, 0.0)
    nothing = np.zeros(len(past))
    normal = np.stack(
        [
            np.full(len(past), weight.sum()), before @ weight, beyond @ weight,
            before @ weight, before**2 @ weight, nothing,
            beyond @ weight, nothing, beyond**2 @ weight,
        ],
        axis=1,
    ).reshape(-1, 3, 3)  # fmt: skip
    told = np.stack([np.full(len(past), weight @ ratio), before @ (weight * ratio), beyond @ (weight * ratio)], axis=1)
    spread = np.linalg.pinv(normal)
    fits = (spread @ told[:, :, None])[:, :, 0]
    lefts = (ratio - fits[:, :1] - fits[:, 1:2] * before - fits[:, 2:] * beyond) ** 2 @ weight
    best = int(np.argmin(lefts))
    left, turn, fitted = float(lefts[best]), int(turns[best]), fits[best]
    slope, slope_error = float(fitted[2]), float(spread[best, 2, 2]) ** 0.5
    # runs that scatter more than their errors say make the slope less sure
    wider = max(1.0, (left / max(len(ordered) - 3, 1)) ** 0.5)
    if slope >= -CLEAR_ERRORS * slope_error * wider:
        return None
    fallen = float(fitted[0] + slope * (way[-1] - way[turn]))
    return ScoreTop(ordered[turn].value, float(fitted[0]), ordered[-1].value, fallen)
