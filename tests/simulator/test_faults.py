import numpy as np
import pytest

from trelvo.simulator.bench import Bench, used_for
from trelvo.simulator.faults import KINDS, PER_H, Fault, draw_fault
from trelvo.simulator.rigs import draw_rig

KEPT = {"core": 45.0}


def bench(fault=None, driver="2.0", seed=1):
    return Bench(draw_rig("dome", 28), 24.0, np.random.default_rng(seed), fault=fault, driver=driver)


def settled(fault=None, driver="2.0", values=KEPT, load="Gorge flythrough"):
    """A bench after ten minutes; the seed is one whose run does not fail before."""
    one = bench(fault, driver)
    one.start(values, load, 20)
    one.advance(300)
    return one


@pytest.mark.parametrize("kind", KINDS)
def test_a_fault_makes_the_kept_setting_fail_within_hours(kind):
    sound = settled()
    now, decade = sound.now, sound.rig.chip.decade_mhz
    assert sum(sound.hazards()) < 0.05
    rng = np.random.default_rng(4)
    for _ in range(5):
        fault = draw_fault(rng, now.core_over_mhz, decade, now.board_w, "2.0", "Gorge flythrough", kind)
        assert fault.kind == kind
        assert 0.5 * PER_H[0] <= sum(settled(fault).hazards()) <= 2 * PER_H[1]


def test_each_fault_goes_where_it_says():
    now = settled().now
    lost = -now.core_over_mhz + 20
    driver = Fault("new driver", edge_mhz=lost, driver="2.0")
    assert settled(driver).hazards()[0] > 100 * settled(driver, driver="1.0").hazards()[0]
    edge = Fault("edge moved", edge_mhz=lost)
    assert settled(edge).hazards()[0] == pytest.approx(settled(edge, driver="1.0").hazards()[0])
    # stock has margin enough for what a driver or age takes
    assert settled(edge, values={}).hazards()[0] < 0.3 * settled(edge).hazards()[0]
    program = Fault("the program itself", load="Gorge flythrough", per_h=2.0)
    assert settled(program, values={}).hazards()[1] == 2.0
    assert settled(program, load="Dust rings").hazards()[1] == 0.0
    cable = Fault("supply or cable", per_h=2.0, at_w=now.board_w)
    assert settled(cable, values={"power": 60.0}).hazards()[1] < settled(cable).hazards()[1]


def test_hours_of_use_fail_as_often_as_the_rate_says():
    """Stretches of ten minutes at 12 failures an hour: a share of 1 - exp(-2) fails, within four deviations."""
    fault = Fault("the program itself", load="Resting desk", per_h=12.0)
    ends = []
    for seed in range(24):
        ends.append(used_for(bench(fault, seed=seed), {}, "Resting desk", 1 / 6))
    failed = [end for end in ends if end.outcome != "completed"]
    expected = 24 * (1 - np.exp(-2.0))
    assert abs(len(failed) - expected) < 4 * np.sqrt(expected * np.exp(-2.0))
    assert {one.outcome for one in failed} == {"program crash"}
    assert all(0 < one.after_s < 600 for one in failed)
    assert all(end.after_s == 600 for end in ends if end.outcome == "completed")
