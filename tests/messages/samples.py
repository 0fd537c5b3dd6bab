"""What is in a message as it is read: a usual value of each param, and one from the far end of what there can be."""

from trelvo.core.message import message

LONG = "power limit 120 %, core clock +90 MHz, memory clock +900 MHz, voltage −50 mV, fan 80 %"
SHORT = "core +90 MHz"
TITLE = "Gorge flythrough, 2560 × 1440, high preset, ray tracing, frame generation"

# By name of the param: a usual value, and an extreme one.
BY_NAME = {
    "a_day_h": (3.2, 24.0), "advised": (SHORT, LONG), "after": ("43.0", "none"), "approach": ("worst case", "statistical"),
    "approaches": (("as used",), ("worst case", "as used", "mixed load")), "as_many": (3.1, 10.0), "asked": (2, 15),
    "at_mv": (None, 925.0), "at_s": (63.4, 0.2), "base": ("", LONG), "basis": ("pooled noise", "no noise known"),
    "before": ("41.2", "not said"), "cap_fps": (60.0, 29.97), "cap_mv": (900.0, 700.0), "chance": (0.84, 0.999),
    "channel": ("package temperature", "12 V rail, second connector"), "checks": (2, 12), "clock": ("+120 MHz", "+1000 MHz"),
    "comparisons": (6, 72), "conditions": (2, 1), "correlation": (0.55, 0.08), "count": (3, 15), "decimals": (1, 0),
    "difference": (-4.2, 0.03), "digits": (0, 2), "done": (1, 0), "drawn_w": (211.0, 9.6), "elasticity": (0.58, -1.2),
    "every": (4, 1), "failed": (2, 0), "failed_min": (12.0, 0.3), "failures": (1, 40), "far": ("+150 MHz", "+1000 MHz"),
    "fell_at": ("+1050 MHz", "+300 MHz"), "fell_percent": (1.4, 22.0), "fewer_than": (3.0, 179.6), "fewest": (3, 1),
    "figure": ("percent", "factor"), "fps": (93.4, 0.4), "frames": (72.0, 143.9), "gained": (4.2, 0.3), "half": (0.6, None),
    "half_c": (1.2, 0.1), "half_w": (4.25, 0.123), "heavier": ("Kiln", TITLE), "high": (4.9, 0.2), "high_per_h": (0.4, 90.0),
    "high_w": (188.0, 9.9), "highest_mhz": (2715.0, 2400.0), "hottest_c": (81.4, 104.0), "hours": (50.0, 0.02),
    "idle_w": (25.0, 4.6), "instrument": ("The part's own report", ""), "kind": ("rate", "time"), "knob": ("Core clock", "V"),
    "knobs": (3, 1), "least": (0.5, 2.0), "limit": (205.0, 84.0), "limit_c": (84.0, 105.0), "look": (2, 9), "lost": (4.2, 0.3),
    "low": (1.9, -0.2), "low_per_h": (0.01, 1.4), "low_w": (170.0, 9.1), "measured": (2, 3), "minutes": (15.0, 0.5),
    "mistake": ("percentages added", "cut off, not rounded"), "months": (7.0, 60.0), "more": (2, 0), "more_runs": (3, None),
    "most_c": (84.0, 60.5), "most_mhz": (1000.0, 180.0), "most_w": (205.0, 6.5), "name": ("Every day", LONG),
    "names": (("Every day",), ("Every day", "Summer shows", "Quiet evenings")), "near": ("+90 MHz", "+30 MHz"),
    "nearest": ("80 %", "−25 mV"), "needed_mhz": (255.0, -300.0), "one_in_h": (26.4, 190.0), "outcome": ("program crash", "no start"),
    "own_price": (280.0, 1250.5), "pairs": (2, 1), "part": ("graphics", "whole machine"), "passed": (43.0, 1.0),
    "per_h": (0.02, 75.0), "per_watt_percent": (5.2, -0.3), "percent": (3.4, -12.6), "planned_s": (900.0, 7200.0),
    "predicted": (211.0, 84.4), "price": (410.0, 0.0), "proved_c": (24.0, 30.0), "quantity": ("load", "temperature"),
    "reaches_mhz": (2385.0, 2400.0), "reading": (206.5, 12.0), "room_c": (28.0, -8.0), "runs": (3, 1), "second": ("The memory", "DC"),
    "settings": (6, 1), "share": (99.0, 100.0), "single": (2.0, 14.1), "speed_percent": (3.1, 0.6),
    "scaling": ("proportional", "something else limits"), "setting": (SHORT, LONG), "state": ("not shown yet", "broken"),
    "statistic": ("mean", "highest"), "steps": (2, 1), "stock": ("100 %", "+0 MHz"), "sure": (90.0, 99.0), "sure_percent": (95.0, 90.0),
    "suspect": ("supply or cable", "the program itself"), "target": ("The next model up", TITLE), "target_mhz": (2400.0, 2850.0),
    "technique": ("ray tracing", "frame generation"), "tests": (4.2, 1.0), "time_saved": (None, 13.8), "top": ("+900 MHz", "+75 MHz"),
    "tried": (4, 1), "unit": ("W", "MHz"), "value": ("+60 MHz", "stock"), "verdict": ("gain", "too few runs"),
    "voltage": ("−50 mV", "925 mV"), "wanted": (3, 5), "watts": (168.4, -42.0), "wished": (95.0, 99.0), "workload": ("Kiln", TITLE),
    "workloads": (2, 15), "found": (("41.2",), ("41.2", "43.0")), "held": ("+60 MHz", "stock"), "kept": ("875 mV", "stock"),
    "cell": ("1,234", "12.500"), "column": ("Package power [W]", "t"), "first_s": (62.0, 3600.0), "build_units": (("°F",), ()),
    "format": ("minutes:seconds", "date and time"), "highest": (1234.0, 0.98), "last": ("GHz", "%"), "line": (2, 14), "lines": (3, 1),
    "named": (None, "GHz"), "second_s": (61.0, 60.0), "sign": (",", "."), "span_s": (0.06, 864000.0), "step_s": (0.0001, 86400.0),
    "without": ("1234", "12500"), "now": (82.0, 4.0), "most": (5, 1), "what": ("driver", "graphics card"), "changed": (2, 0), "only_here": (1, 0),
    "only_there": (3, 0), "table": ("runs", "safety limits"),
}  # fmt: skip

# What a param holds in one message only.
_LACKING = message("sure", chance=0.497)
_READING = message(
    "part_reading", part="graphics", statistic="mean", quantity="power", value=168.4, unit="W", more=-20.1, decimals=0
)
_BRINGS = message(
    "brings", effect=message("speed_effect", value=4.1, low=3.5, high=4.7), workloads=2, measured=3, watts=18.0
)
_BREACH = message("predicted_above_limit", predicted=211.0, limit=205.0, unit="W")
_ITEMS = (
    message("item_at_stock", workload="Kiln", runs=1),
    message("item_minutes", minutes=35.0, workload="Kiln", setting=SHORT),
)
_CONDITION = message("one_failure_in", hours=50.0)
_APART = message("reads_apart", first="The wall meter", second="the part's own report", difference=61.4, unit="W")
_LIMITS = message("between_limits", low=58.2, high=64.9, unit="W")
_TOLD = message("claim_truth", kind="rate", figure="percent", truth=8.13, decimals=1)
_SAID = message("claim_said", kind="rate", figure="percent", value=26.8, decimals=1)
_EFFECT = {"value": (4.1, -18.3), "low": (3.5, None), "high": (4.7, None)}
_SPEED = message("percent_plus_minus", percent=4.1, half=0.6)
_AGE = {"low": (-630.0, 0.2), "high": (565.0, 4.9)}


def _each(codes, params):
    return dict.fromkeys(codes, params)


BY_CODE = {
    "column_reasons": {"reasons": ((message("named_so", quantity="power"), message("kept_beside", column="Package [W]")),) * 2},
    "kind_and_unit": {
        "kind": message("named_so", quantity="power"), "unit": (message("unit_in_name", unit="W"), message("unit_below_names", unit="°C")),
    },
    "of_another_part": {"why": message("named_so", quantity="load")},
    "other_unit_last_time": {"now": ("MHz", "°F"), "why": message("named_so", quantity="core clock")},
    "how_is_time_written": {"why": message("minutes_or_hours_first")}, "times_disagree": {"first": ("Time", "t"), "second": ("ms", "Date")},
    "which_counts": {"columns": (2, 12), "part": ("processor", None)}, "laid_out_as_columns": {"columns": (9, 214)},
    "names_repeated": {"times": (1, 40)}, "below_readings": {"words": ("Average", "— end of log —"), "more": (True, False)},
    "zero_bytes_left_out": {"count": (4096, 12)},
    "goal": {"parts": ((message("most_speed"), _CONDITION),)*2}, "counted": {"parts": (message("about_tests", tests=3.0),)},
    "least_power": {"part": message("whole_part")}, "least_heat": {"part": message("of_part", part="processor")},
    "at_most_w": {"part": message("whole_part")}, "at_most_c_of": {"part": message("whole_part")},
    "frames_held": {"lows": message("lows_too")}, "keeping_speed": {"lows": message("no_lows")},
    "frames_in": {"lows": message("lows_at", frames=66.0)}, "share_of_stock": {"what": message("lows")},
    "both_sides_need": {"what": message("power_by_same_instrument")}, "condition_not_shown": {"condition": _CONDITION},
    "whether_condition_holds": {"condition": _CONDITION}, "sure_after_more_runs": {"more_runs": (3, 1)},
    "no_run_of": {"workloads": (("Kiln",), ("Kiln", TITLE))}, "reaches_in": {"result": (93.4, 8421.0), "unit": ("fps", "points")},
    "result": {"result": (93.4, 8421.0), "unit": ("fps", "points")}, "at_the_cap": {"cap_fps": (60.0, 29.97)},
    "more_together": {"first": message("the_graphics"), "second": message("the_processor")},
    "reads_apart": {"first": ("The wall meter", "the first"), "second": ("the part's own report", "the second")},
    "apart_in_few_pairs": {"apart": _APART}, "difference_by_level": {"apart": _APART},
    "always_about_the_same": {"apart": _APART, "limits": _LIMITS}, "apart_on_average": {"apart": _APART, "limits": _LIMITS},
    "no_steady_difference": {"limits": _LIMITS}, "brings": {"effect": message("power_effect", value=-18.3, low=-19.0, high=-17.6)},
    "speed_effect": _EFFECT, "power_effect": _EFFECT, "degrees_effect": _EFFECT, "noise_effect": _EFFECT,
    **_each(
        ("brings_as_it_is", "brings_not_repeated", "brings_loss", "brings_too_little", "brings_not_shown"), {"brings": _BRINGS}
    ),
    "look_for_another_cause": {"brings": _BRINGS, "why": message("failed_alone", failures=2)},
    "keep_it_at": {
        "brings": _BRINGS, "why": message("beyond_what_holds"), "values": (message("knob_at", knob="Core clock", value="+60 MHz"),),
    },
    **_each(("check_again", "prove_it", "check_then", "check_name_again", "prove_name"), {"items": (_ITEMS, _ITEMS)}),
    "check_needs_it": {"item": _ITEMS[1]}, "best_so_far": {"item": message("heaviest_on_part", part="graphics")},
    "prove_item": {"item": message("both_to_see")}, "prove_best_by_then": {"item": message("both_to_see")},
    "changed_since": {"change": message("changed_from_to", what="driver", before="41.2", after="43.0")},
    "stricter_now": {
        "now": message("accepted_risk", hours=50.0, sure=95.0), "kept": message("accepted_risk", hours=10.0, sure=90.0),
    },
    "without_failure": {"now": (82.0, 4.0)}, "without_failure_again": {"now": (82.0, 4.0)},
    "edge_comes_nearer": _AGE, "edge_moves_away": _AGE, "ageing_not_known": _AGE,
    "failed_in_use_next": {"says": message("probe_stock", workload="Kiln", minutes=30.0)},
    "failed_in_use_then": {"says": message("program_not_tuning")},
    **_each(
        ("tried_stock", "tried_another_load", "tried_earlier_driver", "tried_reseated", "tried_cooler"),
        {"result": message("probe_held", minutes=30.0)},
    ),
    "workload_instead": {"breach": _BREACH}, "value_instead": {"breach": _BREACH}, "every_test_exceeds": {"breach": _BREACH},
    **_each(
        ("nothing_tested", "nothing_past_stock", "sure_from_all_trials", "nearest_allowed", "ran_long_enough"),
        {"end": (message("no_test_worth_it"), message("time_used_up"))},
    ),
    "edge_beyond_range": {"end": ("+450 MHz", "−150 mV")}, "another_cause_at": {"values": (("+60 MHz",), ("+60 MHz", "+75 MHz"))},
    "is_less_enough": {"least": ("875 mV", "900 mV"), "tried": ("865 mV", "850 mV")},
    "least_needs_time": {"least": ("875 mV", "900 mV")},
    "less_may_do": {"least": ("875 mV", "900 mV"), "tried": ("865 mV", "850 mV")},
    "what_then_holds": {"passed": ("+75 MHz", "stock"), "failed": ("+60 MHz", "stock")},
    "fails_by_all_trials": {"sure": (90.0, 99.0)}, "draws_less_by_the_laws": {"best": (SHORT, message("at_stock"))},
    "add_what_is_missing": {"missing": ((message("missing_knob"),), (message("missing_knob"), message("missing_workload")))},
    "still_missing": {"missing": (message("missing_build"),)},
    "still_short": {"workloads": (message("runs_of", workload="Kiln", done=1, wanted=3),)},
    "not_resolved": {"workloads": (("Kiln",), ("Kiln", TITLE))}, "proved_as_asked": {"settings": ((SHORT,), (SHORT, LONG))},
    "proved_not_as_asked": {"settings": ((SHORT,), (SHORT, LONG))}, "step_down_to": {"workloads": (("Kiln",), ("Kiln", TITLE))},
    "run_several_at_stock": {"workloads": (("Kiln", TITLE), ("Kiln", TITLE, "Dust rings", "Atlas"))},
    "prove_setting": {"minutes": (30.0, None)}, "rest_of": {"title": message("climb_knob", knob="Core clock")},
    "baseline_in_all": {"workloads": (1, 15), "runs": (3, 45)}, "condition_in_full": {"name": _CONDITION},
    "overall_by_condition": {"speed": _SPEED, "condition": message("condition_in_full", name=_CONDITION, state="broken")},
    "workload_by_condition": {"speed": _SPEED, "condition": message("condition_in_full", name=_CONDITION, state="broken")},
    "result_on": {"speed": _SPEED, "more_runs": (0, 3)}, "result_overall": {"speed": _SPEED},
    "no_result_but": {"readings": ((_READING,), (_READING, _READING))}, "part_reading": {"value": (168.4, 81.0), "more": (-20.1, None)},
    "differ_at_once": {"aspects": ((message("aspect_driver"), message("aspect_room")),)*2},
    **_each(
        ("differs", "is_what_is_compared", "not_noted_on_both", "not_noted_on_one"),
        {
            "aspect": message("aspect_driver"), "reference": (message("noted", found=("41.2",)), message("not_noted")),
            "candidate": message("noted", found=("41.2", "43.0")),
        },
    ),
    "different_days": {"basis": (message("day_shift_known"), message("day_shift_usual"))},
    "several_days": {"basis": (message("day_shift_known"), message("day_shift_usual"))},
    "claim_truth": {"truth": (8.13, -0.4)}, "claim_said": {"value": (26.8, 9.0), "kind": ("rate", "watts"), "figure": ("percent", "amount")},
    "truth_by_rounding": {"truth": _TOLD}, "claim_is_right": {"truth": _TOLD}, "no_usual_mistake": {"truth": _TOLD, "said": _SAID},
    "comes_from_mistake": {"truth": _TOLD, "said": _SAID}, "changed_by": {"kind": ("watts", "degrees"), "change": (-42.0, 3.5)},
    "percentage_says_nothing": {"change": message("changed_by", kind="degrees", change=-7.0)},
    "can_tell_apart": {"now": (0.9, 14.1), "more": (0.8, 9.0), "more_runs": (2, 2)},
    "readings_went_on": {"before": (97.0, 212.0), "after": (3.0, 41.0)},
    "limit_held_at": {"settings": (3, 0)}, "limit_without_knob": {}, "would_stand_by_the_rest": {"fewest": (2, 1)},
    "used_a_day": {"failures": (0, 1)}, "used_in_all": {"hours": (3.5, 0.4), "failures": (0, 4)},
    "quoted": {}, "no_test_makes_it_sure": {"name": (message("quoted", name="Every day"), message("it"))},
    "no_test_makes_it_sure_again": {"name": (message("quoted", name="Every day"), message("it"))},
    "settings_tried": {"failed": (2, 0)}, "knobs_and_settings": {"failed": (2, 0), "done": (1, 0)},
    "heaviest_on_part": {"part": ("graphics", "memory")}, "the_part": {"part": ("disk", "second card")},
}  # fmt: skip


def sample(code, names, which):
    """Params for a message. which: of a pair in the tables, 0 for the usual value and 1 for the extreme one"""
    own = BY_CODE.get(code, {})
    return {name: _one(own[name] if name in own else BY_NAME[name], which) for name in names}


def _one(value, which):
    return value[which] if isinstance(value, tuple) and len(value) == 2 else value
