"""How speed follows power, a cap or a clock: a curve that never falls, with its interval; where more begins to cost too much.

Source: isotonic regression by pooling adjacent violators, Barlow and others 1972, from memory (in scipy); between its points a
monotone cubic, Fritsch and Carlson 1980, from memory (in scipy). The interval comes from the readings' own uncertainty, drawn.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.interpolate import PchipInterpolator
from scipy.optimize import isotonic_regression

from trelvo.core.base.deviations import Z
from trelvo.core.laws.heat import SURE, Interval

Numbers = npt.NDArray[np.float64]
DRAWS = 400
LEAST_PLACES = 3
# A percent of power begins to cost more than it brings where it brings less than this many percent of speed.
KNEE_ELASTICITY = 0.5
CURVE_POINTS = 61


@dataclass(frozen=True)
class ResponsePlace:
    """A setting on the curve: x (such as watts), speed against stock as a ratio, and the deviation of that ratio.

    label: its name beside its point, short
    """

    setting_id: int
    title: str
    x: float
    ratio: float
    deviation: float
    label: str = ""


@dataclass(frozen=True)
class ResponsePoint:
    """elasticity: percent of speed for a percent of x"""

    x: float
    ratio: float
    low: float
    high: float
    elasticity: float


@dataclass(frozen=True)
class Response:
    """An approach's curve over the x that was tried. knee_x: where a percent of x begins to bring less than half a percent of
    speed
    on the way up; None where that is nowhere in what was tried"""

    places: list[ResponsePlace]
    curve: list[ResponsePoint]
    knee_x: float | None

    def at(self, x: float) -> ResponsePoint | None:
        """The curve at an x; None outside what was tried."""
        if not self.curve[0].x - 1e-9 <= x <= self.curve[-1].x + 1e-9:
            return None
        values = [
            float(np.interp(x, [one.x for one in self.curve], [getattr(one, name) for one in self.curve]))
            for name in ("ratio", "low", "high", "elasticity")
        ]
        return ResponsePoint(x, *values)

    def x_for(self, ratio: float) -> float | None:
        """The least x that was tried and reaches a ratio; None where none does."""
        ratios = np.array([one.ratio for one in self.curve])
        if ratios[-1] < ratio - 1e-12:
            return None
        first = int(np.argmax(ratios >= ratio - 1e-12))
        if first == 0:
            return self.curve[0].x
        a, b = self.curve[first - 1], self.curve[first]
        share = (ratio - a.ratio) / max(b.ratio - a.ratio, 1e-12)
        return a.x + share * (b.x - a.x)


def response(places: Sequence[ResponsePlace], rng: np.random.Generator) -> Response | None:
    """The curve through some settings' places; None with fewer than three different x.

    Places at one x count together. rng: for the draws of the interval
    """
    kept = sorted(
        (place for place in places if np.isfinite(place.x) and place.x > 0 and place.ratio > 0), key=lambda one: one.x
    )
    xs = np.unique([one.x for one in kept])
    if xs.size < LEAST_PLACES:
        return None
    x, ratio = np.array([one.x for one in kept]), np.array([one.ratio for one in kept])
    deviation = np.maximum([one.deviation for one in kept], 1e-4)
    grid = np.linspace(xs[0], xs[-1], CURVE_POINTS)
    drawn = ratio + deviation * rng.standard_normal((DRAWS, x.size))
    middle, *others = _monotone(x, np.vstack([ratio, drawn]), deviation, xs, grid)
    low, high = np.quantile(others, [(1 - SURE) / 2, (1 + SURE) / 2], axis=0)
    elasticity = np.gradient(np.log(middle), np.log(grid))
    curve = [
        ResponsePoint(float(a), float(b), float(min(c, b)), float(max(d, b)), float(e))
        for a, b, c, d, e in zip(grid, middle, low, high, elasticity, strict=True)
    ]
    return Response(kept, curve, _knee(grid, elasticity))


def _monotone(x: Numbers, ratios: Numbers, deviation: Numbers, xs: Numbers, grid: Numbers) -> Numbers:
    """The curves through rows of ratios, one a row; all at once, for hundreds are drawn."""
    weights = 1 / deviation**2
    places = np.searchsorted(xs, x)
    total = np.bincount(places, weights, xs.size)
    pooled = [
        isotonic_regression(np.bincount(places, weights * row, xs.size) / total, weights=total).x for row in ratios
    ]
    return np.asarray(PchipInterpolator(xs, pooled, axis=1)(grid), dtype=np.float64)


def _knee(grid: Numbers, elasticity: Numbers) -> float | None:
    """The first x beyond which every further percent brings too little; the least that was tried where none was worth it."""
    worth = np.flatnonzero(elasticity >= KNEE_ELASTICITY)
    if worth.size == 0:
        return float(grid[0])
    return float(grid[worth[-1] + 1]) if worth[-1] < grid.size - 2 else None


@dataclass(frozen=True)
class EqualSpeed:
    """The least x at which a curve and the single settings of another approach reach a speed; None where one does not reach it"""

    ratio: float
    first_x: float | None
    second_x: float | None


@dataclass(frozen=True)
class EqualPower:
    """What a curve gives at an x, and the best of the other approach's settings that need no more; None where nothing was
    tried"""

    x: float
    first: Interval | None
    second: Interval | None


def at_equal_speed(first: Response, second: Sequence[ResponsePlace], ratios: Sequence[float]) -> list[EqualSpeed]:
    """Both approaches at some speeds against stock; speeds that neither reaches are left out.

    second: settings, not a curve: what a lower voltage gives hangs on the silicon, and less power may well be faster
    """
    found = []
    for ratio in ratios:
        x = min((one.x for one in second if one.ratio >= ratio - 1e-12), default=None)
        found.append(EqualSpeed(ratio, first.x_for(ratio), x))
    return [one for one in found if one.first_x is not None or one.second_x is not None]


def at_equal_x(first: Response, second: Sequence[ResponsePlace], xs: Sequence[float]) -> list[EqualPower]:
    """Both approaches at some x; those that neither tried are left out."""
    found = []
    for x in xs:
        point = first.at(x)
        best = max((one for one in second if one.x <= x + 0.5), key=lambda one: one.ratio, default=None)
        curve = Interval(point.ratio, point.low, point.high) if point else None
        wide = Z * best.deviation if best else 0.0
        other = Interval(best.ratio, best.ratio - wide, best.ratio + wide) if best else None
        if curve is not None or other is not None:
            found.append(EqualPower(x, curve, other))
    return found
