"""Droop learnt from logs on the simulator's specimens, against what its silicon does; run by ./run.py bench droop."""

import numpy as np

from trelvo.core.laws.droop import learn_droop, read_current, steady_points
from trelvo.core.problems import Refused
from trelvo.simulator.bench import Bench
from trelvo.simulator.limits import run_at
from trelvo.simulator.rigs import draw_rig, turned

SPECIMENS, GRID = 40, 15.0
LIGHT, HEAVY = "Turning pages", "Page setting"


def logged(bench, values, load, level, rounded_v):
    bench.start(values, load)
    stretch = bench.advance(300)
    columns = {one.name: stretch.values[:, k] for k, one in enumerate(bench.channels())}
    volt = np.round(columns["voltage"] / rounded_v) * rounded_v
    current = read_current(volt, columns["power"], np.full(volt.size, np.nan)).current_a
    raised = values.get("voltage", 0.0) / 1000
    return steady_points(stretch.time_s, columns["core clock"], volt - raised, current, level, GRID)


def truth_mohm(rig, values):
    """What the readings fall by for each ampere that they show, at the full clock and 60 °C."""
    design, at = rig.design, turned(rig.design, values)
    beside = design.memory.power_w + design.board_w
    points = [
        run_at(rig.chip, design.main.stock_mhz, 0.0, at, 60.0, design.loads[name].activity) for name in (LIGHT, HEAVY)
    ]
    amperes = [rig.tools.power_scale * (point.power_w + beside) / point.volt for point in points]
    return 1000 * (points[0].volt - points[1].volt) / (amperes[1] - amperes[0])


def learnt(seed, rounded_v):
    """(truth, told) at two settings of the load line, where they are told."""
    rig = draw_rig("lectern", seed)
    bench = Bench(rig, 22.0, np.random.default_rng(seed), step_s=0.5)
    points, settings = [], {100.0: {"voltage": -50.0}, 40.0: {"voltage": -50.0, "line": 40.0}}
    for level, values in settings.items():
        for load in (HEAVY, LIGHT):
            bench.rest(900)
            points += logged(bench, values, load, level, rounded_v)
    try:
        found = learn_droop(points, GRID, rounded_v)
    except Refused:
        return []
    return [(truth_mohm(rig, settings[line.level]), line.mohm) for line in found.lines]


def test_droop_on_the_simulator(benchmark):
    def study(rounded_v):
        told = [pair for seed in range(SPECIMENS) for pair in learnt(seed, rounded_v)]
        off = np.array([abs(one.value / truth - 1) for truth, one in told])
        holds = np.mean([one.low <= truth <= one.high for truth, one in told])
        wide = np.median([(one.high - one.low) / 2 / one.value for _, one in told])
        share = len(told) / (2 * SPECIMENS)
        print(
            f"\nvoltage read to {1000 * rounded_v:g} mV: told in {share:.0%} of {2 * SPECIMENS}, off by {np.median(off):.1%} "
            f"in the middle and {np.quantile(off, 0.95):.1%} in 95 of 100; interval ± {wide:.1%}, holds {holds:.0%}",
            end="",
        )
        return share, float(np.quantile(off, 0.95)), float(holds)

    fine = benchmark.pedantic(study, args=(0.0001,), rounds=1)
    coarse = study(0.00625)
    assert fine[0] > 0.8
    assert fine[1] < 0.15
    assert coarse[1] < 0.4
    assert min(fine[2], coarse[2]) > 0.85
