from dataclasses import replace

import pytest

from tests.core.goal.made import bench, setting
from trelvo.core.goal.judging import judge_settings
from trelvo.core.lab.predicted_step import PredictedPower, PredictedSetting
from trelvo.core.laws.heat import Interval
from trelvo.core.message import message
from trelvo.core.next_step.rules import KnobAdvice, ProofItem, Situation, next_step
from trelvo.core.terms import terms_from

STOCK = setting(1, "stock", [100, 100.4, 99.7], [170, 170.6, 169.8])
LOWER = setting(2, "voltage −50 mV", [100.1, 100.2, 99.9], [158, 158.2, 157.9], holds=0.95)
CAPPED = PredictedSetting(
    "power limit 85 %, voltage −50 mV",
    {"power": 85.0, "voltage": -50.0},
    None,
    Interval(145, 142, 148),
    Interval(0.996, 0.99, 1.002),
    True,
)
REASON = message("set_by_use")
KNOB = KnobAdvice(
    "voltage",
    "Voltage",
    "hold",
    True,
    "−50 mV",
    {"voltage": -50.0},
    2,
    0,
    message("set_by_use"),
    None,
    None,
    "",
    "stock",
    hold_id=2,
)
PROOF = ProofItem(2, "mixed load", False, message("both_to_see"), 3, "Ferry", 15.0, 60.0)
DRAWN_W = {1: 170.0, 2: 158.0}


def step_with(*predicted, **more):
    judged = judge_settings(terms_from("efficiency", {"lows_too": False}), STOCK, [STOCK, LOWER], bench(STOCK, LOWER))
    begun = Situation(
        stock_id=1,
        workloads={1: "Gorge", 2: "Render"},
        minutes={1: 4.0, 2: 6.0},
        judged=judged,
        knobs=[KNOB],
        proof=PROOF,
        runs_at={(pk, one): 3 for pk in (1, 2) for one in (1, 2)},
        predicted=PredictedPower(predicted, DRAWN_W),
    )
    return next_step(replace(begun, **more))


def test_what_should_draw_less_than_the_best_is_run_before_the_best_is_proved():
    found = step_with(CAPPED)
    assert found.step.title == message("run_all_once", setting="power limit 85 %, voltage −50 mV")
    assert (found.step.act, found.step.values, found.step.workload_ids) == ("run", CAPPED.values, (1, 2))
    assert found.step.why == message(
        "draws_less_by_the_laws", watts=145, low_w=142, high_w=148, best="voltage −50 mV", drawn_w=158.0, percent=99.6
    )
    assert found.instead[0].act == "prove"


@pytest.mark.parametrize(
    "other",
    [
        replace(CAPPED, meets_speed=False),
        # not surely less
        replace(CAPPED, power_w=Interval(156, 152, 160)),
        # less, but by too little to matter
        replace(CAPPED, power_w=Interval(157.8, 157.7, 157.9)),
    ],
)
def test_what_does_not_surely_pay_is_not_proposed(other):
    assert step_with(other).step.act == "prove"


def test_the_next_that_pays_is_taken_where_the_first_does_not():
    second = replace(CAPPED, title="power limit 88 %", power_w=Interval(150, 147, 153))
    assert step_with(replace(CAPPED, meets_speed=False), second).step.title.params["setting"] == "power limit 88 %"


def test_a_setting_broken_off_half_way_is_finished_and_one_that_was_run_is_not_run_again():
    ran = {(pk, one): 3 for pk in (1, 2) for one in (1, 2)}
    half = step_with(replace(CAPPED, setting_id=9), runs_at=ran | {(9, 1): 1}).step
    assert half.title == message("run_once", workload="Render", setting="power limit 85 %, voltage −50 mV")
    assert (half.setting_id, half.workload_ids) == (9, (2,))
    assert step_with(replace(CAPPED, setting_id=9), runs_at=ran | {(9, 1): 1, (9, 2): 1}).step.act == "prove"


def test_a_knob_with_something_left_to_find_comes_first():
    climbing = replace(KNOB, act="test", done=False, hold_id=None, load="Kiln", load_id=1)
    found = step_with(CAPPED, knobs=[climbing])
    assert found.step.act == "climb"
    assert found.instead[0].values == CAPPED.values


def test_two_settings_that_are_no_settings_yet_are_not_one_and_the_same():
    unmeasured = replace(KNOB, hold_id=None, setting_id=None, values={"voltage": -60.0}, value="−60 mV")
    found = step_with(CAPPED, knobs=[unmeasured])
    assert (found.step.act, found.step.values) == ("run", {"voltage": -60.0})
    assert (found.instead[0].act, found.instead[0].values) == ("run", CAPPED.values)


def test_where_nothing_meets_the_goal_it_is_held_against_stock():
    found = step_with(CAPPED, judged=[], proof=None)
    assert (found.step.why.params["best"], found.step.why.params["drawn_w"]) == (message("at_stock"), 170.0)
    assert (
        step_with(CAPPED, judged=[], proof=None, predicted=PredictedPower([CAPPED], {})).step.title.code
        == "keep_stock_then"
    )
