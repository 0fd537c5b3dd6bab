"""Power: watts are only comparable at one measuring point."""

from collections.abc import Iterable
from dataclasses import dataclass

from trelvo.core.base.instruments import Point


@dataclass(frozen=True)
class PowerSummary:
    """Mean power of some runs in watts; `mixed` when they were read at more than one point (then no mean exists)."""

    mean_w: float | None
    point: Point | None
    mixed: bool
    n: int


def summarise_power(readings: Iterable[tuple[float, Point]]) -> PowerSummary:
    """Mean of power readings (watts, measuring point). No mean over different points: they measure other things."""
    found = list(readings)
    if not found:
        return PowerSummary(None, None, False, 0)
    points = {point for _, point in found}
    if len(points) > 1:
        return PowerSummary(None, None, True, len(found))
    return PowerSummary(sum(watts for watts, _ in found) / len(found), points.pop(), False, len(found))


def watts_saved(reference: PowerSummary, candidate: PowerSummary) -> float | None:
    """Reference's mean minus candidate's, in watts; None unless both were read at the same, known point."""
    if reference.mean_w is None or candidate.mean_w is None:
        return None
    if reference.point != candidate.point or reference.point == "unknown":
        return None
    return reference.mean_w - candidate.mean_w
