"""Where a run's figures come from, down to the rows of the log; and those rows."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from trelvo.core.base.figures import FigureKey, name_of
from trelvo.core.logs.figures import rows_behind
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.logbook.models import Run, Series
from trelvo.logbook.rows.log_draft import OWN
from trelvo.logbook.rows.series_bytes import LINE_COLUMN, TIME_COLUMN, from_parquet


def _in_stretch(values: NDArray[np.float64], time_s: NDArray[np.float64], series: Series) -> NDArray[np.float64]:
    """The readings that a figure rests on: those outside the loaded stretch are none of them."""
    found = series.summary.get("stretch")
    if not found:
        return values
    inside = (time_s >= found["from_s"]) & (time_s <= found["to_s"])
    return np.where(inside, values, np.nan)


FRAME_FIGURES = {"frame rate"}


@dataclass(frozen=True)
class FigureSource:
    """A figure of a run and the rows of a log that it rests on.

    row: the first of them (from 0), last_row: the last; line, last_line: the same in the dropped file, None for logs kept
    without; readings: how many there are
    """

    name: str
    unit: str
    decimals: int
    value: float
    series_id: int
    file_name: str
    column: str
    how: str
    at_s: float
    row: int
    last_row: int
    line: int | None
    last_line: int | None
    readings: int


@dataclass(frozen=True)
class LogRows:
    """A stretch of a kept log as a table. lines: in the dropped file; values: by row, None where nothing was read"""

    series_id: int
    file_name: str
    total: int
    first_row: int
    columns: list[str]
    units: list[str]
    time_s: list[float]
    lines: list[int | None]
    values: list[list[float | None]]


def sources_of(run: Run) -> list[FigureSource]:
    """Every figure of a run that came from a log that is kept beside it."""
    found: list[FigureSource] = []
    figures = [f for f in run.figures.all() if f.source == "log" and not f.replaced]
    for series in run.series.all():
        columns = from_parquet(bytes(series.parquet))
        found += _own_sources(run, series, columns)
        for figure in figures:
            column = _column_of(series, figure.key, figure.value)
            if column is None:
                continue
            values = columns[column["column"]]
            rows = rows_behind(_in_stretch(values, columns[TIME_COLUMN], series), figure.key.statistic)
            if rows is None:
                continue
            lines = columns.get(LINE_COLUMN)
            kind = QUANTITIES[figure.key.quantity]
            found.append(
                FigureSource(
                    name=name_of(figure.key),
                    unit=kind.unit,
                    decimals=kind.decimals,
                    value=figure.value,
                    series_id=series.pk,
                    file_name=series.file_name,
                    column=str(column["header"]),
                    how=_how(figure.key.statistic, rows.count),
                    at_s=float(columns[TIME_COLUMN][rows.first]),
                    row=rows.first,
                    last_row=rows.last,
                    line=int(lines[rows.first]) if lines is not None else None,
                    last_line=int(lines[rows.last]) if lines is not None else None,
                    readings=rows.count,
                )
            )
    return found


def _own_sources(run: Run, series: Series, columns: Mapping[str, NDArray[Any]]) -> list[FigureSource]:
    """Of the run's own numbers those that this log supplied: they rest on all of its rows."""
    time_s, lines = columns[TIME_COLUMN], columns.get(LINE_COLUMN)
    rows = len(time_s)
    if series.kind == Series.Kind.FRAMES:
        frames, column = series.summary["frames"], str(series.channels[0]["header"])
        told = {"value": frames["rate_fps"], "duration_s": frames["duration_s"], "frames": frames["frames"]}
    else:
        told, column = {"duration_s": float(time_s[-1] - time_s[0])}, "time"
    how = {
        "value": f"{rows} frames over the sum of their times",
        "duration_s": f"sum of {rows} frame times" if "frames" in told else "first reading to last",
        "frames": "one a row",
    }
    return [
        FigureSource(
            name=name,
            unit=unit or (run.variant.unit if field == "value" else ""),
            decimals=decimals,
            value=told[field],
            series_id=series.pk,
            file_name=series.file_name,
            column=column,
            how=how[field],
            at_s=float(time_s[0]),
            row=0,
            last_row=rows - 1,
            line=int(lines[0]) if lines is not None else None,
            last_line=int(lines[-1]) if lines is not None else None,
            readings=rows,
        )
        for field, name, unit, decimals in OWN
        if field in told and field in run.log_figures and math.isclose(told[field], getattr(run, field), rel_tol=1e-9)
    ]


# What a channel's summary calls each statistic.
_SUMMARY = {"mean": "mean", "highest": "highest", "lowest": "lowest", "at start": "first"}


def _column_of(series: Series, key: FigureKey, value: float) -> dict[str, Any] | None:
    """The column of a log that a figure was taken from: the one that reads the same of the same part, and comes to its value."""
    if series.kind == Series.Kind.FRAMES:
        return series.channels[0] if key.quantity in FRAME_FIGURES else None
    for channel in series.channels:
        if channel["quantity"] != key.quantity or channel.get("part", "tuned part") != key.part:
            continue
        summary = series.summary.get("channels", {}).get(channel["column"], {})
        told = summary.get(_SUMMARY.get(key.statistic, ""))
        if told is not None and math.isclose(told, value, rel_tol=1e-9, abs_tol=1e-9):
            return dict(channel)
    return None


def _how(statistic: str, count: int) -> str:
    if statistic in ("highest", "lowest", "at start", "at end"):
        return statistic
    return f"{statistic} of {count} readings"


def rows_of(series: Series, first_row: int, most: int) -> LogRows:
    """Rows of a kept log, from one row on."""
    columns = from_parquet(bytes(series.parquet))
    total = len(columns[TIME_COLUMN])
    part = slice(min(max(first_row, 0), max(total - 1, 0)), min(first_row + most, total))
    lines: Sequence[int | None]
    if LINE_COLUMN in columns:
        lines = [int(line) for line in columns[LINE_COLUMN][part]]
    else:
        lines = [None] * (part.stop - part.start)
    kept = [columns[channel["column"]][part] for channel in series.channels]
    table = np.column_stack(kept) if kept else np.empty((part.stop - part.start, 0))
    return LogRows(
        series_id=series.pk,
        file_name=series.file_name,
        total=total,
        first_row=part.start,
        columns=[str(channel["header"]) for channel in series.channels],
        units=[str(channel["unit"]) for channel in series.channels],
        time_s=columns[TIME_COLUMN][part].tolist(),
        lines=list(lines),
        values=[[None if np.isnan(value) else float(value) for value in row] for row in table],
    )
