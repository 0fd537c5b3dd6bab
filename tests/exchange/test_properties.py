"""Any log, in any dress, gives the numbers that were written into it."""

import csv
import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.problems import Refused
from trelvo.exchange.logs.choice import headers_mark
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.reading import FrameLog, columns_of, read_log
from trelvo.exchange.logs.text_table import read_table
from trelvo.logbook.rows.series_bytes import from_parquet, to_parquet

readings = st.lists(
    st.tuples(st.floats(0.05, 5), st.floats(20, 95), st.floats(0, 400), st.integers(200, 3000)), min_size=2, max_size=40
)
dresses = st.tuples(
    st.sampled_from([",", ";", "\t"]), st.sampled_from([".", ","]), st.sampled_from(["\n", "\r\n"]),
    st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]), st.integers(0, 3),
)  # fmt: skip


def written(rows, separator, decimal, newline, encoding, preamble):
    """The rows as some program would write them; a decimal comma among commas is in quotes."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=separator, lineterminator=newline)
    for number in range(preamble):
        out.write(f"# line {number} of a header nobody asked for{newline}")
    writer.writerow(["elapsed s", "hot spot °C", "board power W", "core clock MHz"])
    for row in rows:
        writer.writerow([repr(cell).replace(".", decimal) for cell in row])
    return out.getvalue().encode(encoding)


@given(readings, dresses)
def test_any_dress_gives_the_same_numbers(rows, dress):
    time_s, rows_out = 0.0, []
    for step, temp, watts, mhz in rows:
        time_s += round(step, 3)
        # at least one decimal in every row, as loggers write it, so that the decimal sign can be seen
        rows_out.append((round(time_s, 3) + 0.0005, round(temp, 2) + 0.001, round(watts, 1) + 0.01, mhz))
    table = read_table(written(rows_out, *dress))
    # numbers drawn at random leap as no sensor does
    choice = guess_choice(table).choice.model_copy(update={"jumps": "keep"})
    log = read_log(table, choice)
    expected = np.array(rows_out, dtype=float)
    assert log.time_s == pytest.approx(expected[:, 0] - expected[0, 0])
    assert [channel.quantity for channel in log.channels] == ["temperature", "power", "core clock"]
    for index, channel in enumerate(log.channels, start=1):
        assert channel.values == pytest.approx(expected[:, index])
    kept = from_parquet(to_parquet(columns_of(log)))
    assert all((kept[channel.name] == channel.values).all() for channel in log.channels)


@given(st.lists(st.floats(0.2, 900), min_size=1, max_size=200), st.sampled_from(["ms", "s", "µs"]))
def test_frame_times_in_any_unit(times, unit):
    factor = {"ms": 1.0, "s": 1e-3, "µs": 1e3}[unit]
    cells = "\n".join(repr(ms * factor) for ms in times)
    table = read_table(f"frame time ({unit})\n{cells}\n".encode())
    log = read_log(table, guess_choice(table).choice)
    assert isinstance(log, FrameLog)
    assert log.frame_times_ms == pytest.approx(times)


@given(st.lists(st.text("abc °C[]()", min_size=1, max_size=8), min_size=1, max_size=6))
def test_the_mark_of_headers_depends_on_every_one_and_their_order(headers):
    mark = headers_mark(tuple(headers))
    assert mark == headers_mark(tuple(headers))
    assert mark != headers_mark((*headers, "x"))
    if headers != headers[::-1]:
        assert mark != headers_mark(tuple(headers[::-1]))


@given(readings, st.integers(0, 39), st.sampled_from(["warm", "12..5", "0x3", "1 2"]))
def test_one_bad_cell_is_named_wherever_it_stands(rows, place, cell):
    place %= len(rows)
    lines = ["t s;temp"]
    for index, (_, temp, _, _) in enumerate(rows):
        lines.append(f"{index};{cell if index == place else round(temp, 1)}")
    table = read_table("\n".join(lines).encode())
    choice = guess_choice(table).choice.model_copy(update={"time_column": "t s"})
    choice.columns = [column for column in choice.columns if column.header == "temp"] or [
        type(guess_choice(read_table(b"t,temp\n0,1\n1,2\n")).choice.columns[0])(
            header="temp", quantity="temperature", unit="°C"
        )
    ]
    with pytest.raises(Refused) as refused:
        read_log(table, choice)
    problem = refused.value.problems[0]
    assert (problem.where, problem.params["cell"]) == (f"row {place + 2}, column temp", cell)
