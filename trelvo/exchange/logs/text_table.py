"""Reads a text table as it comes from any logging program: finds separator, decimal sign, column names and units.

Nothing is interpreted here: every cell stays text, and its line in the file is known, for messages that name it.
"""

import csv
import io
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt
import polars as pl

from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.limits import LOG_COLUMNS, LOG_ROWS, MOST_CELL
from trelvo.exchange.logs.encoding import as_utf8
from trelvo.exchange.logs.units import known_unit

SEPARATORS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
SAMPLE_LINES = 60
# Lines at the end that may be sums and means below the readings.
FOOT_LINES = 40
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
# A cell that holds a reading, a time or a date, or says that nothing was read.
_VALUE = re.compile(r"^[+\-−]?[\d.,]+([ '’\u00a0\u2009\u202f]\d{3})*([.,]\d+)?([eE][+-]?\d+)?\s*[^\d\s]{0,6}$")
_MOMENT = re.compile(r"^\d{1,4}[-/.:]\d{1,2}([-/.:T ]|$)|^\d{1,2}[-/. ][A-Za-z]{3}")
_NOTHING = frozenset({"n/a", "na", "nan", "null", "none", "-", "--", "---", "#n/a", "n.a.", "unknown", "err", "error"})


@dataclass(frozen=True)
class Layout:
    """How the file is written. header_line counts from 0, -1 where there is none; notes say what was assumed.

    units: what a row of units below the column names says of each column, empty where it says nothing
    """

    separator: str
    decimal: str
    header_line: int
    headers: tuple[str, ...]
    notes: tuple[Message, ...]
    units: tuple[str, ...] = ()


@dataclass(frozen=True)
class TextTable:
    """All cells as text, in the order of the file. cut_short: cells on the last line when it has too few, else None.

    lines: the line in the file (from 1) of each row
    """

    layout: Layout
    columns: tuple[pl.Series, ...]
    cut_short: int | None
    lines: npt.NDArray[np.int64] = field(repr=False)

    @property
    def rows(self) -> int:
        return len(self.columns[0])

    def line(self, index: int) -> int:
        """Line number in the file (from 1) of data row `index` (from 0)."""
        return int(self.lines[index])

    def unit_of(self, header: str) -> str:
        """What the row of units says of a column; empty where there is none."""
        return self.layout.units[self.layout.headers.index(header)] if self.layout.units else ""


def read_table(data: bytes, separator: str | None = None, decimal: str | None = None) -> TextTable:
    """Reads all of `data`; separator and decimal sign are found out where not given.

    Raises Refused for empty or binary files, files with no table in them, rows with too many cells, and cells that are too long.
    """
    text, notes = as_utf8(data)
    try:
        return _read_text(text, notes, separator, decimal)
    except csv.Error as trouble:
        raise Refused(Problem("file", "cell_unreadable", {"reason": trouble, "most": MOST_CELL})) from trouble


def _read_text(text: bytes, notes: Sequence[Message], separator: str | None, decimal: str | None) -> TextTable:
    notes = list(notes)
    try:
        layout, first_line = _find_layout(text, separator, decimal, notes)
        return _read_cells(text, layout, first_line)
    except Refused:
        # some programs write separators behind the last cell
        trimmed = re.sub(rb"[,;\t|]+[ ]*(?=\n|$)", b"", text)
        if trimmed == text:
            raise
        try:
            notes.append(message("last_separators_left_out"))
            layout, first_line = _find_layout(trimmed, separator, decimal, notes)
            return _read_cells(trimmed, layout, first_line)
        except Refused:
            pass
        raise


def _find_layout(text: bytes, separator: str | None, decimal: str | None, notes: list[Message]) -> tuple[Layout, int]:
    """The layout, and the line (from 0) at which readings begin."""
    head = text[: 1024 * 1024].decode("utf-8", errors="ignore").split("\n", SAMPLE_LINES)[:SAMPLE_LINES]
    if separator is None:
        separator = _find_separator(head)
    elif separator not in SEPARATORS:
        raise Refused(Problem("separator", "unknown_separator", {"separator": separator}))
    rows = [next(csv.reader([line], delimiter=separator), []) for line in head]
    width = _usual_width(Counter(len(row) for row in rows if row))
    if width < 2 and len(head) > 0 and not _single_column_of_numbers(rows):
        raise Refused(Problem("separator", "one_cell_a_line", {"separator": SEPARATORS[separator]}))
    names, units, first_line = _names_and_units(rows, width)
    if names is None and width == 1:
        # bare numbers, one a line
        bare = Layout(separator, decimal or _find_decimal(rows, separator), -1, ("column 1",), tuple(notes))
        return bare, 0
    if names is None:
        raise Refused(Problem("file", "no_column_names"))
    if width > LOG_COLUMNS:
        raise Refused(Problem("file", "too_many_columns", {"count": width, "most": LOG_COLUMNS}))
    if decimal is None:
        decimal = _find_decimal(rows[first_line:], separator)
    titles, above = _titles(rows, names, width)
    headers = _distinct([cell or f"column {i + 1}" for i, cell in enumerate(titles)])
    if above:
        notes.append(message("lines_above_names", lines=above))
    if units:
        notes.append(message("line_names_units", line=first_line))
    return Layout(separator, decimal, names, tuple(headers), tuple(notes), tuple(units)), first_line


def _names_and_units(rows: list[list[str]], width: int) -> tuple[int | None, list[str], int]:
    """Lines (from 0) of the column names and of the first reading, and the units between them, where there are any."""
    full = [i for i, row in enumerate(rows) if len(row) in (width, width - 1) and any(cell.strip() for cell in row)]
    first = next((i for i in full if len(rows[i]) == width and _is_reading(rows[i])), None)
    if first is None:
        # no reading in sight: the first full line is taken for the names
        named = [i for i in full if len(rows[i]) == width and not any(_NUMBER.match(c.strip()) for c in rows[i])]
        return (named[0], [], named[0] + 1) if named else (None, [], 0)
    # a reading in words ("warm") is still a reading: the names stand where no cell is a number
    above = [i for i in full if i < first and not any(_NUMBER.match(cell.strip()) for cell in rows[i])]
    if not above or (
        len(rows[above[-1]]) < width and any(rows[i][-1].strip() for i in full if i >= first and len(rows[i]) == width)
    ):
        return None, [], 0
    last = above[-1]
    found = [known_unit(cell) or "" for cell in rows[last]]
    cells = [cell.strip() for cell in rows[last]]
    if (
        len(above) > 1
        and all(not cell or unit or cell in "[]()-" for cell, unit in zip(cells, found, strict=True))
        and any(found)
    ):
        return above[-2], found + [""] * (width - len(found)), last + 1
    return last, [], last + 1


def _is_reading(row: list[str]) -> bool:
    """Whether more than half of a line's cells are numbers, times or dates."""
    cells = [cell.strip() for cell in row if cell.strip()]
    values = sum(bool(_VALUE.match(cell) or _MOMENT.match(cell)) for cell in cells)
    nothing = sum(cell.lower() in _NOTHING for cell in cells)
    return values > 0 and 2 * (values + nothing) >= len(cells)


def _titles(rows: list[list[str]], names: int, width: int) -> tuple[list[str], int]:
    """The column names, and how many lines above them say nothing. Names that stand twice take the group's name above them."""
    own = [cell.strip() for cell in rows[names]] + [""] * (width - len(rows[names]))
    group_line = names - 1
    if len({name for name in own if name}) == sum(1 for name in own if name) or group_line < 0:
        return own, names
    groups = [cell.strip() for cell in rows[group_line]]
    if len(groups) != width or not any(groups) or all(groups) or _is_reading(rows[group_line]):
        return own, names
    spread, current = [], ""
    for cell in groups:
        current = cell or current
        spread.append(current)
    return [f"{group} {name}".strip() for group, name in zip(spread, own, strict=True)], group_line


def _find_separator(head: list[str]) -> str:
    """The separator that cuts most lines into the same number of cells, more cells before fewer."""
    if len(head) > 1 and "," not in head[0] and all(
        re.match(r"^\s*[+-]?\d+,\d+\s*$", line) for line in head[1:] if line.strip()
    ):  # fmt: skip
        # one column of numbers with a decimal comma, not two columns
        return ";"

    def score(separator: str) -> tuple[float, int]:
        widths = Counter(len(next(csv.reader([line], delimiter=separator), [])) for line in head if line.strip())
        width = _usual_width(widths)
        return (widths[width] if width > 1 else 0, width)

    return max(SEPARATORS, key=score)


def _usual_width(widths: Counter[int]) -> int:
    """The number of cells that most lines have; lines of a single cell are no table while others have more."""
    return max(widths, key=lambda width: (widths[width] if width > 1 else 0, width), default=0)


def _find_decimal(rows: list[list[str]], separator: str) -> str:
    """The sign that must be decimal in more cells: not one that may stand between thousands, unless there is nothing else."""
    cells = [cell.strip() for row in rows for cell in row]
    sure = {mark: sum(_surely_decimal(cell, mark) for cell in cells) for mark in ".,"}
    if sure[","] == sure["."]:
        sure = {mark: sum(bool(re.match(rf"^[+-]?\d+\{mark}\d+$", cell)) for cell in cells) for mark in ".,"}
    return "," if sure[","] > sure["."] else "."


def _surely_decimal(cell: str, mark: str) -> bool:
    found = re.match(rf"^[+-]?(\d*)\{mark}(\d+)(\s*\D.*)?$", cell)
    if found is None:
        return False
    return not (len(found[2]) == 3 and 1 <= len(found[1]) <= 3 and not found[1].startswith("0"))


def _single_column_of_numbers(rows: list[list[str]]) -> bool:
    cells = [row[0].strip() for row in rows if row][1:]
    return bool(cells) and sum(bool(_NUMBER.match(cell)) for cell in cells) > len(cells) / 2


def _distinct(names: list[str]) -> list[str]:
    """Names made different, also from names that already look like the second of another."""
    out: list[str] = []
    for name in names:
        title, count = name, 1
        while title in out:
            count += 1
            title = f"{name} ({count})"
        out.append(title)
    return out


def _read_cells(text: bytes, layout: Layout, first_line: int) -> TextTable:
    width = len(layout.headers)
    body = _after_line(text, first_line - 1).rstrip(b"\n ")
    if not body.strip():
        raise Refused(Problem("file", "no_rows"))
    foot: list[str] = []
    try:
        frame = _cells(body, layout)
    except pl.exceptions.PolarsError as trouble:
        body, foot = _without_foot(body, layout, first_line, trouble)
        frame = _cells(body, layout)
    if frame.height > LOG_ROWS:
        raise Refused(Problem("file", "too_many_rows", {"count": frame.height, "most": LOG_ROWS}))
    lines = np.arange(frame.height, dtype=np.int64) + first_line + 1
    last_row = body.rsplit(b"\n", 1)[-1].decode("utf-8", errors="replace")
    cells = len(next(csv.reader([last_row], delimiter=layout.separator), []))
    kept, notes, more_foot = _readings_only(frame, layout)
    if kept is not None:
        frame, lines = frame.filter(kept), lines[kept.to_numpy()]
    foot = more_foot or foot
    if foot:
        notes.append(message("below_readings", words=foot[0][:40], more=len(foot) > 1))
    if not frame.height:
        raise Refused(Problem("file", "no_rows"))
    columns = tuple(frame[str(i)] for i in range(width))
    layout = Layout(**{**layout.__dict__, "notes": (*layout.notes, *notes)})
    # a program that leaves out empty cells at the end leaves them out everywhere
    cut = cells < width and not foot and _usually_full(columns[-1])
    return TextTable(layout, columns, cells if cut else None, lines)


def _cells(body: bytes, layout: Layout) -> pl.DataFrame:
    return pl.read_csv(
        io.BytesIO(body),
        has_header=False,
        separator=layout.separator,
        schema={str(i): pl.String for i in range(len(layout.headers))},
        truncate_ragged_lines=False,
    )


def _usually_full(last: pl.Series) -> bool:
    before = last.head(len(last) - 1)
    return len(before) == 0 or before.null_count() < len(before)


def _readings_only(frame: pl.DataFrame, layout: Layout) -> tuple[pl.Series | None, list[Message], list[str]]:
    """Which rows are readings (None: all), what was passed over, and the lines at the end that are sums."""
    if frame["0"].cast(pl.Float64, strict=False).null_count() == 0:
        # numbers to the end: no names, blanks, remarks or sums between them
        return None, [], []
    firsts = frame["0"].fill_null("").str.strip_chars()
    notes: list[Message] = []
    names = pl.Series([False]).new_from_index(0, frame.height)
    if frame.width > 1 or layout.header_line >= 0:
        names = pl.Series([True]).new_from_index(0, frame.height)
        for i, header in enumerate(layout.headers[: min(frame.width, 4)]):
            cells = frame[str(i)].fill_null("").str.strip_chars()
            names &= (cells == re.sub(r" \(\d+\)$", "", header)) | (cells == header)
    blank = firsts == ""
    if blank.any():
        for name in frame.columns[1:]:
            blank &= frame[name].fill_null("").str.strip_chars() == ""
        if frame.width == 1:
            # in a single column an empty cell is a reading that is missing
            blank = names.clone() & False
    remarks = firsts.str.contains(r"^(#|//|;)") & ~firsts.str.contains(r"^#\d")
    if names.any():
        notes.append(message("names_repeated", times=int(names.sum())))
    if remarks.any():
        notes.append(message("remarks_inside", lines=int(remarks.sum())))
    drop = names | blank | remarks
    foot = _foot(frame, drop)
    if foot:
        tail = pl.Series(np.arange(frame.height) >= frame.height - foot)
        words = [
            " ".join(cell for cell in row if cell).strip()
            for row, gone in zip(frame.tail(foot).rows(), drop.tail(foot), strict=True)
            if not gone
        ]
        return ~(drop | tail), notes, words
    return (~drop if drop.any() else None), notes, []


def _foot(frame: pl.DataFrame, drop: pl.Series) -> int:
    """How many rows at the end are no readings: where a column that else always begins with a digit does not."""
    head = frame.filter(~drop).head(400)
    for name in frame.columns[:3]:
        cells = head[name].drop_nulls().str.strip_chars()
        if len(head) < 4 or len(cells) < 0.9 * len(head) or cells.str.contains(r"^[+-]?[\d.,]").mean() < 0.95:  # type: ignore[operator]
            continue
        tail = frame[name].tail(FOOT_LINES).fill_null("").str.strip_chars().str.contains(r"^[+-]?[\d.,]")
        gone = drop.tail(FOOT_LINES)
        count = 0
        for reads, dropped in zip(reversed(tail.to_list()), reversed(gone.to_list()), strict=True):
            if reads and not dropped:
                break
            count += 1
        lines = gone.tail(count).to_list() if count else []
        return count if count < frame.height and not all(lines) else 0
    return 0


def _without_foot(
    body: bytes, layout: Layout, first_line: int, trouble: pl.exceptions.PolarsError
) -> tuple[bytes, list[str]]:
    """The readings without lines at the end that have too many cells; any other such line is refused."""
    lines = body.split(b"\n")
    refusal = _ragged(body, layout, first_line)
    first = refusal[1]
    if first is None or first < max(len(lines) - FOOT_LINES, 3):
        raise refusal[0] from trouble
    rest = [line.decode("utf-8", errors="replace") for line in lines[first:]]
    if any(re.match(r"^\s*[\d.,]", line) for line in rest):
        raise refusal[0] from trouble
    return b"\n".join(lines[:first]).rstrip(b"\n "), [line.strip() for line in rest if line.strip()]


def _after_line(text: bytes, line: int) -> bytes:
    position = 0
    for _ in range(line + 1):
        position = text.find(b"\n", position) + 1
        if position == 0:
            return b""
    return text[position:]


def _ragged(body: bytes, layout: Layout, first_line: int) -> tuple[Refused, int | None]:
    """Finds, slowly, the row that the fast reader stumbled over, and its place in the body."""
    width = len(layout.headers)
    lines = io.StringIO(body.decode("utf-8", errors="replace"))
    for index, row in enumerate(csv.reader(lines, delimiter=layout.separator)):
        if len(row) > width:
            problem = Problem(f"row {first_line + 1 + index}", "ragged_row", {"cells": len(row), "columns": width})
            return Refused(problem), index
    return Refused(Problem("file", "open_quote")), None
