"""From cells to numbers in SI-like units, or a message that names row and column."""

import numpy as np
import pytest

from trelvo.core.problems import Refused
from trelvo.exchange.logs.choice import ColumnChoice, LogChoice
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.reading import FrameLog, TelemetryLog, columns_of, read_log
from trelvo.exchange.logs.text_table import read_table
from trelvo.logbook.rows.series_bytes import from_parquet, to_parquet
from trelvo.messages.problems import problem_text


def reading(data: str, **changes):
    table = read_table(data.encode())
    return read_log(table, guess_choice(table).choice.model_copy(update=changes))


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
    ("time,temp\n0,50\n1,\n2,\n3,\n4,\n5,\n6,\n7,\n8,\n9,\n10,\n", {}, "column temp", "10 of 11 cells are empty"),
    ("frametime\n16\n\n17\n", {}, "row 3, column frametime", "The cell is empty (1 in this column)"),
    ("time,power W\n0,50\n1,0\n2,51\n", {}, "row 3, column power W", "reads 0 in 1 of 3 rows"),
    ("time,a temp,b temp\n0,50,60\n1,51,61\n", {}, "column a temp", "Several columns read the temperature"),
    ("time s,clock MHz\n0,1.8\n1,1.9\n", {}, "column clock MHz", "Its unit cannot be told"),
    ("time d,temp\n0,50\n9,51\n", {"time_format": "days"}, "column time d", "covers 9.0 days; 4 is the most"),
    ("time,temp\n0,50\n2,51\n1,52\n", {}, "row 4, column time", "backwards, from 2.000 s to 1.000 s"),
    ("time,temp °C\n0,50\n1,412\n", {}, "row 3, column temp °C", "412 °C cannot be a temperature"),
    ("time,power W\n0,50\n1,-3\n", {}, "row 3, column power W", "−3 W cannot be a power"),
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
    problem = problem_text(caught.value.problems[0])
    assert problem.where == where
    assert what in problem.what
    assert problem.todo


def test_missing_cells_and_cut_lines_can_be_left_out_on_request():
    log = reading("time,temp\n0,50\n1,N/A\n2,52\n")
    assert np.isnan(log.channels[0].values).tolist() == [False, True, False]
    assert reading("time,temp\n0,50\n1,51\n2", last_line="drop").time_s.tolist() == [0, 1]
    frames = reading("frametime\n16\n\n17\n", missing="leave out")
    assert frames.frame_times_ms.tolist() == [16, 17]


def test_a_guess_says_what_headers_hint_at():
    table = read_table(
        b"Elapsed,Core clock (MHz),VRAM clock,Fan rpm,Usage %,Vcore,Remark\n0,1,2,3,4,1,x\n1,1,2,3,4,1,y\n"
    )
    choice = guess_choice(table).choice
    assert choice.time_column == "Elapsed"
    assert [(column.header, column.quantity) for column in choice.columns] == [
        ("Core clock (MHz)", "core clock"), ("VRAM clock", "memory clock"), ("Fan rpm", "fan speed"),
        ("Usage %", "load"), ("Vcore", "voltage"),
    ]  # fmt: skip


def test_a_log_is_kept_as_it_was_read():
    log = TelemetryLog(np.array([0.0, 0.1, 0.2]), (), np.array([2, 3, 4]))
    assert from_parquet(to_parquet(columns_of(log)))["time_s"].tolist() == [0.0, 0.1, 0.2]
    frames = FrameLog(np.array([16.7, 33.4]), np.array([5, 6]))
    assert from_parquet(to_parquet(columns_of(frames))) == {
        "time_s": pytest.approx([0.0167, 0.0501]),
        "frame_ms": pytest.approx([16.7, 33.4]),
        "file_line": pytest.approx([5, 6]),
    }


def test_a_channel_named_like_the_time_column_does_not_replace_it():
    table = read_table(b"t,time_s\n0,50\n1,51\n")
    choice = LogChoice(
        kind="telemetry", time_column="t", columns=[ColumnChoice(header="time_s", quantity="temperature", unit="°C")]
    )
    kept = from_parquet(to_parquet(columns_of(read_log(table, choice))))
    assert kept["time_s"].tolist() == [0, 1]
    assert kept["time_s (channel)"].tolist() == [50, 51]


def rows(cells, header="time"):
    return f"{header};temp\n" + "".join(f"{cell};50\n" for cell in cells)


@pytest.mark.parametrize(
    ("data", "expected"),
    [
        (rows([f"00:{n:02}" for n in range(60)]), 59),
        (rows([f"{n // 60:02}:{n % 60:02}" for n in range(0, 600, 5)]), 595),
        (rows(["00:00.0", "00:00.5", "00:01.0"]), 1),
        (rows(["00:00:00", "00:00:59"]), 59),
        (rows([str(n * 200) for n in range(100)]), 19.8),
        (rows([str(n * 0.5) for n in range(100)]), 49.5),
    ],
)
def test_the_offered_guess_gives_the_true_length(data, expected):
    assert reading(data).time_s[-1] == pytest.approx(expected)


@pytest.mark.parametrize(
    "data",
    [
        rows(["00:00", "00:30", "01:00"]),
        rows([str(n * 20) for n in range(300)]),
        rows([str(n * 100) for n in range(100)]),
    ],
)
def test_a_time_that_can_be_read_in_two_ways_is_asked_about(data):
    with pytest.raises(Refused, match="time_format_unknown"):
        reading(data)
    assert reading(data, time_format="minutes:seconds" if ":" in data else "seconds").time_s[-1] > 0


def test_a_mark_that_may_stand_between_thousands_is_told_by_what_could_be():
    log = reading("time s;core MHz;core V;temp\n0,5;1.800;1.050;50,5\n1,5;1.815;1.045;50,7\n")
    assert [c.values.tolist() for c in log.channels[:2]] == [[1800, 1815], [1.05, 1.045]]


def test_a_mark_that_nothing_tells_is_asked_about():
    data = "time s;power W;temp\n0,5;1.800;50,5\n1,5;1.815;50,7\n"
    table = read_table(data.encode())
    choice = guess_choice(table).choice
    with pytest.raises(Refused) as caught:
        read_log(table, choice)
    problem = caught.value.problems[0]
    assert (problem.where, problem.code, problem.params["without"]) == (
        "row 2, column power W",
        "mark_ambiguous",
        "1800",
    )
    choice.columns[0].mark = "thousands"
    assert read_log(table, choice).channels[0].values.tolist() == [1800, 1815]


@pytest.mark.parametrize("header", ["power limit W", "board power limit %", "power target", "power %", "temp limit"])
def test_what_is_allowed_is_no_reading(header):
    table = read_table(f"time;{header}\n0;100\n1;100\n".encode())
    assert guess_choice(table).choice.columns[0].quantity == "other"


def test_a_frame_time_looked_at_now_and_then_makes_no_frame_log():
    lines = "".join(f"{n};{16 + n % 3};{60 + n % 5}\n" for n in range(60))
    log = reading(f"time s;frame time ms;temp\n{lines}")
    assert isinstance(log, TelemetryLog)
    assert [(c.name, c.quantity) for c in log.channels] == [("frame time ms", "other"), ("temp", "temperature")]


def test_every_frame_with_its_time_is_a_frame_log():
    lines = "".join(f"{n * 0.0167:.4f};16.7;60\n" for n in range(60))
    assert isinstance(reading(f"time s;frame time ms;load\n{lines}"), FrameLog)


@pytest.mark.parametrize("header", ["ms\n", "value\n", "", "frames\n"])
def test_one_column_of_frame_times_needs_no_time(header):
    log = reading(header + "16.7\n16.9\n33.1\n16.6\n")
    assert isinstance(log, FrameLog)
    assert log.frame_times_ms.tolist() == [16.7, 16.9, 33.1, 16.6]
    seconds = reading(header.replace("ms", "value") + "0.0167\n0.0169\n0.0331\n")
    assert seconds.frame_times_ms.tolist() == pytest.approx([16.7, 16.9, 33.1])
