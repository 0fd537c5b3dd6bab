"""What the user says about a log's columns, and the guess that is offered first."""

import hashlib
import re
from itertools import pairwise
from typing import Literal

from pydantic import BaseModel

from trelvo.core.base.figures import Part, Quantity
from trelvo.core.base.instruments import Point
from trelvo.exchange.logs.quantities import (
    FRAME_TIME,
    guess_quantity,
    guess_unit,
    looks_like_frame_time,
    looks_like_time,
    names_milliseconds,
    names_seconds,
)
from trelvo.exchange.logs.text_table import TextTable

TimeFormat = Literal["seconds", "milliseconds", "minutes:seconds", "clock time", "date and time"]
# Readings closer together than this are seconds, further apart than that milliseconds; in between, who knows.
SURELY_SECONDS, SURELY_MILLISECONDS = 4.0, 90.0
# Cells that a guess looks at.
SAMPLE = 400
Kind = Literal["telemetry", "frames"]


class ColumnChoice(BaseModel):
    """One column that is to be read, by its header. instrument_id: which of the rig's instruments read it"""

    header: str
    quantity: Quantity = "other"
    unit: str = ""
    part: Part = "tuned part"
    instrument_id: int | None = None


class LogChoice(BaseModel):
    """Which column is what: `frame_column` is the time per frame, `columns` the channels of telemetry.

    time_format: None where only the user can tell; thousands: whether 1.800 beside decimal commas is 1800, or has to be asked
    """

    kind: Kind
    separator: str | None = None
    decimal: Literal[".", ","] | None = None
    time_column: str | None = None
    time_format: TimeFormat | None = "seconds"
    frame_column: str | None = None
    frame_unit: str = "ms"
    columns: list[ColumnChoice] = []
    power_point: Point = "software"
    missing: Literal["refuse", "leave out"] = "refuse"
    thousands: Literal["ask", "join"] = "ask"
    last_line: Literal["refuse", "drop"] = "refuse"


def headers_mark(headers: tuple[str, ...]) -> str:
    """A short mark that is the same for every file with these headers."""
    return hashlib.sha256("\x1f".join(headers).encode()).hexdigest()


def guess_choice(table: TextTable) -> LogChoice:
    """What the columns probably are, from their headers and first cells. Only a guess: the user confirms it, and says what
    is left open."""
    headers = table.layout.headers
    frame_column = next((header for header in headers if looks_like_frame_time(header)), None)
    if frame_column is None and len(headers) == 1 and _could_be_frame_times(_sample(table, 0)):
        frame_column = headers[0]
    time_column = next((h for h in headers if looks_like_time(h) and h != frame_column), None)
    cells = {header: _first_cell(table, index) for index, header in enumerate(headers)}
    frame_unit = _guess_frame_unit(frame_column or "", table)
    frames = frame_column is not None and not _is_sampled(table, frame_column, frame_unit, time_column)
    choice = LogChoice(
        kind="frames" if frames else "telemetry",
        separator=table.layout.separator,
        decimal="," if table.layout.decimal == "," else ".",
        time_column=time_column,
        time_format=_guess_time_format(table, time_column) if time_column else "seconds",
        frame_column=frame_column if frames else None,
        frame_unit=frame_unit,
    )
    for header in headers:
        if header not in (choice.frame_column, time_column) and _reads_as_number(cells[header]):
            quantity = "other" if header == frame_column else guess_quantity(header)
            choice.columns.append(ColumnChoice(header=header, quantity=quantity, unit=guess_unit(header, quantity)))
    return choice


def _sample(table: TextTable, index: int) -> list[float]:
    """The first cells of a column as numbers, those that are numbers."""
    cells = [(cell or "").strip() for cell in table.columns[index].head(SAMPLE)]
    if table.layout.decimal == ",":
        cells = [cell.replace(",", ".") for cell in cells]
    return [float(cell) for cell in cells if re.fullmatch(r"[+-]?\d+(\.\d+)?([eE][+-]?\d+)?", cell)]


def _could_be_frame_times(numbers: list[float]) -> bool:
    """Milliseconds or seconds of frames between a thousand and four a second, in no order."""
    if len(numbers) < 2 or any(number <= 0 for number in numbers):
        return False
    middle = sorted(numbers)[len(numbers) // 2]
    rising = all(second >= first for first, second in pairwise(numbers)) and numbers[-1] > numbers[0] * 4
    return not rising and (1 <= middle <= 250 or 0.001 <= middle <= 0.25)


def _is_sampled(table: TextTable, frame_column: str, frame_unit: str, time_column: str | None) -> bool:
    """Whether a column of frame times was only looked at now and then: its times do not fill the time of the log."""
    if time_column is None:
        return False
    headers = table.layout.headers
    frames = _sample(table, headers.index(frame_column))
    stamps = _sample(table, headers.index(time_column))
    if len(frames) < 3 or len(stamps) != len(frames) or stamps[-1] <= stamps[0]:
        # a time that is no plain number: readings at round times are sampled
        return len(headers) > 2 and len(frames) >= 3 and len(stamps) < 3
    filled_s = sum(frames[1:]) * {"ms": 0.001, "s": 1.0, "µs": 1e-6}[frame_unit]
    return not any(0.8 <= filled_s / ((stamps[-1] - stamps[0]) * unit) <= 1.25 for unit in (1.0, 0.001, 1e-6))


def _first_cell(table: TextTable, index: int) -> str:
    cells = (cell.strip() for cell in table.columns[index].head(20) if cell)
    return next((cell for cell in cells if cell), "")


def _reads_as_number(cell: str) -> bool:
    return bool(re.match(r"^[+-]?[\d.,]+([eE][+-]?\d+)?$", cell))


def _guess_time_format(table: TextTable, header: str) -> TimeFormat | None:
    """How the times are written, None where cells and header leave it open."""
    index = table.layout.headers.index(header)
    cells = [(cell or "").strip() for cell in table.columns[index].head(SAMPLE) if cell and cell.strip()]
    first = cells[0] if cells else ""
    if re.search(r"\d[-/.]\d+[-/.]\d+[ T,]+\d+:\d", first):
        return "date and time"
    if first.count(":") == 2:
        return "clock time"
    if ":" in first:
        pieces = [re.split(r"[:.,]", cell) for cell in cells]
        fraction = any(len(piece) > 2 for piece in pieces)
        high = any(piece[0].isdigit() and int(piece[0]) > 23 for piece in pieces)
        # readings a minute or more apart are rare; ones that never leave an hour of such a clock are no hours
        first_minutes = {piece[0] for piece in pieces}
        return (
            "minutes:seconds"
            if fraction or high or (len(pieces) > 3 and len(first_minutes) < len(pieces) / 3)
            else None
        )
    if names_milliseconds(header):
        return "milliseconds"
    if names_seconds(header):
        return "seconds"
    numbers = _sample(table, index)
    steps = sorted(second - first for first, second in pairwise(numbers) if second > first)
    if not steps or steps[len(steps) // 2] <= SURELY_SECONDS:
        return "seconds"
    return "milliseconds" if steps[len(steps) // 2] >= SURELY_MILLISECONDS and numbers[-1] > 3600 else None


def _guess_frame_unit(header: str, table: TextTable) -> str:
    lowered = header.lower()
    if re.search(r"µs|\bus\b|_us$|micro", lowered):
        return "µs"
    if re.search(r"[\[(]s[\])]|_s$|seconds", lowered):
        return "s"
    if "ms" in lowered or header not in table.layout.headers:
        return FRAME_TIME.unit
    numbers = sorted(_sample(table, table.layout.headers.index(header)))
    return "s" if numbers and numbers[len(numbers) // 2] < 0.25 else FRAME_TIME.unit
