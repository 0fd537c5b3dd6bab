"""Each trap shut once and left open once."""

import math

import numpy as np
import pytest

from trelvo.core.base.runs import RunFacts
from trelvo.core.compare import traps
from trelvo.core.stats.comparison import compare, from_log, judge
from trelvo.core.stats.noise import PooledNoise
from trelvo.core.stats.time_series import step_of, trend_of


def run(number, value=93.6, **more):
    return RunFacts(id=number, setting_id=1, workload_id=1, outcome="completed", value=value, **more)


def ratio_of(ratio, error=0.004):
    return from_log(math.log(ratio), error, 10, error / math.sqrt(2 / 3), "pooled noise", 3, 3, 0.95)


def test_winner_inside_the_noise():
    close = compare([93.6, 93.9], [94.1], higher_is_better=True, pooled=PooledNoise(0.006, 6))
    trap = traps.winner_inside_noise("Gorge", close, judge(close))
    assert trap.shown == traps.InsideNoise(
        close.ratio - 1, close.low - 1, close.high - 1, False, judge(close).more_runs
    )
    assert trap.shown.gain == pytest.approx(0.0037, abs=1e-4)
    clear = ratio_of(1.05)
    assert traps.winner_inside_noise("Gorge", clear, judge(clear)) is None


def test_one_run_only():
    assert traps.one_run_only("Gorge", [run(7), run(8, set_aside=True)]).run_ids == (7,)
    assert traps.one_run_only("Gorge", [run(7), run(8)]) is None
    assert traps.one_run_only("Gorge", []) is None


def test_several_knobs_turned_at_once():
    assert traps.several_knobs("x", ["Core clock", "Voltage"]).shown.names == ("Core clock", "Voltage")
    assert traps.several_knobs("x", ["Core clock"]) is None


@pytest.mark.parametrize(
    ("values", "cap", "shut"),
    [
        ([71.7, 71.6], 72, True),
        ([71.7], 72, True),
        ([65.0, 64.8], 72, False),
        ([59.95, 59.96, 59.94], None, True),
        ([59.95], None, False),
        ([58.9, 61.2, 60.0], None, False),
        ([143.9, 144.0, 143.9], None, True),
    ],
)
def test_capped_workload(values, cap, shut):
    """Runs on this bench scatter by 1 %: three that agree to a few hundredths of a percent are held by something."""
    trap = traps.capped("Show", [run(i, value) for i, value in enumerate(values)], cap, usual_sd=0.01)
    assert (trap is not None) == shut


@pytest.mark.parametrize("rate", [60.0, 117.0, 141.0])
def test_settings_that_end_at_one_rate_are_capped_whatever_the_rate(rate):
    near = [rate * 1.0004, rate * 0.9998, rate]
    trap = traps.capped(
        "Show", [run(i, value) for i, value in enumerate(near)], None, [[rate, rate * 1.0003, rate]], 0.01
    )
    assert trap.shown.cap_fps == rate
    faster = [[value * 1.03 for value in near]]
    assert traps.capped("Show", [run(i, value) for i, value in enumerate(near)], None, faster, 0.01) is None
    # equal settings that scatter as runs do are no cap
    loose = [rate * 1.008, rate * 0.994, rate]
    assert traps.capped("Show", [run(i, value) for i, value in enumerate(loose)], None, [loose], 0.01) is None


@pytest.mark.parametrize("rate", [117.0, 64.0])
def test_rates_that_are_equal_because_they_were_rounded_are_no_cap(rate):
    """Typed as whole numbers, runs that scatter by 0.3 % are all the same."""
    flat = [run(i, rate) for i in range(3)]
    assert traps.capped("Show", flat, None, [[rate] * 3], 0.003) is None
    assert traps.capped("Show", flat, None, [], 0.003) is None


def test_drift_and_sudden_changes_are_told_with_their_intervals():
    hours = np.arange(24) * 0.1
    labels = np.repeat(np.arange(4), 6)
    rng = np.random.default_rng(3)
    noise = rng.normal(0, 0.002, 24)
    falling = traps.drift("Dome", trend_of(hours, labels, noise - 0.02 * hours), 2.4)
    assert falling.shown.low <= falling.shown.change <= falling.shown.high < 0
    assert falling.shown.session_minutes == pytest.approx(144)
    assert traps.drift("Dome", trend_of(hours, labels, noise), 2.4) is None
    mixed = np.tile(np.arange(4), 6)
    jumped = traps.sudden_change("Dome", step_of(noise + 0.01 * (np.arange(24) >= 11), mixed), range(100, 124))
    assert jumped.run_ids == (111,)
    assert traps.sudden_change("Dome", step_of(noise, mixed), range(24)) is None


def test_power_read_at_different_points():
    stock = [run(1, power_w=200.0, power_point="software")]
    assert traps.mixed_points("x", stock, [run(2, power_w=290.0, power_point="wall")]).shown == traps.MixedPoints(
        ("software",), ("wall",)
    )
    assert traps.mixed_points("x", stock, [run(2, power_w=190.0, power_point="software")]) is None
    assert traps.mixed_points("x", stock, [run(2)]) is None


@pytest.mark.parametrize(
    ("days", "other", "shut"), [(2, False, False), (40, False, True), (2, True, True), (None, False, False)]
)
def test_stale_baseline(days, other, shut):
    assert (traps.stale_baseline("stock", days, other) is not None) == shut


def test_first_run_kept():
    runs = [run(1, 90.4), run(2, 93.6), run(3, 93.5), run(4, 93.9), run(5, 93.7)]
    assert traps.first_run_kept("Gorge", runs, None).run_ids == (1,)
    assert traps.first_run_kept("Gorge", runs[1:], None) is None
    assert traps.first_run_kept("Gorge", [run(1, 90.4, set_aside=True), *runs[1:]], None) is None


def test_score_falls_while_the_clock_rises():
    rising = [ratio_of(1.03), ratio_of(1.06), ratio_of(1.03)]
    trap = traps.score_falls("Rings, memory clock", [300, 600, 900], rising, 0)
    assert (trap.shown.best, trap.shown.worse) == (600, 900)
    assert (trap.shown.best_gain, trap.shown.worse_gain) == (pytest.approx(0.06), pytest.approx(0.03))
    assert traps.score_falls("x", [300, 600, 900], [ratio_of(1.03), ratio_of(1.06), ratio_of(1.058)]) is None
    assert traps.score_falls("x", [300], [ratio_of(1.03)]) is None


@pytest.mark.parametrize(("frames", "shut"), [(7800, True), (9400, True), (10_000, False)])
def test_lows_from_too_few_frames(frames, shut):
    # common practice: two minutes at 65 frames a second leave eight frames to the 0.1 % low
    assert (traps.few_frames("Gorge", frames) is not None) == shut


def test_warm_start():
    assert traps.warm_start("Gorge", 52, 24, 30).shown == traps.WarmStart(52, 24)
    assert traps.warm_start("Gorge", 52, 24, 50) is None
    assert traps.warm_start("Gorge", 33, 24, 30) is None


def test_clock_set_but_not_got():
    assert traps.clock_not_got("Gorge", 90, 12).shown == traps.ClockNotGot(90, 12)
    assert traps.clock_not_got("Gorge", 90, 84) is None
    assert traps.clock_not_got("Gorge", 0, -3) is None


def test_a_short_first_pass():
    # 2.7 GHz for 28 s, then 1.8: half as fast again at the start. Common practice
    short = [run(i, duration_s=60.0) for i in (1, 2)]
    trap = traps.short_pass("Tables", short, 28.0, 0.5)
    # 28 of 60 s at half as much again lift the mean by 23 %; 23 min dilute it to 1 %: arithmetic
    assert trap.shown == traps.ShortPass(0.5, 28.0, 60.0, pytest.approx(0.2333, abs=1e-4), pytest.approx(1400.0))
    assert trap.run_ids == (1, 2)
    assert traps.short_pass("Tables", [run(1, duration_s=1500.0)], 28.0, 0.5) is None
    assert traps.short_pass("Tables", [run(1)], 28.0, 0.5) is None
    assert traps.short_pass("Tables", [run(1, duration_s=60.0, set_aside=True)], 28.0, 0.5) is None
