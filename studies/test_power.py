"""Watts of settings not tried, predicted from five settings on the simulator; ./run.py bench power."""

import numpy as np
import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.laws.power_model import PowerPoint, fit_power
from trelvo.core.laws.power_prediction import fit_model, predict
from trelvo.simulator.bench import Bench
from trelvo.simulator.rigs import draw_rig

SPECIMENS = 20
ROLES = {
    "power": "power limit",
    "cap": "power limit",
    "core": "core clock",
    "voltage": "voltage",
    "memory": "memory clock",
}
CARD = [{}, {"power": 110}, {"power": 120}, {"power": 120, "core": 60}, {"power": 120, "voltage": -25}]
CARD_UNTRIED = [
    {"power": 120, "core": 60, "voltage": -50},
    {"voltage": -75},
    {"power": 120, "voltage": -75},
    {"power": 90},
]
# A starved card: its limit holds it at everything that was run.
STARVED = [{}, {"voltage": -15}, {"voltage": -30}, {"voltage": -20, "core": 30}, {"voltage": -20, "power": 92}]
STARVED_UNTRIED = [
    {"voltage": -25},
    {"voltage": -40},
    {"power": 85},
    {"power": 88, "voltage": -30},
    {"core": -45, "voltage": -30},
    {"core": -150, "voltage": -40},
]
LAPTOP = [{}, {"voltage": -25}, {"voltage": -50}, {"cap": 35}, {"cap": 28}]
LAPTOP_UNTRIED = [{"voltage": -75}, {"voltage": -75, "cap": 30}, {"cap": 20}, {"voltage": -50, "cap": 25}]


def study(kind, load, tried, untried):
    """Errors and whether the interval held them, of settings that were predicted; the same of their clocks; how many were not."""
    errors, held, silent = [], [], 0
    clocks, clocks_held = [], []
    for seed in range(SPECIMENS):
        rig = draw_rig(kind, seed)
        bench = Bench(rig, 23.0, np.random.default_rng(seed), step_s=0.5)
        names = [channel.name for channel in bench.channels()]
        columns = [names.index(name) for name in ("core clock", "voltage", "power", "die")]

        def run(number, values, bench=bench, columns=columns):
            bench.start(values, load, 2)
            seen = bench.advance(120).values
            return PowerPoint(number, 1, *seen[60:, columns].mean(axis=0)) if seen.shape[0] >= 200 else None

        bench.start({}, load, 5)
        bench.advance(300)
        points = [run(i, values) for i, values in enumerate(tried) for _ in range(2 if i == 0 else 1)]
        points = [point for point in points if point]
        knobs = [
            Knob(
                knob.key,
                knob.name,
                knob.unit,
                knob.stock,
                knob.step,
                knob.low,
                knob.high,
                knob.away,
                ROLES.get(knob.key, "other"),
            )
            for knob in rig.design.knobs
        ]
        model = fit_model(fit_power(points), points, dict(enumerate(tried)), knobs)
        for number, values in enumerate(untried):
            truth, predicted = run(100 + number, values), predict(model, 1, values)
            found, clock = predicted.power_w, predicted.core_mhz
            if truth and found and clock:
                clocks.append(clock.value / truth.core_mhz - 1)
                clocks_held.append(clock.low <= truth.core_mhz <= clock.high)
                errors.append(found.value / truth.power_w - 1)
                held.append(found.low <= truth.power_w <= found.high)
            silent += bool(truth and not found)
    return np.array(errors), np.array(held), np.array(clocks), np.array(clocks_held), silent


@pytest.mark.parametrize(
    ("kind", "load", "tried", "untried"),
    [
        ("dome", "Gorge flythrough", CARD, CARD_UNTRIED),
        ("dome", "Winter sky show", CARD, CARD_UNTRIED),
        ("dome", "Kiln", STARVED, STARVED_UNTRIED),
        ("loft", "Orbit tables", LAPTOP, LAPTOP_UNTRIED),
    ],
)
def test_untried_settings_within_four_percent(benchmark, kind, load, tried, untried):
    errors, held, clocks, clocks_held, silent = benchmark.pedantic(study, (kind, load, tried, untried), rounds=1)
    print(
        f"power, {kind}, {load}: {errors.size} predicted, {silent} not told; within 4 % {np.mean(np.abs(errors) < 0.04):.0%}, "
        f"coverage {held.mean():.0%}, mean error {errors.mean():+.1%}; clock off by {np.median(np.abs(clocks)):.2%} (middle), "
        f"coverage {clocks_held.mean():.0%}"
    )
    assert np.mean(np.abs(errors) < 0.04) >= 0.9
    assert held.mean() >= 0.92
