import pytest

from trelvo.core.measure.plausible import far_off

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
