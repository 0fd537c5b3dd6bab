import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.laws.vf_curve import VoltagePoint, check_curve, clock_at, learn_curve, read_curve, shape
from trelvo.core.problems import Refused

CURVE = [VoltagePoint(*one) for one in ((0.80, 1500), (0.87, 1685), (0.885, 1710), (1.0, 2100), (1.05, 2300))]


def test_the_largest_offset_stands_in_the_way():
    # common practice: tools cap the offset at 1000 MHz, which makes a low-voltage target unreachable on a steep curve
    found = shape(CURVE, 0.87, 2895)
    assert found.needed_mhz == 1210
    assert found.highest_mhz == 1685 + 990
    assert found.says.code == "target_needs_more"
    assert [round(found.says.params[name]) for name in ("needed_mhz", "most_mhz", "highest_mhz")] == [1210, 1000, 2675]
    assert found.lowest_v is not None
    assert clock_at(CURVE, found.lowest_v) + 990 == pytest.approx(2895, abs=0.1)
    assert found.says.params["at_mv"] == pytest.approx(1000 * np.ceil(found.lowest_v * 200) / 200)


def test_offsets_are_whole_steps_and_nothing_stands_above_the_cap():
    found = shape(CURVE, 0.9, 2000, gap_mhz=40)
    at_cap = clock_at(CURVE, 0.9)
    assert found.reaches_mhz - at_cap == pytest.approx(15 * ((2000 - at_cap) // 15))
    assert found.got_mhz == found.reaches_mhz - 40
    beyond = [point.core_mhz for point in found.points if point.voltage_v >= 0.9]
    assert max(beyond) == found.reaches_mhz
    assert min(beyond) > found.reaches_mhz - 15
    assert all(point.offset_mhz % 15 == 0 for point in found.points)
    assert [point.offset_mhz for point in found.points if point.voltage_v < 0.9] == [0, 0, 0]


def test_a_target_below_the_curve_brings_it_down():
    found = shape(CURVE, 0.885, 1600)
    assert (np.diff([point.core_mhz for point in found.points]) > -15).all()
    assert max(point.core_mhz for point in found.points) == found.reaches_mhz


@pytest.mark.parametrize(
    ("points", "code"),
    [
        ([(0.8, 1500), (0.9, 1400)], "curve_falls"),
        ([(0.8, 1500), (0.8, 1600)], "points_at_one_voltage"),
        ([(0.8, 1500)], "curve_too_short"),
        ([(870, 1500), (900, 1600)], "point_voltage_impossible"),
        ([(0.8, 0), (0.9, 1600)], "point_clock_impossible"),
        ([(0.8, float("nan")), (0.9, 1600)], "point_clock_impossible"),
    ],
)
def test_what_is_no_curve_is_said(points, code):
    problems = check_curve([VoltagePoint(*point) for point in points])
    assert problems[0].code == code


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("800;1935\n850;2050\n", (0.8, 1935)),
        ("mV;MHz\n800;1935\n850;2050", (0.8, 1935)),
        ("0,80;1935,5\n0,85;2050", (0.8, 1935.5)),
        ("0.8, 1935\n0.85, 2050", (0.8, 1935)),
        ("850\t2050\n800\t1935\n\n", (0.8, 1935)),
    ],
)
def test_a_curve_is_read_from_text(text, first):
    read = read_curve(text)
    assert (read[0].voltage_v, read[0].core_mhz) == first


@pytest.mark.parametrize(
    ("text", "says"),
    [("800;1935\nhello\n", "line 2"), ("800;1935\n850;x", "line 2"), ("", "curve_too_short"), ("800", "line 1")],
)
def test_text_that_is_no_curve_names_the_line(text, says):
    with pytest.raises(Refused, match=says):
        read_curve(text)


def test_bad_wishes_are_refused():
    with pytest.raises(Refused, match="cap_beyond_curve"):
        shape(CURVE, 1.2, 2000)
    with pytest.raises(Refused, match="target_clock_impossible"):
        shape(CURVE, 0.9, 0)
    with pytest.raises(Refused, match="grid_not_above_zero"):
        shape(CURVE, 0.9, 2000, grid_mhz=0)
    assert shape(CURVE, 1.05, 1200).says.code == "target_too_far_below"


def test_a_curve_is_learnt_from_where_a_limit_walks_the_part():
    rng = np.random.default_rng(1)
    t = np.arange(0, 600, 0.5)
    level = np.repeat([0.85, 0.9, 0.95, 1.0], t.size // 4)
    clocks = np.interp(level, [one.voltage_v for one in CURVE], [one.core_mhz for one in CURVE])
    learnt = learn_curve(t, level + rng.normal(0, 0.0015, t.size), clocks + rng.normal(0, 3, t.size))
    for volt in (0.85, 0.9, 0.95, 1.0):
        assert clock_at(learnt, round(volt / 0.0125) * 0.0125) == pytest.approx(clock_at(CURVE, volt), abs=25)
    assert not check_curve(learnt)
    assert learn_curve(t, np.full(t.size, 0.9), np.full(t.size, 2000.0)) == []
    assert learn_curve(t, np.full(t.size, np.nan), np.full(t.size, 2000.0)) == []


@given(
    steps=st.lists(st.floats(0, 300), min_size=2, max_size=12),
    where=st.floats(0, 1),
    target=st.floats(300, 6000),
    most=st.floats(0, 2000),
)
def test_shapes_hold_what_they_promise(steps, where, target, most):
    clocks = 1000 + np.cumsum(steps)
    curve = [VoltagePoint(0.7 + 0.05 * i, float(mhz)) for i, mhz in enumerate(clocks)]
    cap = curve[0].voltage_v + where * (curve[-1].voltage_v - curve[0].voltage_v)
    found = shape(curve, cap, target, most_offset_mhz=most)
    new = [point.core_mhz for point in found.points]
    # a point beyond the cap is brought down to the step below the clock there
    assert (np.diff(new) > -15 - 1e-6).all()
    assert max(new) <= found.reaches_mhz + 1e-6
    steps_of = [point.offset_mhz / 15 for point in found.points]
    assert steps_of == pytest.approx([round(one) for one in steps_of], abs=1e-6)
    assert found.reaches_mhz <= max(target, clock_at(curve, cap) - most) + 1e-6
    assert abs(found.reaches_mhz - clock_at(curve, cap)) <= most + 15
