"""What the user says about a log's columns, and the guess that is offered first."""

import hashlib
import re
from typing import Literal

from pydantic import BaseModel

from trelvo.core.logs import Quantity
from trelvo.core.power import Point
from trelvo.exchange.quantities import FRAME_TIME, guess_quantity, guess_unit, looks_like_frame_time, looks_like_time
from trelvo.exchange.text_table import TextTable

TimeFormat = Literal["seconds", "milliseconds", "clock time", "date and time"]
Kind = Literal["telemetry", "frames"]


class ColumnChoice(BaseModel):
    """One column that is to be read, by its header."""

    header: str
    quantity: Quantity = "other"
    unit: str = ""


class LogChoice(BaseModel):
    """Which column is what: `frame_column` is the time per frame, `columns` the channels of telemetry."""

    kind: Kind
    separator: str | None = None
    decimal: Literal[".", ","] | None = None
    time_column: str | None = None
    time_format: TimeFormat = "seconds"
    frame_column: str | None = None
    frame_unit: str = "ms"
    columns: list[ColumnChoice] = []
    power_point: Point = "software"
    missing: Literal["refuse", "leave out"] = "refuse"
    last_line: Literal["refuse", "drop"] = "refuse"


def headers_mark(headers: tuple[str, ...]) -> str:
    """A short mark that is the same for every file with these headers."""
    return hashlib.sha256("\x1f".join(headers).encode()).hexdigest()


def guess_choice(table: TextTable) -> LogChoice:
    """What the columns probably are, from their headers and first cells. Only a guess: the user confirms it."""
    headers = table.layout.headers
    frame_column = next((header for header in headers if looks_like_frame_time(header)), None)
    time_column = next((h for h in headers if looks_like_time(h) and h != frame_column), None)
    cells = {header: _first_cell(table, index) for index, header in enumerate(headers)}
    choice = LogChoice(
        kind="frames" if frame_column else "telemetry",
        separator=table.layout.separator,
        decimal="," if table.layout.decimal == "," else ".",
        time_column=time_column,
        time_format=_guess_time_format(time_column or "", cells.get(time_column or "", "")),
        frame_column=frame_column,
        frame_unit=_guess_frame_unit(frame_column or ""),
    )
    for header in headers:
        if header not in (frame_column, time_column) and _reads_as_number(cells[header]):
            quantity = guess_quantity(header)
            choice.columns.append(ColumnChoice(header=header, quantity=quantity, unit=guess_unit(header, quantity)))
    return choice


def _first_cell(table: TextTable, index: int) -> str:
    cells = (cell.strip() for cell in table.columns[index].head(20) if cell)
    return next((cell for cell in cells if cell), "")


def _reads_as_number(cell: str) -> bool:
    return bool(re.match(r"^[+-]?[\d.,]+([eE][+-]?\d+)?$", cell))


def _guess_time_format(header: str, cell: str) -> TimeFormat:
    if re.search(r"\d[-/.]\d+[-/.]\d+[ T,]+\d+:\d", cell):
        return "date and time"
    if ":" in cell:
        return "clock time"
    return "milliseconds" if re.search(r"\bms\b|_ms$|milli", header.lower()) else "seconds"


def _guess_frame_unit(header: str) -> str:
    lowered = header.lower()
    if re.search(r"µs|\bus\b|_us$|micro", lowered):
        return "µs"
    return "s" if re.search(r"[\[(]s[\])]|_s$|seconds", lowered) else FRAME_TIME.unit
