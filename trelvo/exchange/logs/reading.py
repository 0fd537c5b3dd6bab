"""Turns a text table and the user's choice of columns into numbers, or names row and column of what is wrong."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.logs import Channel
from trelvo.core.measure.lone_jumps import lone_jumps
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, QuantityFacts
from trelvo.exchange.logs.choice import ColumnChoice, LogChoice
from trelvo.exchange.logs.guess import mark_question
from trelvo.exchange.logs.numbers import Numbers, Read, in_own_unit, present, read_numbers
from trelvo.exchange.logs.text_table import TextTable
from trelvo.exchange.logs.times import LONGEST_S, TIME_FORMATS, seconds_of
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, LINE_COLUMN, TIME_COLUMN

_EXAMPLES = {
    "clock time": "a clock time such as 14:05:09.250",
    "minutes:seconds": "minutes and seconds such as 05:09.250",
    "date and time": "date and time such as 2031-05-01 14:05:09.250",
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
        raise Refused(Problem("time", "No time column is chosen.", "Choose the column that holds the time."))
    if choice.time_format is None:
        what = f"How the time in “{choice.time_column}” is written cannot be told from the file."
        raise Refused(Problem(f"column {choice.time_column}", what, f"Choose one of: {', '.join(TIME_FORMATS)}."))
    if not choice.columns:
        raise Refused(Problem("columns", "No channel is chosen.", "Choose at least one column to keep."))
    if problems := _left_open(choice):
        raise Refused(*problems)
    time_s = _time(table, choice)
    zeros: list[tuple[str, int, int]] = []
    channels = tuple(_channel(table, choice, column, zeros) for column in choice.columns)
    if zeros and choice.zeros == "ask":
        raise Refused(*(_zero_question(table, *one) for one in zeros))
    jumped = {one.name: found for one in channels if one.tells and (found := lone_jumps(one.values, one.quantity)).size}
    if jumped and choice.jumps == "ask":
        raise Refused(*(_jump_question(table, one, jumped[one.name]) for one in channels if one.name in jumped))
    if choice.jumps == "leave out":
        channels = tuple(_without(one, jumped.get(one.name)) for one in channels)
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
            problems.append(Problem(where, "Its unit cannot be told from the file.", "Choose the unit."))
        if column.part is None:
            problems.append(Problem(where, "Which part it reads cannot be told from its name.", "Choose the part."))
        if column.tells is None:
            todo = "Say which one counts; the others are kept beside it."
            problems.append(Problem(where, f"Several columns read the {column.quantity} of this part.", todo))
        if column.tells and column.part is not None and column.quantity != "frame rate":
            key = (column.quantity, column.part, column.instrument_id, column.point or choice.power_point)
            if rival := told.get(key):
                todo = "Let one of them count; the other is kept beside it."
                problems.append(Problem(where, f"It gives the same figure as “{rival}”.", todo))
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
            f"The last line holds {table.cut_short} of {len(table.layout.headers)} cells; it was cut off.",
            "Choose to drop the last line, or export the log again.",
        )
    )


def _index(table: TextTable, header: str) -> int:
    try:
        return table.layout.headers.index(header)
    except ValueError:
        raise Refused(
            Problem(f"column {header}", "The file has no such column.", "Choose one of the columns in the preview.")
        ) from None


def _at(table: TextTable, index: int, header: str) -> str:
    return f"row {table.line(index)}, column {header}"


def _readable(table: TextTable, header: str, column: ColumnChoice | None) -> Read:
    """A column's numbers, all of them numbers or missing."""
    index = _index(table, header)
    read = read_numbers(table, index, column.mark if column else "decimal")
    if read.open_mark:
        sign, row = read.open_mark
        what = mark_question((table.columns[index][row] or "").strip(), sign)
        raise Refused(Problem(_at(table, row, header), what, "Say what the mark in this column is."))
    if read.unread.any():
        row = int(np.argmax(read.unread))
        others = int(read.unread.sum()) - 1
        more = f" ({others:,} more like it)" if others else ""
        cell = (table.columns[index][row] or "").strip()
        todo = "Leave this column out, or choose another separator or decimal sign."
        raise Refused(Problem(_at(table, row, header), f"“{cell}” is not a number{more}.", todo))
    return read


def _channel(table: TextTable, choice: LogChoice, column: ColumnChoice, zeros: list[tuple[str, int, int]]) -> Channel:
    kind = QUANTITIES[column.quantity]
    read = _readable(table, column.header, column)
    if read.missing.mean() > MOST_MISSING:
        what = f"{int(read.missing.sum()):,} of {table.rows:,} cells are empty."
        raise Refused(Problem(f"column {column.header}", what, "Leave this column out."))
    if column.quantity == "other":
        numbers = read.values
    else:
        unit = column.unit or ""
        if unit not in kind.units():
            what = f"“{unit}” is no unit for this."
            raise Refused(Problem(f"column {column.header}", what, f"Choose one of: {', '.join(kind.units())}."))
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
    return Channel(name, column.quantity, own, numbers, part, column.instrument_id, point, tells)


def _stands_out(values: Numbers, zero: npt.NDArray[np.bool_], column: ColumnChoice) -> bool:
    """Whether zeros are no readings like the others: a temperature may pass through zero, nothing else is ever near it."""
    if column.quantity != "temperature":
        return True
    rest = np.abs(values[np.isfinite(values) & ~zero])
    return rest.size > 0 and float(np.quantile(rest, 0.05)) > 5.0


def _zero_question(table: TextTable, header: str, row: int, count: int) -> Problem:
    what = f"It reads 0 in {count:,} of {table.rows:,} rows, which may mean that nothing was read."
    return Problem(_at(table, row, header), what, "Say whether zeros are left out or are readings.", "zeros")


def _jump_question(table: TextTable, channel: Channel, places: npt.NDArray[np.intp]) -> Problem:
    value = float(channel.values[places[0]])
    rest = np.delete(channel.values, places)
    high = float(np.nanmax(rest))
    what = f"A single reading of {value:g} {channel.unit} stands alone: all others stay below {high:g} {channel.unit}."
    todo = "Say whether it is left out, or kept as the highest."
    return Problem(f"row {table.line(int(places[0]))}, column {channel.name}", what, todo, "lone reading")


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
            f"{numbers[index]:g} {kind.unit} cannot be a {column.quantity}"
            f" (possible: {kind.low:g} to {kind.high:g} {kind.unit}; {int(wrong.sum()):,} such readings).",
            "Choose another unit, say that the column is something else, or leave such readings out.",
            "impossible reading",
        )
    )


def _frames(table: TextTable, choice: LogChoice) -> FrameLog:
    header = choice.frame_column
    if not header:
        raise Refused(
            Problem("frame column", "No column with the time per frame is chosen.", "Choose the column that holds it.")
        )
    units = FRAME_TIME.units()
    if choice.frame_unit not in units:
        what = f"“{choice.frame_unit}” is no unit for this."
        raise Refused(Problem(f"column {header}", what, f"Choose one of: {', '.join(units)}."))
    read = _readable(table, header, None)
    if read.missing.any() and choice.missing == "refuse":
        what = f"The cell is empty ({int(read.missing.sum()):,} in this column)."
        todo = "Choose to leave out frames without a time, or leave this column out."
        raise Refused(Problem(_at(table, int(np.argmax(read.missing)), header), what, todo, "missing frame time"))
    numbers = in_own_unit(read, FRAME_TIME, choice.frame_unit)
    there = np.isfinite(numbers)
    wrong = there & ((numbers <= 0) | (numbers > FRAME_TIME.high))
    if wrong.any():
        index = int(np.argmax(wrong))
        what = f"{numbers[index]:g} ms cannot be the time of one frame."
        todo = "Choose another column or unit: time per frame, not the running time."
        raise Refused(Problem(_at(table, index, header), what, todo))
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
        what = f"“{cell}” cannot be read as {_EXAMPLES[form]}." if form in _EXAMPLES else f"“{cell}” is not a number."
        todo = f"Choose how the time is written: {', '.join(TIME_FORMATS)}."
        raise Refused(Problem(_at(table, row, header), "The time is missing." if empty else what, todo))
    back = np.flatnonzero(np.diff(seconds) < 0)
    if back.size:
        index = int(back[0]) + 1
        start = seconds[0]
        raise Refused(
            Problem(
                _at(table, index, header),
                f"Time runs backwards, from {seconds[index - 1] - start:.3f} s to {seconds[index] - start:.3f} s.",
                "Split the log where it starts again, and drop only the part that belongs to this run.",
            )
        )
    if seconds.size < 2 or seconds[-1] == seconds[0]:
        raise Refused(
            Problem(f"column {header}", "The log covers no time.", "Choose the column that holds each reading's time.")
        )
    covers_s = float(seconds[-1] - seconds[0])
    if covers_s > LONGEST_S:
        what = (
            f"Read so, the log covers {covers_s / 86_400:.1f} days; {LONGEST_S / 86_400:.0f} is the most for one run."
        )
        raise Refused(Problem(f"column {header}", what, "Choose how the time is written, or split the log."))
    return np.asarray(seconds - seconds[0], dtype=np.float64)


def columns_of(log: TelemetryLog | FrameLog) -> dict[str, npt.NDArray[np.float64] | npt.NDArray[np.int64]]:
    """The log as it is kept: `time_s` (from the start, a frame's at its end), the line in the file, a column a channel."""
    if isinstance(log, FrameLog):
        return {
            TIME_COLUMN: np.cumsum(log.frame_times_ms) / 1000, LINE_COLUMN: log.lines, FRAME_COLUMN: log.frame_times_ms,
        }  # fmt: skip
    return {TIME_COLUMN: log.time_s, LINE_COLUMN: log.lines, **{c.name: c.values for c in log.channels}}
