"""Figures: which quantities can be read, declared once for forms, tables, logs, files and benches."""

from typing import Literal

Quantity = Literal[
    "core clock",
    "memory clock",
    "voltage",
    "power",
    "current",
    "temperature",
    "fan",
    "fan speed",
    "load",
    "frame rate",
    "other",
]
