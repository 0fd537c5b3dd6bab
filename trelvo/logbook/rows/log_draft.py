"""A log on its way to its run: read in full, not stored yet."""

from dataclasses import dataclass
from typing import Any

from trelvo.core.logs.figures import Channel, Figures


@dataclass(frozen=True)
class LogDraft:
    """A log read in full: Parquet bytes, what its columns are, its figures and a summary to show.

    every_s: seconds between two readings, the middle one of all; longest_gap_s: the longest time without a reading
    digest: of the file's text, empty for what came in live
    """

    kind: str
    file_name: str
    rows: int
    channels: list[dict[str, Any]]
    parquet: bytes
    figures: Figures
    summary: dict[str, Any]
    every_s: float
    longest_gap_s: float = 0.0
    digest: str = ""


def channel_entry(channel: Channel) -> dict[str, Any]:
    """What is kept of a telemetry column beside its numbers."""
    return {
        "column": channel.name,
        "header": channel.name,
        "quantity": channel.quantity,
        "unit": channel.unit,
        "part": channel.part,
        "point": channel.point,
        "tells": channel.tells,
        "instrument_id": channel.instrument_id,
    }


# What a log supplies of the run itself: field, name, unit (empty: the workload's), decimals.
OWN = (("value", "Result", "", 2), ("duration_s", "Lasted", "s", 1), ("frames", "Frames", "", 0))
