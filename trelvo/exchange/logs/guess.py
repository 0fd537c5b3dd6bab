"""What a log's columns probably are, told by names, units and the numbers themselves; left open where they cannot tell."""

import re
from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.base.figures import Part
from trelvo.core.base.instruments import Point
from trelvo.core.message import Message, message
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, Quantity, QuantityFacts
from trelvo.exchange.logs.choice import ColumnChoice, ColumnSeen, LogChoice
from trelvo.exchange.logs.names import Named, looks_like_frame_time, read_name
from trelvo.exchange.logs.numbers import Mark, Numbers, in_own_unit, read_numbers
from trelvo.exchange.logs.questions import Question
from trelvo.exchange.logs.text_table import TextTable
from trelvo.exchange.logs.times import WHOLE_HEAD, TimeGuess, guess_time, seconds_of
from trelvo.exchange.logs.units import header_unit, known_unit

# Rows that a guess looks at, spread over the file; and columns up to which those without a quantity are kept too.
SAMPLE_ROWS = 20_000
FEW_COLUMNS = 64
# A temperature above this without a unit may be in °F: few parts are allowed so hot (common practice).
SURELY_CELSIUS = 100.0
MOSTLY = 0.9
# Fewer rows are no log of frames, unless their name says so.
FEWEST_FRAMES = 100
# Units that nobody writes without naming them, and ones that differ from the usual by less than a tenth.
TINY_UNITS = frozenset({"kHz", "Hz", "µV", "µW", "KB", "KiB"})
NEVER_UNNAMED = TINY_UNITS | {"K", "MiB", "GiB"}
_TOTAL = r"package|total|board|overall|\bchip\b|\bdie\b"


@dataclass(frozen=True)
class About:
    """What is known of the run a log belongs to. tuned: the part that the campaign tunes; expects_s: how long it lasted

    several: whether the campaign tunes several parts, so that each column is of the part that its name says
    """

    tuned: Part | None = None
    expects_s: float | None = None
    several: bool = False


@dataclass(frozen=True)
class Guess:
    """The choice that is offered, and what each column was taken for. asks_tuned: which part is tuned decides what counts"""

    choice: LogChoice
    seen: list[ColumnSeen]
    asks_tuned: bool = False


@dataclass
class _Column:
    """A column on its way: what its name says, its numbers, and what was decided of it."""

    choice: ColumnChoice
    named: Named
    why: list[Message]
    values: Numbers
    missing: int
    asks: Question = ""
    question: Message | None = None

    def ask(self, asks: Question, question: Message) -> None:
        """Leaves something open, unless something else is open already."""
        if not self.asks:
            self.asks, self.question = asks, question


def guess_choice(table: TextTable, about: About | None = None) -> Guess:
    """What the columns probably are, from their names, units and cells. The user confirms it, and says what is left open."""
    about = about or About()
    sample = _sample(table)
    headers = table.layout.headers
    frame_column = next((header for header in headers if looks_like_frame_time(header)), None)
    if frame_column is None and len(headers) == 1 and _could_be_frame_times(_values(sample, headers[0])):
        frame_column = headers[0]
    time = guess_time(sample, frozenset({frame_column} if frame_column else ()), about.expects_s)
    if frame_column is None and time.column is None:
        # times of frames under a name that nobody knows: the only column that could be
        could = [header for header in headers if _steps_like_frames(_values(sample, header))]
        frame_column = could[0] if len(could) == 1 else None
    frame_unit = _guess_frame_unit(frame_column, sample)
    frames = frame_column is not None and not _is_sampled(sample, frame_column, frame_unit, time)
    choice = LogChoice(
        kind="frames" if frames else "telemetry",
        separator=table.layout.separator,
        decimal="," if table.layout.decimal == "," else ".",
        time_column=time.column,
        date_column=time.date_column,
        time_format=time.time_format,
        date_order=time.date_order,
        frame_column=frame_column if frames else None,
        frame_unit=frame_unit,
        missing="refuse" if frames else "leave out",
    )
    left_out: dict[str, Message] = {}
    found: list[_Column] = []
    for index, header in enumerate(headers):
        if header in (time.column, time.date_column) or (frames and header == frame_column):
            continue
        column = _look(sample, index, header, plain_time=header == frame_column)
        if isinstance(column, Message):
            left_out[header] = column
        else:
            found.append(column)
    if len(headers) > FEW_COLUMNS:
        for column in [one for one in found if one.choice.quantity == "other"]:
            left_out[column.choice.header] = message("unknown_among_many")
        found = [one for one in found if one.choice.quantity != "other"]
    _assign_parts(found, about)
    _assign_figures(found)
    choice.columns = [one.choice for one in found]
    asks = any(one.choice.part is None for one in found)
    return Guess(choice, _all_seen(headers, choice, found, left_out, time), asks)


def _steps_like_frames(values: Numbers) -> bool:
    """Whether numbers could be times of frames, and no counter, clock or level: they vary, and neither rise nor fall."""
    if values.size < FEWEST_FRAMES or not _could_be_frame_times(values):
        return False
    ups = float((np.diff(values) > 0).mean())
    return 0.2 < ups < 0.8 and float(values.std()) > 0


def _sample(table: TextTable) -> TextTable:
    if table.rows <= SAMPLE_ROWS:
        return table
    keep = np.unique(
        np.concatenate(
            [np.arange(WHOLE_HEAD), np.linspace(WHOLE_HEAD, table.rows - 1, SAMPLE_ROWS - WHOLE_HEAD).astype(int)]
        )
    )
    # times are told by neighbouring rows: the head is whole, the rest is spread
    return TextTable(table.layout, tuple(c.gather(keep) for c in table.columns), None, table.lines[keep])


def _values(table: TextTable, header: str) -> Numbers:
    values = read_numbers(table, table.layout.headers.index(header), "decimal").values
    return values[np.isfinite(values)]


def _look(table: TextTable, index: int, header: str, *, plain_time: bool) -> _Column | Message:
    """One column, or why it is left out."""
    read = read_numbers(table, index)
    rows = table.rows
    if read.missing.all():
        return message("column_is_empty")
    cell_unit = next((unit for unit in read.units if unit), None) if read.units else None
    row_unit = known_unit(table.unit_of(header)) if table.unit_of(header) else None
    named = read_name(header, row_unit, cell_unit)
    if named.quantity == "fan" and named.unit is None and _highest(
        read_numbers(table, index, "thousands").values if read.open_mark else read.values
    ) > QUANTITIES["fan"].high:  # fmt: skip
        # no share of a fan's speed is so high
        named = replace(named, quantity="fan speed")
    if plain_time:
        named = replace(named, quantity="other")
    missing, unread, there = int(read.missing.sum()), int(read.unread.sum()), int(np.isfinite(read.values).sum())
    # a word in a column of temperatures is a bad reading, and said when it is read; a column of words is none
    if not there or (named.quantity == "other" and unread > (1 - MOSTLY) * (rows - missing)):
        return message("column_of_words")
    column = _Column(
        ColumnChoice(header=header, quantity=named.quantity, unit=named.unit or "", part=named.part, tells=True),
        named,
        _why(header, named, row_unit, cell_unit),
        read.values,
        missing,
    )
    if named.quantity == "other":
        column.choice.part, column.choice.unit = "tuned part", header_unit(header) or row_unit or ""
        if read.open_mark:
            column.choice.mark = "decimal"
            column.values = read_numbers(table, index, "decimal").values
        return column
    if read.open_mark:
        _settle_mark(table, index, column, *read.open_mark)
    elif read.units:
        column.values = in_own_unit(read, QUANTITIES[named.quantity], None)
    values = column.values[np.isfinite(column.values)]
    if values.size and not np.any(values) and QUANTITIES[named.quantity].never_zero:
        return message("reads_zero_throughout")
    _settle_unit(column, values, from_cells=cell_unit is not None)
    column.choice.point = _point(header, named.quantity)
    return column


def _highest(values: Numbers) -> float:
    there = values[np.isfinite(values)]
    return float(there.max()) if there.size else 0.0


def _why(header: str, named: Named, row_unit: str | None, cell_unit: str | None) -> list[Message]:
    if named.quantity == "other":
        return [message("no_figure_of_the_run")]
    by_name = named.quantity == read_name(header).quantity
    kind = message("named_so" if by_name else "its_unit_says", quantity=named.quantity)
    if not named.unit:
        return [kind]
    source = "unit_behind_numbers" if cell_unit else "unit_below_names" if row_unit else "unit_in_name"
    return [message("kind_and_unit", kind=kind, unit=message(source, unit=named.unit))]


def _point(header: str, quantity: Quantity) -> Point | None:
    """Where power was read, as far as the name says; it is the part's own report else."""
    if quantity != "power":
        return None
    lowered = header.lower()
    if re.search(r"wall|mains|plug|socket|meter", lowered):
        return "wall"
    return "cables" if re.search(r"clamp|cable", lowered) else None


def _fits(kind: QuantityFacts, values: Numbers, unit: str) -> bool:
    """Whether a column's higher readings are usual in this unit."""
    factor, offset = kind.units()[unit]
    high = float(np.quantile(values, 0.95)) * factor + offset
    return kind.usual[0] <= high <= kind.usual[1]


def _possible(kind: QuantityFacts, values: Numbers, unit: str) -> bool:
    factor, offset = kind.units()[unit]
    low, high = (float(q) * factor + offset for q in np.quantile(values, (0.02, 0.98)))
    return kind.low <= low and high <= kind.high


def _settle_mark(table: TextTable, index: int, column: _Column, sign: str, row: int) -> None:
    """What a mark before three digits is, by what the quantity can be; open where both could be, or neither."""
    kind = QUANTITIES[column.named.quantity]
    unit = column.named.unit or kind.unit
    could: dict[Mark, Numbers] = {}
    marks: tuple[Mark, Mark] = ("decimal", "thousands")
    for mark in marks:
        values = read_numbers(table, index, mark).values
        there = values[np.isfinite(values) & (values != 0)]
        if there.size and _fits(kind, there, unit):
            could[mark] = values
    cell = (table.columns[index][row] or "").strip()
    if len(could) == 1:
        column.choice.mark, column.values = next(iter(could.items()))
        column.why.append(message("not_read_otherwise", quantity=column.named.quantity))
    elif len(could) == 2 and table.layout.decimal == sign:
        # the file's own decimal sign, and nothing against it
        column.choice.mark, column.values = "decimal", could["decimal"]
    else:
        column.asks, column.question = "decimal mark", _mark_question(cell, sign)


def _mark_question(cell: str, sign: str) -> Message:
    return message("which_decimal_sign", cell=cell, without=cell.replace(sign, ""), sign=sign)


def mark_params(table: TextTable, index: int, row: int, sign: str) -> dict[str, str]:
    """What a cell reads, what it would be without the sign, and the sign."""
    cell = (table.columns[index][row] or "").strip()
    return {"cell": cell, "without": cell.replace(sign, ""), "sign": sign}


def _settle_unit(column: _Column, values: Numbers, *, from_cells: bool) -> None:
    """The unit, told by the numbers where nothing names it; open where what is named, or usual, does not fit them."""
    kind, choice = QUANTITIES[column.named.quantity], column.choice
    values = values[values != 0]
    if not values.size or from_cells:
        choice.unit = kind.unit if from_cells else column.named.unit or kind.unit
        return
    others = [unit for unit in kind.units() if _fits(kind, values, unit)]
    if {"%", "0 to 1"} <= set(kind.units()) and float(values.max()) <= 1.0:
        choice.unit = None
        column.asks = "scale"
        column.question = message("percent_or_share", quantity=column.named.quantity)
    elif column.named.unit is not None:
        choice.unit = column.named.unit
        # a named unit is believed, but no clock runs below 4 MHz, and nothing reads what cannot be
        doubtful = "clock" in column.named.quantity or not _possible(kind, values, choice.unit)
        if doubtful and not _fits(kind, values, choice.unit) and [unit for unit in others if unit != choice.unit]:
            choice.unit = None
            column.asks, column.question = "unit", _unit_question(column, values, others)
    elif _is_own_unit(column.named.quantity, kind, values, others):
        choice.unit = kind.unit
        if kind.unit:
            column.why.append(message("usual_in_unit", unit=kind.unit))
    elif len(others) == 1 and not any(
        _possible(kind, values, unit) for unit in kind.units() if unit != others[0] and unit not in TINY_UNITS
    ):
        choice.unit = others[0]
        column.why.append(message("only_in_unit", unit=others[0]))
    elif len(kind.units()) > 1:
        choice.unit = None
        column.asks, column.question = "unit", _unit_question(column, values, others)
    else:
        choice.unit = kind.unit


def _is_own_unit(quantity: Quantity, kind: QuantityFacts, values: Numbers, build_units: list[str]) -> bool:
    """Whether numbers without a named unit are surely in the quantity's own."""
    if kind.unit not in build_units:
        return False
    # few people log °F without saying so, and nearly no part is allowed so hot in °C
    if quantity == "temperature":
        return float(values.max()) <= SURELY_CELSIUS
    return not [unit for unit in build_units if unit != kind.unit and unit not in NEVER_UNNAMED]


def _unit_question(column: _Column, values: Numbers, build_units: list[str]) -> Message:
    high = float(np.quantile(values, 0.95))
    return message("which_unit", highest=high, named=column.named.unit, build_units=tuple(build_units))


def _assign_parts(columns: list[_Column], about: About) -> None:
    """Which part each column reads: the tuned part where its name says so or says nothing."""
    tuned = about.tuned
    families: set[Part] = {
        part for part in ("graphics", "processor") if any(column.named.part == part for column in columns)
    }
    if tuned is None and len(families) == 1 and not about.several:
        tuned = next(iter(families))
    for column in columns:
        quantity, part = column.named.quantity, column.named.part
        if quantity == "other":
            continue
        if quantity in ("noise", "frame rate"):
            column.choice.part = "whole machine"
        elif part in ("graphics", "processor") and tuned is None and not about.several:
            column.choice.part = None
            column.ask("tuned part", message("which_part_is_tuned"))
        elif part is None or part == tuned:
            column.choice.part = "tuned part"
        else:
            column.choice.part = part
            column.why[0] = message("of_another_part", why=column.why[0], part=part)


def _assign_figures(columns: list[_Column]) -> None:
    """Of columns that read the same of the same part one gives the run's figure: the part's own, not one spot or core of it."""
    groups: dict[tuple[Quantity, Part | None, Point | None], list[_Column]] = defaultdict(list)
    for one in columns:
        if one.named.quantity not in ("other", "frame rate"):
            groups[(one.named.quantity, one.choice.part, one.choice.point)].append(one)
    for (quantity, part, _), group in groups.items():
        if len(group) < 2:
            continue
        for kind in ("main", "spot", "derived"):
            rivals = [one for one in group if one.named.kind == kind]
            if rivals:
                break
        totals = [rival for rival in rivals if re.search(_TOTAL, rival.choice.header.lower())]
        chosen = totals if len(totals) == 1 else rivals
        for one in group:
            one.choice.tells = (True if len(chosen) == 1 else None) if one in chosen else False
            if one.choice.tells is False:
                beside = message("kept_beside", column=chosen[0].choice.header)
                one.why.append(beside if len(chosen) == 1 else message("kept_beside_others"))
            elif one.choice.tells is None and part is None:
                # settled by which part is tuned
                continue
            elif one.choice.tells is None and part != "tuned part":
                one.choice.tells = False
                one.why.append(message("several_read_the_same"))
            elif one.choice.tells is None:
                one.ask("which counts", message("which_counts", columns=len(chosen), quantity=quantity, part=part))


def _all_seen(
    headers: tuple[str, ...], choice: LogChoice, columns: list[_Column], left_out: dict[str, Message], time: TimeGuess
) -> list[ColumnSeen]:
    by_header = {column.choice.header: column for column in columns}
    seen = []
    for header in headers:
        if header == choice.time_column and choice.kind == "telemetry":
            question = None if choice.time_format else message("how_is_time_written", why=time.why)
            asks: Question = "" if choice.time_format else time.asks
            seen.append(ColumnSeen(header=header, taken="time", why=time.why, asks=asks, question=question))
        elif header == choice.date_column and choice.kind == "telemetry":
            seen.append(ColumnSeen(header=header, taken="date", why=message("column_of_dates")))
        elif header == choice.frame_column:
            seen.append(ColumnSeen(header=header, taken="time per frame", why=message("times_fill_the_log")))
        elif (one := by_header.get(header)) is not None and choice.kind == "telemetry":
            seen.append(seen_column(one.choice, one.values, _reasons(one.why), one.missing, one.asks, one.question))
        else:
            why = left_out.get(header, message("only_frames_read"))
            seen.append(ColumnSeen(header=header, taken="left out", why=why))
    return seen


def _reasons(every: list[Message]) -> Message:
    return every[0] if len(every) == 1 else message("column_reasons", reasons=tuple(every))


def seen_column(
    choice: ColumnChoice,
    values: Numbers,
    why: Message,
    missing: int,
    asks: Question = "",
    question: Message | None = None,
) -> ColumnSeen:
    """A channel with what it comes to. values: as they are in the file"""
    kind = QUANTITIES[choice.quantity]
    factor, offset = kind.units().get(choice.unit or "", (1.0, 0.0)) if choice.quantity != "other" else (1.0, 0.0)
    there = values[np.isfinite(values)] * factor + offset
    known = there.size > 0 and choice.unit is not None and not (asks == "decimal mark" and choice.mark is None)
    return ColumnSeen(
        header=choice.header,
        taken=choice.quantity,
        why=why,
        asks=asks,
        question=question,
        unit=(choice.unit or "") if choice.quantity == "other" else kind.unit,
        decimals=kind.decimals,
        lowest=float(there.min()) if known else None,
        mean=float(there.mean()) if known else None,
        highest=float(there.max()) if known else None,
        missing=missing,
    )


def _could_be_frame_times(numbers: Numbers) -> bool:
    """Milliseconds or seconds of frames between a thousand and four a second, in no order."""
    if numbers.size < 2 or (numbers <= 0).any():
        return False
    middle = float(np.median(numbers))
    rising = bool((np.diff(numbers) >= 0).all()) and numbers[-1] > numbers[0] * 4
    return not rising and (1 <= middle <= 250 or 0.001 <= middle <= 0.25)


def _is_sampled(table: TextTable, frame_column: str, frame_unit: str, time: TimeGuess) -> bool:
    """Whether a column of frame times was only looked at now and then: its times do not fill the time of the log."""
    if time.column is None:
        return False
    head = TextTable(table.layout, tuple(c.head(WHOLE_HEAD) for c in table.columns), None, table.lines[:WHOLE_HEAD])
    frames = _values(head, frame_column)
    stamps = (
        seconds_of(head, time.column, time.date_column, time.time_format, time.date_order)
        if time.time_format
        else _values(head, time.column)
    )
    stamps = stamps[np.isfinite(stamps)]
    if len(frames) < 3 or len(stamps) != len(frames) or stamps[-1] <= stamps[0]:
        # readings whose times cannot be set beside them are taken for sampled
        return len(table.layout.headers) > 2 and len(frames) >= 3 and len(stamps) < 3
    filled_s = float(frames[1:].sum()) * {"ms": 0.001, "s": 1.0, "µs": 1e-6, "ns": 1e-9}[frame_unit]
    scales = (1.0,) if time.time_format else (1.0, 0.001, 1e-6)
    return not any(0.8 <= filled_s / (float(stamps[-1] - stamps[0]) * unit) <= 1.25 for unit in scales)


def _guess_frame_unit(header: str | None, table: TextTable) -> str:
    if header is None:
        return FRAME_TIME.unit
    named = known_unit(table.unit_of(header)) or header_unit(header)
    if named in FRAME_TIME.units():
        return str(named)
    numbers = _values(table, header)
    if "ms" in header.lower() or not numbers.size:
        return FRAME_TIME.unit
    middle = float(np.median(numbers))
    return "s" if middle < 0.25 else "µs" if middle > 1000 else FRAME_TIME.unit
