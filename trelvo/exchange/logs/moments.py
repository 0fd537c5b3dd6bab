"""Times as text: clock times, minutes and seconds, dates, as seconds on one scale."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
import polars as pl

Numbers = npt.NDArray[np.float64]
DateOrder = Literal["day first", "month first"]
HALF_A_DAY_S, DAY_S = 43_200.0, 86_400.0
_CLOCK = r"(\d{1,3}):(\d{1,2})(?::(\d{1,2})(?:([.,:])(\d{1,9}))?)?\s*(?:([AaPp])\.?[Mm]\.?)?"
_ZONE = r"\s*(Z|UTC|GMT)?([+-]\d\d):?(\d\d)?$"
_DATE = r"(\d{1,4})[-/. ]\s?(\d{1,2}|[A-Za-z]{3,9})[-/. ]\s?(\d{1,4})"
_COMPACT = r"^((?:19|20)\d{2})(0[1-9]|1[0-2])([0-3]\d)[T _-]?([0-2]\d):?([0-5]\d):?([0-5]\d)([.,]\d*)?$"
_MONTHS = {
    word: float(i + 1)
    for i, word in enumerate(("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"))
}


def is_clock(cells: pl.Series) -> pl.Series:
    return cells.str.contains(rf"^{_CLOCK}$")


def is_date(cells: pl.Series) -> pl.Series:
    return cells.str.contains(rf"^{_DATE}\.?$")


def is_date_and_time(cells: pl.Series) -> pl.Series:
    return cells.str.contains(rf"^{_DATE}\.?[T ,_]+\d{{1,2}}:") | cells.str.contains(_COMPACT)


def clock_seconds(cells: pl.Series) -> pl.Series:
    """Seconds since midnight of 14:05, 14:05:09, 14:05:09.250, 14:05:09:250 and 2:05:09 PM; null for anything else."""
    found = cells.str.extract_groups(rf"^{_CLOCK}$").struct
    hours, minutes = (found.field(name).cast(pl.Float64, strict=False) for name in ("1", "2"))
    whole = found.field("3").cast(pl.Float64, strict=False).fill_null(0.0)
    seconds = whole + _fraction(found.field("5"), found.field("4"))
    half = found.field("6").str.to_lowercase()
    twelve = half.is_not_null()
    hours = hours.zip_with(~twelve, hours % 12 + pl.Series((half == "p").fill_null(False).cast(pl.Float64)) * 12)
    total = hours * 3600 + minutes * 60 + seconds
    return total.set((minutes >= 60).fill_null(False) | (whole >= 60.5).fill_null(False), None)


def minute_seconds(cells: pl.Series) -> pl.Series:
    """Seconds of 05:09, 05:09.25 and 05:09:250 (the last three digits thousandths); null for anything else."""
    found = cells.str.extract_groups(r"^(\d+):(\d{1,2})(?:([.,:])(\d{1,9}))?$").struct
    minutes, seconds = (found.field(name).cast(pl.Float64, strict=False) for name in ("1", "2"))
    total = minutes * 60 + seconds + _fraction(found.field("4"), found.field("3"))
    return total.set((seconds >= 60).fill_null(False), None)


def _fraction(digits: pl.Series, sign: pl.Series) -> pl.Series:
    """The part of a second behind its sign: decimal digits, or thousandths counted behind a colon."""
    numbers = digits.cast(pl.Float64, strict=False)
    places = digits.str.len_chars().cast(pl.Float64)
    decimal = numbers / pl.Series(np.power(10.0, places.fill_null(0.0).to_numpy()))
    counted = numbers / 1000
    return counted.zip_with((sign == ":").fill_null(False), decimal).fill_null(0.0)


def over_midnight(seconds: Numbers) -> Numbers:
    """A drop of more than half a day is midnight, not time running backwards."""
    days = np.concatenate([[0], np.cumsum(np.diff(seconds) < -HALF_A_DAY_S)])
    return np.asarray(seconds + days * DAY_S, dtype=np.float64)


@dataclass(frozen=True)
class Dated:
    """Seconds on one scale, null where the cell is no date and time. order: which number was taken for the day; None where
    both readings give a log that could be, and not the same one"""

    seconds: pl.Series
    order: DateOrder | None


def date_seconds(cells: pl.Series, order: DateOrder | None = None, clocks: pl.Series | None = None) -> Dated:
    """Dates with times as seconds. Day or month first is told by the dates themselves, or by the gaps between readings.

    clocks: the times of day, where dates are in a column of their own; order: as the user says
    """
    cells = cells.str.replace(_COMPACT, "$1-$2-$3 $4:$5:$6$7")
    zone = cells.str.extract_groups(_ZONE).struct if clocks is None else None
    found = cells.str.extract_groups(rf"^{_DATE}\.?(?:[T ,_]+(.*?))?\s*$").struct
    first, middle, last = (found.field(name) for name in ("1", "2", "3"))
    if clocks is None:
        times = found.field("4").str.replace(_ZONE, "").str.replace(r"\s*(Z|UTC|GMT)$", "").str.strip_chars()
        time_s = clock_seconds(times)
    else:
        time_s = clock_seconds(clocks)
    if zone is not None and zone.field("2").n_unique() > 1:
        hours = zone.field("2").cast(pl.Float64, strict=False).fill_null(0.0)
        minutes = zone.field("3").cast(pl.Float64, strict=False).fill_null(0.0)
        signs = pl.Series(np.where(zone.field("2").fill_null("+").str.starts_with("-").to_numpy(), -1.0, 1.0))
        time_s = time_s - hours * 3600 - signs * minutes * 60
    named = middle.str.to_lowercase().str.slice(0, 3)
    month = named.replace_strict(_MONTHS, default=None, return_dtype=pl.Float64)
    a, b, c = (piece.cast(pl.Float64, strict=False) for piece in (first, middle, last))
    if month.is_not_null().any() or (a >= 32).any():
        year_first = bool((a >= 32).any())
        days = _days(
            a if year_first else c, month.fill_null(b) if month.is_not_null().any() else b, c if year_first else a
        )
        return Dated(days * DAY_S + time_s, "day first")
    by_day, by_month = _days(c, b, a) * DAY_S + time_s, _days(c, a, b) * DAY_S + time_s
    if order is not None:
        return Dated(by_day if order == "day first" else by_month, order)
    if (a > 12).any():
        return Dated(by_day, "day first")
    if (b > 12).any():
        return Dated(by_month, "month first")
    return _by_the_gaps(by_day, by_month)


def _by_the_gaps(by_day: pl.Series, by_month: pl.Series) -> Dated:
    """The order in which no reading is a day or more after the one before; both where the date never changes."""
    steps = [series.diff().drop_nulls() for series in (by_day, by_month)]
    could = [bool(((step >= 0) & (step < DAY_S)).all()) for step in steps]
    if could[0] and (not could[1] or bool((steps[0] == steps[1]).all())):
        return Dated(by_day, "day first")
    return Dated(by_month, "month first") if could[1] and not could[0] else Dated(by_day, None)


def _days(year: pl.Series, month: pl.Series, day: pl.Series) -> pl.Series:
    """Days since 1970 of dates; null where there is no such day. Years of two digits are of this century."""
    y, m, d = (numbers.to_numpy().astype(np.float64) for numbers in (year, month, day))
    y = np.where(y >= 100, y, y + 2000)
    there = np.isfinite(y) & np.isfinite(m) & np.isfinite(d) & (m >= 1) & (m <= 12) & (y < 10_000)
    months = np.where(there, (y - 1970) * 12 + m - 1, 0).astype(np.int64).astype("datetime64[M]")
    first = months.astype("datetime64[D]").astype(np.int64)
    length = (months + 1).astype("datetime64[D]").astype(np.int64) - first
    there &= (d >= 1) & (np.nan_to_num(d) <= length)
    return pl.Series(np.where(there, first + np.nan_to_num(d) - 1, np.nan)).fill_nan(None)
