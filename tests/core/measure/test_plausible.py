import pytest

from trelvo.core.base.figures import BY_WORD
from trelvo.core.measure.plausible import far_off, figure_far_off

KNOWN = [91.5, 93.4, 98.7]


def test_a_slip_of_the_decimal_sign_is_asked_about_with_what_was_meant():
    assert far_off(9.34, KNOWN) == "9.34 is 9.8 times below everything measured here (91.5 to 98.7). 93.4 perhaps?"
    assert far_off(9340, KNOWN).endswith("93.4 perhaps?")


@pytest.mark.parametrize("value", [60.0, 91.5, 98.7, 110.0, 150.0])
def test_what_a_setting_can_do_is_not_asked_about(value):
    assert far_off(value, KNOWN) == ""


def test_one_result_or_none_says_nothing():
    assert far_off(9.34, [93.4]) == far_off(9.34, []) == ""
    assert far_off(300.0, KNOWN).startswith("300 is 3.0 times above")


@pytest.mark.parametrize(
    ("word", "value", "known", "asked"),
    [
        ("power_w", 1419, [419, 421, 417], "419 perhaps"),
        ("power_w", 4190, [419, 421], "419 perhaps"),
        # a power budget from 300 to 115 W is no slip
        ("power_w", 115, [300, 302], ""),
        ("power_w", 1419, [419], ""),
        ("temp_max_c", 720, [72, 73], "far from everything"),
        ("temp_max_c", 82, [72, 73], ""),
        ("core_mhz", 270, [2700, 2710], "2700 perhaps"),
        ("low_1_fps", 6.1, [61, 62], "61 perhaps"),
        ("noise_dba", 390, [38, 39], "39 perhaps"),
        ("fan_percent", 90, [30, 30], ""),
    ],
)
def test_any_figure_is_asked_about_where_it_cannot_be_meant(word, value, known, asked):
    question = figure_far_off(BY_WORD[word].key, value, known)
    assert (asked in question) if asked else not question
