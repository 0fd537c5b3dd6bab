"""What is not known of an instrument's correction, in what a goal's conditions say."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.goal.made import GORGE, bench, runs, setting
from trelvo.core.base.instruments import Doubt, half_of
from trelvo.core.compare.conditions import runs_to_tell
from trelvo.core.goal.judging import SettingFacts, judge_settings
from trelvo.core.goal.levels import power_within, temperature_within
from trelvo.core.stats.comparison import compare, overall, widened
from trelvo.core.stats.noise import pool
from trelvo.core.stats.same_instrument import WATTS, by_readers
from trelvo.core.terms import terms_from

CLAMP = Doubt(offset=27.0, offset_sd=4.0, factor=1.0, factor_sd=0.02)


def drawn(doubt, readings, draws=40_000):
    """Corrected readings by plain simulation of the correction's two errors: draws by readings."""
    rng = np.random.default_rng(1)
    raw = (np.asarray(readings) - doubt.offset) / doubt.factor
    factor, offset = (
        rng.normal(mean, sd, (draws, 1))
        for mean, sd in ((doubt.factor, doubt.factor_sd), (doubt.offset, doubt.offset_sd))
    )
    return raw * factor + offset


@pytest.mark.parametrize("doubt", [CLAMP, Doubt(0.0, 3.0, 1.05, 0.0), Doubt(-10.0, 0.0, 0.9, 0.03)])
def test_levels_differences_and_ratios_against_a_plain_simulation(doubt):
    made = drawn(doubt, [220.0, 180.0])
    assert doubt.of_level(220.0) == pytest.approx(made[:, 0].std(), rel=0.02)
    assert doubt.of_difference(220.0, 180.0) == pytest.approx((made[:, 0] - made[:, 1]).std(), rel=0.02, abs=1e-9)
    assert doubt.of_ratio(220.0, 180.0) == pytest.approx(np.log(made[:, 0] / made[:, 1]).std(), rel=0.03, abs=1e-9)


def test_an_offset_falls_out_of_differences_and_a_factor_out_of_ratios():
    assert Doubt(5.0, 4.0, 1.0, 0.0).of_difference(220.0, 180.0) == 0
    # what two readings have in common falls out of their difference only where one instrument read both
    offset, other = Doubt(5.0, 4.0, 1.0, 0.0), Doubt(0.0, 3.0, 1.0, 0.0)
    assert half_of((220.0, offset), (180.0, offset)) == 0
    assert half_of((220.0, offset), (180.0, other)) == pytest.approx(1.96 * 5, rel=1e-4)
    assert half_of((220.0, offset), (180.0, None)) == half_of((220.0, offset)) == pytest.approx(1.96 * 4, rel=1e-4)
    assert half_of((220.0, None)) == half_of((220.0, None), (180.0, None)) == 0
    assert Doubt(0.0, 0.0, 1.1, 0.05).of_ratio(220.0, 180.0) == 0


def clamped(one, doubt=CLAMP):
    return SettingFacts(
        one.setting_id,
        one.title,
        {key: [replace(run, doubts={"power_w": doubt}) for run in some] for key, some in one.groups.items()},
        holds=one.holds,
    )


STOCK = setting(1, "stock", [100, 100.4, 99.7], [220, 221, 219.0])
LOWER = setting(2, "−50 mV", [99.8, 100.2, 99.9], [180, 181, 180.0], holds=0.95)


def test_less_power_is_as_sure_as_the_clamp_allows():
    terms = terms_from("efficiency", {"lows_too": False})
    exact, unsure = (
        judge_settings(terms, pair[0], pair, bench(*pair))[0]
        for pair in ((STOCK, LOWER), (clamped(STOCK), clamped(LOWER)))
    )
    assert unsure.measure.value == pytest.approx(exact.measure.value)
    half = [one.power.error_log for one in (exact, unsure)]
    # by hand: 1/220 - 1/180 = -0.00101, times 4 W, and 27 W of offset times as much, times 0.02: 0.0041
    assert math.sqrt(half[1] ** 2 - half[0] ** 2) == pytest.approx(0.0041, abs=0.0006)


def test_what_all_workloads_share_is_not_averaged_away():
    one = widened(compare([100.0] * 3, [90.0] * 3, higher_is_better=False, pooled=pool([[100, 100.01]])), 0.03)
    many = overall([one] * 9, shared=[0.03**2] * 9)
    assert many.error_log == pytest.approx(0.03, rel=0.02)
    assert overall([one] * 9).error_log == pytest.approx(0.01, rel=0.02)
    assert (one.unsure_log, many.unsure_log) == (pytest.approx(0.03), pytest.approx(0.03))


def test_no_number_of_runs_is_promised_to_show_what_the_instrument_cannot():
    """4 % less, runs that scatter by 0.2 %: a run or two where the meter is exact, none where it is known to 3 %."""
    near = compare([100.0, 100.2], [96.0, 96.2], higher_is_better=False, pooled=pool([[100.0, 100.3, 99.7]]))
    assert runs_to_tell(near, 1.03, 0.95) is not None
    assert runs_to_tell(widened(near, 0.03), 1.03, 0.95) is None


def test_a_power_budget_is_no_surer_than_the_instrument():
    """195 W read to a tenth of a percent, limit 200 W, clamp known to ± 8 W: nobody can be 95 % sure."""
    read = runs(1, 1, [100.0] * 3, [195.0, 195.1, 194.9])
    noise = pool([[195.0, 195.1, 194.9]])
    assert power_within(200, by_readers(read, WATTS), GORGE, noise, 0.95).state == "shown"
    clamped = by_readers([replace(run, doubts={"power_w": CLAMP}) for run in read], WATTS)
    unsure = power_within(200, clamped, GORGE, noise, 0.95)
    assert (unsure.state, unsure.more_runs) == ("not shown yet", None)
    [unknown] = [one for one in unsure.says.more if one.code == "correction_unsure_w"]
    assert unknown.params["half_w"] == pytest.approx(10.2, abs=0.05)
    # of the normal distribution: 5 W of headroom over a deviation of 5.23 W
    assert unsure.chance == pytest.approx(0.83, abs=0.005)


def test_a_temperature_near_its_limit_is_no_surer_than_the_thermometer():
    read = runs(1, 1, [100.0], hottest=79.0)
    assert temperature_within(80, read, 0.95).state == "shown"
    warm = [replace(run, doubts={"temp_max_c": Doubt(1.0, 1.0, 1.0, 0.0)}) for run in read]
    found = temperature_within(80, warm, 0.95)
    assert (found.state, round(found.chance, 2)) == ("not shown yet", 0.84)
    assert found.says.params == {"hottest_c": 79.0, "half_c": pytest.approx(2.0, abs=0.05)}
    assert temperature_within(77, warm, 0.95).state == "broken"


@given(st.floats(0, 0.2), st.lists(st.floats(50, 400), min_size=2, max_size=6))
def test_an_interval_never_narrows_for_an_instrument_less_known(unsure, watts):
    one = compare(watts, [x * 0.9 for x in watts], higher_is_better=False, pooled=pool([[100.0, 100.5, 99.5]]))
    wider = widened(one, unsure)
    assert wider.ratio == pytest.approx(one.ratio)
    if one.error_log is not None and wider.error_log is not None:
        assert wider.error_log >= one.error_log
