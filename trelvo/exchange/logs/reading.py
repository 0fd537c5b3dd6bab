"""Turns a text table and the user's choice of columns into numbers, or names row and column of what is wrong."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import polars as pl

from trelvo.core.base.figures import KINDS, QuantityKind
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.logs import Channel
from trelvo.exchange.logs.choice import LogChoice
from trelvo.exchange.logs.quantities import FRAME_TIME, TIME_FORMATS
from trelvo.exchange.logs.text_table import TextTable
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, TIME_COLUMN

Numbers = npt.NDArray[np.float64]

MISSING = ["", "n/a", "na", "nan", "null", "none", "-", "--"]
DATE_FORMATS = (
    "%Y-%m-%d %H:%M:%S%.f",
    "%Y-%m-%dT%H:%M:%S%.f",
    "%Y/%m/%d %H:%M:%S%.f",
    "%d.%m.%Y %H:%M:%S%.f",
    "%d/%m/%Y %H:%M:%S%.f",
    "%m/%d/%Y %H:%M:%S%.f",
    "%d-%m-%Y %H:%M:%S%.f",
)
HALF_A_DAY_S, DAY_S = 43_200.0, 86_400.0


@dataclass(frozen=True)
class TelemetryLog:
    """Readings over time. time_s starts at 0."""

    time_s: Numbers
    channels: tuple[Channel, ...]


@dataclass(frozen=True)
class FrameLog:
    """Times of successive frames, in milliseconds."""

    frame_times_ms: Numbers


def read_log(table: TextTable, choice: LogChoice) -> TelemetryLog | FrameLog:
    """All chosen columns as numbers in their quantities' own units. Raises Refused, naming row and column."""
    table = _settle_last_line(table, choice)
    if choice.kind == "frames":
        return FrameLog(_frame_times(table, choice))
    if not choice.time_column:
        raise Refused(Problem("time", "No time column is chosen.", "Choose the column that holds the time."))
    if choice.time_format is None:
        what = f"How the time in “{choice.time_column}” is written cannot be told from the file."
        raise Refused(Problem(f"column {choice.time_column}", what, f"Choose one of: {', '.join(TIME_FORMATS)}."))
    if not choice.columns:
        raise Refused(Problem("columns", "No channel is chosen.", "Choose at least one column to keep."))
    time_s = _time(table, choice)
    channels = []
    for column in choice.columns:
        kind = KINDS[column.quantity]
        factor, offset = _unit(kind, column.unit, column.header) if column.quantity != "other" else (1.0, 0.0)
        numbers = _numbers(table, column.header, choice) * factor + offset
        _possible(table, column.header, numbers, kind, column.quantity)
        unit = column.unit if column.quantity == "other" else kind.unit
        name = column.header if column.header != TIME_COLUMN else f"{TIME_COLUMN} (channel)"
        point = choice.power_point if column.quantity == "power" and column.instrument_id is None else "unknown"
        channels.append(Channel(name, column.quantity, unit, numbers, column.part, column.instrument_id, point))
    return TelemetryLog(time_s, tuple(channels))


def _settle_last_line(table: TextTable, choice: LogChoice) -> TextTable:
    if table.cut_short is None:
        return table
    if choice.last_line == "drop" and table.rows > 1:
        return TextTable(table.layout, tuple(column.head(table.rows - 1) for column in table.columns), None)
    raise Refused(
        Problem(
            f"row {table.layout.row_number(table.rows - 1)}",
            f"The last line holds {table.cut_short} of {len(table.layout.headers)} cells; it was cut off.",
            "Choose to drop the last line, or export the log again.",
        )
    )


def _column(table: TextTable, header: str) -> pl.Series:
    try:
        return table.columns[table.layout.headers.index(header)]
    except ValueError:
        raise Refused(
            Problem(f"column {header}", "The file has no such column.", "Choose one of the columns in the preview.")
        ) from None


def _at(table: TextTable, index: int, header: str) -> str:
    return f"row {table.layout.row_number(index)}, column {header}"


def _present(table: TextTable, header: str) -> pl.Series:
    """Cells without outer spaces; null where nothing was read."""
    cells = _column(table, header).str.strip_chars()
    return cells.set(cells.str.to_lowercase().is_in(MISSING), None)


def _numbers(table: TextTable, header: str, choice: LogChoice, *, may_lack: bool = True) -> Numbers:
    """A column as numbers, NaN where missing cells may be left out."""
    cells = _present(table, header)
    _thousands(table, cells, header, choice)
    mark = "." if table.layout.decimal == "," else ","
    joined = cells.str.replace_all(mark, "", literal=True) if choice.thousands == "join" else cells
    plain = joined.str.replace(",", ".", literal=True) if table.layout.decimal == "," else joined
    numbers = plain.cast(pl.Float64, strict=False)
    unread = (numbers.is_null() & cells.is_not_null()) | numbers.is_infinite().fill_null(False)
    if unread.any():
        index = int(unread.arg_true()[0])
        others = int(unread.sum()) - 1
        more = f" ({others:,} more like it)" if others else ""
        raise Refused(
            Problem(
                _at(table, index, header),
                f"“{cells[index]}” is not a number{more}.",
                "Leave this column out, or choose another separator or decimal sign.",
            )
        )
    missing = numbers.is_null()
    if missing.any() and not (may_lack and choice.missing == "leave out"):
        index = int(missing.arg_true()[0])
        todo = "Choose to leave out missing cells, or leave this column out." if may_lack else "Choose another column."
        raise Refused(
            Problem(_at(table, index, header), f"The cell is empty ({int(missing.sum()):,} in this column).", todo)
        )
    return numbers.to_numpy().astype(np.float64)


def _thousands(table: TextTable, cells: pl.Series, header: str, choice: LogChoice) -> None:
    """Refuses cells with a mark that may stand between thousands, unless the user has said so."""
    mark = "." if table.layout.decimal == "," else ","
    marked = cells.str.contains(rf"^[+-]?\d{{1,3}}(\{mark}\d{{3}})+(\D.*)?$").fill_null(False)
    if choice.thousands == "join" or not marked.any():
        return
    index = int(marked.arg_true()[0])
    cell = cells[index]
    what = f"“{cell}” may be {cell.replace(mark, '')}, or {mark} may be the decimal sign."
    todo = "Say that the mark stands between thousands, or choose the other decimal sign."
    raise Refused(Problem(_at(table, index, header), what, todo))


def _unit(kind: QuantityKind, unit: str, header: str) -> tuple[float, float]:
    units = kind.units()
    if unit not in units:
        raise Refused(
            Problem(f"column {header}", f"“{unit}” is no unit for this.", f"Choose one of: {', '.join(units)}.")
        )
    return units[unit]


def _possible(table: TextTable, header: str, numbers: Numbers, kind: QuantityKind, word: str) -> None:
    wrong = (numbers < kind.low) | (numbers > kind.high)
    if wrong.any():
        index = int(np.argmax(wrong))
        raise Refused(
            Problem(
                _at(table, index, header),
                f"{numbers[index]:g} {kind.unit} cannot be a {word}"
                f" (possible: {kind.low:g} to {kind.high:g} {kind.unit}).",
                "Choose another unit, or say that the column is something else.",
            )
        )


def _frame_times(table: TextTable, choice: LogChoice) -> Numbers:
    if not choice.frame_column:
        raise Refused(
            Problem("frame column", "No column with the time per frame is chosen.", "Choose the column that holds it.")
        )
    factor, _ = _unit(FRAME_TIME, choice.frame_unit, choice.frame_column)
    numbers = _numbers(table, choice.frame_column, choice) * factor
    numbers_there = np.isfinite(numbers)
    wrong = numbers_there & ((numbers <= 0) | (numbers > FRAME_TIME.high))
    if wrong.any():
        index = int(np.argmax(wrong))
        raise Refused(
            Problem(
                _at(table, index, choice.frame_column),
                f"{numbers[index]:g} ms cannot be the time of one frame.",
                "Choose another column or unit: time per frame, not the running time.",
            )
        )
    return numbers[numbers_there]


def _time(table: TextTable, choice: LogChoice) -> Numbers:
    header = choice.time_column or ""
    if choice.time_format in ("seconds", "milliseconds"):
        numbers = _numbers(table, header, choice, may_lack=False)
        seconds = numbers / 1000 if choice.time_format == "milliseconds" else numbers
    elif choice.time_format == "minutes:seconds":
        seconds = _over_midnight(_minute_seconds(table, header))
    elif choice.time_format == "clock time":
        seconds = _over_midnight(_clock_seconds(table, header))
    else:
        seconds = _date_seconds(table, header)
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
    return np.asarray(seconds - seconds[0], dtype=np.float64)


def _unreadable_time(table: TextTable, header: str, parsed: pl.Series, form: str) -> None:
    wrong = parsed.is_null()
    if wrong.any():
        index = int(wrong.arg_true()[0])
        cell = _column(table, header)[index] or ""
        raise Refused(
            Problem(
                _at(table, index, header),
                f"“{cell}” cannot be read as {form}." if cell.strip() else "The time is missing.",
                f"Choose how the time is written: {', '.join(TIME_FORMATS)}.",
            )
        )


def _clock_seconds(table: TextTable, header: str) -> Numbers:
    cells = _present(table, header).str.replace(",", ".", literal=True)
    pieces = cells.str.extract_groups(r"^(\d+):(\d{1,2})(?::(\d{1,2}(?:\.\d+)?))?$").struct
    hours, minutes, seconds = (pieces.field(name).cast(pl.Float64, strict=False) for name in ("1", "2", "3"))
    total = hours * 3600 + minutes * 60 + seconds.fill_null(0.0)
    _unreadable_time(table, header, total, "a clock time such as 14:05:09.250")
    return total.to_numpy().astype(np.float64)


def _minute_seconds(table: TextTable, header: str) -> Numbers:
    cells = _present(table, header).str.replace(",", ".", literal=True)
    pieces = cells.str.extract_groups(r"^(\d+):(\d{1,2}(?:\.\d+)?)$").struct
    minutes, seconds = (pieces.field(name).cast(pl.Float64, strict=False) for name in ("1", "2"))
    total = minutes * 60 + seconds
    _unreadable_time(table, header, total, "minutes and seconds such as 05:09.250")
    return total.to_numpy().astype(np.float64)


def _over_midnight(seconds: Numbers) -> Numbers:
    """A drop of more than half a day is midnight, not time running backwards."""
    days = np.concatenate([[0], np.cumsum(np.diff(seconds) < -HALF_A_DAY_S)])
    return np.asarray(seconds + days * DAY_S, dtype=np.float64)


def _date_seconds(table: TextTable, header: str) -> Numbers:
    cells = _present(table, header).str.replace(",", ".", literal=True).str.replace(r"(Z|[+-]\d\d:?\d\d)$", "")
    tries = [cells.str.to_datetime(form, strict=False, time_unit="us") for form in DATE_FORMATS]
    best = min(tries, key=lambda parsed: parsed.null_count())
    _unreadable_time(table, header, best, "date and time such as 2031-05-01 14:05:09.250")
    return np.asarray(best.dt.epoch("us").to_numpy() / 1e6, dtype=np.float64)


def columns_of(log: TelemetryLog | FrameLog) -> dict[str, Numbers]:
    """The log as it is kept: `time_s` (seconds from the start, a frame's at its end) and one column a channel."""
    if isinstance(log, FrameLog):
        return {TIME_COLUMN: np.cumsum(log.frame_times_ms) / 1000, FRAME_COLUMN: log.frame_times_ms}
    return {TIME_COLUMN: log.time_s, **{channel.name: channel.values for channel in log.channels}}
