"""A column's cells as numbers: decimal signs, marks between thousands, units behind each number, cells that say nothing.

What a mark is, is told by the column itself where it can be: 1234,5 and 0.75 have a decimal sign, 1.234.567 and 1.234,5 a mark
between thousands. A column in which every mark stands before exactly three digits tells nothing (1.800); then the rest of the
file, and what the quantity can be, decide, or the user is asked.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
import polars as pl

from trelvo.core.registry.quantities import QuantityFacts
from trelvo.exchange.logs.text_table import TextTable
from trelvo.exchange.logs.units import known_unit

Numbers = npt.NDArray[np.float64]
MISSING = [
    "", "n/a", "na", "nan", "null", "none", "-", "--", "---", "#n/a", "n.a.", "unknown", "err", "error", "not available",
    "not supported", "[n/a]", "[not supported]", "?", "inf", "+inf", "-inf", "infinity", "-infinity", "1.#inf", "-1.#inf",
    "1.#qnan", "-1.#ind", "#div/0!", "#value!", "#num!",
]  # fmt: skip
# Words in a column of nothing else: a flag that is up or down.
FLAGS = {
    "yes": 1.0, "no": 0.0, "true": 1.0, "false": 0.0, "on": 1.0, "off": 0.0, "active": 1.0, "inactive": 0.0,
    "throttled": 1.0, "not throttled": 0.0, "ja": 1.0, "nein": 0.0,
}  # fmt: skip
Mark = Literal["decimal", "thousands"]
# Cells that are looked at to tell what a mark is.
LOOKED_AT = 20_000
_PIECES = r"^([+-]?[\d.,' ]*\d[.,]?(?:[eE][+-]?\d+)?)\s*([^\d\s.,].*)?$"


@dataclass(frozen=True)
class Read:
    """A column as numbers. values: NaN where missing or unreadable; units: by row the unit behind the number, None where
    none is; unread: rows whose cell is no number; open_mark: the mark that may be one or the other, with the first such row"""

    values: Numbers
    missing: npt.NDArray[np.bool_]
    unread: npt.NDArray[np.bool_]
    units: list[str | None] | None
    open_mark: tuple[str, int] | None


def present(column: pl.Series) -> pl.Series:
    """Cells without outer spaces, in one way of writing signs and spaces; null where nothing was read."""
    cells = column.str.strip_chars()
    if not _plain(cells):
        cells = (
            cells.str.replace_all("[\u00a0\u2009\u202f]", " ")
            .str.replace_all("[’`´]", "'")
            .str.replace("−", "-", literal=True)
        )
        cells = cells.str.strip_chars()
    return cells.set(cells.str.to_lowercase().is_in(MISSING), None)


def _plain(cells: pl.Series) -> bool:
    return bool((cells.str.len_bytes() == cells.str.len_chars()).all())


def read_numbers(table: TextTable, index: int, mark: Mark | None = None) -> Read:
    """A column as numbers.

    mark: what a mark that may be either is taken for; None leaves it open
    """
    raw = table.columns[index]
    fast = _fast(raw, table.layout.decimal)
    if fast is not None:
        return Read(fast, raw.is_null().to_numpy(), np.zeros(len(raw), dtype=bool), None, None)
    cells = present(raw)
    missing = cells.is_null().to_numpy()
    fast = _fast(cells, table.layout.decimal)
    if fast is None:
        fast = _flags(cells)
    if fast is not None:
        return Read(fast, missing, np.zeros(len(cells), dtype=bool), None, None)
    pieces = cells.str.extract_groups(_PIECES).struct
    digits, units = pieces.field("1"), pieces.field("2").str.strip_chars()
    grouped = digits.str.contains(r"^[+-]?\d{1,3}([' ]\d{3})+([.,]\d+)?$").fill_null(False)
    spaced = digits.str.contains(r"[' ]").fill_null(False)
    digits = digits.set(spaced & ~grouped, None).str.replace_all(r"[' ]", "")
    open_mark = None
    clash = _clash(digits)
    if clash is not None:
        # 1.905 and 1,905 in one column: both are the same, or nobody knows
        open_mark = None if mark else (".", clash)
        digits = digits.str.replace_all(r"[.,]", "" if mark != "decimal" else ".")
    for sign in "" if clash is not None else ".,":
        digits, doubtful = _settled(digits, sign, table.layout.decimal, mark)
        if doubtful is not None:
            open_mark = (sign, doubtful)
    values = digits.str.replace(",", ".", literal=True).cast(pl.Float64, strict=False)
    named = _known(units)
    unknown = units.is_not_null() & pl.Series(
        [word is None and unit is not None for word, unit in zip(named, units, strict=True)], dtype=pl.Boolean
    )
    values = values.set(unknown | values.is_infinite().fill_null(False), None)
    unread = (values.is_null() & cells.is_not_null()).to_numpy()
    numbers = values.to_numpy().astype(np.float64)
    return Read(numbers, missing, unread, named if units.is_not_null().any() else None, open_mark)


def _flags(cells: pl.Series) -> Numbers | None:
    """A column of yes and no as ones and zeros; None for any other."""
    words = cells.drop_nulls().str.to_lowercase().unique()
    if not len(words) or len(words) > 4 or not words.is_in(list(FLAGS)).all():
        return None
    return (
        cells.str.to_lowercase()
        .replace_strict(FLAGS, default=None, return_dtype=pl.Float64)
        .to_numpy()
        .astype(np.float64)
    )


def _clash(digits: pl.Series) -> int | None:
    """The first row of a column in which a point stands before three digits in one cell, and a comma in another."""
    either = {sign: digits.str.contains(rf"^[+-]?[1-9]\d{{0,2}}\{sign}\d{{3}}$").fill_null(False) for sign in ".,"}
    if not (either["."].any() and either[","].any()):
        return None
    return int(either["."].arg_true()[0])


def _fast(cells: pl.Series, decimal: str) -> Numbers | None:
    """Plain numbers without doubt, or None. Most columns of most logs."""
    if decimal == "," and cells.str.contains(".", literal=True).any():
        return None
    plain = cells.str.replace(",", ".", literal=True) if decimal == "," else cells
    values = plain.cast(pl.Float64, strict=False)
    if values.null_count() > cells.null_count() or not values.drop_nulls().is_finite().all():
        return None
    # a point that can only be a decimal sign: before three digits and after one to three it may be either
    certain = r"^[+-]?(0?|\d{4,})\.|\.(\d{1,2}|\d{4,})?([eE].*)?$"
    # the first readings tell, nearly always
    if not plain.head(LOOKED_AT).str.contains(certain).any():
        marked = plain.str.contains(".", literal=True)
        if marked.any() and not plain.str.contains(certain).any():
            return None
    return values.to_numpy().astype(np.float64)


def _settled(digits: pl.Series, sign: str, decimal: str, mark: Mark | None) -> tuple[pl.Series, int | None]:
    """Digits with one sign settled: taken out where it stands between thousands; and the first row where it is open."""
    other = "." if sign == "," else ","
    has = digits.str.contains(sign, literal=True).fill_null(False)
    if not has.any():
        return digits, None
    # both in one number: the later one is the decimal sign
    both = has & digits.str.contains(other, literal=True).fill_null(False)
    before = digits.str.contains(rf"^[+-]?\d{{1,3}}(\{sign}\d{{3}})+\{other}\d*$").fill_null(False)
    many = digits.str.contains(rf"^[+-]?\d{{1,3}}(\{sign}\d{{3}}){{2,}}$").fill_null(False)
    single = has & ~both & ~many
    may_be_either = digits.str.contains(rf"^[+-]?[1-9]\d{{0,2}}\{sign}\d{{3}}$").fill_null(False)
    surely_decimal = single & ~may_be_either
    joined = digits.str.replace_all(sign, "", literal=True)
    take_out = before | many
    # both signs, and this one neither leads nor ends rightly: no number
    after = digits.str.contains(rf"^[+-]?\d{{1,3}}(\{other}\d{{3}})+\{sign}\d*$").fill_null(False)
    digits = digits.set(both & ~before & ~after, None)
    open_rows = single & may_be_either
    if open_rows.any():
        verdict = _verdict(
            digits=digits,
            sign=sign,
            other=other,
            decimal=decimal,
            mark=mark,
            surely_decimal=surely_decimal,
            thousands=take_out,
            has=has,
        )
        if verdict is None:
            return digits.set(take_out, None).zip_with(~take_out, joined), int(open_rows.arg_true()[0])
        if verdict == "thousands":
            take_out = take_out | open_rows
    return digits.zip_with(~take_out, joined), None


def _verdict(
    digits: pl.Series,
    sign: str,
    other: str,
    decimal: str,
    mark: Mark | None,
    surely_decimal: pl.Series,
    thousands: pl.Series,
    has: pl.Series,
) -> Mark | None:
    """What a mark before three digits is, by the rest of the column; then as the user says; None where nothing tells."""
    if surely_decimal.any():
        return "decimal"
    if thousands.any() or digits.str.contains(rf"\{other}(\d{{1,2}}|\d{{4,}})$").any():
        return "thousands"
    bare = digits.filter(~has & digits.is_not_null()).cast(pl.Float64, strict=False).drop_nulls()
    if bare.len():
        # 985 beside 1.005: no column of decimals leaps a hundredfold, and none of thousands writes 1800 without its mark
        if (bare.abs() >= 1000).any():
            return "decimal"
        if (bare.abs() >= 100).mean() > 0.5:  # type: ignore[operator]
            return "thousands"
    return mark


def _known(units: pl.Series) -> list[str | None]:
    """The known unit of each row; None for none and for words that are no unit."""
    spelled = {word: known_unit(word) for word in units.unique().drop_nulls()}
    return [spelled[word] if word is not None else None for word in units]


def in_own_unit(read: Read, kind: QuantityFacts, unit: str | None) -> Numbers:
    """A column in its quantity's own unit. unit: what cells without a unit of their own are in; None for the own unit"""
    units = kind.units()
    factor, offset = units[unit or kind.unit]
    if not read.units:
        return np.asarray(read.values * factor + offset, dtype=np.float64)
    scales = np.array([units.get(one or "", (factor, offset)) for one in read.units])
    return np.asarray(read.values * scales[:, 0] + scales[:, 1], dtype=np.float64)
