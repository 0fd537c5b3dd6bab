"""Reads a text table as it comes from any logging program: finds encoding, separator, decimal sign and header line.

Nothing is interpreted here: every cell stays text, and its row number in the file is known, for messages that name it.
"""

import codecs
import csv
import io
import re
from collections import Counter
from dataclasses import dataclass

import polars as pl

from trelvo.core.base.problems import Problem, Refused
from trelvo.exchange.limits import LOG_COLUMNS, LOG_ROWS

SEPARATORS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
SAMPLE_LINES = 60
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")


@dataclass(frozen=True)
class Layout:
    """How the file is written. header_line counts from 0, -1 where there is none; notes say what was assumed."""

    separator: str
    decimal: str
    header_line: int
    headers: tuple[str, ...]
    notes: tuple[str, ...]

    def row_number(self, index: int) -> int:
        """Line number in the file (from 1) of data row `index` (from 0)."""
        return self.header_line + 2 + index


@dataclass(frozen=True)
class TextTable:
    """All cells as text, in the order of the file. cut_short: cells on the last line when it has too few, else None."""

    layout: Layout
    columns: tuple[pl.Series, ...]
    cut_short: int | None

    @property
    def rows(self) -> int:
        return len(self.columns[0])


def read_table(data: bytes, separator: str | None = None, decimal: str | None = None) -> TextTable:
    """Reads all of `data`; separator and decimal sign are found out where not given.

    Raises Refused for empty or binary files, files with no table in them, and rows with too many cells.
    """
    text, notes = _as_utf8(data)
    layout = _find_layout(text, separator, decimal, notes)
    columns, cut_short = _read_cells(text, layout)
    return TextTable(layout, columns, cut_short)


def _as_utf8(data: bytes) -> tuple[bytes, list[str]]:
    if not data:
        raise Refused(Problem("file", "The file is empty (0 bytes).", "Check that the logging program had finished."))
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        try:
            return data.decode("utf-16").encode(), ["Read as UTF-16."]
        except UnicodeDecodeError:
            pass
    data = data.removeprefix(codecs.BOM_UTF8)
    head = data[:65536]
    control = sum(byte < 32 and byte not in (9, 10, 12, 13) for byte in head)
    if b"\0" in data or control > len(head) * 0.01:
        raise Refused(
            Problem("file", "This is not a text file.", "Save or export the log as CSV, then drop that file here.")
        )
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace").encode(), ["Not UTF-8; read as Windows-1252."]
    return data, []


def _find_layout(text: bytes, separator: str | None, decimal: str | None, notes: list[str]) -> Layout:
    head = text[: 1024 * 1024].decode("utf-8", errors="ignore").splitlines()[:SAMPLE_LINES]
    if separator is None:
        separator = _find_separator(head)
    elif separator not in SEPARATORS:
        raise Refused(Problem("separator", f"{separator!r} is no separator.", "Choose comma, semicolon, tab or bar."))
    rows = [next(csv.reader([line], delimiter=separator), []) for line in head]
    width = _usual_width(Counter(len(row) for row in rows if row))
    if width < 2 and len(text.splitlines()) > 0 and not _single_column_of_numbers(rows):
        raise Refused(
            Problem(
                "separator",
                f"With {SEPARATORS[separator]} as separator every line is one single cell.",
                "Choose another separator, or check that this is a table.",
            )
        )
    header_line = next(
        (i for i, row in enumerate(rows) if len(row) == width and not any(_NUMBER.match(c.strip()) for c in row)), None
    )
    if header_line is None and width == 1:
        # bare numbers, one a line
        return Layout(separator, decimal or _find_decimal(rows, separator), -1, ("column 1",), tuple(notes))
    if header_line is None:
        raise Refused(
            Problem("file", "No line with column names was found.", "Add a first line that names the columns.")
        )
    if width > LOG_COLUMNS:
        raise Refused(
            Problem("file", f"There are {width} columns; {LOG_COLUMNS} is the most.", "Log fewer channels at once.")
        )
    if decimal is None:
        decimal = _find_decimal(rows[header_line + 1 :], separator)
    headers = _distinct([cell.strip() or f"column {i + 1}" for i, cell in enumerate(rows[header_line])])
    if header_line:
        notes.append(f"{header_line} line{'s' if header_line > 1 else ''} above the column names passed over.")
    return Layout(separator, decimal, header_line, tuple(headers), tuple(notes))


def _find_separator(head: list[str]) -> str:
    """The separator that cuts most lines into the same number of cells, more cells before fewer."""
    if len(head) > 1 and "," not in head[0] and all(re.match(r"^\s*[+-]?\d+,\d+\s*$", line) for line in head[1:]):
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
    cells = [cell.strip() for row in rows for cell in row]
    commas = sum(bool(re.match(r"^[+-]?\d+,\d+$", cell)) for cell in cells)
    points = sum(bool(re.match(r"^[+-]?\d+\.\d+$", cell)) for cell in cells)
    return "," if commas > points else "."


def _single_column_of_numbers(rows: list[list[str]]) -> bool:
    cells = [row[0].strip() for row in rows if row][1:]
    return bool(cells) and sum(bool(_NUMBER.match(cell)) for cell in cells) > len(cells) / 2


def _distinct(names: list[str]) -> list[str]:
    seen: Counter[str] = Counter()
    out = []
    for name in names:
        seen[name] += 1
        out.append(name if seen[name] == 1 else f"{name} ({seen[name]})")
    return out


def _read_cells(text: bytes, layout: Layout) -> tuple[tuple[pl.Series, ...], int | None]:
    width = len(layout.headers)
    names = [str(i) for i in range(width)]
    body = _after_line(text, layout.header_line).rstrip(b"\r\n ")
    if not body.strip():
        raise Refused(Problem("file", "There are column names but no rows.", "Check that the log had been written."))
    try:
        frame = pl.read_csv(
            io.BytesIO(body),
            has_header=False,
            separator=layout.separator,
            schema=dict.fromkeys(names, pl.String),
            truncate_ragged_lines=False,
        )
    except pl.exceptions.PolarsError as trouble:
        raise _ragged(body, layout) from trouble
    if frame.height > LOG_ROWS:
        raise Refused(
            Problem("file", f"There are {frame.height:,} rows; {LOG_ROWS:,} is the most.", "Split the log in parts.")
        )
    last = body.rsplit(b"\n", 1)[-1].decode("utf-8", errors="replace")
    cells = len(next(csv.reader([last], delimiter=layout.separator), []))
    return tuple(frame[name] for name in names), cells if cells < width else None


def _after_line(text: bytes, line: int) -> bytes:
    position = 0
    for _ in range(line + 1):
        position = text.find(b"\n", position) + 1
        if position == 0:
            return b""
    return text[position:]


def _ragged(body: bytes, layout: Layout) -> Refused:
    """Finds, slowly, the row that the fast reader stumbled over."""
    width = len(layout.headers)
    lines = io.StringIO(body.decode("utf-8", errors="replace"))
    for index, row in enumerate(csv.reader(lines, delimiter=layout.separator)):
        if len(row) > width:
            return Refused(
                Problem(
                    f"row {layout.row_number(index)}",
                    f"There are {len(row)} cells, but {width} column names.",
                    "Check the separator and the decimal sign; a decimal comma needs another separator or quotes.",
                )
            )
    return Refused(
        Problem("file", "The table cannot be read; a quotation mark may be left open.", "Check the quotes in the file.")
    )
