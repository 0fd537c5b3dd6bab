import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.laws.heat import Interval
from trelvo.core.laws.sound import fit_noise, together
from trelvo.core.laws.supply import (
    RATINGS,
    SLOT_W,
    check_points,
    efficiency_at,
    from_the_wall,
    less_the_rest,
    load_line_mohm,
    rail_w,
)
from trelvo.core.problems import Refused


def test_the_rating_points_are_met():
    # 80 PLUS programme, from memory
    for rating, points in RATINGS.items():
        for share, efficiency in points:
            assert efficiency_at(RATINGS[rating], share) == efficiency
    assert efficiency_at(RATINGS["Gold"], 0.35) == pytest.approx(0.885)
    assert efficiency_at(RATINGS["Gold"], 0.05) < 0.87


def test_wall_to_direct_current():
    # arithmetic: 332 W at the wall at 90 % are 299 W
    flat = ((0.1, 0.9), (1.0, 0.9))
    found = from_the_wall(332, 750, flat)
    assert found.dc_w.value == pytest.approx(298.8)
    assert found.lost_w == pytest.approx(33.2)
    assert found.dc_w.low < 298.8 < found.dc_w.high
    # half of a Gold supply's rated load, by its own point
    assert from_the_wall(375 / 0.9, 750, RATINGS["Gold"]).dc_w.value == pytest.approx(375)


@given(wall=st.floats(1, 1500), rated=st.floats(100, 1600), rating=st.sampled_from(list(RATINGS)))
def test_what_comes_out_is_less_than_what_goes_in_and_consistent(wall, rated, rating):
    found = from_the_wall(wall, rated, RATINGS[rating])
    assert 0 < found.dc_w.value < wall
    assert efficiency_at(RATINGS[rating], found.dc_w.value / rated) == pytest.approx(found.efficiency, abs=1e-6)


@pytest.mark.parametrize(
    ("call", "says"),
    [
        (lambda: from_the_wall(0, 750, RATINGS["Gold"]), "wall_power_impossible"),
        (lambda: from_the_wall(300, 0, RATINGS["Gold"]), "supply_size_impossible"),
        (lambda: from_the_wall(300, 750, ((0.5, 90.0), (1.0, 87.0))), "efficiency_impossible"),
        (lambda: from_the_wall(300, 750, ((0.5, 0.9), (0.5, 0.8))), "points_at_one_load"),
        (lambda: from_the_wall(300, 750, ((0.5, 0.9),)), "supply_curve_too_short"),
        (lambda: load_line_mohm(1.2, 1.1, 0), "current_without_droop"),
    ],
)
def test_what_cannot_be_is_said(call, says):
    with pytest.raises(Refused, match=says):
        call()
    assert check_points(RATINGS["Gold"]) == []


def test_rails_and_droop():
    # Ohm's law; common practice: 25 A on a 12 V cable, 2.4 A through the slot, 1.0 mOhm at 100 A
    assert rail_w(12, 25) == 300
    assert rail_w(12, 2.4) == pytest.approx(SLOT_W)
    assert load_line_mohm(1.25, 1.15, 100) == pytest.approx(1.0)


def test_both_uncertainties_stay_in_the_difference():
    found = less_the_rest(Interval(300, 297, 303), 80, 4)
    assert (found.value, found.low, found.high) == (220, 215, 225)


def test_sound():
    # two equal sources +3.01 dB; ASHRAE fan laws: 50 log10 of the speed ratio, from memory
    assert together([40, 40]) == pytest.approx(43.01, abs=0.01)
    assert together([50]) == pytest.approx(50)
    # common practice: a blower at 44 % gives about 49 dB(A), at 39 % about 46
    law = fit_noise([(39, 46), (44, 49)])
    assert law.at(39).value == pytest.approx(46, abs=0.5)
    assert law.at(44).value == pytest.approx(49, abs=0.5)
    one = fit_noise([(40, 45)])
    assert one.at(80).value == pytest.approx(45 + 50 * math.log10(2), abs=0.1)
    assert one.fan_for(45) == pytest.approx(40, rel=0.01)
    assert fit_noise([(0, 45)]) is None


def test_the_law_is_learnt_from_many_readings():
    rng = np.random.default_rng(1)
    fans = rng.uniform(25, 90, 40)
    law = fit_noise(list(zip(fans, 44 + 58 * np.log10(fans / 40) + rng.normal(0, 0.4, 40), strict=True)))
    assert law.line.coefficient(1).value == pytest.approx(58, abs=2)
