import numpy as np
import pytest
import statsmodels.api as sm

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.trials import Trial
from trelvo.core.message import message
from trelvo.core.prove.ageing import Check, ageing, checks_apart, digits_of, found_an_edge
from trelvo.messages.texts import text_of

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")


def test_the_slope_is_weighted_least_squares():
    """Against statsmodels' WLS with the scale fixed at 1: variances are known."""
    checks = [Check(0.0, 150, 5), Check(1.0, 141, 8), Check(2.5, 133, 5)]
    design = sm.add_constant(np.array([check.years for check in checks]))
    fit = sm.WLS([check.edge for check in checks], design, weights=[check.deviation**-2 for check in checks]).fit(
        cov_type="fixed scale"
    )
    found = ageing(CORE, checks)
    assert found.a_year == pytest.approx(-fit.params[1])
    low, high = (-end for end in reversed(fit.conf_int()[1]))
    assert (found.low, found.high) == pytest.approx((low, high))
    assert text_of(found.says) == "The edge comes nearer by 7 MHz a year (+1 to +12)."


def test_what_cannot_be_told_is_said():
    assert ageing(CORE, [Check(0, 150, 5)]).says == message("checked_once")
    assert ageing(CORE, [Check(1, 150, 5), Check(1, 140, 5)]).a_year is None
    unsure = ageing(CORE, [Check(0, 150, 20), Check(1, 145, 20)])
    assert (unsure.says.code, unsure.says.params["checks"]) == ("ageing_not_known", 2)
    assert unsure.low < 0 < unsure.high


def test_an_edge_below_stock_comes_nearer_upwards():
    found = ageing(VOLTAGE, [Check(0, -100, 2), Check(2, -80, 2)])
    assert found.a_year == pytest.approx(10)
    assert found.says.code == "edge_comes_nearer"
    assert found.says.params["lost"] == pytest.approx(10)


def test_a_check_is_what_was_run_within_two_weeks():
    assert checks_apart([100.0, 3.0, 0.0, 101.0, 13.9]) == [[2, 1, 4], [0, 3]]
    assert checks_apart([]) == []


@pytest.mark.parametrize(
    ("held", "failed", "found"),
    [([60], [90], True), ([0], [90], False), ([90], [60], False), ([60], [], False), ([], [90], False)],
)
def test_an_edge_lies_between_what_held_and_what_failed(held, failed, found):
    trials = [Trial(one, 10, False) for one in held] + [Trial(one, 3, True) for one in failed]
    assert found_an_edge(CORE, trials) is found
    mirrored = [Trial(-trial.value, trial.minutes, trial.failed) for trial in trials]
    assert found_an_edge(VOLTAGE, mirrored) is found


@pytest.mark.parametrize(("step", "digits"), [(15, 0), (5, 0), (1, 0), (0.01, 3), (0.5, 2)])
def test_decimals_of_an_edge(step, digits):
    knob = Knob("volts", "Voltage", "V", 1.0, step, 1.0, 1.5, 1, "voltage")
    assert digits_of(knob) == digits
