"""Final temperatures predicted from the first minutes: errors and coverage on 500 rigs; ./run.py bench heat."""

import numpy as np
import pytest

from tests.core.laws.traces import draw_truth, warming
from trelvo.core.laws.heat import Trace, after_runs, forecast
from trelvo.simulator.bench import Bench
from trelvo.simulator.rigs import draw_rig

RIGS = 500


def told(name, found):
    """found: forecast and truth of each rig"""
    off = np.array([one.settles_c.value - end for one, end in found])
    held = np.array([one.settles_c.low <= end <= one.settles_c.high for one, end in found])
    wide = np.median([(one.settles_c.high - one.settles_c.low) / 2 for one, _ in found])
    within = [float(np.mean(np.abs(off) <= degrees)) for degrees in (1, 2)]
    print(
        f"heat, {name}: within 1 °C {within[0]:.1%}, 2 °C {within[1]:.1%}, coverage {held.mean():.1%}, "
        f"half width {wide:.2f} °C, mean error {off.mean():+.2f} °C"
    )
    return within, held.mean()


@pytest.mark.parametrize("minutes", [3, 5, 10, 15, 30])
def test_a_rig_never_seen(benchmark, minutes):
    rng = np.random.default_rng((1, minutes))

    def study():
        made = (warming(draw_truth(rng), minutes, rng, room=rng.uniform(18, 28)) for _ in range(RIGS))
        return [(forecast(trace), end) for trace, end in made]

    within, coverage = told(f"never seen, {minutes} min", benchmark.pedantic(study, rounds=1))
    # 95 % of 500 lies between 93 and 97 with two standard errors; three are allowed
    assert 0.92 <= coverage <= 0.99
    if minutes >= 10:
        assert within[1] >= 0.9


@pytest.mark.parametrize("minutes", [3, 5, 10])
def test_with_an_earlier_run_of_the_build(benchmark, minutes):
    rng = np.random.default_rng((2, minutes))

    def study():
        found = []
        for _ in range(RIGS):
            truth, room = draw_truth(rng), rng.uniform(18, 28)
            before = after_runs([warming(truth, 30, rng, room=room, power=(200.0, 200.0), run_to_run=0.01)[0]])
            watts = rng.uniform(120, 240)
            trace, end = warming(truth, minutes, rng, room=room, power=(watts, 200.0), run_to_run=0.01)
            found.append((forecast(trace, before), end))
        return found

    within, coverage = told(f"one earlier run, {minutes} min", benchmark.pedantic(study, rounds=1))
    assert coverage >= 0.92
    assert within[1] >= 0.9
    if minutes >= 10:
        assert within[0] >= 0.95


@pytest.mark.parametrize(("kind", "load"), [("dome", "Kiln"), ("loft", "Millrace"), ("relic", "Grindstone")])
def test_the_simulator_which_knows_nothing_of_the_model(benchmark, kind, load):
    """Leakage that rises with heat, a fan curve that moves, temperature slowdown; rounded to whole degrees."""

    def study():
        found = {minutes: [] for minutes in (3, 5, 10, 20)}
        for seed in range(25):
            bench = Bench(draw_rig(kind, seed), 20.0 + seed % 9, np.random.default_rng(seed), step_s=0.5)
            bench.start({}, load, 75)
            stretch = bench.advance(4500)
            if stretch.ending is None or stretch.ending.outcome != "completed":
                continue
            names = [channel.name for channel in bench.channels()]
            temp, power, fan = (stretch.values[:, names.index(name)] for name in ("die", "power", "fan"))
            end = float(temp[-1200:].mean())
            for minutes, into in found.items():
                k = minutes * 120
                into.append(
                    (forecast(Trace(stretch.time_s[:k], np.round(temp[:k]), power[:k], fan[:k], bench.room_c)), end)
                )
        return found

    for minutes, some in benchmark.pedantic(study, rounds=1).items():
        within, coverage = told(f"simulator {kind}, {minutes} min", some)
        if minutes >= 10:
            assert within[1] >= 0.9
            assert coverage >= 0.8


@pytest.mark.parametrize("wrong", ["a third, slower store", "a noisy sensor", "power not read, and it steps"])
def test_where_the_model_is_wrong(benchmark, wrong):
    """How far off, and whether it says that it does not fit."""
    rng = np.random.default_rng(3)

    def study():
        found, fits = [], 0
        for _ in range(100):
            truth = draw_truth(rng)
            trace, end = warming(truth, 10, rng, noise=2.0 if wrong == "a noisy sensor" else 0.4)
            temps = trace.temp_c
            if wrong == "a third, slower store":
                temps, end = temps + 6 * (1 - np.exp(-trace.time_s / 2400)), end + 6
            if wrong == "power not read, and it steps":
                drop = 0.25 * (truth.fast_c + truth.slow_c)
                after = np.maximum(trace.time_s - 200, 0)
                temps, end = temps - drop * (1 - np.exp(-after / truth.slow_s)), end - drop
            one = forecast(Trace(trace.time_s, temps, None, None, trace.room_c))
            fits += one.fits
            if one.fits:
                found.append((one, end))
        return found, fits

    found, fits = benchmark.pedantic(study, rounds=1)
    print(f"heat, {wrong}: says that it fits in {fits} of 100")
    if found:
        told(wrong, found)
    # a noisy sensor is no wrong model; a slower store than the log is long cannot be seen: said in docs/methods.md
    assert fits >= 90 if wrong == "a noisy sensor" else fits <= 100
    if wrong == "power not read, and it steps":
        assert fits <= 60
