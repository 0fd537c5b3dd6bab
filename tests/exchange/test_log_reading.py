"""From cells to numbers in SI-like units, or a message that names row and column."""

import numpy as np
import pytest

from trelvo.core.problems import Refused
from trelvo.exchange.log_choice import ColumnChoice, LogChoice, guess_choice
from trelvo.exchange.log_reading import FrameLog, TelemetryLog, columns_of, read_log
from trelvo.exchange.text_table import read_table
from trelvo.logbook.series_bytes import from_parquet, to_parquet


def reading(data: str, **changes):
    table = read_table(data.encode())
    return read_log(table, guess_choice(table).model_copy(update=changes))


def test_units_come_out_in_one_measure():
    log = reading("time ms;core GHz;core mV;board mW;sensor °F\n0;2,4;1050;180000;212\n500;2,5;1040;181000;32\n")
    assert isinstance(log, TelemetryLog)
    assert log.time_s.tolist() == [0, 0.5]
    assert [(c.quantity, c.unit) for c in log.channels] == [
        ("core clock", "MHz"), ("voltage", "V"), ("power", "W"), ("temperature", "°C"),
    ]  # fmt: skip
    for channel, expected in zip(log.channels, ([2400, 2500], [1.05, 1.04], [180, 181], [100, 0]), strict=True):
        assert channel.values.tolist() == pytest.approx(expected)


@pytest.mark.parametrize(
    ("cells", "expected"),
    [
        (("14:05:09", "14:05:09.250"), [0, 0.25]),
        (("23:59:59.5", "00:00:00.5"), [0, 1]),
        (("2031-05-01 14:05:09,250", "2031-05-01 14:05:10,000"), [0, 0.75]),
        (("2031-05-01T14:05:09Z", "2031-05-01T14:05:10Z"), [0, 1]),
        (("31.12.2030 23:59:59", "01.01.2031 00:00:01"), [0, 2]),
        (("1000.5", "1002"), [0, 1.5]),
    ],
)
def test_time_however_it_is_written(cells, expected):
    log = reading(f"time;temp\n{cells[0]};50\n{cells[1]};51\n")
    assert log.time_s.tolist() == pytest.approx(expected)


@pytest.mark.parametrize(
    ("header", "cell"), [("frametime ms", "16.7"), ("frame time (s)", "0.0167"), ("frame time us", "16700")]
)
def test_frame_times(header, cell):
    log = reading(f"{header}\n{cell}\n{cell}\n")
    assert isinstance(log, FrameLog)
    assert log.frame_times_ms.tolist() == pytest.approx([16.7, 16.7])


def test_one_column_with_a_decimal_comma_is_one_column():
    assert reading("frame time ms\n16,7\n16,9\n").frame_times_ms.tolist() == [16.7, 16.9]


BAD = [
    ("time,temp\n0,50\n1,warm\n2,hot\n", {}, "row 3, column temp", "“warm” is not a number (1 more like it)"),
    ("time,temp\n0,50\n1,\n", {}, "row 3, column temp", "The cell is empty (1 in this column)"),
    ("time,temp\n0,50\n1,inf\n", {}, "row 3, column temp", "“inf” is not a number"),
    ("time,temp\n0,50\n2,51\n1,52\n", {}, "row 4, column time", "backwards, from 2.000 s to 1.000 s"),
    ("time,temp\n0,50\n1,412\n", {}, "row 3, column temp", "412 °C cannot be a temperature"),
    ("time,power W\n0,50\n1,-3\n", {}, "row 3, column power W", "-3 W cannot be a power"),
    ("time,temp\n5,50\n5,51\n", {}, "column time", "covers no time"),
    ("time,temp\n0,50\n1,51\n", {"time_column": None}, "time", "No time column"),
    ("time,temp\n0,50\n1,51\n", {"columns": []}, "columns", "No channel"),
    ("time,temp\n0,50\n1,51\n", {"time_column": "clock"}, "column clock", "no such column"),
    ("time,temp\n0,50\n1,51\n", {"time_format": "clock time"}, "row 2, column time", "cannot be read as a clock time"),
    ("time,temp\nnoon,50\n1,51\n", {}, "row 2, column time", "“noon” is not a number"),
    ("time,temp,x\n0,50,1\n1,5", {}, "row 3", "The last line holds 2 of 3 cells"),
    ("frametime\n16\n0\n", {}, "row 3, column frametime", "0 ms cannot be the time of one frame"),
    ("frametime\n16\n-4\n", {}, "row 3, column frametime", "cannot be the time of one frame"),
    ("frametime\n16\n16\n", {"frame_column": None}, "frame column", "No column with the time per frame"),
    ("frametime\n16\n16\n", {"frame_unit": "h"}, "column frametime", "no unit for this"),
]


@pytest.mark.parametrize(("data", "changes", "where", "what"), BAD)
def test_bad_cells_name_row_and_column(data, changes, where, what):
    with pytest.raises(Refused) as caught:
        reading(data, **changes)
    problem = caught.value.problems[0]
    assert problem.where == where
    assert what in problem.what
    assert problem.todo


def test_missing_cells_and_cut_lines_can_be_left_out_on_request():
    log = reading("time,temp\n0,50\n1,N/A\n2,52\n", missing="leave out")
    assert np.isnan(log.channels[0].values).tolist() == [False, True, False]
    assert reading("time,temp\n0,50\n1,51\n2", last_line="drop").time_s.tolist() == [0, 1]
    frames = reading("frametime\n16\n\n17\n", missing="leave out")
    assert frames.frame_times_ms.tolist() == [16, 17]


def test_a_guess_says_what_headers_hint_at():
    table = read_table(
        b"Elapsed,Core clock (MHz),VRAM clock,Fan rpm,Usage %,Vcore,Remark\n0,1,2,3,4,1,x\n1,1,2,3,4,1,y\n"
    )
    choice = guess_choice(table)
    assert choice.time_column == "Elapsed"
    assert [(column.header, column.quantity) for column in choice.columns] == [
        ("Core clock (MHz)", "core clock"), ("VRAM clock", "memory clock"), ("Fan rpm", "fan speed"),
        ("Usage %", "load"), ("Vcore", "voltage"),
    ]  # fmt: skip


def test_a_log_is_kept_as_it_was_read():
    log = TelemetryLog(np.array([0.0, 0.1, 0.2]), ())
    assert from_parquet(to_parquet(columns_of(log)))["time_s"].tolist() == [0.0, 0.1, 0.2]
    frames = FrameLog(np.array([16.7, 33.4]))
    assert from_parquet(to_parquet(columns_of(frames))) == {
        "time_s": pytest.approx([0.0167, 0.0501]),
        "frame_ms": pytest.approx([16.7, 33.4]),
    }


def test_a_channel_named_like_the_time_column_does_not_replace_it():
    table = read_table(b"t,time_s\n0,50\n1,51\n")
    choice = LogChoice(
        kind="telemetry", time_column="t", columns=[ColumnChoice(header="time_s", quantity="temperature", unit="°C")]
    )
    kept = from_parquet(to_parquet(columns_of(read_log(table, choice))))
    assert kept["time_s"].tolist() == [0, 1]
    assert kept["time_s (channel)"].tolist() == [50, 51]
