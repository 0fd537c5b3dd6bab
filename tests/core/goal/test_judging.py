import math
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.weightstats import ttost_ind

from tests.core.goal.made import GORGE, RENDER, bench, runs, setting
from tests.said import codes
from trelvo.core.compare.conditions import chance_at_least, chance_of_mean, runs_for_mean, runs_to_show, stability
from trelvo.core.goal.judging import SettingFacts, best_of_many, held_from, how_far, judge_settings
from trelvo.core.message import message
from trelvo.core.stats.comparison import compare
from trelvo.core.stats.noise import pool
from trelvo.core.terms import terms_from

STOCK = setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199], [80, 80.5, 79.9])
LOWER = setting(2, "voltage −50 mV", [99.8, 100.2, 99.9], [180, 181, 180], [80, 80.2, 79.8], holds=0.95)
TOO_LOW = setting(3, "voltage −90 mV", [99.8, 100.2], [170, 171], [80, 80.2], failures=1)
ALL = (STOCK, LOWER, TOO_LOW)


def judged(goal, settings=ALL, said=None, **more):
    return judge_settings(terms_from(goal, said or {}), settings[0], settings, bench(*settings, **more))


def condition(one, key):
    return next(c for c in one.conditions if c.key == key)


def test_at_least_is_one_side_of_the_equivalence_test():
    """Against statsmodels' ttost_ind: its lower test asks whether the difference lies above the lower bound."""
    rng = np.random.default_rng(4)
    ref, cand = 100 * np.exp(rng.normal(0, 0.01, 6)), 99.6 * np.exp(rng.normal(0, 0.01, 7))
    _, (_, p, _), _ = ttost_ind(np.log(cand), np.log(ref), math.log(0.99), 1.0, usevar="unequal")
    chance = chance_at_least(compare(list(ref), list(cand), higher_is_better=True), 0.99)
    assert chance == pytest.approx(1 - p, abs=1e-9)


def test_a_mean_above_a_limit_is_a_one_sample_test():
    """Against scipy's ttest_1samp where the noise is the runs' own."""
    values = [61.0, 62.5, 60.4, 61.7]
    p = stats.ttest_1samp(np.log(values), math.log(60), alternative="greater").pvalue
    assert chance_of_mean(values, 60, pool([values]), at_least=True) == pytest.approx(1 - p)
    assert chance_of_mean(values, 60, pool([values]), at_least=False) == pytest.approx(p)
    assert chance_of_mean([61.0], 60, None, at_least=True) is None


def test_runs_that_would_show_it_do():
    """Played through: with so many runs the condition is shown in about four of five."""
    found = compare([100, 101, 99.0], [99.9, 100.6, 99.4], higher_is_better=True, pooled=pool([[100, 101, 99.0]] * 9))
    more = runs_to_show(found, 0.98, 0.95)
    error = found.sd_log * math.sqrt(2 / (3 + more))
    chance = stats.norm.cdf((math.log(found.ratio / 0.98) / error) - stats.norm.ppf(0.95))
    assert 0.8 <= chance <= 0.93
    assert runs_to_show(found, 1.05, 0.95) is None
    assert runs_for_mean([100.0, 101.0], 99.0, pool([[100.0, 101.0]]), 0.95, at_least=True) >= 1


def test_least_power_at_the_same_speed():
    first, second, third = judged("efficiency")
    assert (first.title, first.standing) == ("voltage −50 mV", "meets it")
    assert first.measure.value == pytest.approx(541 / 600, rel=1e-3)
    assert first.measure.watts == pytest.approx(-19.67, abs=0.01)
    assert first.measure.low < first.measure.value < first.measure.high < 1
    assert (second.standing, third.standing) == ("stock", "does not")
    assert condition(third, "stability").says == message("it_failed", failures=1)


def test_a_gain_below_the_least_that_counts_is_none():
    """0.3 % less power, known to a tenth of a percent: sure to be less, and sure to be too little."""
    fine = [200.0, 200.1, 199.9, 200.05, 199.95, 200.0]
    stock = setting(1, "stock", [100.0, 100.1, 99.9], fine)
    little = setting(2, "−5 mV", [100.0, 100.1, 99.9], [watts * 0.997 for watts in fine], holds=0.95)
    one = next(one for one in judged("efficiency", (stock, little), {"lows_too": False}) if one.setting_id == 2)
    found = condition(one, "improves")
    assert (found.state, one.standing) == ("broken", "does not")
    assert (found.says.code, found.says.params["least"]) == ("sure_too_little", 0.5)
    assert found.chance > 0.95
    counts = judged("efficiency", (stock, little), {"lows_too": False}, smallest_gain=0.002)[0]
    assert condition(counts, "improves").state == "shown"


def test_a_gain_that_only_looks_too_little_asks_for_runs():
    stock = setting(1, "stock", [100.0, 100.1, 99.9], [200.0, 200.3, 199.7])
    little = setting(2, "−5 mV", [100.0, 100.1, 99.9], [199.3, 199.6, 199.0], holds=0.95)
    one = next(one for one in judged("efficiency", (stock, little), {"lows_too": False}) if one.setting_id == 2)
    found = condition(one, "improves")
    assert found.state == "not shown yet"
    assert found.says == message("some_but_little", least=0.5)
    assert found.more_runs >= 1


def test_a_setting_that_loses_speed_does_not_save_power_by_this_goal():
    slower = setting(4, "cap 70 %", [96.0, 96.3, 95.8], [150, 150, 151], [76, 76.5, 76.2], holds=0.99)
    first = next(one for one in judged("efficiency", (*ALL, slower)) if one.setting_id == 4)
    assert first.standing == "does not"
    assert condition(first, "speed").state == "broken"
    assert condition(first, "improves").state == "shown"
    allowed = judged("efficiency", (*ALL, slower), {"least_speed": 0.94, "lows_too": False})
    assert (allowed[0].setting_id, allowed[0].standing) == (4, "meets it")


def test_one_run_each_shows_nothing():
    stock, other = setting(1, "stock", [100.0], [200.0]), setting(2, "x", [100.0], [150.0])
    one = judged("efficiency", (stock, other), {"lows_too": False})[0]
    assert one.standing == "may meet it"
    assert condition(one, "speed").chance is None
    assert "nothing_repeated" in codes(condition(one, "speed").says)


def test_power_is_not_compared_across_instruments():
    clamp = SettingFacts(
        2, "clamp", {1: runs(2, 1, [100, 100.1], [150, 151], read_by={"power_w": "Clamp"})}, holds=0.95
    )
    one = next(one for one in judged("efficiency", (STOCK, clamp)) if one.setting_id == 2)
    assert one.measure is None
    assert condition(one, "improves").says == message("both_sides_need", what=message("power_by_same_instrument"))


def test_a_frame_rate_is_held_when_average_and_low_are():
    found = judged("frame rate", said={"frames": 79.0, "low_frames": 79.0})
    assert found[0].setting_id == 2
    assert found[0].measure.value == 1
    assert next(one for one in found if one.setting_id == 1).standing == "meets it"
    high = judged("frame rate", said={"frames": 90.0, "low_frames": 90.0})
    assert {one.standing for one in high} == {"does not"}
    assert condition(high[0], "frame rate").says.code == "low_fps"
    assert condition(high[0], "frame rate").says.params["fps"] == pytest.approx(80, abs=1)
    averages = judged("frame rate", said={"frames": 90.0, "low_frames": None})
    assert averages[0].standing == "meets it"


def test_a_rate_at_its_cap_is_held_from_just_below():
    assert held_from(72, 72) == pytest.approx(71.28)
    assert held_from(72, None) == held_from(72, 120) == 72
    assert held_from(72, 60) == 72


def test_a_budget_counts_in_every_workload():
    render = {1: LOWER.groups[1], 2: runs(2, 2, [50.0, 50.2], [210, 211])}
    both = SettingFacts(2, "voltage −50 mV", render, holds=0.95)
    one = judged("power budget", (STOCK, both), {"most_power_w": 190.0}, workloads=(GORGE, RENDER))
    states = [c.state for c in one[0].conditions if c.key == "power"]
    assert "broken" in states
    assert [c.name for c in one[0].conditions if c.key == "power"] == [
        message("at_most_w_in", workload=workload, most_w=190) for workload in ("Gorge", "Render")
    ]


def test_a_target_is_reached_workload_by_workload():
    fast = setting(5, "core +90 MHz", [106, 106.4, 105.9], holds=0.95)
    found = judged("target", (STOCK, fast), targets={1: 105.0})[0]
    assert (found.setting_id, found.standing) == (5, "meets it")
    far = judged("target", (STOCK, fast), targets={1: 110.0})[0]
    assert (
        condition(
            next(o for o in judged("target", (STOCK, fast), targets={1: 110.0}) if o.setting_id == 5), "target"
        ).state
        == "broken"
    )
    assert far.standing in ("stock", "does not")


def test_a_record_is_one_result_and_no_proof():
    wild = setting(6, "core +300 MHz", [112.0], failures=4)
    first = judged("record", (STOCK, wild))[0]
    assert (first.setting_id, first.standing) == (6, "meets it")
    assert first.measure.value == pytest.approx(112 / 100.4)
    assert first.measure.low is None


def test_degrees_over_room_by_student_t():
    cool = SettingFacts(7, "fan 80 %", {1: runs(7, 1, [100, 99.8, 100.1], hottest=52.0)}, holds=0.95)
    one = next(one for one in judged("quiet", (STOCK, cool)) if one.setting_id == 7)
    before, after = [60 - 22, 60.2 - 22, 60.4 - 22], [52 - 22, 52.2 - 22, 52.4 - 22]
    expected = stats.ttest_ind(after, before).confidence_interval(0.95)
    assert (one.measure.low, one.measure.high) == pytest.approx((expected.low, expected.high))
    assert one.measure.value == pytest.approx(-8.0)


def test_a_workload_without_a_run_is_asked_for():
    one = next(o for o in judged("speed", (STOCK, LOWER), workloads=(GORGE, RENDER)) if o.setting_id == 2)
    missing = condition(one, "measured")
    assert (missing.state, missing.workload_id, missing.says) == (
        "not shown yet",
        2,
        message("no_run_of", workloads=("Render",)),
    )


@pytest.mark.parametrize(
    ("failures", "holds", "approaches", "state"),
    [
        (0, 0.95, (), "shown"), (0, 0.5, (), "not shown yet"), (0, 0.05, (), "broken"), (1, 0.99, ("as used",), "broken"),
        # an approach that was passed is told, and decides nothing
        (0, 0.2, ("mixed load",), "not shown yet"), (0, None, ("as used",), "not shown yet"),
    ],
)  # fmt: skip
def test_stability(failures, holds, approaches, state):
    assert stability(failures, holds, approaches, 50, 0.9).state == state


def test_how_far_the_goal_is_met_in_words():
    terms = terms_from("efficiency", {})
    found = judged("efficiency")
    assert how_far(terms, found, found[0], 1) == message("met")
    assert how_far(terms, [], None, 1) == message("nothing_run")
    assert how_far(terms, judged("efficiency", (STOCK,)), None, 1) == message("only_stock_run")
    assert how_far(terms, judged("efficiency", (STOCK, TOO_LOW)), None, 1) == message("none_meets", tried=1)
    unread = setting(4, "x", [99.8, 100.2, 99.9], holds=0.95)
    one, two = judged("efficiency", (STOCK, unread)), judged("efficiency", (STOCK, unread, TOO_LOW))
    assert how_far(terms, one, None, 1) == message("none_shown_to_meet", tried=1)
    assert how_far(terms, two, None, 1) == message("none_shown_to_meet", tried=2)
    frames = terms_from("frame rate", {"frames": 79.0, "low_frames": 79.0})
    held = judged("frame rate", said={"frames": 79.0, "low_frames": 79.0})
    assert how_far(frames, held, held[0], 1) == message("held_in", workloads=1, asked=1)


def test_the_best_of_many_equals_is_drawn_to_the_rest():
    rng = np.random.default_rng(1)
    many = [setting(k, f"setting {k}", list(100 * np.exp(rng.normal(0, 0.01, 3))), holds=0.95) for k in range(2, 12)]
    found = judged("speed", (STOCK, *many))
    best = found[0]
    drawn = best_of_many(found, best)
    assert 1 < drawn.ratio < best.measure.value
    assert best_of_many(found[:2], best) is None


def test_quiet_is_measured_in_decibels_where_that_is_asked_for():
    loud = setting(1, "stock", [100, 100, 100], noise_dba=44.0)
    calm = setting(2, "fan 40 %", [99.9, 100.0, 100.1], noise_dba=41.5, holds=0.95)
    one = next(
        one
        for one in judge_settings(terms_from("quiet", {"quiet_by": "noise"}), loud, [loud, calm], bench(loud, calm))
        if one.setting_id == 2
    )
    assert (one.measure.unit, one.measure.value, one.measure.side) == ("dB(A)", pytest.approx(-2.5), "better")
    assert condition(one, "improves").state == "shown"
    # by degrees the same runs say nothing of noise
    by_heat = judge_settings(terms_from("quiet", {}), loud, [loud, calm], bench(loud, calm))
    assert next(one for one in by_heat if one.setting_id == 2).measure.unit == "°C"


def by_heat(stock, one):
    found = judge_settings(terms_from("quiet", {}), stock, [stock, one], bench(stock, one))
    return next(each for each in found if each.setting_id == one.setting_id)


def test_cooler_and_louder_is_not_cooler_and_quieter():
    warm = {"hottest": 80.0}
    stock = setting(1, "stock", [100, 100, 100], noise_dba=40.0, **warm)
    cool = {"hottest": 70.0}
    loud = setting(2, "fan 90 %", [100, 100, 100], noise_dba=46.0, holds=0.97, **cool)
    assert condition(by_heat(stock, loud), "noise").state == "broken"
    assert by_heat(stock, loud).standing == "does not"
    calm = setting(2, "less voltage", [100, 100, 100], noise_dba=39.0, holds=0.97, **cool)
    assert condition(by_heat(stock, calm), "noise").state == "shown"
    # nobody measured it: asked for where a fan is turned up, and only there
    unheard = replace(setting(2, "fan 90 %", [100, 100, 100], holds=0.97, **cool), louder=True)
    assert condition(by_heat(stock, unheard), "noise").state == "not shown yet"
    assert not [one for one in by_heat(stock, replace(unheard, louder=False)).conditions if one.key == "noise"]


def test_more_speed_for_the_same_watts_is_said_where_less_watts_were_asked_for():
    stock = setting(1, "stock", [100, 100.2, 99.8], watts=[80.0, 80.4, 79.6])
    fast = setting(2, "more volts a watt", [130.8, 131.0, 130.6], watts=[80.0, 80.4, 79.6], holds=0.97)
    found = next(
        one
        for one in judge_settings(terms_from("efficiency", {}), stock, [stock, fast], bench(stock, fast))
        if one.setting_id == 2
    )
    [gains] = [one.params for one in condition(found, "improves").says.more if one.code == "counts_as_speed"]
    assert gains == {
        "speed_percent": pytest.approx(30.8, abs=0.05),
        "per_watt_percent": pytest.approx(30.8, abs=0.05),
        "watts": pytest.approx(0, abs=0.5),
    }


def test_a_budget_of_no_watts_is_not_met():
    terms = replace(terms_from("power budget", {}), most_power_w=None)
    stock = setting(1, "stock", [100, 100.2, 99.8], watts=[80.0, 80.4, 79.6])
    (found,) = judge_settings(terms, stock, [stock], bench(stock))
    assert found.standing == "may meet it"
    assert condition(found, "power").says == message("no_budget_yet")


@pytest.mark.parametrize("holds", [0.9451, 0.9499])
def test_a_chance_just_below_the_wish_is_not_rounded_up_to_it(holds):
    found = stability(0, holds, (), 50, 0.95)
    assert (found.state, found.says.code) == ("not shown yet", "sure_of_wished")


@pytest.mark.parametrize(
    ("cooler", "scatter", "state"),
    [
        (3.0, 0.2, "shown"),
        (0.4, 0.1, "broken"),
        (0.0, 0.1, "broken"),
        (-2.0, 0.1, "broken"),
        (0.4, 2.0, "not shown yet"),
    ],
)
def test_cooler_by_as_much_as_can_be_felt(cooler, scatter, state):
    """Less than a kelvin, and sure of it, is none; what scatters too much to tell is asked for again."""

    def runs_at(setting_id, hottest):
        degrees = [hottest - scatter, hottest, hottest + scatter]
        made = [runs(setting_id, 1, [100.0 + k / 10], hottest=one)[0] for k, one in enumerate(degrees)]
        return SettingFacts(setting_id, f"s{setting_id}", {1: made}, holds=0.95)

    stock, other = runs_at(1, 70.0), runs_at(2, 70.0 - cooler)
    one = next(one for one in judged("quiet", (stock, other), {"lows_too": False}) if one.setting_id == 2)
    assert condition(one, "improves").state == state


def read_by(one, word, *names, hours=0.0):
    """The same setting, its runs read by these one after the other."""
    made = [
        replace(run, read_by={word: name}, started_h=hours + place)
        for place, (run, name) in enumerate(zip(one.groups[1], names, strict=True))
    ]
    return replace(one, groups={1: made})


def test_a_meter_that_takes_anothers_place_takes_nothing_away():
    """Three runs each by the old meter; the new one reads 60 W more. What both sides have by one meter is compared."""
    stock = read_by(setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199]), "power_w", "old", "old", "old")
    four = setting(2, "voltage −50 mV", [99.8, 100.2, 99.9, 100], [180, 181, 179, 242], holds=0.95)
    lower = read_by(four, "power_w", "old", "old", "old", "new", hours=10)
    one = judged("efficiency", (stock, lower), {"lows_too": False})[0]
    assert (one.measure.value, one.measure.watts) == (pytest.approx(0.9, rel=1e-4), pytest.approx(-20))
    # the jump from one meter to the other is no noise
    plain = judged("efficiency", (stock, read_by(setting(2, "x", [100] * 3, [180, 181, 179]), "power_w", *["old"] * 3)))
    assert one.power.error_log == pytest.approx(next(two for two in plain if two.setting_id == 2).power.error_log)
    # a budget is held against the meter in use, not against a mean of the two
    budget = judged("power budget", (stock, lower), {"most_power_w": 210.0})
    found = {two.setting_id: condition(two, "power") for two in budget}
    assert (found[1].state, found[2].state) == ("shown", "broken")
    assert message("others_left_out", instrument="new") in found[2].says.more


@pytest.mark.parametrize(
    ("goal", "said", "word", "needs"),
    [
        ("efficiency", {}, "power_w", "both_sides_need"),
        ("quiet", {}, "temp_max_c", "heat_needs_readings"),
        ("quiet", {"quiet_by": "noise"}, "noise_dba", "noise_needs_readings"),
    ],
)
def test_what_two_instruments_read_is_not_compared_and_the_side_that_lacks_is_named(goal, said, word, needs):
    stock = setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199], noise_dba=44.0)
    other = setting(2, "x", [99.8, 100.2, 99.9], [150, 151, 150], hottest=50.0, noise_dba=38.0, holds=0.95)
    terms = {**said, "lows_too": False}
    alike = (read_by(stock, word, *["A"] * 3), read_by(other, word, *["A"] * 3, hours=10))
    assert next(one for one in judged(goal, alike, terms) if one.setting_id == 2).measure.side == "better"
    for hours, lacks in ((10, "stock"), (-10, "setting")):
        changed = (read_by(stock, word, *["A"] * 3), read_by(other, word, *["B"] * 3, hours=hours))
        one = next(one for one in judged(goal, changed, terms) if one.setting_id == 2)
        found = condition(one, "improves")
        assert (one.measure, found.state, found.lacks) == (None, "not shown yet", lacks)
        assert found.says.code == needs


def test_a_meter_borrowed_once_leaves_the_setting_to_be_read_again_and_not_stock():
    """One setting read by a borrowed meter, the own one in use before and after it."""
    stock = read_by(setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199]), "power_w", *["own"] * 3)
    lent = setting(2, "x", [99.8, 100.2, 99.9], [250, 251, 250], holds=0.95)
    lent = read_by(lent, "power_w", *["lent"] * 3, hours=10)
    later = read_by(setting(3, "y", [99.8, 100.2, 99.9], [190, 191, 190]), "power_w", *["own"] * 3, hours=20)
    for tried, lacks in (((stock, lent), "stock"), ((stock, lent, later), "setting")):
        one = next(one for one in judged("efficiency", tried, {"lows_too": False}) if one.setting_id == 2)
        assert condition(one, "improves").lacks == lacks
