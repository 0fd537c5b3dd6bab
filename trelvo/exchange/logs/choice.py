"""What the user says about a log's columns. What is left open (None) has to be answered before a log is read."""

import hashlib
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel

from trelvo.core.base.figures import Part
from trelvo.core.base.instruments import Point
from trelvo.core.message import Message
from trelvo.core.registry.quantities import Quantity
from trelvo.exchange.logs.moments import DateOrder
from trelvo.exchange.logs.numbers import Mark
from trelvo.exchange.logs.questions import Question
from trelvo.exchange.logs.times import TimeFormat

LogKind = Literal["telemetry", "frames"]


class ColumnChoice(BaseModel):
    """One column that is to be read, by its header.

    unit, part, tells: None where only the user can say; tells: whether it is the run's figure, or only kept beside it
    instrument_id: which of the rig's instruments read it; point: where power was read, the file's own where it is None
    mark: what a mark before three digits is; None where the column itself tells, or where it has to be asked
    """

    header: str
    quantity: Quantity = "other"
    unit: str | None = ""
    part: Part | None = "tuned part"
    tells: bool | None = True
    instrument_id: int | None = None
    point: Point | None = None
    mark: Mark | None = None


class LogChoice(BaseModel):
    """Which column is what: `frame_column` is the time per frame, `columns` the channels of telemetry.

    time_format: None where only the user can tell; date_column: where dates are in a column of their own
    missing: what becomes of frames without a time; of channels a missing cell is always left out, and counted
    jumps: what becomes of a single reading that leaps away and back
    stretch: which part of the log gives the run's figures: where the part was loaded, the whole of it, or from_s to to_s (seconds
    from its start)
    zeros: what readings of zero are in a channel that cannot be zero; impossible: what becomes of values that cannot be
    """

    kind: LogKind
    separator: str | None = None
    decimal: Literal[".", ","] | None = None
    time_column: str | None = None
    date_column: str | None = None
    time_format: TimeFormat | None = "seconds"
    date_order: DateOrder | None = None
    frame_column: str | None = None
    frame_unit: str = "ms"
    columns: list[ColumnChoice] = []
    power_point: Point = "software"
    missing: Literal["refuse", "leave out"] = "refuse"
    zeros: Literal["ask", "leave out", "keep"] = "ask"
    impossible: Literal["refuse", "leave out"] = "refuse"
    last_line: Literal["refuse", "drop"] = "refuse"
    jumps: Literal["ask", "leave out", "keep"] = "ask"
    stretch: Literal["loaded", "whole", "given"] = "loaded"
    from_s: float | None = None
    to_s: float | None = None


@dataclass(frozen=True)
class ColumnSeen:
    """What a column of a file was taken for, and why.

    asks: what has to be answered first, empty where nothing; question: the same with its numbers
    lowest, mean, highest: in the quantity's own unit, of at most 20,000 rows over the whole file; missing: how many of those rows
    have no reading
    """

    header: str
    taken: str
    why: Message
    asks: Question = ""
    question: Message | None = None
    unit: str = ""
    decimals: int = 2
    lowest: float | None = None
    mean: float | None = None
    highest: float | None = None
    missing: int = 0


def headers_mark(headers: tuple[str, ...], campaign: str = "") -> str:
    """A short mark that is the same for every file with these headers, in one campaign where it is named."""
    return hashlib.sha256("\x1f".join((*headers, *([campaign] if campaign else ()))).encode()).hexdigest()
