"""A run typed in one line: what is understood, and what is refused rather than guessed."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.exchange.quick_line.grammar import OUTCOME_WORDS, LineWorkload, begin_quick_line, read_quick_line
from trelvo.messages.problems import problem_text

KNOBS = [
    Knob("power", "Power limit", "%", 100, 1, 60, 120, 1),
    Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1),
    Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1),
]
LOADS = [LineWorkload(1, "Gorge flythrough", "fps"), LineWorkload(2, "Dust rings", "points"),
         LineWorkload(3, "Dust devils", "points"), LineWorkload(4, "Lantern render", "s")]  # fmt: skip


def read(line, before=None):
    return read_quick_line(line, KNOBS, LOADS, before or {})


def test_a_whole_run():
    said = read("core +135 rings 8421 72c 212w wall 12min ok # side panel off")
    assert said.problems == []
    assert said.values == {"core": 135}
    assert (said.workload_id, said.outcome, said.power_point) == (2, "completed", "wall")
    assert said.figures == {"value": 8421, "temp_max_c": 72, "power_w": 212, "duration_s": 720}
    assert said.note == "side panel off"
    assert said.setting == "core clock +135\u00a0MHz"
    assert [one.meaning for one in said.understood][:2] == ["Core clock +135\u00a0MHz", "Dust rings"]


def test_knobs_not_named_stay_as_they_were_unless_stock_is_said():
    before = {"power": 120.0, "core": 60.0}
    assert read("core 75 gorge 99 ok", before).values == {"power": 120, "core": 75}
    assert read("stock core 75 gorge 99 ok", before).values == {"core": 75}
    assert read("stock gorge 93.4 ok", before).values == {}
    # back to stock by its value
    assert read("power 100 gorge 93 ok", before).values == {"core": 60}


def test_comma_minus_sign_units_and_capitals():
    said = read("Voltage −25mV GORGE 93,4FPS 1,05v 2475MHz low 61,5 room 24 OK")
    assert said.problems == []
    assert said.values == {"voltage": -25}
    assert said.figures == {"value": 93.4, "voltage_v": 1.05, "core_mhz": 2475, "low_1_fps": 61.5, "room_c": 24}
    assert read("lantern 118s ok").figures == {"value": 118}


def test_a_failure_needs_no_result():
    said = read("core 240 gorge 3min down")
    assert (said.problems, said.outcome, said.figures) == ([], "system crash", {"duration_s": 180})


@pytest.mark.parametrize(
    ("line", "says", "place"),
    [
        ("core 137 gorge 99 ok", "knob_value_off_grid", "5-8"),
        ("core 900 gorge 99 ok", "knob_value_out_of_range", "5-8"),
        ("core gorge 99 ok", "knob_without_value", "0-4"),
        ("core 15mV gorge 99 ok", "knob_in_other_unit", "5-9"),
        ("core 15 core 30 gorge 99 ok", "knob_named_twice", "8-12"),
        ("dust 99 ok", "workload_ambiguous", "0-4"),
        ("gorge rings 99 ok", "two_workloads", "6-11"),
        ("99 gorge ok", "number_of_what", "0-2"),
        ("gorge 99 98 ok", "figure_named_twice", "9-11"),
        ("gorge 99 72k ok", "not_a_unit_of_a_run", "9-12"),
        ("gorge 99 ok down", "ended_in_two_ways", "12-16"),
        ("gorge 99 room ok", "figure_without_number", "9-13"),
        ("gorge 99 wall ok", "point_without_power", "16-16"),
        ("gorge 99", "outcome_missing", "8-8"),
        ("core 15 ok", "workload_missing", "10-10"),
        ("frobnicate gorge 99 ok", "word_not_understood", "0-10"),
        ("g" * 500, "quick_line_too_long", "400-500"),
        ("", "workload_missing", "0-0"),
    ],
)
def test_what_is_not_clear_is_refused_at_its_place(line, says, place):
    problems = read(line).problems
    assert any(problem.code == says and problem.where == place for problem in problems), problems


@given(st.text(max_size=120))
def test_any_text_is_read_without_a_fault(line):
    said = read(line)
    assert said.problems or said.outcome in OUTCOME_WORDS.values()
    assert all(0 <= one.start < one.end <= len(line) for one in said.understood)


@given(
    st.sampled_from(["", "stock "]), st.integers(-20, 20), st.floats(0.1, 9999).map(lambda x: round(x, 2)),
    st.sampled_from(sorted(OUTCOME_WORDS)),
)  # fmt: skip
def test_what_is_written_is_what_is_read(start, steps, value, word):
    said = read(f"{start}core {steps * 15:+d} gorge {value} {word}")
    assert said.problems == []
    assert said.values == ({"core": steps * 15} if steps else {})
    assert (said.figures["value"], said.outcome) == (value, OUTCOME_WORDS[word])


@given(st.integers(60, 120), st.integers(-20, 20), st.integers(-30, 0), st.sampled_from([1, 2, 4]), st.integers(1, 600))
def test_a_line_that_is_begun_means_the_test_it_was_begun_for(power, core, voltage, load, minutes):
    values = {"power": float(power), "core": core * 15.0, "voltage": voltage * 5.0}
    line = begin_quick_line(values, load, minutes, KNOBS, LOADS)
    # whatever was run before, and with the end typed behind it
    said = read(f"{line}93,4 odd", {"power": 77.0, "core": 30.0})
    assert said.problems == []
    stock = {knob.key: knob.stock for knob in KNOBS}
    assert said.values == {key: value for key, value in values.items() if value != stock[key]}
    assert (said.workload_id, said.outcome) == (load, "artifacts")
    assert said.figures == {"duration_s": minutes * 60, "value": 93.4}


def test_no_line_is_begun_that_would_be_refused():
    twins = [LineWorkload(1, "Dust", "fps"), LineWorkload(2, "Dust rings", "fps")]
    # its only word is a word of the other too
    assert begin_quick_line({}, 1, 5, KNOBS, twins) == ""
    assert begin_quick_line({}, 2, 5, KNOBS, twins) == "stock rings 5min "
    # what ends by itself has no minutes to type
    assert begin_quick_line({}, 2, None, KNOBS, twins) == "stock rings "
    # a name whose only word has a meaning of its own
    assert begin_quick_line({}, 1, 5, KNOBS, [LineWorkload(1, "Wall", "fps")]) == ""


@pytest.mark.parametrize(
    ("line", "values", "figures", "outcome"),
    [
        ("core+75 gorge 98.4 ok", {"core": 75}, {"value": 98.4}, "completed"),
        ("core +75 gorge 98.4 fps 212 watts passed", {"core": 75}, {"value": 98.4, "power_w": 212}, "completed"),
        ("core +75 gorge 72 C ok", {"core": 75}, {"temp_max_c": 72}, "completed"),
        ("core +75 gorge 2:35 froze", {"core": 75}, {"duration_s": 155}, "system crash"),
        ("core +75 gorge artifacts", {"core": 75}, {}, "artifacts"),
        ("core +75 gorge black screen", {"core": 75}, {}, "no start"),
        ("stock gorge 93,4 fps 24 minutes fine", {}, {"value": 93.4, "duration_s": 1440}, "completed"),
    ],
)  # fmt: skip
def test_what_people_type(line, values, figures, outcome):
    said = read(line)
    assert said.problems == []
    assert (said.values, said.figures, said.outcome) == (values, figures, outcome)


def test_a_knob_by_its_unit_alone():
    said = read("-25mv gorge 98 ok")
    assert (said.values, said.problems) == ({"voltage": -25}, [])
    # two knobs with that unit: nothing is guessed
    two = [KNOBS[2], replace(KNOBS[2], key="offset")]
    assert read_quick_line("-25mv gorge 98 ok", two, LOADS, {}).problems


def test_a_crash_is_answered_with_what_it_could_mean():
    problem = read("core +75 gorge crash").problems[0]
    assert (problem.code, problem.params) == ("outcome_ambiguous", {"word": "crash"})


def test_after_a_failure_nobody_stays_there_without_a_word():
    before = {"core": 75.0}
    asked = read_quick_line("gorge 98 ok", KNOBS, LOADS, before, failed_before=True)
    assert [problem.code for problem in asked.problems] == ["failed_before"]
    assert read_quick_line("core +60 gorge 98 ok", KNOBS, LOADS, before, failed_before=True).problems == []
    assert read_quick_line("stock gorge 98 ok", KNOBS, LOADS, before, failed_before=True).problems == []


TITLES = [
    LineWorkload(1, "Shadow harbour", "fps", ("2560 × 1440", "high", "ray tracing"), "frame rate"),
    LineWorkload(2, "Shadow harbour", "fps", ("2560 × 1440", "high", "plain"), "frame rate"),
    LineWorkload(3, "Shadow harbour", "fps", ("1920 × 1080", "high", "ray tracing"), "frame rate"),
    LineWorkload(4, "Lantern render", "s", ("512 samples",), "time"),
    LineWorkload(5, "Dust rings", "points", (), "score"),
]
FAST = [
    Knob("mult", "Multiplier", "x", 40, 1, 30, 50, 1),
    Knob("vcore", "Core voltage", "V", 1.2, 0.0125, 1.0, 1.5, 1),
    Knob("core", "Core clock", "MHz", 3000, 100, 2000, 4000, 1),
]


def typed(line, **more):
    return read_quick_line(line, FAST, TITLES, {}, **more)


@pytest.mark.parametrize(
    ("line", "workload", "figures"),
    [
        # one of the two readings is impossible: no frame rate is below its own minimum
        ("shadow 1080 60 min 75 ok", 3, {"duration_s": 3600, "value": 75}),
        ("shadow 1080 105min 75 ok", 3, {"duration_s": 6300, "value": 75}),
        ("shadow 1080 avg 105 min 75 max 130 ok", 3, {"value": 105, "min_fps": 75, "max_fps": 130}),
        (
            "shadow 1080 105 minimum 75 max 130 12min ok",
            3,
            {"value": 105, "min_fps": 75, "max_fps": 130, "duration_s": 720},
        ),
        ("shadow 1080 74 min ok", 3, {"duration_s": 74 * 60}),
        # a score and a time have no minimum
        ("rings 105 min 75 ok", 5, {"duration_s": 6300, "value": 75}),
        ("shadow 1080 105 1% 84 ok", 3, {"value": 105, "low_1_fps": 84}),
        ("shadow 1080 105 1% low 84 0.1% 61 ok", 3, {"value": 105, "low_1_fps": 84, "low_01_fps": 61}),
        ("shadow 1080 105 low 84 ok", 3, {"value": 105, "low_1_fps": 84}),
        ("shadow 1080 105 41dB fan 60 ok", 3, {"value": 105, "noise_dba": 41, "fan_percent": 60}),
        ("shadow 1080 105 41 dba fan 1450rpm ok", 3, {"value": 105, "noise_dba": 41, "fan_rpm": 1450}),
        # the time that it took is the result
        ("lantern 182 sec ok", 4, {"value": 182}),
        ("lantern 182s 12min ok", 4, {"value": 182, "duration_s": 720}),
        ("rings 8421 182 sec ok", 5, {"value": 8421, "duration_s": 182}),
        # words of name and options intersect
        ("shadow 1440 ray 64fps ok", 1, {"value": 64}),
        ("shadow ray 1440 64 ok", 1, {"value": 64}),
        ("shadow plain 1440p 64 ok", 2, {"value": 64}),
        ("shadow 1920x1080 64 ok", 3, {"value": 64}),
        ("plain 1440 ok", 2, {"value": 1440}),
    ],
)
def test_what_practitioners_type(line, workload, figures):
    said = typed(line)
    assert said.problems == []
    assert (said.workload_id, said.figures) == (workload, figures)


@pytest.mark.parametrize("line", ["shadow 1080 105 min 75 ok", "shadow 1080 74 min 60 ok", "shadow 1080 75 min 75 ok"])
def test_minutes_or_a_minimum_is_asked_where_both_are_possible(line):
    (problem,) = typed(line).problems
    assert problem.code == "minutes_or_minimum"


def test_one_title_with_several_options_is_asked_for_what_tells_them_apart():
    problem = next(one for one in typed("shadow 64 ok").problems if one.code == "options_ambiguous")
    assert {"1440", "plain"} <= set(problem.params["known"])
    assert "high" not in problem.params["known"]
    assert any(one.code == "no_such_options" for one in typed("shadow 1080 plain 64 ok").problems)


def test_a_failure_needs_no_workload():
    said = typed("mult 44 vcore 1.4 noboot", fallback=TITLES[4])
    assert said.problems == []
    assert (said.values, said.workload_id, said.outcome) == ({"mult": 44, "vcore": 1.4}, 5, "no start")
    assert any("counts for Dust rings" in one.meaning for one in said.understood)
    for line in ("mult 44 ok", "mult 44 8421 down"):
        assert typed(line, fallback=TITLES[4]).problems


@pytest.mark.parametrize(
    ("line", "values"),
    [
        ("core 3.2ghz rings 1 ok", {"core": 3200}),
        ("vcore 1350mv rings 1 ok", {"vcore": 1.35}),
        ("core 3200 mhz rings 1 ok", {"core": 3200}),
        ("core 3200 w rings 1 ok", None),
    ],
)
def test_a_knobs_value_in_another_unit(line, values):
    said = typed(line)
    if values is None:
        # a unit that is not the knob's belongs to nothing
        assert said.problems
    else:
        assert (said.problems, said.values) == ([], values)


VARIANTS = [
    LineWorkload(1, "Shadow valley", "fps", ("2560 × 1440", "ray tracing"), "frame rate"),
    LineWorkload(2, "Shadow valley", "fps", ("2560 × 1440",), "frame rate"),
    LineWorkload(3, "Shadow valley", "fps", ("4K",), "frame rate"),
    LineWorkload(4, "Glass render", "s", (), "time"),
    LineWorkload(5, "Hex copy", "MB/s"),
    LineWorkload(6, "Ferry", "fps", (), "frame rate"),
    LineWorkload(7, "Ferry", "fps", ("winter",), "frame rate"),
    LineWorkload(8, "Marsh", "fps", ("high", "1440p"), "frame rate"),
    LineWorkload(9, "Marsh", "fps", ("medium", "1440p"), "frame rate"),
    LineWorkload(10, "Marsh", "fps", ("high", "1080p"), "frame rate"),
]


@pytest.mark.parametrize(
    ("line", "workload_id", "figures"),
    [
        # every option of this one is named; the other has one more
        ("shadow 1440p 64 ok", 2, {"value": 64}),
        ("shadow 1440 ray 64 ok", 1, {"value": 64}),
        ("ferry 64 ok", 6, {"value": 64}),
        ("ferry winter 64 ok", 7, {"value": 64}),
        ("shadow 4k 64 pass", 3, {"value": 64}),
        ("marsh high 1440 52 low 41 ok", 8, {"value": 52, "low_1_fps": 41}),
        ("marsh medium 63 ok", 9, {"value": 63}),
        ("marsh 1080p 71 ok", 10, {"value": 71}),
        ("glass 3:02 ok", 4, {"value": 182}),
        ("glass 3m02s ok", 4, {"value": 182}),
        ("glass 182 12min ok", 4, {"value": 182, "duration_s": 720}),
        ("shadow 4k 1h 20min ok", 3, {"duration_s": 4800}),
        ("shadow 4k 1h20 ok", 3, {"duration_s": 4800}),
        ("shadow 4k 2min 30s 64 ok", 3, {"duration_s": 150, "value": 64}),
        ("hex 1,234.5 MB/s ok", 5, {"value": 1234.5}),
        ("hex 40,1 ok", 5, {"value": 40.1}),
        ("shadow 4k 64 fps, 1% low = 51, after 12 min ok", 3, {"value": 64, "low_1_fps": 51, "duration_s": 720}),
    ],
)
def test_what_a_tired_person_types(line, workload_id, figures):
    said = read_quick_line(line, KNOBS, VARIANTS, {})
    assert (said.problems, said.workload_id, said.figures) == ([], workload_id, figures)


PRESETS = [
    LineWorkload(1, "Dust rings", "fps", ("high",), "frame rate"),
    LineWorkload(2, "Dust rings", "fps", ("medium",), "frame rate"),
    LineWorkload(3, "Dust rings", "fps", ("low",), "frame rate"),
]


@pytest.mark.parametrize(
    ("line", "workload", "figures"),
    [
        ("dust high 47 low 36 ok", 1, {"value": 47, "low_1_fps": 36}),
        ("dust low 74 low 61 212w ok", 3, {"value": 74, "low_1_fps": 61, "power_w": 212}),
        ("dust low 74 1% 61 ok", 3, {"value": 74, "low_1_fps": 61}),
        ("dust low 74 ok", 3, {"value": 74}),
        ("rings low preset 73.1 low 60 ok", 3, {"value": 73.1, "low_1_fps": 60}),
        ("low dust 74fps ok", 3, {"value": 74}),
        ("dust medium low 46 58.9 ok", 2, {"value": 58.9, "low_1_fps": 46}),
    ],
)
def test_a_preset_that_is_called_like_a_figure(line, workload, figures):
    said = read_quick_line(line, [], PRESETS, {})
    assert (said.problems, said.workload_id, said.figures) == ([], workload, figures)


def test_a_low_behind_its_result_is_a_figure_and_the_preset_is_asked_for():
    said = read_quick_line("dust 74 low 61 ok", [], PRESETS, {})
    assert said.figures == {"value": 74, "low_1_fps": 61}
    assert any(problem.code in ("options_ambiguous", "workload_ambiguous") for problem in said.problems)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("hex 1,234 MB/s ok", "ambiguous_number"),
        ("glass 12min 45s ok", "time_or_duration"),
        ("shadow 64 ok", "options_ambiguous"),
    ],
)
def test_two_readings_are_asked_about(line, says):
    problems = read_quick_line(line, KNOBS, VARIANTS, {}).problems
    assert any(problem.code == says for problem in problems)


@pytest.mark.parametrize(
    "line", ["core=135 hex 7 ok", "core135 hex 7 ok", "core 135 MHz hex 7 ok", "core 0,135ghz hex 7 ok"]
)
def test_a_knob_and_its_value_in_other_ways(line):
    said = read_quick_line(line, KNOBS, VARIANTS, {})
    assert (said.problems, said.values) == ([], {"core": 135})


COLD = [
    Knob("multiplier", "Multiplier", "x", 40, 1, 8, 60, 1, "multiplier"),
    Knob("voltage", "Voltage", "mV", 1250, 10, 1000, 1700, 1, "voltage"),
    Knob("cap", "Package limit", "%", 100, 1, 60, 120, 1, "power limit"),
]
SIEVE = LineWorkload(1, "Prime sieve", "points")


@pytest.mark.parametrize(
    ("line", "values", "figures"),
    [
        # the knob by what its role is called, volts for millivolts where nothing else is possible
        (
            "mult 44 vcore 1.30 prime 4490 81c ok",
            {"multiplier": 44, "voltage": 1300},
            {"value": 4490, "temp_max_c": 81},
        ),
        ("x46 1400mV prime 4701 ok", {"multiplier": 46, "voltage": 1400}, {"value": 4701}),
        ("46x vcore1.4 prime 4701 pts ok", {"multiplier": 46, "voltage": 1400}, {"value": 4701}),
        (
            "mult 46 vcore 1400 1.36v prime 4701pts ok",
            {"multiplier": 46, "voltage": 1400},
            {"value": 4701, "voltage_v": 1.36},
        ),
        # the only workload need not be named
        ("mult 46 4701 78 deg ok", {"multiplier": 46}, {"value": 4701, "temp_max_c": 78}),
        ("mult 46 ok", {"multiplier": 46}, {}),
        ("stock 4120 1.24v ok", {}, {"value": 4120, "voltage_v": 1.24}),
        # a word of a role goes before the mere start of a workload's name
        ("pl 112 prime 4120 ok", {"cap": 112}, {"value": 4120}),
    ],
)
def test_what_is_typed_at_a_record(line, values, figures):
    said = read_quick_line(line, COLD, [SIEVE], {})
    assert (said.problems, said.workload_id, said.values, said.figures) == ([], 1, values, figures)


OLD = [
    Knob("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1, "bus clock"),
    Knob("multiplier", "Multiplier", "x", 2, 0.5, 1, 5, 1, "multiplier"),
    Knob("wait", "Memory wait states", "", 2, 1, 0, 4, -1, "wait states"),
]


@pytest.mark.parametrize(
    ("line", "values"),
    [
        ("33x3 ws 1 prime 510 ok", {"multiplier": 3, "wait": 1}),
        ("50x2 ws3 prime 580 ok", {"bus": 50, "wait": 3}),
        ("fsb40 x2.5 ws2 prime 540 ok", {"bus": 40, "multiplier": 2.5}),
    ],
)
def test_what_is_typed_at_an_old_board(line, values):
    said = read_quick_line(line, OLD, [SIEVE], {})
    assert (said.problems, said.values) == ([], values)
    budget = Knob("power", "Power limit", "W", 300, 5, 100, 300, -1, "power limit")
    assert read_quick_line("cap 200 prime 510 199w ok", [budget], [SIEVE], {}).values == {"power": 200}
    assert read_quick_line("66x3 prime 510 ok", OLD, [SIEVE], {}).problems
    assert read_quick_line("bus 33 33x3 prime 510 ok", OLD, [SIEVE], {}).problems


def test_volts_without_their_knob_are_asked_about():
    (problem,) = read_quick_line("multi 47 1.4v bsod", COLD, [SIEVE], {}).problems
    text = problem_text(problem)
    assert text.what == "“1.4v” may be what Voltage was set to, or what was reached."
    assert text.todo == "Type voltage 1400, or, where it was only reached, voltage 1250 1.4v."
    # watts behind the result are what was drawn, in front of the workload they may be the cap
    cap = Knob("cap", "Power cap", "W", 45, 1, 12, 45, -1, "power limit")
    assert read_quick_line("4120 33w ok", [cap], [SIEVE], {}).figures == {"value": 4120, "power_w": 33}
    (problem,) = read_quick_line("33w prime 4120 ok", [cap], [SIEVE], {}).problems
    assert (problem.code, problem.params["knob"]) == ("set_or_reached", "Power cap")
    # an offset is never 1.4 V
    assert read("core +75 gorge 98 1.05v ok").problems == []


def test_the_range_of_a_knob_decides_what_a_comma_is():
    knobs = [Knob("vcore", "Core voltage", "V", 1.2, 0.005, 1.0, 1.5, 1, "voltage")]
    said = read_quick_line("vcore 1,350 hex 7 ok", knobs, VARIANTS, {})
    assert (said.problems, said.values) == ([], {"vcore": 1.35})


@pytest.mark.parametrize("workload", VARIANTS)
def test_every_variant_has_a_begun_line(workload):
    line = begin_quick_line({}, workload.id, 20, KNOBS, VARIANTS)
    assert read_quick_line(f"{line}closed", KNOBS, VARIANTS, {}).workload_id == workload.id


@given(st.sampled_from(TITLES), st.integers(1, 120))
def test_a_begun_line_means_the_one_variant(workload, minutes):
    line = begin_quick_line({}, workload.id, minutes, FAST, TITLES)
    assert line
    said = typed(f"{line}closed")
    assert (said.problems, said.workload_id, said.figures) == ([], workload.id, {"duration_s": minutes * 60})
