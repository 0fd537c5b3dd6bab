"""Which column is the time, how it is written, and its seconds; asked where the file cannot tell."""

import re
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
import polars as pl

from trelvo.core.message import Message, message
from trelvo.exchange.logs import moments
from trelvo.exchange.logs.moments import DateOrder
from trelvo.exchange.logs.numbers import Numbers, present, read_numbers
from trelvo.exchange.logs.questions import Question
from trelvo.exchange.logs.text_table import TextTable
from trelvo.exchange.logs.units import header_unit, known_unit

TimeFormat = Literal[
    "seconds", "milliseconds", "microseconds", "nanoseconds", "minutes", "hours", "days", "minutes:seconds", "clock time",
    "date and time",
]  # fmt: skip
TIME_FORMATS: tuple[TimeFormat, ...] = get_args(TimeFormat)
SECONDS: dict[str, float] = {
    "seconds": 1.0, "milliseconds": 1e-3, "microseconds": 1e-6, "nanoseconds": 1e-9, "minutes": 60.0, "hours": 3600.0,
    "days": 86_400.0,
}  # fmt: skip
_BY_UNIT: dict[str, TimeFormat] = {
    "s": "seconds", "ms": "milliseconds", "µs": "microseconds", "ns": "nanoseconds", "min": "minutes", "h": "hours", "d": "days",
}  # fmt: skip
# Where seconds since 1970 lie from 1998 to 2096, for each unit that programs count them in; and spreadsheet days of those years.
_SINCE_1970: tuple[tuple[TimeFormat, float], ...] = (
    ("seconds", 1.0), ("milliseconds", 1e3), ("microseconds", 1e6), ("nanoseconds", 1e9),
)  # fmt: skip
_YEARS_S = (9e8, 4e9)
_DAY_NUMBERS = (35_000.0, 73_000.0)
# Readings closer together or further apart than this are no log of a run (common practice), nor is one that lasts longer.
CLOSEST_S, FURTHEST_S, LONGEST_S = 5e-5, 150.0, 4 * 86_400.0
# Plain numbers without a unit: surely seconds up to this step; thousandths from this length on.
SURELY_SECONDS, SURELY_LONG_S = 15.0, 20.0
# Rows at the beginning of a log that a guess always looks at one by one.
WHOLE_HEAD = 1000
_TIME_WORDS = (
    r"^(time|date|stamp|elapsed|uptime|t$|t[ _\[(]|clock time|local time|second|ms$"
    r"|zeit|uhrzeit|datum|heure|hora|fecha|tiempo|temps ?$|temps [(\[])"
    r"|time ?stamp|since start|\bepoch\b"
)


@dataclass(frozen=True)
class TimeGuess:
    """Which columns hold the time and how it is written. time_format: None where only the user can tell; why: for which reason

    asks: what he has to tell then
    """

    column: str | None
    date_column: str | None
    time_format: TimeFormat | None
    date_order: DateOrder | None
    why: Message
    asks: Question = "time format"


def looks_like_time(header: str) -> bool:
    return bool(re.search(_TIME_WORDS, header.strip().lower()))


def guess_time(table: TextTable, not_these: frozenset[str], expects_s: float | None) -> TimeGuess:
    """The time column of a log and how it is written.

    not_these: columns that are something else; expects_s: how long the run is said to have lasted, where anything is said
    """
    headers = [header for header in table.layout.headers if header not in not_these]
    named = [header for header in headers if looks_like_time(header)]
    candidates = named or [header for header in headers if _written_as_moment(_head(table, header))]
    sure: list[tuple[TimeGuess, float]] = []
    open_ones: list[TimeGuess] = []
    for header in candidates:
        if header != candidates[0] and _written_as_date(_head(table, header)):
            continue
        guess = _guess_column(table, header, candidates, expects_s)
        if guess is None:
            continue
        span = _span(table, guess)
        if guess.time_format is None or span is None:
            open_ones.append(guess)
        else:
            sure.append((guess, span))
    if not sure:
        return open_ones[0] if open_ones else TimeGuess(None, None, "seconds", None, message("no_time_column"))
    best, span = sure[0]
    for other, length in sure[1:]:
        # what counts to the thousandth is better than what counts whole seconds, as long as both say the same
        if abs(length - span) > 2.0 + 0.02 * span:
            why = message("times_disagree", first=best.column, first_s=span, second=other.column, second_s=length)
            return TimeGuess(best.column, best.date_column, None, best.date_order, why)
        if best.time_format in ("clock time", "date and time") and other.time_format in SECONDS:
            best = other
    return best


def _head(table: TextTable, header: str) -> pl.Series:
    return present(table.columns[table.layout.headers.index(header)].head(400)).drop_nulls()


def _written_as_moment(cells: pl.Series) -> bool:
    return len(cells) > 0 and bool((moments.is_clock(cells) | moments.is_date_and_time(cells)).mean() > 0.9)  # type: ignore[operator]


def _written_as_date(cells: pl.Series) -> bool:
    return len(cells) > 0 and bool(moments.is_date(cells).mean() > 0.9)  # type: ignore[operator]


def _guess_column(table: TextTable, header: str, all_named: list[str], expects_s: float | None) -> TimeGuess | None:
    cells = _head(table, header)
    if not len(cells):
        return None
    if moments.is_date_and_time(cells).mean() > 0.9:  # type: ignore[operator]
        whole = present(table.columns[table.layout.headers.index(header)])
        dated = moments.date_seconds(whole)
        if dated.order is None:
            return TimeGuess(header, None, None, None, message("day_or_month_first"), "day or month")
        return TimeGuess(header, None, "date and time", dated.order, message("dates_with_times"))
    if _written_as_date(cells):
        clock = next((h for h in table.layout.headers if h != header and _is_clock_column(_head(table, h))), None)
        if clock is None:
            return None
        dated = moments.date_seconds(_cells(table, header), None, _cells(table, clock))
        if dated.order is None:
            return TimeGuess(clock, header, None, None, message("day_or_month_first"), "day or month")
        return TimeGuess(clock, header, "date and time", dated.order, message("date_in_column", column=header))
    if cells.str.contains(":", literal=True).mean() > 0.9:  # type: ignore[operator]
        date = next((h for h in all_named if h != header and _written_as_date(_head(table, h))), None)
        if date is not None:
            return _guess_column(table, date, all_named, expects_s)
        form, why = _clock_format(cells)
        return TimeGuess(header, None, form, None, why)
    form, why = _number_format(table, header, expects_s)
    return TimeGuess(header, None, form, None, why)


def _is_clock_column(cells: pl.Series) -> bool:
    return len(cells) > 0 and bool(moments.is_clock(cells).mean() > 0.9)  # type: ignore[operator]


def _cells(table: TextTable, header: str) -> pl.Series:
    return present(table.columns[table.layout.headers.index(header)])


def _clock_format(cells: pl.Series) -> tuple[TimeFormat | None, Message]:
    """Hours or minutes first? Told by how many numbers there are, how large they are, and how they run."""
    if cells.str.contains(r"[AaPp]\.?[Mm]\.?$").any():
        return "clock time", message("am_and_pm")
    pieces = cells.str.split(":")
    most = int(pieces.list.len().max() or 0)  # type: ignore[arg-type]
    last = pieces.list.last()
    if most >= 4:
        return "clock time", message("clock_with_thousandths")
    if most == 3:
        # 05:09:250 is no clock: its last number counts thousandths
        counts = last.str.contains(r"^\d{3}$").all() or (last.cast(pl.Float64, strict=False) > 60).any()
        return (
            ("minutes:seconds", message("minutes_with_thousandths"))
            if counts
            else ("clock time", message("hours_minutes_seconds"))
        )
    first = pieces.list.first().cast(pl.Float64, strict=False)
    if last.str.contains(r"[.,]").any():
        return "minutes:seconds", message("last_has_fraction")
    if (first > 23).any():
        return "minutes:seconds", message("first_above_23")
    starts_at_zero = bool(re.fullmatch(r"0+:0[01]", cells[0]))
    moves = cells.n_unique() > 0.4 * len(cells)
    if starts_at_zero and moves and len(cells) > 3 and first.n_unique() < len(cells) / 3:
        return "minutes:seconds", message("begins_at_zero")
    return None, message("minutes_or_hours_first")


def _number_format(table: TextTable, header: str, expects_s: float | None) -> tuple[TimeFormat | None, Message]:
    """The unit of plain numbers: named, or told by their size, their steps and how long the run was."""
    read = read_numbers(table, table.layout.headers.index(header), "decimal")
    numbers = read.values[np.isfinite(read.values)]
    # of a long log only the head is whole; the rest is spread, and its steps are no readings' steps
    steps = np.diff(numbers[:WHOLE_HEAD])
    rising = steps[steps > 0]
    if not rising.size or np.median(steps) < 0:
        # whatever its unit: reading it says in which row it goes wrong
        return "seconds", message("times_do_not_rise")
    step, span, level = float(np.median(rising)), float(numbers[-1] - numbers[0]), float(np.median(numbers))
    cell_unit = next((unit for unit in read.units if unit), None) if read.units else None
    named = cell_unit or known_unit(table.unit_of(header)) or header_unit(header)
    form = _BY_UNIT.get(named or "")
    for epoch, size in _SINCE_1970:
        if not (_YEARS_S[0] * size <= level <= _YEARS_S[1] * size and _could_be(step / size, span / size)):
            continue
        if form in (None, epoch):
            return epoch, message("since_1970", unit=epoch)
        if not _could_be(step * SECONDS[form], span * SECONDS[form]):
            return epoch, message("since_1970_whatever_named", unit=epoch)
    if (
        form is None
        and _DAY_NUMBERS[0] <= level <= _DAY_NUMBERS[1]
        and step < 1.5e-3
        and _could_be(step * 86_400, span * 86_400)
    ):
        return "days", message("day_numbers")
    if form is not None:
        if _could_be(step * SECONDS[form], span * SECONDS[form]):
            return form, message("time_unit_named", unit=form)
        apart = {"step_s": step * SECONDS[form], "span_s": span * SECONDS[form]}
        return None, message("time_unit_cannot_be", unit=form, **apart)
    return _unnamed(step, span, expects_s)


def _could_be(step_s: float, span_s: float) -> bool:
    return CLOSEST_S <= step_s <= FURTHEST_S and span_s <= LONGEST_S


def _unnamed(step: float, span: float, expects_s: float | None) -> tuple[TimeFormat | None, Message]:
    """Numbers without a unit: by what a log of a run can be, then by how long the run is said to have lasted."""
    could: dict[TimeFormat, bool] = {
        "seconds": _could_be(step, span),
        "milliseconds": step >= 5 and _could_be(step / 1e3, span / 1e3) and span >= 1e3,
        "microseconds": step >= 5e3 and _could_be(step / 1e6, span / 1e6) and span >= 2e7,
        "nanoseconds": step >= 5e6 and _could_be(step / 1e9, span / 1e9) and span >= 2e10,
    }
    found = [form for form, may in could.items() if may]
    if len(found) > 1 and expects_s:
        near = [form for form in found if 0.5 <= span * SECONDS[form] / expects_s <= 2]
        far = [form for form in found if not 0.1 <= span * SECONDS[form] / expects_s <= 10]
        if len(near) == 1 and len(near) + len(far) == len(found):
            return near[0], message("covers_the_run", unit=near[0])
    if len(found) == 1:
        return found[0], message("only_unit_possible", unit=found[0])
    if "seconds" in found and step <= SURELY_SECONDS and (step < 5 or span / 1e3 < SURELY_LONG_S):
        return "seconds", message("too_close_in_thousandths")
    return None, message("seconds_or_thousandths" if found else "no_unit_possible")


def _span(table: TextTable, guess: TimeGuess) -> float | None:
    """How long a log covers as it is guessed, in seconds; None where it cannot be read so."""
    if guess.column is None or guess.time_format is None:
        return None
    seconds = seconds_of(table, guess.column, guess.date_column, guess.time_format, guess.date_order)
    seconds = seconds[np.isfinite(seconds)]
    if seconds.size < 2:
        return None
    return float(seconds[-1] - seconds[0])


def seconds_of(
    table: TextTable, column: str, date_column: str | None, form: TimeFormat, order: DateOrder | None
) -> Numbers:
    """The time of each row in seconds on one scale; NaN where the cell cannot be read so."""
    cells = _cells(table, column)
    if form in SECONDS:
        index = table.layout.headers.index(column)
        read = read_numbers(table, index, "decimal")
        factors = SECONDS[form]
        if read.units and any(unit in _BY_UNIT for unit in read.units):
            sizes = np.array([SECONDS[_BY_UNIT[unit]] if unit in _BY_UNIT else factors for unit in read.units])
            return np.asarray(read.values * sizes, dtype=np.float64)
        return np.asarray(read.values * factors, dtype=np.float64)
    if form == "date and time":
        dates, clocks = (_cells(table, date_column), cells) if date_column else (cells, None)
        return _floats(moments.date_seconds(dates, order, clocks).seconds)
    parsed = moments.minute_seconds(cells) if form == "minutes:seconds" else moments.clock_seconds(cells)
    return moments.over_midnight(_floats(parsed))


def _floats(series: pl.Series) -> Numbers:
    return series.fill_null(float("nan")).to_numpy().astype(np.float64)
