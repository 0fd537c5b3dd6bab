"""Logs in long form (a line for each sensor at each time) laid out as a table with a column for each sensor."""

import re

import numpy as np
import polars as pl

from trelvo.core.message import message
from trelvo.exchange.logs.text_table import Layout, TextTable, read_table

SENSOR = r"sensor|channel|metric|\bname\b|\bitem\b|\blabel\b|quantity|series|measurement|source|\bkey\b"
VALUE = r"value|reading|\bdata\b|wert|valeur|valor"
UNIT = r"\bunits?\b|einheit"
# So many sensors at the most, each read so often at the least.
MOST_SENSORS, FEWEST_READINGS, MOST_COLUMNS = 64, 3, 6


def read_any_table(data: bytes, separator: str | None = None, decimal: str | None = None) -> TextTable:
    """Read a log in wide or in long form; see `read_table`."""
    return widened(read_table(data, separator, decimal))


def widened(table: TextTable) -> TextTable:
    """The table with a column for each sensor, where it is in long form; the same table otherwise.

    A line of the new table stands for all lines with its time; its number in the file is that of the first of them.
    """
    headers = [header.lower() for header in table.layout.headers]
    sensor, value, unit = (_named(headers, pattern) for pattern in (SENSOR, VALUE, UNIT))
    if sensor is None or value is None or not 3 <= len(headers) <= MOST_COLUMNS:
        return table
    left = [place for place in range(len(headers)) if place not in (sensor, value, unit)]
    names = table.columns[sensor].str.strip_chars()
    counts = names.drop_nulls().value_counts()
    if not left or not 2 <= counts.height <= MOST_SENSORS or int(counts["count"].min()) < FEWEST_READINGS:  # type: ignore[arg-type]
        return table
    if names.str.contains(r"^[+-]?[\d.,]+$").mean() > 0.5:  # type: ignore[operator]
        # numbers are no names of sensors
        return table
    time = table.columns[left[0]]
    if time.n_unique() * 1.5 > len(time):
        return table
    if unit is not None:
        names = names + " [" + table.columns[unit].fill_null("").str.strip_chars() + "]"
        names = names.str.replace(" []", "", literal=True)
    frame = pl.DataFrame({"time": time, "sensor": names, "value": table.columns[value], "line": table.lines})
    frame = frame.filter(pl.col("sensor").is_not_null())
    lines = frame.group_by("time", maintain_order=True).agg(pl.col("line").min())
    wide = frame.pivot(on="sensor", index="time", values="value", aggregate_function="first", maintain_order=True)
    wide = wide.join(lines, on="time", how="left", maintain_order="left")
    sensors = [name for name in wide.columns if name not in ("time", "line")]
    note = message("laid_out_as_columns", columns=len(sensors))
    layout = Layout(
        table.layout.separator, table.layout.decimal, table.layout.header_line,
        (table.layout.headers[left[0]], *sensors), (*table.layout.notes, note),
    )  # fmt: skip
    columns = tuple(wide[name] for name in ("time", *sensors))
    return TextTable(layout, columns, None, wide["line"].to_numpy().astype(np.int64))


def _named(headers: list[str], pattern: str) -> int | None:
    found = [place for place, header in enumerate(headers) if re.search(pattern, header)]
    return found[0] if len(found) == 1 else None
