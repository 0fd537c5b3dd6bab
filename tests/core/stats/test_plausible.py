import pytest

from trelvo.core.base.figures import BY_WORD
from trelvo.core.stats.plausible import far_off, figure_far_off

KNOWN = [91.5, 93.4, 98.7]


def test_a_slip_of_the_decimal_sign_is_asked_about_with_what_was_meant():
    question = far_off(9.34, KNOWN)
    assert question.code == "below_all_known_slip"
    assert question.params["times"] == pytest.approx(91.5 / 9.34)
    assert (question.params["low"], question.params["high"]) == (91.5, 98.7)
    assert question.params["meant"] == pytest.approx(93.4)
    assert far_off(9340, KNOWN).params["meant"] == pytest.approx(93.4)


@pytest.mark.parametrize("value", [60.0, 91.5, 98.7, 110.0, 150.0])
def test_what_a_setting_can_do_is_not_asked_about(value):
    assert far_off(value, KNOWN) is None


def test_one_result_or_none_says_nothing():
    assert far_off(9.34, [93.4]) is far_off(9.34, []) is None
    above = far_off(300.0, KNOWN)
    assert (above.code, above.params["times"]) == ("above_all_known", pytest.approx(300 / 98.7))


@pytest.mark.parametrize(
    ("word", "value", "known", "meant"),
    [
        ("power_w", 1419, [419, 421, 417], 419),
        ("power_w", 4190, [419, 421], 419),
        # a power budget from 300 to 115 W is no slip
        ("power_w", 115, [300, 302], None),
        ("power_w", 1419, [419], None),
        ("temp_max_c", 720, [72, 73], "figure_far_off"),
        ("temp_max_c", 82, [72, 73], None),
        ("core_mhz", 270, [2700, 2710], 2700),
        ("low_1_fps", 6.1, [61, 62], 61),
        ("noise_dba", 390, [38, 39], 39),
        ("fan_percent", 90, [30, 30], None),
    ],
)
def test_any_figure_is_asked_about_where_it_cannot_be_meant(word, value, known, meant):
    question = figure_far_off(BY_WORD[word].key, value, known)
    assert (question and question.params.get("meant", question.code)) == meant
