"""A kept log for a chart: each channel's points, thinned."""

from dataclasses import dataclass

import numpy as np

from trelvo.core.logs.telemetry import thin_keeping_extremes
from trelvo.logbook.models import Series
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, from_parquet


@dataclass(frozen=True)
class ChannelPoints:
    name: str
    quantity: str
    unit: str
    time_s: list[float]
    values: list[float]


@dataclass(frozen=True)
class SeriesPoints:
    """A kept log for a chart: each channel's points, thinned by keeping every stretch's lowest and highest reading."""

    id: int
    kind: str
    file_name: str
    rows: int
    first_s: float
    last_s: float
    channels: list[ChannelPoints]


def points_of(series: Series, most: int, from_s: float | None, to_s: float | None) -> SeriesPoints:
    """Points of a kept log, at most `most` a channel, of the whole or of a stretch of time in seconds."""
    columns = from_parquet(bytes(series.parquet))
    time_s = columns[TIME_COLUMN]
    first, last = np.searchsorted(time_s, [-np.inf if from_s is None else from_s, np.inf if to_s is None else to_s])
    # one reading more on either side, so that a line goes on to the edge of the chart
    part = slice(max(int(first) - 1, 0), int(last) + 1)
    channels = []
    for channel in series.channels:
        values = columns[channel["column"]][part]
        keep = thin_keeping_extremes(values, most)
        channels.append(
            ChannelPoints(
                channel["header"],
                channel["quantity"],
                channel["unit"],
                time_s[part][keep].tolist(),
                values[keep].tolist(),
            )
        )
    return SeriesPoints(
        id=series.pk,
        kind=series.kind,
        file_name=series.file_name,
        rows=series.rows,
        first_s=float(time_s[0]) if time_s.size else 0.0,
        last_s=float(time_s[-1]) if time_s.size else 0.0,
        channels=channels,
    )
