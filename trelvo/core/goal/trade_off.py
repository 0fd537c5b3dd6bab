"""Trade-offs: two figures of every setting against each other, and which settings no other beats in both."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from trelvo.core.base.deviations import Z
from trelvo.core.goal.alternatives import TargetRatio
from trelvo.core.goal.judging import Judged
from trelvo.core.message import Message, message
from trelvo.core.stats.comparison import Comparison
from trelvo.core.terms import Terms

Axis = Literal["speed", "lows", "power", "heat", "noise", "failures"]
AXES: dict[Axis, tuple[str, bool]] = {
    "speed": ("%", True), "lows": ("%", True), "power": ("%", False), "heat": ("°C", False), "noise": ("dB(A)", False),
    "failures": ("an hour", False),
}  # fmt: skip
"""Unit of the difference, and whether more is better. Failures are no difference: stock has its own."""

DRAWS = 2000
DRAWS_AT_ONCE = 100
# Less time than this at a setting tells nothing of how often it fails.
LEAST_HOURS = 0.25


@dataclass(frozen=True)
class Reading:
    """A setting on one axis: its difference to stock, or its failures an hour, with the 95 % interval where one is known."""

    value: float
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Spot:
    """A setting on both axes. label: its name beside its point, short

    on_front: no other is better in one and as good in the other, by the middles
    chance: share of draws from the intervals in which that is so
    """

    setting_id: int
    title: str
    x: Reading
    y: Reading
    on_front: bool
    chance: float
    label: str = ""


@dataclass(frozen=True)
class Limit:
    """A condition of the goal on one of the axes: at least, or at most, so much."""

    axis: Literal["x", "y"]
    value: float
    least: bool
    words: Message


def non_dominated(values: NDArray[np.float64], more_is_better: Sequence[bool]) -> NDArray[np.bool_]:
    """Which rows no other row beats: better in one column and no worse in any other.

    values: one row a setting, one column a figure, behind any further axes. Source: the Pareto front; checked against moocore.
    """
    shape = (*values.shape[:-1], values.shape[-2])
    no_worse, better = np.ones(shape, dtype=np.bool_), np.zeros(shape, dtype=np.bool_)
    for column, more in enumerate(more_is_better):
        signed = values[..., column] if more else -values[..., column]
        one, other = signed[..., :, np.newaxis], signed[..., np.newaxis, :]
        no_worse &= one <= other
        better |= one < other
    beaten: NDArray[np.bool_] = np.logical_or.reduce(no_worse & better, axis=-1)
    return ~beaten


def trade_off(judged: Sequence[Judged], stock_id: int, x: Axis, y: Axis, rng: np.random.Generator) -> list[Spot]:
    """Every setting that has both figures, stock at nothing; in the order given.

    rng: for the share of draws; normal deviates from each setting's own intervals (Monte Carlo)
    """
    found = []
    for one in judged:
        itself = one.setting_id == stock_id
        on_x, on_y = (
            Reading(0.0, None, None) if itself and axis != "failures" else reading_of(one, axis) for axis in (x, y)
        )
        if on_x is not None and on_y is not None:
            found.append((one, on_x, on_y))
    if not found:
        return []
    middles = np.array([(on_x.value, on_y.value) for _, on_x, on_y in found])
    spread = np.array([(_deviation(on_x), _deviation(on_y)) for _, on_x, on_y in found])
    better = (AXES[x][1], AXES[y][1])
    front = non_dominated(middles, better)
    seen = np.zeros(len(found))
    for begin in range(0, DRAWS, DRAWS_AT_ONCE):
        draws = rng.standard_normal((min(DRAWS_AT_ONCE, DRAWS - begin), *middles.shape))
        seen += non_dominated(middles + spread * draws, better).sum(axis=0)
    return [
        Spot(one.setting_id, one.title, on_x, on_y, bool(front[place]), float(seen[place] / DRAWS))
        for place, (one, on_x, on_y) in enumerate(found)
    ]


def reading_of(one: Judged, axis: Axis) -> Reading | None:
    """A setting's difference to stock on one axis; None where it was not measured."""
    if axis in ("heat", "noise"):
        read = one.heat if axis == "heat" else one.noise
        return None if read is None else Reading(read.value, read.low, read.high)
    if axis == "failures":
        rate = one.failing
        # what nobody has run for long says nothing yet: its bound would hide all others
        if rate is None or rate.per_h is None or rate.hours < LEAST_HOURS:
            return None
        return Reading(rate.per_h, rate.low, rate.high)
    comparison = {"speed": one.speed, "lows": one.lows, "power": one.power}[axis]
    return None if comparison is None else _percent(comparison, turned=axis == "power")


@dataclass(frozen=True)
class TargetLine:
    """A target where it has only one of the two figures: its overall speed, as told."""

    axis: Literal["x", "y"]
    name: str
    value: float


def target_lines(x: Axis, y: Axis, targets: Sequence[TargetRatio]) -> list[TargetLine]:
    """Targets on the axes of speed; of nothing else is anything told of them."""
    places: tuple[tuple[Literal["x", "y"], Axis], ...] = (("x", x), ("y", y))
    return [
        TargetLine(place, target.name, (target.ratio - 1) * 100)
        for place, axis in places
        if axis == "speed"
        for target in targets
    ]


def _percent(comparison: Comparison, *, turned: bool) -> Reading:
    """turned: the comparison is above 1 where less is better, and less is what is told"""

    def told(ratio: float | None) -> float | None:
        return None if ratio is None else ((1 / ratio if turned else ratio) - 1) * 100

    low, high = told(comparison.low), told(comparison.high)
    middle = told(comparison.ratio) or 0.0
    return Reading(middle, high, low) if turned else Reading(middle, low, high)


def _deviation(reading: Reading) -> float:
    return 0.0 if reading.low is None or reading.high is None else (reading.high - reading.low) / (2 * Z)


def limits_of(terms: Terms, x: Axis, y: Axis) -> list[Limit]:
    """The goal's conditions as far as they lie on these axes."""
    found = []
    axes: tuple[tuple[Literal["x", "y"], Axis], ...] = (("x", x), ("y", y))
    for place, axis in axes:
        if axis in ("speed", "lows") and terms.least_speed is not None and (axis == "speed" or terms.lows_too):
            what = message("speed" if axis == "speed" else "lows")
            words = message("share_of_stock", share=terms.least_speed * 100, what=what)
            found.append(Limit(place, (terms.least_speed - 1) * 100, True, words))
    return [one for one in found if math.isfinite(one.value)]
