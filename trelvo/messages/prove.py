"""How a setting is proved, whether its proof still stands, and what to do after a failure."""

from collections.abc import Callable, Mapping

from trelvo.core.base.texts import chance_words
from trelvo.core.prove.staleness import ChangeKind
from trelvo.messages.wording import capital

# What a change touches of a kept setting.
TOUCHES: Mapping[ChangeKind, str] = {
    "driver": "stability and gain", "firmware": "stability and gain", "system": "gain, and stability a little",
    "tuned part": "everything: another specimen", "part": "gain, and stability a little", "cooling": "stability and heat",
    "enclosure": "stability and heat", "workload": "stability and gain in that workload",
    "technique": "stability under that technique", "season": "stability and heat", "risk": "what counts as stable",
    "age": "stability",
}  # fmt: skip


def _signed(value: float, digits: int) -> str:
    return f"{value:+.{digits}f}".replace("-", "−")


def _nearer(lost: float, low: float, high: float, unit: str, digits: int) -> str:
    interval = f"{_signed(low, digits)} to {_signed(high, digits)}"
    return f"The edge comes nearer by {lost:.{digits}f} {unit} a year ({interval})."


def _away(gained: float, low: float, high: float, unit: str, digits: int) -> str:
    interval = f"{_signed(low, digits)} to {_signed(high, digits)}"
    return f"The edge moves away by {gained:.{digits}f} {unit} a year ({interval}): look for what else has changed."


def _not_known(checks: int, low: float, high: float, unit: str, digits: int) -> str:
    interval = f"{_signed(low, digits)} to {_signed(high, digits)}"
    return f"Whether it ages cannot be told from {checks} checks ({interval} {unit} a year)."


def often(per_h: float) -> str:
    """A failure rate: once in so many hours, or so many an hour."""
    if per_h >= 60:
        return "at once"
    if per_h >= 1:
        return f"{per_h:.1f} an hour"
    # the middle of a belief runs on far below what hours on a bench can show
    return "less than once in 1000 h" if per_h < 1e-3 else f"once in {1 / per_h:.0f} h"


def rate(per_h: float) -> str:
    return f"{per_h:.0f}" if per_h >= 10 else f"{per_h:.2g}"


def _passed(state: str, approach: str, minutes: float, fewer_than: float, passed: float) -> str:
    survived = f"{minutes:.0f} minutes" if minutes < 90 else f"{minutes / 60:.1f} hours"
    return (
        f"{capital(approach)}: {state}. {survived} without failure means: fewer than {rate(fewer_than)} failures an hour, "
        f"95 % sure. A setting that fails once in five hours passes that {passed:.0f} times in 100."
    )


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # Proof by an approach
    "proof_failed": lambda approach, workload, outcome, minutes: (
        f"{capital(approach)}: not proved. {workload} ended with “{outcome}”"
        f"{f' after {minutes:.0f} min' if minutes >= 1 else ''}."
    ),
    "proof_not_begun": "{approach:capital}: nothing has been run at this setting yet.",
    "proof_passed": lambda **passed: _passed("passed", **passed),
    "proof_not_complete": lambda **passed: _passed("not complete", **passed),
    "hours_on_part": "{hours:.0f} hours of the heaviest load on the {part}",
    "heaviest_on_part": "Heaviest load: {part}",
    "heaviest_load": "Heaviest load",
    "hours_of_heaviest": "hours of the heaviest load there is",
    "load_itself": "{workload}",
    "hours_of_use": "{hours:.0f} hours of what you really do",
    "your_own_use": "Your own use",
    "what_the_rig_is_for": "what the rig is for, not a test",
    "with_technique": "With {technique}",
    "each_finds_faults": "each finds faults that others do not",
    "on_several_days": "On several days",
    "another_day": "another day, another room temperature",
    "both_to_see": "Both together, to see",
    "minutes_in_one_go": "{minutes:.0f} minutes in one go",
    "both_to_believe": "Both together, to believe",
    "half_is_a_start": "{minutes:.0f} minutes; half of it is a start",
    "whole_system": "The whole system",
    "minutes_with_memory": "{minutes:.0f} minutes with memory and storage",
    "stock_by_its_own_time": "Stock is where the belief begins: it is judged by its own time alone.",
    "fewer_failures_than": lambda fewer_than, sure: f"Fewer than {rate(fewer_than)} failures an hour, {sure:.0f} % sure.",
    "fails_by_all_trials": lambda per_h, low_per_h, high_per_h, chance, hours, sure: (
        f"It fails {often(per_h)} by all trials along the knob (90 %: {often(high_per_h)} to {often(low_per_h)}); "
        f"{chance_words(chance)} sure of no more than one failure in {hours:.0f} hours, you asked for {sure:.0f} %."
    ),
    "holds_statistically": "Statistical: stable.",
    "not_shown_statistically": "Statistical: not proved.",
    "no_time_would_show": "No amount of testing would show it. Take a step back.",
    "no_more_than_one_in": "No more than one failure in {hours:.0f} hours",
    "sure_from_trials": "{sure:.0f} % sure, from all trials",
    # What has changed since a proof
    "changed_from_to": "{what}: {before} → {after}",
    "not_said": "not said",
    "no_part": "none",
    "new_since_proof": "new workload: {workload}",
    "not_in_proof": "{technique} was not part of the proof",
    "warmer_room": "the room is {room_c:.0f} °C; proved at up to {proved_c:.0f} °C",
    "accepted_risk": "one failure in {hours:g} h, {sure:g} % sure",
    "stricter_now": "accepted now: {now}; when it was kept: {kept}",
    "months_unchecked": "{months:.0f} months without a check",
    # The check again
    "first_stock": "First stock, to see whether the machine still performs as before.",
    "without_failure": "Without a failure: {sure:.0f} % sure; now {now:.0f} %.",
    "without_failure_again": "Without a failure: {sure:.0f} % sure again; now {now:.0f} %.",
    "gain_there_not_known": "What the setting gains there is not known, nor whether it holds.",
    # After a failure
    "stock_fails": "Stock itself fails, so the tuning is not to blame.",
    "back_to_stock": "Back to stock: is the tuning to blame?",
    "fails_at_stock_too": lambda workload, failed_min, minutes, chance: (
        f"If {workload} also fails here, the tuning is not to blame. It failed "
        f"{f'after {failed_min:.0f} min' if failed_min >= 1 else 'within a minute'}, so {minutes:.0f} minutes without a "
        f"failure say with {chance_words(chance)} that it is."
    ),
    "failure_was_unlikely": "All trials so far gave this failure {percent:.1f} %.",
    "changed_since_it_held": "Driver, firmware or parts have changed since it last held.",
    "rule_out_heat": "Rule out heat: more fan or a cooler room, then the same again",
    "was_near_heat_limit": "It was at {hottest_c:.0f} °C, the limit is {limit_c:.0f} °C: the edge falls with heat.",
    "suspect_something_else": "Suspect something else",
    "look_at_power": "Look at: seat and bend of the power connectors, the supply under load, the log of the system. If one of them was it, set the run aside with that reason.",
    "look_at_software": "Look at: driver, the program's own files, another program in the background. If one of them was it, set the run aside with that reason.",
    "memory_or_core": "Memory or core? Memory back to stock",
    "both_are_turned": "Memory and core are both turned. Holds with memory at stock: it was the memory. Fails again: it is the core.",
    "points_to_memory": "Speckles and artifacts point to the memory.",
    "last_good": "The last that held: {knob:lower} {value}",
    "last_good_why": "The same workload at the last good value. If it fails there too, the earlier pass was luck.",
    "knob_back_to": "{knob} back to {value}",
    "steps_back_why": "“{outcome}” sends {steps:steps} back: the harder it fails, the further.",
    "knob_up_to": "{knob} up to {value}",
    "more_voltage_why": "Or keep the clock and give it a step more voltage: heat and power rise with its square.",
    # After a failure in use
    "edge_has_moved": "The edge has moved: keep a step less clock, or a step more voltage, and check that again.",
    "driver_asks_more": "The new driver asks more of the part: go back to the earlier one, or keep a step less under the new one.",
    "workload_is_harder": "This workload is harder than what was proved: keep a step less for it, or leave it to stock.",
    "supply_not_tuning": "The supply or a connector, not the tuning: seat the connectors anew, look for heat and bends.",
    "program_not_tuning": "It fails at stock too: the program, not the tuning. The setting can stay.",
    "cause_not_clear": "Not clear: {suspect} is likeliest. Use it at stock, or a step lower, and see.",
    "probe_stock": "{workload} at stock, {minutes:.0f} min.",
    "probe_stock_why": "If it fails at stock too, the tuning is not the cause.",
    "probe_another_load": "The heaviest proved workload at the kept setting, {minutes:.0f} min.",
    "probe_another_load_why": "Fails there too: the setting. Holds: {workload} itself, or what it alone asks for.",
    "probe_earlier_driver": "The driver of the proof again, then {workload} at the kept setting, {minutes:.0f} min.",
    "probe_earlier_driver_why": "Holds under the earlier driver: the new one asks more.",
    "probe_reseated": "Power off; seat the power connectors anew; then {workload} at the kept setting, {minutes:.0f} min.",
    "probe_reseated_why": "Holds then: the connection. Look for discolouring and bends; a melting connector is a fire.",
    "probe_cooler": "Fans up or a cooler room, then {workload} at the kept setting, {minutes:.0f} min.",
    "probe_cooler_why": "Holds when cool: heat has moved the edge.",
    # Ageing
    "checked_once": "Only one check so far: no trend visible yet.",
    "edge_comes_nearer": _nearer,
    "edge_moves_away": _away,
    "ageing_not_known": _not_known,
}  # fmt: skip
