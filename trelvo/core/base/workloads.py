"""Workloads: what they measure, and which results they can show."""

import math
import re
from collections.abc import Mapping
from typing import Literal

from trelvo.core.problems import Problem

# "nothing": only figures are read, as in everyday use.
Measure = Literal["frame rate", "score", "time", "nothing"]

PRESETS = ("lowest", "low", "middle", "medium", "high", "very high", "highest", "ultra")

# Lowest and highest result that a workload can show: frames a second, points, seconds (thirty days).
POSSIBLE_RESULTS: dict[Measure, tuple[float, float]] = {
    "frame rate": (0.01, 100_000.0),
    "score": (1e-6, 1e12),
    "time": (1e-3, 30 * 86_400.0),
}


def check_result(measure: Measure, value: float, unit: str, where: str) -> Problem | None:
    """Why this cannot be a workload's result (in its unit), or None when it can."""
    if measure == "nothing":
        return Problem(where, "workload_without_result")
    low, high = POSSIBLE_RESULTS[measure]
    if not math.isfinite(value):
        return Problem(where, "not_a_number")
    if value <= 0:
        return Problem(where, "not_above_zero", {"value": value})
    if not low <= value <= high:
        return Problem(
            where, "result_out_of_range", {"value": value, "unit": unit, "measure": measure, "low": low, "high": high}
        )
    return None


def describe_options(options: Mapping[str, str]) -> str:
    """Options in words: values alone where they speak for themselves, else with their name; empty for none."""
    plain = ("resolution", "preset", "as noted")
    words = [value if name in plain else f"{name} {value}" for name, value in options.items()]
    return ", ".join(words)


def read_options(text: str) -> dict[str, str]:
    """Options from one line of text: what looks like a resolution and a preset is named so, the rest stands as noted.

    "3840 × 2160, high, upscaling off" -> resolution, preset, upscaling. Names end where a value on, off or a number begins.
    """
    options: dict[str, str] = {}
    noted = []
    for piece in (piece.strip() for piece in text.split(",")):
        if re.fullmatch(r"\d{3,5}\s*[x×]\s*\d{3,5}", piece) and "resolution" not in options:
            options["resolution"] = piece
        elif piece.lower() in PRESETS and "preset" not in options:
            options["preset"] = piece
        elif (found := re.fullmatch(r"(\D+?)[:\s]+(on|off|quality|balanced|performance)", piece)) and found[
            1
        ] not in options:
            options[found[1].strip()] = found[2]
        elif piece:
            noted.append(piece)
    if noted:
        options["as noted"] = ", ".join(noted)
    return options
