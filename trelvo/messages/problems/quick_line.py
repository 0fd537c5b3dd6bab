"""What is wrong with the quick line."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "bus_or_multiplier_twice": Wording("Bus clock or multiplier stands twice.", "Remove one of the two."),
    "ended_in_two_ways": Wording("It cannot have ended in two ways.", "Remove one of the two words."),
    "failed_before": Wording(
        "The run before failed at {setting}. Was this one made there too?", "Name the knobs again, or say stock."
    ),
    "figure_named_twice": Wording("{meaning}: this figure stands there already.", "Remove one of the two."),
    "figure_without_number": Wording("“{word}” without its number.", "Type {word} and the {figure} in {unit}."),
    "knob_in_other_unit": Wording("{knob} is set in {own}, not in {unit}.", "Leave the unit out, or correct it."),
    "knob_named_twice": Wording("{knob} stands twice.", "Remove one of the two."),
    "knob_without_step": Wording("{knob} without its value.", "Type {key} and a number in steps."),
    "knob_without_value": Wording("{knob} without its value.", "Type {key} and a number in {unit}."),
    "maximum_without_frame_rate": Wording(
        "{workload} gives no frame rate, so it has no {figure}.", "Leave it out, or add its unit, such as max 77c."
    ),
    "minimum_without_frame_rate": Wording(
        "{workload} gives no frame rate, so it has no {figure}.", "Leave it out, or type {value:g}min for a duration."
    ),
    "minutes_or_minimum": Wording(
        "“{first} {word} {second}” may be {first} minutes and {second} {unit}, or {first} {unit} with a minimum of {second}.",
        "Type {first}min {second}, or avg {first} min {second}.",
    ),
    "no_result_of_its_own": Wording(
        "{word}: {workload} has no result of its own.", "Type figures with their units, such as 62w 71c."
    ),
    "no_such_options": Wording("No {first} with all of these options.", "One line is one run."),
    "not_a_unit_of_a_run": Wording("“{unit}” is no unit of a run.", "Known units: {known}, and {own} for the result."),
    "not_a_unit_of_figure": Wording(
        "“{typed}” is not a unit of the {figure}.",
        "Type the {figure} in {unit}, or the number without {word} in front.",
    ),
    "not_the_unit_of_workload": Wording("“{typed}” is not the unit of {workload}.", "Type it in {unit}."),
    "number_of_what": Wording(
        "{word}: a number of what?", "Name the workload before its result, and the knob before its value."
    ),
    "options_ambiguous": Wording("“{word}” may be {titles}.", "Type what tells them apart as well: {known}."),
    "outcome_ambiguous": Wording(
        "“{word}” may be several things.", "Type closed (only the program), down (the whole machine), odd, or nostart."
    ),
    "outcome_missing": Wording("How did it end?", "Add one of: {known}."),
    "point_without_power": Wording("Where power was measured, but no power.", "Add it, such as 212w."),
    "quick_line_too_long": Wording("The line has {count} characters.", "{most} are read."),
    "result_before_workload": Wording("{word} {value:g}: a number of what?", "Name the workload before its result."),
    "result_without_number": Wording("“{word}” without its number.", "Type {word} and the result."),
    "set_or_reached": Wording(
        "“{word}” may be what {knob} was set to, or what was reached.",
        "Type {key} {set:g}, or, where it was only reached, {key} {now:g} {reached:g}{unit}.",
    ),
    "time_or_duration": Wording(
        "{shown} may be one time, or a duration and a result.", "Type {clock} for the result, or the result first."
    ),
    "two_workloads": Wording("Two workloads: {first} and {second}.", "One line is one run."),
    "word_not_understood": Wording(
        "“{word}” is not understood.",
        "Use a knob, a workload, a figure with its unit, or an ending (a crash: down or closed). ? shows all.",
    ),
    "workload_ambiguous": Wording("“{word}” may be {titles}.", "Type more of its name."),
    "workload_missing": Wording("Which workload?", "Type the start of one of: {known}."),
}
