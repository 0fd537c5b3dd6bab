"""The baseline: noise meter, warm-up suspects, headroom."""

import math

import pytest
from statsmodels.stats.power import TTestIndPower

from trelvo.core.base.runs import RunFacts
from trelvo.core.baseline.model import build_baseline, noise_meter
from trelvo.core.stats.noise import PooledNoise
from trelvo.core.watch.headroom import headroom
from trelvo.messages.texts import text_of


def run(number, value, **more):
    return RunFacts(id=number, setting_id=1, workload_id=1, outcome="completed", value=value, **more)


def test_the_noise_meter_equals_statsmodels_with_its_own_degrees_of_freedom():
    meter = noise_meter(PooledNoise(0.004, 4), 3)
    expected = TTestIndPower().solve_power(nobs1=3, alpha=0.05, power=0.8) * 0.004
    assert meter.now == pytest.approx(math.expm1(expected), rel=1e-4)
    assert meter.more < meter.now < meter.single
    assert (meter.says.code, meter.says.params["runs"]) == ("can_tell_apart", 3)
    assert meter.says.params["now"] == pytest.approx(1.2, abs=0.05)


def test_a_workload_with_a_cold_first_run():
    runs = [run(1, 90.4), run(2, 93.6), run(3, 93.5), run(4, 93.9), run(5, 93.7)]
    one = build_baseline([1], runs, {1: PooledNoise(0.004, 10)}, 0.01)[0]
    assert one.suspect_id == 1
    aside = [run(1, 90.4, set_aside=True), *runs[1:]]
    assert build_baseline([1], aside, {1: PooledNoise(0.004, 10)}, 0.01)[0].suspect_id is None


def test_reached_only_when_fine_enough():
    runs = [run(i, 93.6 + i / 10) for i in range(4)]
    fine, coarse = PooledNoise(0.002, 10), PooledNoise(0.01, 10)
    assert build_baseline([1], runs, {1: fine}, 0.01)[0].reached
    assert not build_baseline([1], runs, {1: coarse}, 0.01)[0].reached
    assert not build_baseline([1], runs[:1], {1: fine}, 0.5)[0].reached
    empty = build_baseline([1, 2], [], {}, 0.01)
    assert [(one.reached, one.meter, one.missing_runs) for one in empty] == [(False, None, 3)] * 2


@pytest.mark.parametrize(
    ("readings", "states"),
    [
        ((60.0, 84.0, 150.0, 200.0, [2340.0, 2342.0]), ["room", "room", "room"]),
        ((80.0, 84.0, 185.0, 200.0, [2340.0, 2400.0]), ["close", "close", "close"]),
        ((85.0, 84.0, 199.0, 200.0, [2340.0]), ["none", "none", "unknown"]),
        ((None, 84.0, None, 200.0, []), ["unknown", "unknown", "unknown"]),
        ((60.0, None, 150.0, None, [2340.0, 2340.0]), ["unknown", "unknown", "room"]),
    ],
)
def test_headroom(readings, states):
    cards = headroom(*readings)
    assert [card.state for card in cards] == states
    assert all(text_of(card.says).endswith(".") for card in cards)


def test_a_limit_of_nothing_is_no_limit():
    cards = headroom(60.0, 84.0, 150.0, 0.0, [2400.0])
    assert next(card for card in cards if card.unit == "W").state == "unknown"
