import math

import pytest

from tests.core.goal.made import GORGE, RENDER, bench, runs, setting
from tests.said import codes
from trelvo.core.goal.alternatives import alternatives, target_ratio, worth_tuning
from trelvo.core.goal.judging import judge_settings
from trelvo.core.message import message
from trelvo.core.terms import terms_from

STOCK = setting(1, "stock", [100, 100.4, 99.6])
FAST = setting(2, "core clock +60 MHz", [104, 104.3, 103.7], holds=0.95)


def judged(*settings):
    return judge_settings(terms_from("decide", {}), STOCK, [STOCK, *settings], bench(STOCK, *settings))


def test_a_target_is_the_geometric_mean_of_its_ratios():
    stock = {1: runs(1, 1, [100, 100]), 2: runs(1, 2, [50, 50])}
    # 120 over 100 frames; 40 s instead of 50 is 1.25: the mean is the root of 1.2 x 1.25
    found = target_ratio("Next up", {1: 120.0, 2: 40.0, 9: 7.0}, 150.0, stock, (GORGE, RENDER))
    assert found is not None
    assert (found.ratio, found.shared) == (pytest.approx(math.sqrt(1.2 * 1.25)), 2)
    assert target_ratio("Elsewhere", {9: 7.0}, None, stock, (GORGE, RENDER)) is None


def test_tune_or_buy():
    best = judged(FAST)[0]
    target = target_ratio("Next up", {1: 120.0}, 240.0, STOCK.groups, (GORGE,))
    slow = target_ratio("Older", {1: 101.0}, 80.0, STOCK.groups, (GORGE,))
    none = target_ratio("Unpriced", {1: 130.0}, None, STOCK.groups, (GORGE,))
    found = alternatives(best, 1, [none, target, slow])
    assert [one.kind for one in found] == ["keep stock", "tune", "buy", "buy", "buy"]
    assert [one.name.params["target"] for one in found[2:]] == ["Older", "Next up", "Unpriced"]
    assert found[1].name == message("tune_to", setting="core clock +60 MHz")
    assert found[1].ratio == pytest.approx(1.04, abs=1e-3)
    # 20 % over stock, 4 % of it tuned: 240 for 16 more
    assert found[3].per_percent == pytest.approx(240 / 16, rel=0.01)
    assert found[2].per_percent is None
    assert "no_faster" in codes(found[2].says)
    assert "type_its_price" in codes(found[4].says)


def test_a_part_that_takes_the_place_of_another_costs_the_rest():
    target = target_ratio("Next up", {1: 120.0}, 650.0, STOCK.groups, (GORGE,))
    found = alternatives(judged(FAST)[0], 1, [target], own_price=500.0)[-1]
    assert found.price == 150
    assert found.per_percent == pytest.approx(150 / 16, rel=0.01)
    assert message("price_less_own", price=650, own_price=500) in found.says.more


def test_the_fastest_stands_for_tuning_where_the_goal_is_not_met():
    failed = setting(3, "too far", [110, 110, 110], failures=1, holds=0.1)
    unsure = setting(2, "core clock +60 MHz", [104, 104.3, 103.7], holds=0.01)
    found = judged(unsure, failed)
    best = worth_tuning(None, found, 1)
    assert best.setting_id == 2
    tune = alternatives(best, 1, [])[-1]
    assert (tune.kind, codes(tune.says)) == ("tune", ["bench_time_only", "tuned_misses_goal"])
    assert worth_tuning(None, judged(failed), 1) is None


def test_without_a_setting_that_may_meet_it_only_stock_is_left():
    assert [one.kind for one in alternatives(None, 1, [])] == ["keep stock"]
