"""What a goal asks for, its conditions, and how far they are met."""

from collections.abc import Callable, Mapping

from trelvo.core.goal.trade_off import Axis
from trelvo.messages.wording import count

# Names of the axes on which settings are traded off.
AXES: Mapping[Axis, str] = {
    "speed": "Overall speed against stock",
    "lows": "1 % lows against stock",
    "power": "Power against stock",
    "heat": "Degrees over room against stock",
    "noise": "Noise against stock",
    "failures": "Failures an hour, from its own runs",
}


def _none(tried: int, one: str, many: str) -> str:
    return f"None of {tried} settings {many}." if tried > 1 else f"The one setting tried {one}."


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # What is asked for
    "goal": "{parts}",
    "most_speed": "the highest overall speed",
    "least_power": "the least power{part}",
    "least_heat": "the fewest degrees over room{part}",
    "least_noise": "the least noise",
    "best_result": "the best single result, risk accepted",
    "frames_held": "{frames:g} fps held in every workload{lows}",
    "target_reached": "the target reached in every workload that it names",
    "keeping_speed": "keeping at least {percent:g} % of stock's speed{lows}",
    "at_most_w": "at most {most_w:g} W{part}",
    "at_most_c_of": "at most {most_c:g} °C{part}",
    "one_failure_in": "at most one failure in {hours:g} h",
    "whole_part": "",
    "of_part": " of the {part}",
    "no_lows": "",
    "lows_too": ", lows too",
    "lows_at": ", lows of {frames:g}",
    # What speaks against it
    "budget_without_watts": "The power budget has no limit in watts yet, so nothing can meet it.",
    "budget_below_idle": "The budget of {most_w:g} W is not above what an everyday task draws ({idle_w:.0f} W).",
    "frames_above_cap": "{workload} is capped at {cap_fps:g} fps, so it cannot reach {frames:g} fps.",
    "limit_below_room": "The temperature limit of {most_c:g} °C is not above room temperature ({room_c:.0f} °C).",
    # Names of conditions
    "measured_everywhere": "measured in every workload",
    "faster_than_stock": "faster than stock",
    "less_power_than_stock": "less power than stock",
    "cooler_than_stock": "cooler than stock",
    "quieter_than_stock": "quieter than stock",
    "better_than_best": "better than stock's best",
    "share_of_stock": "at least {share:g} % of stock’s {what}",
    "speed": "speed",
    "lows": "1 % lows",
    "within_its_watts": "within its watts",
    "at_most_w_in": "{workload}: at most {most_w:g} W",
    "at_most_c": "at most {most_c:g} °C",
    "frames_in": "{workload}: {frames:g} fps{lows}",
    "reaches_in": "{workload}: reaches {result:g} {unit}",
    "no_louder": "no louder than stock",
    # How sure one is
    "nothing_repeated": "Nothing was run twice, so the run-to-run variation is unknown.",
    "sure_that_not": "{chance:Chance} sure that it is not.",
    "sure": "{chance:Chance} sure.",
    "sure_after_more_runs": "{chance:Chance} sure. {more_runs} more runs of each should settle it.",
    "sure_of_wished": "{chance:Chance} sure; {wished:g} % wished.",
    "sure_too_little": "{chance:Chance} sure that it is less than {least:g} %, the least that counts.",
    "some_but_little": "Sure to be some, but it looks like less than {least:g} %, the least that counts.",
    "sure_too_little_c": "Sure that it is less than {least:g} °C, the least that counts.",
    "sure_too_little_dba": "Sure that it is less than {least:g} dB(A), the least that counts.",
    # What is known of a condition
    "no_run_of": "No completed run of {workloads} yet.",
    "no_run_yet": "No completed run yet.",
    "both_sides_need": "Both sides need {what}.",
    "a_result": "a result",
    "power_by_same_instrument": "power by the same instrument",
    "heat_needs_readings": "Both sides need room and highest temperature from the same instruments, and one side needs a repeat.",
    "noise_needs_readings": "Both sides need dB(A) from the same instrument, and one side needs a repeat.",
    "fan_up_needs_noise": "A fan runs faster than at stock, so both sides need dB(A) from the same instrument.",
    "no_budget_yet": "The power budget has no limit in watts yet. Set it in the goal.",
    "is_better": "It has.",
    "not_better_yet": "Not yet.",
    "percent": "{percent:.1f} %.",
    "watts": "{watts:.0f} W.",
    "degrees_over_room": "{difference:+.1f} °C over room.",
    "louder_by": "{difference:+.1f} dB(A).",
    "result": "{result:.4g} {unit}.",
    "average_fps": "Average {fps:.1f} fps.",
    "low_fps": "1 % low {fps:.1f} fps.",
    "no_average_yet": "No average yet.",
    "no_low_yet": "No 1 % low yet.",
    "no_power_read": "No power was read.",
    "correction_unsure_w": "The instrument's correction alone is unsure by ± {half_w:.3g} W.",
    "others_left_out": lambda instrument: (
        f"Read by {instrument or 'no instrument in particular'}; what others read is left out."
    ),
    "no_temperature_read": "No temperature was read.",
    "highest_c": "Highest so far {hottest_c:.1f} °C.",
    "highest_unsure_c": "Highest so far {hottest_c:.1f} °C ± {half_c:.1f}, by the thermometer's correction.",
    "counts_as_speed": "It gives {speed_percent:+.1f} % speed for {watts:+.0f} W ({per_watt_percent:+.1f} % speed per watt). This would count under the goal of more speed.",
    "it_failed": lambda failures: f"It failed {'once' if failures == 1 else f'{failures} times'}.",
    "failed_in_use": "This setting, or an easier kept one, failed in use. The failure counts until another cause is found.",
    "as_stable_as_stock": "As stable as stock: no knob that affects stability is changed.",
    "passed_proofs": "Passed: {approaches}.",
    "not_run_long_enough": "Not enough test time for an estimate. Run longer tests.",
    # How far it is met
    "nothing_run": "No runs yet.",
    "no_frame_rate_run": "No workload with a frame rate has been run yet.",
    "held_in": "{workloads:.0f} of {asked} workloads shown to hold it.",
    "held_by_stock": "Met by stock itself: {workloads:.0f} of {asked} workloads shown to hold it.",
    "only_stock_run": "Only stock has been run so far.",
    "none_shown_to_meet": lambda tried: _none(tried, "is not shown to meet it yet", "is shown to meet it yet"),
    "none_meets": lambda tried: _none(tried, "does not meet it", "meets it"),
    "met": "Met.",
    "met_by_stock": "Met by stock itself.",
    "condition_not_shown": "Not shown yet: {condition}.",
    "not_shown_yet": "Not shown yet.",
    # What could be done instead of tuning
    "keep_stock": "Keep stock",
    "nothing_to_pay": "No cost, and nothing to prove.",
    "tune_to": "Tune: {setting}",
    "bench_time_only": "Costs bench time only.",
    "bench_time_gain_not_shown": "Costs bench time only. No gain is shown yet.",
    "tuned_misses_goal": "It does not meet the goal.",
    "tuned_not_proved": "It is not proved yet.",
    "buy_target": "Buy: {target}",
    "as_reported": lambda workloads: f"As reported, on {count(workloads, 'workload')}.",
    "no_faster": "Not faster than your best setting so far.",
    "type_its_price": "Enter its price to see the cost per percent.",
    "price_less_own": "Price {price:g}, less {own_price:g} for your own part.",
}  # fmt: skip
