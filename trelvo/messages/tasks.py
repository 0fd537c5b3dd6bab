"""What to do next and why, and where each stage of a campaign stands."""

from collections.abc import Callable, Mapping, Sequence

from trelvo.messages.wording import capital, count, times


def _add_missing(missing: Sequence[str]) -> str:
    return f"Add {', '.join(missing)}."


def _run_several(workloads: Sequence[str], runs: int) -> str:
    names = ", ".join(workloads[:3]) + (" and more" if len(workloads) > 3 else "")
    return f"Run {len(workloads)} workloads at stock, {times(runs)} each: {names}."


def _test_knob(knob: str, value: str, base: str, workload: str, minutes: float) -> str:
    others = f" at {base}" if base else ""
    load = f" with {workload}" if workload else ""
    return f"Test {knob.lower()} {value}{others}{load}, up to {minutes:g} min."


def _prove(setting: str, workload: str, runs: int, minutes: float | None) -> str:
    load = f" with {workload}" if workload else ""
    how_long = times(runs) if minutes is None else f"{minutes:.0f} min"
    return f"Prove {setting}{load}, {how_long}."


def _settings_tried(settings: int, failed: int) -> str:
    return f"{count(settings, 'setting')} tried, {failed or 'none'} failed."


def _knobs_and_settings(done: int, knobs: int, settings: int, failed: int) -> str:
    return f"{done} of {count(knobs, 'knob')} at the hold; {_settings_tried(settings, failed)}"


def _then(items: Sequence[str]) -> str:
    return ", then ".join(items)


def _changed(change: str, more: int) -> str:
    also = f"; and {count(more, 'more change')}" if more > 0 else ""
    return f"{capital(change)}{also}."


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # Stages
    "missing_build": "the rig's build",
    "missing_knob": "a knob",
    "missing_workload": "a workload",
    "still_missing": "Still missing: {missing}.",
    "rig_described": "{knobs:knobs}, {workloads:workloads}, rig described.",
    "all_resolved": "Every workload tells {percent:g} % apart.",
    "baseline_accepted": "Accepted, although not every workload tells {percent:g} % apart.",
    "build_has_changed": "The rig's build has changed since stock was measured; measure it again.",
    "run_baseline": "Run every workload {runs} times at stock.",
    "runs_of": "{workload} ({done} of {wanted})",
    "still_short": "Still short: {workloads}.",
    "not_resolved": "Cannot tell {percent:g} % apart yet: {workloads}.",
    "no_setting_tried": "No setting tried yet.",
    "waits_for_baseline": "Waits for the baseline.",
    "settings_tried": _settings_tried,
    "knobs_and_settings": _knobs_and_settings,
    "proved_as_asked": "Proved, and as surely stable as you asked: {settings:; }.",
    "proved_not_as_asked": "Passed a proof, but not yet as surely stable as you asked: {settings:; }.",
    "passed_every_workload_once": "A setting has passed every workload once; that is no proof yet.",
    "waits_for_every_workload": "Ready when a setting has passed every workload.",
    "waits_for_a_run": "Waits for a setting with a completed run.",
    "nothing_hangs_on_runs": "{setting}: nothing hangs on further runs.",
    "conditions_not_shown": "{conditions:conditions} not shown yet.",
    "can_be_compared": "Can be compared.",
    "settings_kept": "Kept: {names}.",
    "setting_meets_goal": "{setting} meets the goal.",
    "waits_for_the_goal": "Ready when a setting meets the goal.",
    "standing_in_trouble": "The state of this campaign cannot be computed. All runs are still there. Look in the logbook for an impossible value.",
    # What to do
    "add_what_is_missing": _add_missing,
    "rig_not_described": "Describe the rig before you measure anything.",
    "some_workload": "a workload",
    "say_how_it_ended": "Say how the run of {workload} at {setting} ended.",
    "it_broke_off": "It stopped early. If it failed, the next test changes.",
    "run_once": "Run {workload} at {setting}, once.",
    "run_all_once": "Run every workload at {setting}, once.",
    "run_several_once": "Run {count} workloads at {setting}, once each.",
    "run_at": "Run {workload} at {setting}, {runs:times}.",
    "run_all_at": "Run every workload at {setting}, {runs:times}.",
    "run_several_at_stock": _run_several,
    "rig_has_changed": "The rig has changed since stock was measured.",
    "baseline_too_coarse": "The baseline is not precise enough yet.",
    "runs_so_far": "{done} of {wanted} runs so far. Every gain is measured against stock.",
    "how_finely_it_tells": "The smallest gain this bench can detect.",
    "take_as_hold": "Take {knob:lower} {value} as its hold.",
    "test_knob": _test_knob,
    "knob_at": "{knob:lower} {value}",
    "holds_gain_not_known": "{knob} holds there, and what it gained is not known yet.",
    "worth_by_the_goal": "How the setting does against the goal.",
    "setting_worth_by_goal": "What {setting} is worth by the goal.",
    "another_instrument_reads": "Another instrument is in use now and has no reading there yet, so the gain of {setting} is unknown.",
    "draws_less_by_the_laws": "Nobody has run it yet. By the laws fitted to the runs it draws {watts:.0f} W ({low_w:.0f} to {high_w:.0f} W) where {best} draws {drawn_w:.0f} W, at {percent:.1f} % of stock’s speed.",
    "whether_it_saves": "Whether it saves what is predicted.",
    "prove_setting": _prove,
    "best_so_far": lambda item, approach: (
        f"It is the best so far that may meet the goal. {item} ({approach} approach)."
    ),
    "proof_minutes_left": "{minutes:.0f} min are left of this proof.",
    "keep_setting": "Keep {setting}.",
    "meets_the_goal": "It meets the goal: every condition is shown.",
    "whether_condition_holds": "Whether it is so: {condition}.",
    "use_kept": "Use {setting}: it is kept as “{name}”.",
    "log_its_hours": "Log its hours of use and every change to the rig. Keep shows when to check it again.",
    "nothing_meets_it": "Neither stock nor any setting tried meets it, and no knob has more to find than matters.",
    "stock_does_not_meet_it": "Stock does not meet it, and there is no knob left to turn.",
    "change_goal_or_add_knob": "Change the goal's numbers, or add a knob.",
    "no_setting_shown_to_meet": "No setting tried is shown to meet the goal, and no knob has more to find than matters.",
    "no_setting_meets": "No setting tried meets the goal, and no knob has more to find than matters.",
    "no_knob_left": "There is no knob left to turn.",
    "faster_at_same_power": "But {setting} is {percent:.1f} % faster at the same power: this machine is power-limited, so savings turn into speed. To save power, lower the power limit as well (Prepare: its direction, or add that knob).",
    # What a kept setting asks for
    "kept_failed_in_use": "“{name}” failed in use.",
    "kept_proof_stale": "The proof of “{name}” no longer stands.",
    "kept_not_shown": "“{name}” is not shown to be stable yet.",
    "check_again": lambda items: f"Check again: {_then(items)}.",
    "check_name_again": lambda name, items: f"Check “{name}” again: {_then(items)}.",
    "prove_it": lambda items: f"Prove: {_then(items)}.",
    "prove_name": lambda name, items: f"Prove “{name}”: {_then(items)}.",
    "keep_less": "Keep less than {setting}, or stock.",
    "no_test_makes_it_sure_again": "No test of any length makes {name} as sure as it was.",
    "no_test_makes_it_sure": "No test of any length makes {name} as sure as was asked for.",
    "it": "it",
    "quoted": "“{name}”",
    "cause_decides": "It failed in use. If the tuning is the cause, the setting has to change.",
    "find_out_why": "Find out why “{name}” failed.",
    "changed_since": _changed,
    "check_then": lambda items: f"Then: {_then(items)}.",
    "add_to_check_again": "Add {workload} to what this campaign runs, to check “{name}” again.",
    "add_to_prove": "Add {workload} to what this campaign runs, to prove “{name}”.",
    "check_needs_it": "The check needs it: {item}.",
    "whether_it_can_stay": "Shows whether it can stay in use.",
    "whether_stable_as_asked": "Shows whether it is as stable as required.",
    "item_at_stock": "{workload} at stock, {runs:times}",
    "item_runs": "{workload} at {setting}, {runs:times}",
    "item_minutes": "{minutes:.0f} min of {workload} at {setting}",
    "tuning_was_to_blame": "The tuning was to blame when “{name}” failed.",
    "keep_instead": "Keep {setting} instead.",
    "every_workload": "every workload",
    "step_down_to": "Step down to {setting}: run {workloads}, {runs:times}.",
    "gain_left_not_known": "The remaining gain there is not known yet.",
    "what_may_be_kept": "What may be kept instead.",
    # An evening
    "not_even_the_first": "Not even the first step fits into the time you have.",
    "nothing_left_to_run": "Nothing is left to run.",
    "after_that_nothing": "After that nothing is left to run.",
    "all_fits": "All that is open fits into this time.",
    "first_not_finished": "The first step will not be finished, but its results count.",
    "steps_done": "{done} of {every} steps are done by then.",
    "rest_of": "The rest of: {title}",
    "runs_of_minutes": "{runs:runs} of {minutes:.0f} min together",
    "some_runs_of_minutes": "{runs} of {wanted} runs of {minutes:.0f} min together",
    "minutes_to_set_up": "{minutes:.0f} min setup",
    "minutes_to_cool": "{minutes:.0f} min cool-down",
    "about_tests": lambda tests: f"about {tests:.0f} {'test' if round(tests) == 1 else 'tests'}",
    "hardly_a_failure": "hardly a failure",
    "perhaps_a_failure": "perhaps a failure with its restart",
    "several_failures": lambda failures: (
        f"{failures:.0f} {'failure' if round(failures) == 1 else 'failures'} with "
        f"{'restart' if round(failures) == 1 else 'restarts'}"
    ),
    "counted": "{parts}",
    "not_enough_yet": "Not enough yet for a result. The runs still count.",
    "probably_not_finished": "Probably not finished.",
    "then_holds_at": "{knob} then holds at {value}.",
    "then_holds_between": "{knob} then holds between {near} and {far} in four of five cases.",
    "then_holds_from_stock": "{knob} then holds from stock to {far} in four of five cases.",
    "say_how_runs_ended": "Say how {runs} runs ended that broke off.",
    "whether_it_failed": "Whether it failed.",
    "which_failed": "Which of them failed.",
    "whether_tuning_to_blame": "Whether the tuning is to blame.",
    "baseline_in_all": lambda workload, workloads, runs: (
        f"Run {workload if workloads == 1 else f'{workloads} workloads'} at stock, {count(runs, 'run')} in all."
    ),
    "climb_knob": "Climb {knob:lower}.",
    "run_all_where_it_holds": "Run every workload where {knob:lower} holds, once.",
    "knob_worth_by_goal": "What {knob:lower} is worth by the goal.",
    "prove_best_by_then": "Prove the best setting by then: {item:lower}.",
    "prove_item": "Prove {setting}: {item:lower}.",
    "the_best_setting": "the best setting",
    "whether_it_meets_goal": "Whether it meets the goal.",
    "passed_means": "Passed, its {minutes:.0f} min mean: fewer than {fewer_than:.2g} failures an hour, 95 % sure.",
}  # fmt: skip
