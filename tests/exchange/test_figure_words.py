"""Figures named before their number, in the quick line: the unit decides which figure it is, and is never dropped."""

import pytest

from trelvo.core.base.figures import PARTS, STATISTICS, FigureKey, key_of
from trelvo.core.base.knobs import Knob
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.exchange.quick_line.figure_words import named_figure
from trelvo.exchange.quick_line.grammar import LineWorkload, read_quick_line

KNOBS = [Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1)]
GORGE = LineWorkload(1, "Gorge", "fps", (), "frame rate")
RINGS = LineWorkload(2, "Rings", "points")


def read(line):
    return read_quick_line(f"stock {line} ok", KNOBS, [GORGE, RINGS], {})


@pytest.mark.parametrize(
    ("line", "figures"),
    [
        ("avg 210w", {"power_w": 210}),
        ("avg 71c", {"temp_mean_c": 71}),
        ("mean 1905 mhz", {"core_mhz": 1905}),
        ("max 77c", {"temp_max_c": 77}),
        ("max 77 °c", {"temp_max_c": 77}),
        ("peak 260 watts", {"power.tuned_part.highest": 260}),
        ("min 1.86ghz", {"core_clock.tuned_part.lowest": 1860}),
        ("room 72f", {"room_c": pytest.approx(22.2222, abs=1e-4)}),
        ("fan 60%", {"fan_percent": 60}),
        ("fan 1800 rpm", {"fan_rpm": 1800}),
        ("noise 41 dB(A)", {"noise_dba": 41}),
    ],
)
def test_the_unit_says_which_figure_it_is(line, figures):
    for workload, result in (("gorge", 90), ("rings", 9000)):
        said = read(f"{workload} {line} {result}")
        assert said.problems == []
        said.figures.pop("value")
        assert said.figures == figures


def test_frame_rates_with_and_without_their_unit():
    said = read("gorge avg 105 min 75 max 130 fps low 84 fps 1% 80")
    assert [(problem.code, problem.params) for problem in said.problems] == [
        ("figure_named_twice", {"meaning": "1 % low 80 fps"})
    ]
    assert said.figures == {"value": 105, "min_fps": 75, "max_fps": 130, "low_1_fps": 84}


@pytest.mark.parametrize(
    "figure", ["room 22w", "noise 41w", "low 70c", "low 70 c", "fan 60db", "memclock 90c", "room 2 v"]
)
def test_a_unit_of_something_else_is_refused_at_its_place(figure):
    said = read(f"gorge 90 {figure}")
    (problem,) = said.problems
    assert problem.code == "not_a_unit_of_figure"
    start, end = (int(place) for place in problem.where.split("-"))
    assert f"stock gorge 90 {figure} ok"[start:end] == figure.split(" ", 1)[1]
    assert said.figures == {"value": 90}


def test_no_frame_rate_without_a_unit_where_none_is_measured():
    assert read("rings 9000 max 130").problems[0].code == "maximum_without_frame_rate"
    assert read("rings min 130 9000").problems[0].code == "minimum_without_frame_rate"
    # behind a number it is minutes
    assert read("rings 9000 min 130").figures == {"duration_s": 540_000, "value": 130}


def test_a_knob_after_a_number_is_not_its_unit():
    knobs = [*KNOBS, Knob("v", "Volts", "mV", 1000, 5, 800, 1200, 1)]
    said = read_quick_line("stock gorge 90 low 70 v 950 ok", knobs, [GORGE], {})
    assert (said.values, said.figures) == ({"v": 950}, {"value": 90, "low_1_fps": 70})


def test_every_word_of_a_figure_names_it_again():
    for quantity in QUANTITIES:
        for part in PARTS:
            for statistic in STATISTICS:
                key = FigureKey(quantity, part, statistic)
                assert key_of(key.word) == key
    assert named_figure("low", 70, "") is not None
    assert named_figure("low", 70, "mv") is None
