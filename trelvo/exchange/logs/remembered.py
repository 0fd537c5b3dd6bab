"""What was said of a log's columns last time, beside what this file shows: evidence goes before memory."""

from dataclasses import replace

from trelvo.core.message import message
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.exchange.logs.choice import ColumnChoice, ColumnSeen, LogChoice
from trelvo.exchange.logs.guess import Guess
from trelvo.exchange.logs.names import read_name
from trelvo.exchange.logs.text_table import TextTable


def with_memory(
    table: TextTable, guess: Guess, kept: LogChoice, instruments: frozenset[int], *, same_campaign: bool = True
) -> Guess:
    """The guess, with what the user said last time where this file leaves it open or does not speak against it.

    kept: the choice for the same column names; instruments: those that the rig has now
    same_campaign: whether it was said in this campaign; another one may tune another part, so that whose readings they are is not
    taken from it where the column's name says it
    """
    choice = guess.choice
    if kept.kind != choice.kind:
        return guess
    seen = {one.header: one for one in guess.seen}
    if choice.kind == "frames":
        return guess
    before = {column.header: column for column in kept.columns}
    columns = []
    for header in table.layout.headers:
        if header in (choice.time_column, choice.date_column):
            continue
        now = next((column for column in choice.columns if column.header == header), None)
        then = before.get(header)
        if then is None:
            # what was left out last time is left out again
            if now is not None:
                why = message("left_out_last_time")
                seen[header] = replace(seen[header], taken="left out", why=why, asks="", question=None)
            continue
        if now is None:
            continue
        if not same_campaign and read_name(header, None, None).part in ("graphics", "processor"):
            then = then.model_copy(update={"part": now.part, "tells": now.tells})
        columns.append(_merged(now, then, seen, instruments))
    update: dict[str, object] = {"columns": columns, "power_point": kept.power_point}
    if choice.time_format is None and kept.time_column == choice.time_column and kept.time_format is not None:
        update |= {"time_format": kept.time_format, "date_order": kept.date_order}
        header = choice.time_column or ""
        why = message("time_format_as_said", format=kept.time_format)
        seen[header] = replace(seen[header], why=why, asks="", question=None)
    told = [seen[header] for header in table.layout.headers]
    asks = any(column.part is None for column in columns)
    return Guess(choice.model_copy(update=update), told, asks)


def _merged(
    now: ColumnChoice, then: ColumnChoice, seen: dict[str, ColumnSeen], instruments: frozenset[int]
) -> ColumnChoice:
    header = now.header
    if then.quantity != now.quantity:
        # the user knows better than a name what a column is; its numbers are still looked at when it is read
        own = QUANTITIES[then.quantity].unit
        why = message("as_said_last_time")
        seen[header] = replace(seen[header], taken=then.quantity, why=why, asks="", question=None, unit=own)
        return _of_the_rig(then, instruments)
    merged = now.model_copy(
        update={
            "part": then.part if then.part is not None else now.part,
            "tells": then.tells if then.tells is not None else now.tells,
            "instrument_id": then.instrument_id if then.instrument_id in instruments else None,
            "point": then.point or now.point,
            "mark": now.mark or then.mark,
        }
    )
    asks, question = seen[header].asks, seen[header].question
    if now.unit is None and then.unit is not None:
        # only the unit was open: the question is not asked twice, and the numbers are looked at when it is read
        merged.unit = then.unit
        asks, question = "", None
    elif then.unit is not None and then.unit != now.unit:
        why = message("other_unit_last_time", last=then.unit, now=now.unit, why=seen[header].why)
        seen[header] = replace(seen[header], why=why)
    answered = merged.part is not None and merged.tells is not None and merged.unit is not None
    if answered and not (asks == "decimal mark" and merged.mark is None):
        asks, question = "", None
    seen[header] = replace(seen[header], asks=asks, question=question)
    return merged


def _of_the_rig(column: ColumnChoice, instruments: frozenset[int]) -> ColumnChoice:
    """A remembered column without an instrument that is another rig's."""
    kept = column.instrument_id if column.instrument_id in instruments else None
    return column.model_copy(update={"instrument_id": kept})
