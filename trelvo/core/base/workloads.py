"""Workloads: what they measure, and which results they can show."""

import math
from typing import Literal

from trelvo.core.base.problems import Problem

Measure = Literal["frame rate", "score", "time"]

# Lowest and highest result that a workload can show: frames a second, points, seconds (thirty days).
POSSIBLE_RESULTS: dict[Measure, tuple[float, float]] = {
    "frame rate": (0.01, 100_000.0),
    "score": (1e-6, 1e12),
    "time": (1e-3, 30 * 86_400.0),
}


def check_result(measure: Measure, value: float, unit: str, where: str) -> Problem | None:
    """Why this cannot be a workload's result (in its unit), or None when it can."""
    low, high = POSSIBLE_RESULTS[measure]
    if not math.isfinite(value):
        return Problem(where, "This is not a number.", "Type a number or leave it empty.")
    if value <= 0:
        return Problem(where, f"{value:g} is not above zero.", "Correct it or leave it empty.")
    if not low <= value <= high:
        what = f"{value:g} {unit} cannot be a {measure} ({low:g} to {high:g})."
        return Problem(where, what, "Check the number and where its decimal sign stands.")
    return None
