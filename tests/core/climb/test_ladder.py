"""The ladder: order, gains, and what it refuses to compare."""

import math

import numpy as np
import pytest
from scipy import stats

from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import RunFacts, values_of
from trelvo.core.climb.ladder import Place, build_ladder
from trelvo.core.stats import noise

POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1)
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1)
PLACES = [
    Place(1, {}),
    Place(2, {"power": 120}),
    Place(3, {"power": 120, "core": 90}),
    Place(4, {"power": 120, "core": 180}),
]


def run(number, setting, value, **more):
    more = {"outcome": "completed", "power_w": 200.0, "power_point": "software", **more}
    return RunFacts(id=number, setting_id=setting, workload_id=1, value=value, **more)


RUNS = [
    run(1, 1, 93.6), run(2, 1, 93.5), run(3, 1, 94.0), run(4, 1, 80.0, set_aside=True),
    run(5, 2, 96.8), run(6, 2, 96.5),
    run(7, 3, 98.6, power_w=190.0, temp_max_c=64.0),
    run(8, 4, None, outcome="system crash", temp_max_c=71.0),
]  # fmt: skip


def ladder(runs=RUNS, places=PLACES, **more):
    groups = {}
    for one in runs:
        groups.setdefault(one.setting_id, []).append(one)
    pooled = noise.pool(values_of(group) for group in groups.values())
    more = {"stock_id": 1, "pooled": pooled, "measure": "frame rate", "higher_is_better": True, **more}
    return build_ladder([POWER, CORE], places, runs, **more)


def test_settings_stand_from_the_furthest_down_to_stock():
    assert [setting.setting_id for setting in ladder().settings] == [4, 3, 2, 1]
    assert ladder(places=PLACES[::-1]).settings == ladder().settings


def test_gain_of_a_single_run_rests_on_the_noise_of_all_repeats():
    setting = ladder().settings[1]
    stock, two = np.log([93.6, 93.5, 94.0]), np.log([96.8, 96.5])
    sd = math.sqrt((2 * stock.var(ddof=1) + 1 * two.var(ddof=1)) / 3)
    difference = math.log(98.6) - stock.mean()
    half = stats.t.ppf(0.975, 3) * sd * math.sqrt(1 / 3 + 1)
    assert setting.gain.ratio == pytest.approx(math.exp(difference))
    assert setting.gain.low == pytest.approx(math.exp(difference - half))
    assert setting.gain.high == pytest.approx(math.exp(difference + half))


def test_watts_work_and_warmth():
    setting = ladder().settings[1]
    assert setting.watts_saved == pytest.approx(10)
    assert setting.efficiency.amount == pytest.approx(98.6 / 190)
    assert setting.efficiency_ratio == pytest.approx(setting.gain.ratio / 0.95)
    assert setting.temp_max_c == 64


def test_a_failed_setting_has_a_temperature_and_no_gain():
    setting = ladder().settings[0]
    assert (setting.failures, setting.gain, setting.summary, setting.temp_max_c) == (1, None, None, 71)


def test_what_was_turned_on_the_way():
    settings = {setting.setting_id: setting for setting in ladder(places=[*PLACES, Place(5, {"core": 30})]).settings}
    assert (settings[3].from_id, settings[3].turned) == (2, ("core",))
    assert (settings[5].from_id, settings[5].turned) == (1, ("core",))
    jump = ladder(places=[PLACES[0], PLACES[2]], runs=RUNS[:4] + RUNS[6:7]).settings[0]
    assert jump.turned == ("power", "core")


def test_other_measuring_point_saves_no_watts():
    runs = [*RUNS[:3], run(9, 3, 98.6, power_w=290.0, power_point="wall")]
    setting = ladder(runs).settings[1]
    assert setting.gain is not None
    assert setting.watts_saved is None
    assert setting.efficiency_ratio is None


def test_the_axis_holds_stock_and_every_whisker():
    drawn = ladder()
    ends = [end for setting in drawn.settings if setting.gain for end in (setting.gain.low, setting.gain.high)]
    assert drawn.axis_low < min(1, *ends)
    assert drawn.axis_high > max(1, *ends)


def test_no_runs_at_all():
    empty = ladder(runs=[])
    assert empty.pooled is None
    assert all(setting.gain is None for setting in empty.settings)
