"""Logs as a tired person drops them at two in the morning: each is right, or asks; made by hand, unlike the dresses."""

import csv

import numpy as np
import pytest

from trelvo.core.problems import Refused
from trelvo.exchange.limits import MOST_CELL
from trelvo.exchange.logs.choice import LogChoice
from trelvo.exchange.logs.guess import About, guess_choice
from trelvo.exchange.logs.reading import FrameLog, TelemetryLog, read_log
from trelvo.exchange.logs.remembered import with_memory
from trelvo.exchange.logs.text_table import read_table
from trelvo.messages.problems import problem_text


def taken(data, about=None):
    """What the offered choice gives."""
    table = read_table(data if isinstance(data, bytes) else data.encode())
    return read_log(table, guess_choice(table, about).choice)


def lines(header, row, count=40, before="", after=""):
    return before + header + "\n" + "".join(row(n) + "\n" for n in range(count)) + after


def clock(second):
    return f"{second // 3600 % 24:02}:{second // 60 % 60:02}:{second % 60:02}"


LENGTHS = {
    "noon without a date": (lines("Time,temp °C", lambda n: f"{clock(43_190 + n)},60"), 39),
    "afternoon named": (lines("Time;temp °C", lambda n: f"12:59:{20 + n:02} p.m.;60"), 39),
    "one a.m. after midnight": (
        lines("Time,temp °C", lambda n: f"{('11:59', '12:00')[n // 20]}:{(40 + n) % 60:02} {('PM', 'AM')[n // 20]},60"), 39,
    ),
    "elapsed hours": (lines("elapsed,temp °C", lambda n: f"0:0{n // 20}:{n % 20 * 3:02},60"), 117),
    "seconds with a mark between thousands": (lines("time (s),temp °C", lambda n: f'"{900 + 10 * n:,}",60'), 390),
    "epoch with a comma": (lines("timestamp;temp °C", lambda n: f"{1_950_000_000 + n},25;60,5"), 39),
    "spreadsheet days": (lines("Date;temp °C", lambda n: f"{48_000 + n / 86_400:.8f};60"), 39),
    "the unit behind each time": (lines("t,temp °C", lambda n: f"{n * 500} ms,60"), 19.5),
    "a date of two digits and a point behind it": (lines("Datum;temp °C", lambda n: f"01.02.31. 10:00:{n:02};60"), 39),
    "month and day change at midnight": (
        lines("Date,temp °C", lambda n: f"{('04/30/2031 23:59', '05/01/2031 00:00')[n // 20]}:{(40 + n) % 60:02},60"), 39,
    ),
    "zones that change in the middle": (
        lines(
            "time,temp °C",
            lambda n: f"2031-10-26T{('02:59', '01:00')[n // 20]}:{(40 + n) % 60:02}+0{('2', '0')[n // 20]}:00,60",
        ),
        39,
    ),
    "ten lines of words above": (lines("time s,temp °C", lambda n: f"{n},60", before="who: me\nwhat; a, b; run\n" * 5), 39),
    "old line ends": (lines("time s,temp °C", lambda n: f"{n},60").replace("\n", "\r"), 39),
    "wide characters without a mark": (lines("time s,temp °C", lambda n: f"{n},60").encode("utf-16-le"), 39),
    "sums below": (lines("time s,temp °C", lambda n: f"{n},60", after="\nMin,50\nMax,70\nAverage,60,,\n"), 39),
    "two clocks that agree": (lines("Time,elapsed (ms),temp °C", lambda n: f"{clock(36_000 + n)},{n * 1000},60"), 39),
}  # fmt: skip


@pytest.mark.parametrize("name", LENGTHS)
def test_how_long_it_is(name):
    data, seconds = LENGTHS[name]
    log = taken(data)
    assert isinstance(log, TelemetryLog)
    assert log.time_s[-1] == pytest.approx(seconds, abs=1e-4)
    assert len(log.time_s) == 40


ASKED = {
    "two clocks that disagree": lines("Time,elapsed (s),temp °C", lambda n: f"{clock(36_000 + n)},{n * 7},60"),
    "both orders of a date would do": lines(
        "Date,temp °C", lambda n: f"0{n % 2 + 1}/0{n % 2 + 3}/2031 10:00:{n:02},60", 2
    ),
    "hours or minutes first": lines("time,temp °C", lambda n: f"10:{n:02},60"),
    "°F without a word": lines("time s,temp", lambda n: f"{n},{140 + n}"),
    "neither °C nor °F": lines("time s,temp", lambda n: f"{n},{330 + n}", 300),
    "GHz under MHz": lines("time s,clock MHz", lambda n: f"{n},{2.4 + n / 100:.2f}"),
    "load that never rises above 1": lines("time s,load", lambda n: f"{n},{0.5 + n / 100:.2f}"),
    "a zero among watts": lines("time s,power W", lambda n: f"{n},{0 if n == 9 else 200}"),
    "a zero among degrees": lines("time s,temp °C", lambda n: f"{n},{0 if n == 9 else 66}"),
    "two temperatures of nothing": lines("time s,temp,temp", lambda n: f"{n},60,71"),
    "sixteen cores and no package": lines(
        "time s," + ",".join(f"core {i} temp °C" for i in range(16)), lambda n: f"{n}," + ",".join(["60"] * 16)
    ),
    "graphics or processor": lines("time s,graphics power W,processor power W", lambda n: f"{n},200,90"),
    "seconds named, thousandths meant": lines("time (s),temp °C", lambda n: f"{n * 500},60"),
    "a mark that may be either": lines("time s;power W", lambda n: f"{n},5;1.{200 + n}"),
    "time runs back": lines("time s,temp °C", lambda n: f"{n if n < 20 else n - 20},60"),
    "a year in the log": lines("Date,temp °C", lambda n: f"2031-{n % 12 + 1:02}-01 10:00:00,60", 12),
    "a sensor gone mad": lines("time s,temp °C", lambda n: f"{n},{6553.5 if n == 7 else 60}"),
    "frames with a hole": lines("frame time ms", lambda n: "" if n == 5 else "16.7"),
    "the last line cut off": "time s,temp °C,power W\n0,60,100\n1,61,101\n2,6",
    "words for times": lines("time,temp °C", lambda n: f"soon,{60 + n}"),
}


@pytest.mark.parametrize("name", ASKED)
def test_what_cannot_be_told_is_asked(name):
    with pytest.raises(Refused) as caught:
        taken(ASKED[name])
    texts = [problem_text(problem) for problem in caught.value.problems]
    assert all(text.where and text.what and text.todo for text in texts)


def means(log):
    return {
        (c.quantity, c.part): round(float(np.nanmean(c.values)), 3)
        for c in log.channels
        if c.tells and c.quantity != "other"
    }


READINGS = [
    ("time s,clock", lambda n: f"{n},{'980 MHz' if n % 2 else '1.02 GHz'}", {("core clock", "tuned part"): 1000}),
    ("time s,draw", lambda n: f"{n},{'900mW' if n % 2 else '1.1 W'}", {("power", "tuned part"): 1}),
    ("time s,sensor", lambda n: f"{n},66 °C", {("temperature", "tuned part"): 66}),
    ("time s,die [K]", lambda n: f"{n},333.15", {("temperature", "tuned part"): 60}),
    ("time s,whole PSU kW", lambda n: f"{n},0.45", {("power", "whole machine"): 450}),
    ("time s,core voltage", lambda n: f"{n},1050", {("voltage", "tuned part"): 1.05}),
    ("time s,fan", lambda n: f"{n},1450", {("fan speed", "tuned part"): 1450}),
    ("time s,fan", lambda n: f"{n},45", {("fan", "tuned part"): 45}),
    ("time s,temp,power limit W,temp limit", lambda n: f"{n},60,450,83", {("temperature", "tuned part"): 60}),
    ("time s,temp °C,spare °C temp", lambda n: f"{n},60,", {("temperature", "tuned part"): 60}),
    ("time s,vcore,vid", lambda n: f"{n},1.05,1.15", {("voltage", "tuned part"): 1.05}),
    ("time s;power", lambda n: f"{n};{'N/A' if n == 3 else '212,5'}", {("power", "tuned part"): 212.5}),
    ("time s;clock MHz", lambda n: f"{n};{'985' if n % 2 else '1.015'}", {("core clock", "tuned part"): 1000}),
    ("time s;clock MHz", lambda n: f"{n};1 800", {("core clock", "tuned part"): 1800}),
    ("time s;clock MHz", lambda n: f"{n};1’800", {("core clock", "tuned part"): 1800}),
    ("time s,noise dB(A),room °C temp,temp", lambda n: f"{n},38,21,60", {
        ("noise", "whole machine"): 38, ("temperature", "room"): 21, ("temperature", "tuned part"): 60,
    }),
    ("time s,package temp °C,core 0 temp °C,core 1 temp °C", lambda n: f"{n},70,66,68", {("temperature", "tuned part"): 70}),
    ("time s,die °C temp,hot spot °C,memory temp °C", lambda n: f"{n},60,75,80", {
        ("temperature", "tuned part"): 60, ("temperature", "memory"): 80,
    }),
    ("time s,graphics temp °C,processor temp °C", lambda n: f"{n},60,75", {
        ("temperature", "tuned part"): 60, ("temperature", "processor"): 75,
    }),
]  # fmt: skip


@pytest.mark.parametrize(("header", "row", "expected"), READINGS, ids=[header for header, _, _ in READINGS])
def test_what_it_reads(header, row, expected):
    log = taken(lines(header, row), About("graphics"))
    assert means(log) == pytest.approx(expected)


def test_groups_of_columns_name_the_part():
    names = "time s,temp °C,power W,temp °C,power W"
    log = taken(lines(names, lambda n: f"{n},60,200,70,90", before=",graphics,,processor,\n"), About("processor"))
    graphics = {("temperature", "graphics"): 60, ("power", "graphics"): 200}
    assert means(log) == {**graphics, ("temperature", "tuned part"): 70, ("power", "tuned part"): 90}


def test_four_hundred_columns_keep_what_is_known_of_them():
    header = "time s,temp °C," + ",".join(f"counter {i}" for i in range(400))
    log = taken(lines(header, lambda n: f"{n},60," + ",".join(["1"] * 400)))
    assert [c.quantity for c in log.channels] == ["temperature"]


def test_a_long_log_is_told_by_the_steps_of_its_readings_not_of_the_sample():
    second = taken(lines("time,temp °C", lambda n: f"{n},60", 100_000))
    assert (second.time_s[-1], len(second.time_s)) == (99_999, 100_000)
    thousandth = taken(lines("time,temp °C", lambda n: f"{n * 100},60", 60_000))
    assert thousandth.time_s[-1] == pytest.approx(5999.9)


def test_a_row_knows_its_line_in_the_file():
    data = lines("time s,temp °C", lambda n: f"{n},{50 + n}", 6, before="a word\n").replace(
        "3,53\n", "\n# door\n3,53\n"
    )
    log = taken(data)
    assert [data.split("\n")[line - 1] for line in log.lines] == [f"{n},{50 + n}" for n in range(6)]


def test_a_frame_time_of_each_present_is_a_frame_log_in_any_unit():
    for unit, size in (("ms", 16.7), ("us", 16_700), ("s", 0.0167), ("ns", 16_700_000)):
        log = taken(lines(f"frametime_{unit}", lambda n, size=size: f"{size}"))
        assert isinstance(log, FrameLog)
        assert log.frame_times_ms[0] == pytest.approx(16.7)


def test_what_was_remembered_yields_to_the_file():
    table = read_table(lines("time,clock,temp", lambda n: f"{n * 0.5},{1.8 + n / 1000},{60 + n % 3}").encode())
    choice = guess_choice(table).choice
    choice.columns[0].unit = "GHz"
    kept = LogChoice.model_validate(choice.model_dump())
    again = with_memory(table, guess_choice(table), kept, frozenset())
    assert again.choice.columns[0].unit == "GHz"
    assert read_log(table, again.choice).channels[0].values[0] == pytest.approx(1800)
    # the next log of the same columns is written otherwise
    other = read_table(lines("time,clock,temp", lambda n: f"{n * 500},{1800 + n % 5} MHz,{60 + n % 3}", 100).encode())
    now = with_memory(other, guess_choice(other), kept, frozenset())
    log = read_log(other, now.choice)
    assert log.time_s[-1] == pytest.approx(49.5)
    assert log.channels[0].values[0] == 1800
    assert (now.seen[1].why.code, now.seen[1].why.params["last"]) == ("other_unit_last_time", "GHz")


def test_what_was_left_out_last_time_is_left_out_again_and_an_instrument_of_another_rig_is_forgotten():
    table = read_table(lines("time s,temp °C,odd", lambda n: f"{n},60,{n}").encode())
    kept = guess_choice(table).choice
    kept.columns = kept.columns[:1]
    kept.columns[0].instrument_id = 77
    again = with_memory(table, guess_choice(table), kept, frozenset({5}))
    assert [(c.header, c.instrument_id) for c in again.choice.columns] == [("temp °C", None)]
    assert again.seen[2].taken == "left out"


def test_a_cell_beyond_all_bounds_is_refused_in_words():
    """The row that stops the fast reader is looked for slowly, and there the cell before it is too long."""
    # a checker of data packages that other tests use sets a bound of its own
    other = csv.field_size_limit(MOST_CELL)
    try:
        with pytest.raises(Refused, match="cell_unreadable"):
            read_table(b"time;temp\n0;50\n1;51\n2;" + b"5" * (MOST_CELL + 1) + b"\n3;51;52;53\n")
    finally:
        csv.field_size_limit(other)
