from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.goal.made import bench, setting
from tests.said import codes
from trelvo.core.campaign_climbs.left_to_find import left_to_find, what_is_left
from trelvo.core.goal.judging import judge_settings
from trelvo.core.keep.kept_step import KeptNow
from trelvo.core.message import message
from trelvo.core.next_step.rules import (
    KnobAdvice,
    ProofItem,
    Situation,
    StockShort,
    Unanswered,
    best_of,
    next_step,
)
from trelvo.core.prove.staleness import CheckItem
from trelvo.core.terms import terms_from
from trelvo.messages.texts import text_of

STOCK = setting(1, "stock", [100, 100.4, 99.7])
FAST = setting(2, "core clock +60 MHz", [104, 104.3, 103.9], holds=0.95)
AT = message("at_stock")
REASON, TEACHES = message("set_by_use"), message("whether_stable", value="+75 MHz")

NO_KNOB = (message("missing_knob"),)
CORE = KnobAdvice(
    "core", "Core clock", "test", False, "+75 MHz", {"core": 75.0}, None, 20, REASON, TEACHES, 1, "Kiln", "stock"
)  # fmt: skip
HELD = replace(CORE, act="hold", done=True, value="+60 MHz", values={"core": 60.0}, setting_id=2, hold_id=2)


def judged(*settings, goal="speed"):
    return judge_settings(terms_from(goal, {}), STOCK, [STOCK, *settings], bench(STOCK, *settings))


def situation(**more):
    ran = {(1, 1): 3, (2, 1): 3}
    return replace(
        Situation(stock_id=1, workloads={1: "Gorge"}, minutes={1: 4.0}, judged=judged(FAST), runs_at=ran), **more
    )


def test_a_missing_description_comes_first():
    step = next_step(situation(missing=NO_KNOB, knobs=[CORE])).step
    assert (step.act, step.stage, step.title) == (
        "describe",
        "Prepare",
        message("add_what_is_missing", missing=NO_KNOB),
    )


def test_a_run_of_which_nothing_is_known_is_asked_about_before_anything_is_run():
    found = next_step(situation(unanswered=[Unanswered(7, "Gorge", "core clock +90 MHz")], knobs=[CORE]))
    assert (found.step.act, found.step.run_id, found.instead) == ("answer", 7, ())


def test_stock_comes_before_every_setting():
    short = [StockShort(1, "Gorge", 2, 3, 4.0, False), StockShort(2, "Render", 0, 3, 2.0, False)]
    step = next_step(situation(short=short, knobs=[CORE])).step
    assert (step.title, step.runs, step.workload_id, step.values) == (
        message("run_at", workload="Render", setting=AT, runs=3),
        3,
        2,
        {},
    )
    whole = [StockShort(k, name, 0, 3, 4.0, False) for k, name in ((1, "Gorge"), (2, "Render"))]
    both = next_step(situation(short=whole)).step
    assert (both.title, both.runs) == (message("run_several_at_stock", workloads=("Gorge", "Render"), runs=3), 3)
    assert both.workload_ids == (1, 2)
    # the usual number is there, and only finer than that is wished: it no longer holds up the climb
    coarse = next_step(situation(short=[StockShort(1, "Gorge", 3, 4, 4.0, False, True)], knobs=[CORE], judged=judged()))
    assert (coarse.step.act, coarse.instead[0].title) == (
        "climb",
        message("run_at", workload="Gorge", setting=AT, runs=1),
    )
    again = next_step(situation(short=[replace(short[1], again=True)])).step
    assert again.why == message("rig_has_changed")


def test_a_knob_that_is_not_at_its_hold_is_climbed():
    found = next_step(situation(knobs=[CORE], judged=judged()))
    assert found.step.title == message(
        "test_knob", knob="Core clock", value="+75 MHz", base="", workload="Kiln", minutes=20
    )
    assert (found.step.act, found.step.values, found.step.minutes) == ("climb", {"core": 75.0}, 20)


def test_what_the_goal_needs_at_a_hold_comes_before_the_next_knob():
    unmeasured = replace(HELD, hold_id=None, setting_id=None)
    step = next_step(
        situation(knobs=[unmeasured, replace(CORE, key="memory", name="Memory clock")], judged=judged())
    ).step
    assert (step.act, step.values, step.workload_id) == ("run", {"core": 60.0}, 1)


def test_a_knob_with_nothing_left_to_find_waits():
    little = replace(CORE, to_find=0.001)
    found = next_step(situation(knobs=[little], proof=None))
    assert found.step.act != "climb"
    assert any(one.act == "climb" for one in found.instead)
    assert "at_most_to_find" in codes(next(one for one in found.instead if one.act == "climb").why)


def test_all_knobs_at_their_hold_then_the_best_is_proved():
    proof = ProofItem(2, "mixed load", False, message("both_to_see"), 3, "Ferry", 15.0, 90.0)
    step = next_step(situation(knobs=[HELD], proof=proof)).step
    assert step.title == message("prove_setting", setting="core clock +60 MHz", workload="Ferry", runs=1, minutes=15.0)
    assert step.setting_id == 2


def test_a_frame_rate_that_is_held_asks_for_no_more_climbing():
    proof = ProofItem(2, "mixed load", False, message("both_to_see"), 3, "Ferry", 15.0, 90.0)
    fast = judge_settings(
        terms_from("frame rate", {"frames": 99.0, "low_frames": None}), STOCK, [FAST], bench(STOCK, FAST)
    )
    found = next_step(situation(knobs=[CORE], judged=fast, proof=proof, enough=True))
    assert (found.step.act, found.instead[0].act) == ("prove", "climb")
    assert next_step(situation(knobs=[CORE], judged=fast, proof=proof)).step.act == "climb"


def test_a_verdict_that_hangs_on_too_few_runs_is_settled():
    few = setting(2, "core clock +60 MHz", [100.6], holds=0.95)
    step = next_step(situation(knobs=[HELD], judged=judged(few))).step
    assert (step.act, step.setting_id) == ("compare", 2)
    assert "faster_than_stock" in codes(step.why)
    # runs on the side that has fewer
    runs_at = {(1, 1): 3, (2, 1): 9}
    even = setting(2, "core clock +60 MHz", [99.6, 101.2, 99.9, 100.9, 100.0, 100.8, 100.1, 100.7, 100.4], holds=0.95)
    step = next_step(situation(knobs=[HELD], judged=judged(even), runs_at=runs_at)).step
    assert (step.act, step.setting_id) == ("compare", 1)
    assert step.title.params["setting"] == message("at_stock")


def test_what_meets_the_goal_is_kept_and_else_stock():
    proved = ProofItem(2, "mixed load", True, None, None, "", 0, 0)
    assert next_step(situation(knobs=[HELD], proof=proved)).step.title == message(
        "keep_setting", setting="core clock +60 MHz"
    )
    slower = setting(2, "core clock +60 MHz", [95, 95.2, 95.1], holds=0.95)
    step = next_step(situation(knobs=[HELD], judged=judged(slower))).step
    assert (step.act, step.title) == ("stop", message("keep_stock_then"))


def test_where_stock_itself_does_not_meet_the_goal_keeping_it_is_no_advice():
    hungry = setting(1, "stock", [100, 100.4, 99.7], [200, 201, 199])
    terms = terms_from("power budget", {"most_power_w": 150.0})
    step = next_step(situation(knobs=[HELD], judged=judge_settings(terms, hungry, [hungry], bench(hungry)))).step
    assert (step.act, step.stage, step.title) == ("stop", "Prepare", message("change_goal_or_add_knob"))


knobs = st.builds(
    replace, st.just(CORE), done=st.booleans(), to_find=st.none() | st.floats(0, 0.1), at_stock=st.booleans(),
    hold_id=st.none() | st.just(2),
)  # fmt: skip


@given(st.lists(knobs, max_size=3), st.booleans(), st.booleans(), st.lists(st.just(FAST), max_size=1))
def test_there_is_always_one_step_and_at_most_two_others(some, unanswered, short, settings):
    found = next_step(
        situation(
            knobs=some,
            unanswered=[Unanswered(1, "a", "b")] if unanswered else [],
            short=[StockShort(1, "Gorge", 0, 3, 1.0, False)] if short else [],
            judged=judged(*settings),
        )
    )
    assert text_of(found.step.title).endswith(".")
    assert text_of(found.step.why)
    assert len(found.instead) <= 2
    assert found.step not in found.instead


def test_left_to_find_is_the_slope_times_the_way():
    """A straight line without noise: 0.1 % in 15 MHz, 60 MHz to go. From arithmetic."""
    distances = [0, 15, 30, 45]
    scores = [0.001 / 15 * distance for distance in distances]
    assert left_to_find(distances, scores, 45, 105) == pytest.approx(0.004, rel=0.01)
    assert left_to_find(distances, [-s for s in scores], 45, 105) == 0
    assert left_to_find([0, 15], [0, 0.1], 15, 30) is None
    assert left_to_find(distances, scores, 45, 30) == 0


def test_a_failure_in_use_comes_before_more_climbing():
    found = next_step(Situation(in_use=[KeptNow("Evenings", "core clock +60 MHz", 2, failed=True)], knobs=[]))
    assert (found.step.act, found.step.stage) == ("answer", "Keep")
    assert found.step.title == message("find_out_why", name="Evenings")
    assert found.instead == ()


DRIVER = message("changed_from_to", what="driver", before="41.2", after="43.0")
CONTROL = CheckItem("control", "Gorge", 2, 1, message("first_stock"))
HOLD = CheckItem("hold", "Gorge", 35, 1, message("without_failure_again", sure=90.0, now=71.0))
GAIN = CheckItem("gain", "Fjord", 0, 2, message("gain_there_not_known"))
KEPT = KeptNow("Evenings", "core clock +60 MHz", 2, check=[CONTROL, HOLD, GAIN], changed=[DRIVER])


AT_STOCK = message("item_at_stock", workload="Gorge", runs=1)
FOR_35_MIN = message("item_minutes", minutes=35, workload="Gorge", setting="core clock +60 MHz")


def test_a_stale_proof_is_checked_again_before_the_rest_one_item_at_a_time():
    """The control run at stock, then the hold, then what is new; each as soon as the one before it is done."""
    loads = {"Gorge": 7, "Fjord": 8}
    found = next_step(situation(in_use=[KEPT], loads=loads))
    assert (found.step.act, found.step.setting_id, found.step.workload_id, found.step.runs) == ("run", 1, 7, 1)
    assert found.step.title == message("check_name_again", name="Evenings", items=(AT_STOCK,))
    # at stock a run takes as long as its workload does
    assert found.step.minutes is None
    assert codes(found.step.why)[:3] == ["changed_since", "changed_from_to", "first_stock"]
    runs = message("item_runs", workload="Fjord", setting="core clock +60 MHz", runs=2)
    assert found.step.why.more[-1] == message("check_then", items=(FOR_35_MIN, runs))
    # the rest of the campaign stands behind it
    assert found.instead
    held = next_step(situation(in_use=[replace(KEPT, check=[HOLD, GAIN])], loads=loads)).step
    assert (held.act, held.setting_id, held.minutes) == ("prove", 2, 35)
    gain = next_step(situation(in_use=[replace(KEPT, check=[GAIN])], loads=loads)).step
    assert (gain.act, gain.setting_id, gain.workload_id, gain.runs, gain.minutes) == ("compare", 2, 8, 2, None)
    fresh = next_step(situation(in_use=[replace(KEPT, check=[])], loads=loads))
    assert fresh == next_step(situation(loads=loads))


def test_a_proof_that_was_never_there_is_not_checked_again():
    never = replace(
        KEPT, check=[replace(HOLD, why=message("without_failure", sure=95.0, now=89.0))], changed=[], stale=False
    )
    step = next_step(situation(in_use=[never], loads={"Gorge": 7})).step
    assert step.title == message("prove_name", name="Evenings", items=(FOR_35_MIN,))
    assert (step.act, step.minutes, step.settles) == ("prove", 35, message("whether_stable_as_asked"))
    missing = next_step(situation(in_use=[never], loads={})).step
    assert missing.title == message("add_to_prove", workload="Gorge", name="Evenings")


def test_a_check_never_runs_another_workload_in_place_of_one_that_the_campaign_lacks():
    found = next_step(situation(in_use=[KEPT], loads={"Fjord": 8}))
    assert (found.step.act, found.step.stage, found.step.workload_id) == ("describe", "Prepare", None)
    assert found.step.title == message("add_to_check_again", workload="Gorge", name="Evenings")
    assert codes(found.step.why)[2:6] == ["check_needs_it", "item_at_stock", "check_then", "item_minutes"]


def test_a_proof_that_no_check_brings_back():
    found = next_step(situation(in_use=[replace(KEPT, settled=False)])).step
    assert (found.act, found.title) == ("keep", message("keep_less", setting="core clock +60 MHz"))


def test_a_step_down_is_run_and_then_kept():
    down = replace(KEPT, lower={"core": 45}, lower_title="core clock +45 MHz")
    workloads = {7: "Gorge", 8: "Fjord"}
    found = next_step(situation(in_use=[down], workloads=workloads)).step
    assert (found.act, found.setting_id, dict(found.values), found.runs) == ("run", None, {"core": 45}, 2)
    assert text_of(found.title) == "Step down to core clock +45 MHz: run every workload, twice."
    half = situation(in_use=[replace(down, lower_id=9)], workloads=workloads, runs_at={(9, 7): 2, (9, 8): 1})
    assert (next_step(half).step.setting_id, next_step(half).step.workload_ids) == (9, (8,))
    run = replace(half, runs_at={(9, 7): 2, (9, 8): 2})
    assert (next_step(run).step.act, next_step(run).step.title) == (
        "keep",
        message("keep_instead", setting="core clock +45 MHz"),
    )
    stock = next_step(situation(in_use=[replace(KEPT, lower={}, lower_title="stock", lower_id=1)])).step
    assert (stock.act, stock.title, stock.setting_id) == ("keep", message("keep_instead", setting="stock"), 1)


def test_what_is_kept_is_used():
    done = replace(HELD, hold_id=2)
    proved = replace(FAST, proved_by=("mixed load",))
    found = next_step(situation(judged=judged(proved), knobs=[done], kept={2: "Evenings"}))
    assert (found.step.act, found.step.stage) == ("stop", "Keep")
    assert found.step.title == message("use_kept", setting="core clock +60 MHz", name="Evenings")
    assert next_step(situation(judged=judged(proved), knobs=[done])).step.title == message(
        "keep_setting", setting="core clock +60 MHz"
    )
    stock = next_step(situation(judged=judged(), knobs=[], kept={1: "As delivered"}))
    assert stock.step.title == message("use_kept", setting=AT, name="As delivered")


def test_what_no_runs_decide_is_not_run_for_ever():
    """A gain of nothing, after forty runs each: neither shown nor broken, and no further runs are asked for."""
    flat = setting(2, "core clock +15 MHz", [100.1, 100.4, 99.8], holds=0.95)
    still_open = judge_settings(terms_from("speed", {}), STOCK, [STOCK, flat], bench(STOCK, flat))
    few = situation(judged=still_open, knobs=[])
    assert few.judged[0].standing == "may meet it"
    assert next_step(few).step.act == "compare"
    many = replace(few, runs_at={(1, 1): 40, (2, 1): 40})
    assert next_step(many).step.title == message("keep_stock_then")


def test_a_setting_that_stays_doubtful_after_six_hours_of_its_own_is_left():
    """80 % sure, wished 95: it is proved while little of it was run, and given up once hours have not settled it."""
    acts = {}
    for hours in (1.0, 7.0):
        doubtful = replace(setting(2, "core clock +60 MHz", [104, 104.3, 103.7], holds=0.8), hours=hours)
        found = judge_settings(terms_from("speed", {}), STOCK, [STOCK, doubtful], bench(STOCK, doubtful))
        proof = ProofItem(2, "statistical", False, message("heaviest_load"), 1, "Kiln", 120.0, 600.0)
        acts[hours] = next_step(situation(judged=found, knobs=[], proof=proof)).step.act
    assert acts[1.0] == "prove"
    assert acts[7.0] != "prove"


def test_speed_that_a_power_limit_makes_of_a_lower_voltage_is_told():
    """Less power is the goal, the watts do not move, and the speed does: a part at its power limit (common practice)."""
    stock = setting(1, "stock", [100, 100.4, 99.7], [146.1, 146.2, 146.0])
    lower = setting(2, "voltage −40 mV", [104, 104.3, 103.9], [145.9, 146.2, 146.1])
    broken = setting(3, "voltage −60 mV", [106, 106.3, 105.9], [145.9, 146.2, 146.1], failures=3)
    same = setting(4, "voltage −10 mV", [100, 100.4, 99.7], [146.1, 146.2, 146.0])
    tried = [stock, lower, broken, same]
    by_goal = {
        goal: judge_settings(terms_from(goal, {}), stock, tried, bench(*tried)) for goal in ("efficiency", "speed")
    }
    # all were run as often as anyone runs, and nothing more is to be found
    often = {(one, 1): 40 for one in (2, 3, 4)}
    ends = {
        goal: next_step(
            Situation(stock_id=1, workloads={1: "Gorge"}, minutes={1: 4.0}, judged=judged, runs_at=often)
        ).step
        for goal, judged in by_goal.items()
    }
    assert (ends["efficiency"].act, ends["efficiency"].title) == ("stop", message("keep_stock_then"))
    [faster] = [one.params for one in ends["efficiency"].why.more if one.code == "faster_at_same_power"]
    assert faster == {"setting": "voltage −40 mV", "percent": pytest.approx(4.0, abs=0.05)}
    assert "faster_at_same_power" not in codes(ends["speed"].why)


def further(values=(106, 106.3, 105.8), holds=0.88):
    return setting(3, "core clock +75 MHz", list(values), holds=holds)


def best_with(one, **more):
    return best_of(situation(knobs=[HELD], judged=judged(FAST, one), runs_at={(k, 1): 3 for k in (1, 2, 3)}, **more))


def test_what_promises_more_than_a_setting_that_meets_the_goal_is_proved_before_that_is_kept():
    assert [one.standing for one in judged(FAST, further())][:2] == ["meets it", "may meet it"]
    assert best_with(further()).setting_id == 3
    proof = ProofItem(3, "mixed load", False, message("both_to_see"), 3, "Ferry", 15.0, 90.0)
    found = next_step(situation(knobs=[HELD], judged=judged(FAST, further()), proof=proof))
    assert (found.step.act, found.step.setting_id) == ("prove", 3)
    # what is there already can be kept instead
    assert [(one.act, one.setting_id) for one in found.instead] == [("keep", 2)]


@pytest.mark.parametrize(
    ("one", "more"),
    [
        # it would probably not hold
        (further(holds=0.8), {}),
        # no better by what counts
        (further((104.3, 104.6, 104.2)), {}),
        # the user has kept the other
        (further(), {"kept": {2: "Evenings"}}),
        # enough is enough
        (further(), {"enough": True}),
    ],
)
def test_it_is_kept_where_nothing_likely_promises_more(one, more):
    assert best_with(one, **more).setting_id == 2


def test_what_rounds_to_nothing_is_nothing_left_to_find():
    said = [what_is_left(one) for one in (0.0, 0.0004, 0.0006)]
    assert said[:2] == [message("nothing_to_find")] * 2
    assert text_of(said[2]) == "At most 0.1 % more to gain from this knob."


def test_what_another_instrument_read_is_read_again_at_stock_first_and_at_a_setting_last():
    """Degrees by another thermometer: what is run from now on cannot be told, or a single setting cannot."""

    def by(name, setting_id, title, hottest, hours):
        one = setting(setting_id, title, [100.0, 100.2, 99.9], hottest=hottest, holds=0.95)
        read = [
            replace(run, read_by={"temp_max_c": name}, started_h=hours + place)
            for place, run in enumerate(one.groups[1])
        ]
        return replace(one, groups={1: read})

    def told(*settings, knobs=()):
        found = judge_settings(terms_from("quiet", {}), settings[0], settings, bench(*settings))
        ran = {(one.setting_id, 1): 3 for one in settings}
        return next_step(situation(judged=found, runs_at=ran, knobs=knobs))

    stock, cool = by("old", 1, "stock", 70.0, 0), by("new", 2, "fan 60 %", 60.0, 10)
    first = told(stock, cool, knobs=[CORE]).step
    assert (first.act, first.setting_id, first.title) == (
        "run",
        1,
        message("run_once", workload="Gorge", setting=AT),
    )
    later = told(stock, cool, by("old", 3, "fan 70 %", 66.0, 20))
    every = [(one.act, one.setting_id, one.title) for one in (later.step, *later.instead)]
    assert every == [
        ("keep", 3, message("keep_setting", setting="fan 70 %")),
        ("run", 2, message("run_once", workload="Gorge", setting="fan 60 %")),
    ]
    assert told(stock, by("old", 2, "fan 60 %", 60.0, 10)).instead == ()
