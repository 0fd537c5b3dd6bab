from dataclasses import replace

import moocore
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy import stats

from tests.core.goal.made import bench, setting
from trelvo.core.goal.alternatives import TargetRatio
from trelvo.core.goal.judging import judge_settings
from trelvo.core.goal.trade_off import limits_of, non_dominated, target_lines, trade_off
from trelvo.core.terms import terms_from

values = arrays(np.float64, st.tuples(st.integers(1, 30), st.just(2)), elements=st.integers(0, 9).map(float))


@given(values)
def test_the_front_is_that_of_the_reference_library(found):
    """Against moocore."""
    expected = moocore.is_nondominated(found, maximise=[True, False], keep_weakly=True)
    assert (non_dominated(found, [True, False]) == expected).all()


def judged():
    stock = setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199], [80, 80.5, 79.9])
    lower = setting(2, "lower", [99.8, 100.2, 99.9], [180, 181, 180], [80, 80.2, 79.8], holds=0.95)
    worse = setting(3, "worse", [97.8, 98.2, 97.9], [190, 191, 190], [78, 78.2, 77.8], holds=0.95)
    every = [stock, lower, worse]
    return judge_settings(terms_from("efficiency", {}), stock, every, bench(*every))


def test_a_setting_beaten_in_both_is_off_the_front():
    spots = {one.title: one for one in trade_off(judged(), 1, "power", "speed", np.random.default_rng(3))}
    assert {title: one.on_front for title, one in spots.items()} == {"stock": True, "lower": True, "worse": False}
    assert spots["worse"].chance < 0.05
    assert 0.3 < spots["stock"].chance < 1
    power = spots["lower"].x
    assert power.low < power.value < power.high < 0
    assert power.value == pytest.approx((541 / 600 - 1) * 100, rel=0.01)
    assert (spots["stock"].x.value, spots["stock"].y.value) == (0, 0)


def test_a_setting_without_one_of_the_figures_is_not_drawn():
    bare = setting(1, "stock", [100, 100.4]), setting(2, "other", [101, 101.2])
    found = judge_settings(terms_from("speed", {}), bare[0], list(bare), bench(*bare))
    assert [one.title for one in trade_off(found, 1, "power", "speed", np.random.default_rng(3))] == ["stock"]
    assert trade_off([], 1, "power", "speed", np.random.default_rng(3)) == []


def test_the_goals_conditions_lie_on_their_axes():
    limit = limits_of(terms_from("efficiency", {"lows_too": False}), "power", "speed")[0]
    assert (limit.axis, limit.value, limit.least) == ("y", pytest.approx(-1.0), True)
    assert limits_of(terms_from("speed", {}), "power", "speed") == []


def test_failures_are_rates_of_their_own_and_need_time():
    stock = setting(1, "stock", [100, 100.4, 99.7])
    shaky = replace(setting(2, "core clock +90 MHz", [105, 105.2, 104.9]), failures=2, hours=4.0)
    brief = replace(setting(3, "core clock +30 MHz", [102, 102.2, 101.9]), hours=0.1)
    judged = judge_settings(terms_from("speed", {}), stock, [stock, shaky, brief], bench(stock, shaky, brief))
    spots = trade_off(judged, 1, "failures", "speed", np.random.default_rng(1))
    # stock was not timed here, and six minutes say nothing
    assert [(spot.setting_id, spot.x.value) for spot in spots] == [(2, 0.5)]
    # the exact 90 % interval of two failures in four hours: chi-square quantiles (Garwood 1936)
    assert spots[0].x.low == pytest.approx(stats.chi2.ppf(0.05, 4) / 2 / 4)
    assert spots[0].x.high == pytest.approx(stats.chi2.ppf(0.95, 6) / 2 / 4)


def test_a_target_is_a_line_on_the_axis_of_speed():
    targets = [TargetRatio("Next up", 1.12, None, 3)]
    lines = target_lines("power", "speed", targets)
    assert [(line.axis, line.name, line.value) for line in lines] == [("y", "Next up", pytest.approx(12))]
    assert target_lines("power", "heat", targets) == []
