"""Turns a text table and the user's choice of columns into numbers, or names row and column of what is wrong."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from trelvo.core.logs.figures import Channel
from trelvo.core.logs.lone_jumps import lone_jumps
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, QuantityFacts
from trelvo.exchange.logs.choice import ColumnChoice, LogChoice
from trelvo.exchange.logs.guess import mark_params
from trelvo.exchange.logs.numbers import Numbers, Read, in_own_unit, present, read_numbers
from trelvo.exchange.logs.text_table import TextTable
from trelvo.exchange.logs.times import LONGEST_S, TIME_FORMATS, seconds_of
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, LINE_COLUMN, TIME_COLUMN

_UNREADABLE_TIME = {
    "clock time": "log_clock_time_unreadable",
    "minutes:seconds": "log_minutes_unreadable",
    "date and time": "log_date_unreadable",
}
# More than this share of missing cells is no channel.
MOST_MISSING = 0.9


@dataclass(frozen=True)
class TelemetryLog:
    """Readings over time. time_s starts at 0; lines: the line in the file (from 1) of each reading."""

    time_s: Numbers
    channels: tuple[Channel, ...]
    lines: npt.NDArray[np.int64]


@dataclass(frozen=True)
class FrameLog:
    """Times of successive frames, in milliseconds; lines: the line in the file (from 1) of each."""

    frame_times_ms: Numbers
    lines: npt.NDArray[np.int64]


def read_log(table: TextTable, choice: LogChoice) -> TelemetryLog | FrameLog:
    """All chosen columns as numbers in their quantities' own units. Raises Refused, naming row and column."""
    table = _settle_last_line(table, choice)
    if choice.kind == "frames":
        return _frames(table, choice)
    if not choice.time_column:
        raise Refused(Problem("time", "no_time_column"))
    if choice.time_format is None:
        raise Refused(
            Problem(
                f"column {choice.time_column}",
                "time_format_unknown",
                {"column": choice.time_column, "known": tuple(TIME_FORMATS)},
            )
        )
    if not choice.columns:
        raise Refused(Problem("columns", "no_channel"))
    if problems := _left_open(choice):
        raise Refused(*problems)
    time_s = _time(table, choice)
    zeros: list[tuple[str, int, int]] = []
    channels = tuple(_channel(table, choice, column, zeros) for column in choice.columns)
    if zeros and choice.zeros == "ask":
        raise Refused(*(_zero_question(table, *zero) for zero in zeros))
    jumped = {
        channel.name: found
        for channel in channels
        if channel.tells and (found := lone_jumps(channel.values, channel.quantity)).size
    }
    if jumped and choice.jumps == "ask":
        raise Refused(
            *(_jump_question(table, channel, jumped[channel.name]) for channel in channels if channel.name in jumped)
        )
    if choice.jumps == "leave out":
        channels = tuple(_without(channel, jumped.get(channel.name)) for channel in channels)
    return TelemetryLog(time_s, channels, table.lines)


def _left_open(choice: LogChoice) -> list[Problem]:
    """What only the user can say of the columns, and has not said."""
    problems = []
    told: dict[tuple[object, ...], str] = {}
    for column in choice.columns:
        where = f"column {column.header}"
        if column.quantity == "other":
            continue
        if column.unit is None:
            problems.append(Problem(where, "unit_unknown"))
        if column.part is None:
            problems.append(Problem(where, "part_unknown"))
        if column.tells is None:
            problems.append(Problem(where, "several_columns", {"quantity": column.quantity}))
        if column.tells and column.part is not None and column.quantity != "frame rate":
            key = (column.quantity, column.part, column.instrument_id, column.point or choice.power_point)
            if rival := told.get(key):
                problems.append(Problem(where, "same_figure", {"rival": rival}))
            told[key] = column.header
    return problems


def _settle_last_line(table: TextTable, choice: LogChoice) -> TextTable:
    if table.cut_short is None:
        return table
    if choice.last_line == "drop" and table.rows > 1:
        rows = table.rows - 1
        return TextTable(table.layout, tuple(column.head(rows) for column in table.columns), None, table.lines[:rows])
    raise Refused(
        Problem(
            f"row {table.line(table.rows - 1)}",
            "last_line_cut",
            {"cells": table.cut_short, "columns": len(table.layout.headers)},
        )
    )


def _index(table: TextTable, header: str) -> int:
    try:
        return table.layout.headers.index(header)
    except ValueError:
        raise Refused(Problem(f"column {header}", "no_such_log_column")) from None


def _at(table: TextTable, index: int, header: str) -> str:
    return f"row {table.line(index)}, column {header}"


def _readable(table: TextTable, header: str, column: ColumnChoice | None) -> Read:
    """A column's numbers, all of them numbers or missing."""
    index = _index(table, header)
    read = read_numbers(table, index, column.mark if column else "decimal")
    if read.open_mark:
        sign, row = read.open_mark
        raise Refused(Problem(_at(table, row, header), "mark_ambiguous", mark_params(table, index, row, sign)))
    if read.unread.any():
        row = int(np.argmax(read.unread))
        others = int(read.unread.sum()) - 1
        cell = (table.columns[index][row] or "").strip()
        raise Refused(
            Problem(
                _at(table, row, header),
                "log_cells_not_numbers" if others else "log_cell_not_a_number",
                {"cell": cell, "others": others},
            )
        )
    return read


def _channel(table: TextTable, choice: LogChoice, column: ColumnChoice, zeros: list[tuple[str, int, int]]) -> Channel:
    kind = QUANTITIES[column.quantity]
    read = _readable(table, column.header, column)
    if read.missing.mean() > MOST_MISSING:
        raise Refused(
            Problem(f"column {column.header}", "cells_empty", {"count": int(read.missing.sum()), "rows": table.rows})
        )
    if column.quantity == "other":
        numbers = read.values
    else:
        unit = column.unit or ""
        if unit not in kind.units():
            raise Refused(
                Problem(
                    f"column {column.header}", "unknown_unit_of_column", {"unit": unit, "known": tuple(kind.units())}
                )
            )
        numbers = in_own_unit(read, kind, unit)
        numbers = _possible(table, column, numbers, kind, choice)
        raw_zero = read.values == 0
        if QUANTITIES[column.quantity].never_zero and raw_zero.any() and _stands_out(read.values, raw_zero, column):
            if choice.zeros == "leave out":
                numbers = np.where(raw_zero, np.nan, numbers)
            zeros.append((column.header, int(np.argmax(raw_zero)), int(raw_zero.sum())))
    own = (column.unit or "") if column.quantity == "other" else kind.unit
    name = column.header if column.header not in (TIME_COLUMN, LINE_COLUMN) else f"{column.header} (channel)"
    named = column.point or choice.power_point
    point = named if column.quantity == "power" and column.instrument_id is None else "unknown"
    part = column.part or "tuned part"
    tells = column.tells is not False
    return Channel(
        name=name,
        quantity=column.quantity,
        unit=own,
        values=numbers,
        part=part,
        instrument_id=column.instrument_id,
        point=point,
        tells=tells,
    )


def _stands_out(values: Numbers, zero: npt.NDArray[np.bool_], column: ColumnChoice) -> bool:
    """Whether zeros are no readings like the others: a temperature may pass through zero, nothing else is ever near it."""
    if column.quantity != "temperature":
        return True
    rest = np.abs(values[np.isfinite(values) & ~zero])
    return rest.size > 0 and float(np.quantile(rest, 0.05)) > 5.0


def _zero_question(table: TextTable, header: str, row: int, count: int) -> Problem:
    return Problem(_at(table, row, header), "zeros", {"zeros": count, "rows": table.rows})


def _jump_question(table: TextTable, channel: Channel, places: npt.NDArray[np.intp]) -> Problem:
    value = float(channel.values[places[0]])
    rest = np.delete(channel.values, places)
    high = float(np.nanmax(rest))
    return Problem(
        f"row {table.line(int(places[0]))}, column {channel.name}",
        "lone_reading",
        {"value": value, "unit": channel.unit, "high": high},
    )


def _without(channel: Channel, places: npt.NDArray[np.intp] | None) -> Channel:
    if places is None:
        return channel
    values = channel.values.copy()
    values[places] = np.nan
    return replace(channel, values=values)


def _possible(
    table: TextTable, column: ColumnChoice, numbers: Numbers, kind: QuantityFacts, choice: LogChoice
) -> Numbers:
    wrong = (numbers < kind.low) | (numbers > kind.high)
    if not wrong.any():
        return numbers
    if choice.impossible == "leave out" and wrong.mean() < 0.1:
        return np.where(wrong, np.nan, numbers)
    index = int(np.argmax(wrong))
    raise Refused(
        Problem(
            _at(table, index, column.header),
            "impossible_reading",
            {
                "value": numbers[index],
                "unit": kind.unit,
                "quantity": column.quantity,
                "low": kind.low,
                "high": kind.high,
                "count": int(wrong.sum()),
            },
        )
    )


def _frames(table: TextTable, choice: LogChoice) -> FrameLog:
    header = choice.frame_column
    if not header:
        raise Refused(Problem("frame column", "no_frame_column"))
    units = FRAME_TIME.units()
    if choice.frame_unit not in units:
        raise Refused(
            Problem(f"column {header}", "unknown_unit_of_column", {"unit": choice.frame_unit, "known": tuple(units)})
        )
    read = _readable(table, header, None)
    if read.missing.any() and choice.missing == "refuse":
        raise Refused(
            Problem(
                _at(table, int(np.argmax(read.missing)), header),
                "missing_frame_time",
                {"count": int(read.missing.sum())},
            )
        )
    numbers = in_own_unit(read, FRAME_TIME, choice.frame_unit)
    there = np.isfinite(numbers)
    wrong = there & ((numbers <= 0) | (numbers > FRAME_TIME.high))
    if wrong.any():
        index = int(np.argmax(wrong))
        raise Refused(Problem(_at(table, index, header), "frame_time_impossible", {"value": numbers[index]}))
    return FrameLog(numbers[there], table.lines[there])


def _time(table: TextTable, choice: LogChoice) -> Numbers:
    header, form = choice.time_column or "", choice.time_format or "seconds"
    _index(table, header)
    if choice.date_column:
        _index(table, choice.date_column)
    seconds = seconds_of(table, header, choice.date_column, form, choice.date_order)
    unreadable = ~np.isfinite(seconds)
    if unreadable.any():
        row = int(np.argmax(unreadable))
        cell = (table.columns[_index(table, header)][row] or "").strip()
        empty = present(table.columns[_index(table, header)]).is_null()[row]
        code = "log_time_missing" if empty else _UNREADABLE_TIME.get(form, "log_time_not_a_number")
        raise Refused(Problem(_at(table, row, header), code, {"cell": cell, "known": tuple(TIME_FORMATS)}))
    back = np.flatnonzero(np.diff(seconds) < 0)
    if back.size:
        index = int(back[0]) + 1
        start = seconds[0]
        raise Refused(
            Problem(
                _at(table, index, header),
                "time_runs_backwards_in_log",
                {"before_s": seconds[index - 1] - start, "after_s": seconds[index] - start},
            )
        )
    if seconds.size < 2 or seconds[-1] == seconds[0]:
        raise Refused(Problem(f"column {header}", "log_covers_no_time"))
    covers_s = float(seconds[-1] - seconds[0])
    if covers_s > LONGEST_S:
        raise Refused(
            Problem(f"column {header}", "log_too_long", {"days": covers_s / 86400, "most_days": LONGEST_S / 86400})
        )
    return np.asarray(seconds - seconds[0], dtype=np.float64)


def columns_of(log: TelemetryLog | FrameLog) -> dict[str, npt.NDArray[np.float64] | npt.NDArray[np.int64]]:
    """The log as it is kept: `time_s` (from the start, a frame's at its end), the line in the file, a column a channel."""
    if isinstance(log, FrameLog):
        return {
            TIME_COLUMN: np.cumsum(log.frame_times_ms) / 1000, LINE_COLUMN: log.lines, FRAME_COLUMN: log.frame_times_ms,
        }  # fmt: skip
    return {TIME_COLUMN: log.time_s, LINE_COLUMN: log.lines, **{c.name: c.values for c in log.channels}}
