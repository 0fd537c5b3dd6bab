"""Logs as they come: any separator, sign and encoding; and what cannot be read."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.message import message
from trelvo.core.problems import Refused
from trelvo.exchange.logs.text_table import read_table
from trelvo.messages.problems import problem_text

PLAIN = "time,temp\n0,50.5\n1,51.5\n"


@pytest.mark.parametrize(
    ("data", "separator", "decimal"),
    [
        (PLAIN.encode(), ",", "."),
        (b"\xef\xbb\xbf" + PLAIN.encode(), ",", "."),
        (PLAIN.encode("utf-16"), ",", "."),
        (PLAIN.replace("\n", "\r\n").encode(), ",", "."),
        (PLAIN.replace(",", ";").replace(".", ",").encode(), ";", ","),
        (PLAIN.replace(",", "\t").encode(), "\t", "."),
        (b'time,temp\n0,"50,5"\n1,"51,5"\n', ",", ","),
        (b"some logger 4\nwritten in the attic\n" + PLAIN.encode() + b"\n\n", ",", "."),
    ],
)
def test_the_same_table_in_every_dress(data, separator, decimal):
    table = read_table(data)
    assert (table.layout.separator, table.layout.decimal) == (separator, decimal)
    assert table.layout.headers == ("time", "temp")
    assert [cell.replace(",", ".") for cell in table.columns[1]] == ["50.5", "51.5"]
    assert table.cut_short is None


def test_row_numbers_count_lines_of_the_file():
    table = read_table(b"a note\n" + PLAIN.encode())
    assert table.line(0) == 3
    assert table.layout.notes == (message("lines_above_names", lines=1),)


def test_other_encodings_are_read_and_said():
    table = read_table("time;temp °C\n0;50\n".encode("cp1252"))
    assert table.layout.headers == ("time", "temp °C")
    assert table.layout.notes == (message("read_as_windows_1252"),)


def test_headers_that_stand_twice_are_told_apart():
    assert read_table(b"t,temp,temp,\n0,1,2,3\n").layout.headers == ("t", "temp", "temp (2)", "column 4")


def test_a_last_line_that_was_cut_off():
    assert read_table(b"t,a,b\n0,1,2\n1,5").cut_short == 2
    assert read_table(b"t,a,b\n0,1,2\n1,5,6").cut_short is None


@pytest.mark.parametrize(
    ("data", "where", "code"),
    [
        (b"", "file", "empty_file"),
        (b"PK\x03\x04\x00\x00\x08\x00", "file", "not_a_text_file"),
        (bytes(range(256)) * 20, "file", "not_a_text_file"),
        (b"just a sentence\nand another\n", "separator", "one_cell_a_line"),
        (b"1,2\n3,4\n", "file", "no_column_names"),
        (b"time,temp\n", "file", "no_rows"),
        (b"time,temp\n0,1\n1,2,3\n", "row 3", "ragged_row"),
        (b'time,temp\n0,1\n1,"2\n', "file", "open_quote"),
    ],
)
def test_what_cannot_be_read_says_where(data, where, code):
    with pytest.raises(Refused) as caught:
        read_table(data)
    problem = caught.value.problems[0]
    assert problem.where == where
    assert problem.code == code


def test_a_wrong_separator_chosen_by_hand():
    with pytest.raises(Refused, match="one_cell_a_line"):
        read_table(PLAIN.encode(), separator=";")
    with pytest.raises(Refused, match="unknown_separator"):
        read_table(PLAIN.encode(), separator="x")


@given(st.binary(max_size=2000))
def test_any_bytes_are_read_or_refused_in_words(data):
    try:
        table = read_table(data)
    except Refused as refusal:
        texts = [problem_text(problem) for problem in refusal.problems]
        told = [text for text in texts if text.what and text.todo]
    else:
        told = table.columns[0].to_list() if len(table.columns) == len(table.layout.headers) else []
    assert told
