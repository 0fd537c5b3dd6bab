from dataclasses import replace

import pytest

from trelvo.core.base.runs import RunFacts
from trelvo.core.laws.cooling import (
    BuildCooling,
    Cooling,
    UseStep,
    at_equal_noise,
    by_build,
    compare,
    cooler_needs,
    predicted,
    use_ladder,
)
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.heat_model import FAN_POWER
from trelvo.core.laws.sound import fit_noise


def about(value, half=0.004):
    return Interval(value, value - half, value + half)


def test_runs_of_a_build_are_put_together_and_scatter_widens():
    alike = by_build([Cooling(1, 7, about(0.2), True), Cooling(2, 7, about(0.2), True)])[0]
    apart = by_build([Cooling(1, 7, about(0.19), True), Cooling(2, 7, about(0.21), True)])[0]
    assert alike.runs == 2
    # two equal readings: the interval narrows by the root of two
    assert alike.resistance.high - 0.2 == pytest.approx(0.004 / 2**0.5, rel=1e-3)
    assert apart.resistance.value == pytest.approx(0.2)
    assert apart.resistance.high - 0.2 > 0.05


def test_a_log_that_hardly_knows_is_left_out_and_fans_unread_stand_apart():
    runs = [Cooling(1, 7, about(0.2), True), Cooling(2, 7, about(0.3, 0.1), True), Cooling(3, 7, about(0.22), False)]
    found = by_build(runs)
    assert [(one.fan_read, one.runs) for one in found] == [(True, 1), (False, 1)]


def test_coolers_against_each_other():
    new, old = BuildCooling(2, about(0.18), True, 1), BuildCooling(1, about(0.2), True, 1)
    found = compare(new, old, 200.0)
    # 0.02 °C/W at 200 W; each known to 0.004, together 0.004 times the root of two
    assert found.cooler_c.value == pytest.approx(4.0)
    assert found.cooler_c.low == pytest.approx(4 - 0.004 * 2**0.5 * 200, rel=1e-3)
    assert found.told == "cools better"
    assert compare(old, new, 200.0).told == "cools worse"
    assert compare(new, BuildCooling(1, about(0.181), True, 1), 200.0).told == "no difference shown"
    assert compare(new, BuildCooling(1, about(0.2), False, 1), 200.0).same_fan is False


def test_coolers_as_loud_as_each_other():
    better, worse = (BuildCooling(k, Interval(r, r - 0.004, r + 0.004), True, 4) for k, r in ((2, 0.20), (1, 0.22)))
    quiet, loud = fit_noise([(50.0, 40.0)]), fit_noise([(50.0, 45.0)])
    # one law on both sides: the fans are at the reference, and nothing but the sureness changes
    same = at_equal_noise(better, worse, quiet, quiet, 180.0)
    assert (same.first_fan, same.second_fan) == (pytest.approx(50, rel=0.01), pytest.approx(50, rel=0.01))
    assert same.difference.cooler_c.value == pytest.approx(0.02 * 180, rel=0.02)
    # 5 dB(A) less are a fan at 10^(-5/50) of its speed (fan laws): 39.7 %
    equal = at_equal_noise(better, worse, loud, quiet, 180.0)
    assert equal.dba == pytest.approx(40.0, abs=0.3)
    assert equal.first_fan == pytest.approx(39.7, rel=0.02)
    assert equal.second_fan == pytest.approx(50, rel=0.02)
    slower = 1 + 0.7 * ((50 / 39.7) ** FAN_POWER - 1)
    assert equal.difference.cooler_c.value == pytest.approx((0.22 - 0.20 * slower) * 180, abs=0.15)
    # the better cooler is the worse one once it may be no louder
    assert equal.difference.cooler_c.value < same.difference.cooler_c.value
    wide = equal.difference.cooler_c.high - equal.difference.cooler_c.low
    assert wide > same.difference.cooler_c.high - same.difference.cooler_c.low
    # a fan that nobody read, or that would have to stand still, compares nothing
    assert at_equal_noise(replace(better, fan_read=False), worse, quiet, quiet, 180.0) is None
    assert at_equal_noise(better, worse, fit_noise([(50.0, 75.0)]), quiet, 180.0) is None


def test_another_room_and_another_power():
    found = predicted(about(0.2), 150.0, 35.0)
    assert found.value == pytest.approx(35 + 30)
    assert found.low < found.value < found.high


def test_which_cooler_a_limit_asks_for():
    # common practice: a cooler that fails the stress test may be right for the use
    ladder = [
        UseStep("unpacking", "everyday", 65, 13, 2),
        UseStep("game", "title", 95, 19, 3),
        UseStep("mill", "stress test", 180, 50, 1),
    ]
    everyday, game, worst = cooler_needs(ladder, 80.0, 25.0, about(0.38))
    assert everyday.needed_c_per_w == pytest.approx(55 / 65)
    assert worst.needed_c_per_w == pytest.approx(55 / 180)
    assert [everyday.verdict, game.verdict, worst.verdict] == ["enough", "enough", "not enough"]
    assert cooler_needs(ladder, 25 + 180 * 0.38, 25.0, about(0.38))[2].verdict == "too close to tell"
    assert cooler_needs(ladder, 80.0, 25.0, None)[0].verdict is None
    assert cooler_needs(ladder, 80.0, 85.0, None)[0].needed_c_per_w == 0


def test_the_use_ladder_keeps_to_one_measuring_point():
    def run(number, workload, watts, point="software", temp=None, room=None, outcome="completed"):
        return RunFacts(
            number, 1, workload, outcome, 50.0, power_w=watts, power_point=point, temp_max_c=temp, room_c=room
        )

    runs = [
        run(1, 1, 100, temp=60, room=20),
        run(2, 1, 110, temp=62, room=20),
        run(3, 2, 40),
        run(4, 1, 300, "wall"),
        run(5, 2, 90, outcome="system crash"),
    ]
    found = use_ladder(runs, {1: ("game", "title"), 2: ("desk", "everyday"), 3: ("none", "title")})
    assert [(one.name, one.power_w, one.over_room_c, one.runs) for one in found] == [
        ("desk", 40, None, 1),
        ("game", 105, 41, 2),
    ]
    assert use_ladder([], {}) == []
