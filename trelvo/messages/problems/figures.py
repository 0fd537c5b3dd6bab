"""What is wrong with figures, results and instruments."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "above_all_known": Wording(
        "{figure:ahead}{value:g}{unit:behind} is {times:.1f} times above everything measured here ({low:g} to {high:g}{unit:behind}).",
        "Correct it, or say that it is right as it is.",
    ),
    "above_all_known_slip": Wording(
        "{figure:ahead}{value:g}{unit:behind} is {times:.1f} times above everything measured here ({low:g} to {high:g}{unit:behind}). {meant:g} perhaps?",
        "Correct it, or say that it is right as it is.",
    ),
    "all_time_saved": Wording("No more than all of the time can be saved.", "Type a share below 100 %."),
    "below_all_known": Wording(
        "{figure:ahead}{value:g}{unit:behind} is {times:.1f} times below everything measured here ({low:g} to {high:g}{unit:behind}).",
        "Correct it, or say that it is right as it is.",
    ),
    "below_all_known_slip": Wording(
        "{figure:ahead}{value:g}{unit:behind} is {times:.1f} times below everything measured here ({low:g} to {high:g}{unit:behind}). {meant:g} perhaps?",
        "Correct it, or say that it is right as it is.",
    ),
    "factor_out_of_range": Wording("A factor of {factor:g} is no correction.", "Type 0.1 to 10; 1 changes nothing."),
    "figure_far_off": Wording(
        "{figure}: {value:g} {unit} is far from everything read here ({low:g} to {high:g} {unit}).",
        "Correct it, or say that it is right as it is.",
    ),
    "figure_out_of_range": Wording(
        "{value:g} {unit} cannot be ({low:g} to {high:g} {unit}).", "Check number and unit."
    ),
    "instrument_doubt_without_reason": Wording("There is no reason.", "Say in a few words what is wrong with it."),
    "instrument_name_taken": Wording(
        "The rig has an instrument named {name} for {quantity} already.", "Give it another name."
    ),
    "instrument_quantity_fixed": Wording(
        "It has read {quantity} already.", "Describe another instrument for what else it reads."
    ),
    "instrument_reads_other": Wording("{instrument} reads {quantity}.", "Choose one that reads {wanted}."),
    "instrument_without_name": Wording("The instrument has no name.", "Name it, such as “clamp”."),
    "instrument_without_quantity": Wording("It reads nothing yet.", "Say what it reads."),
    "instruments_read_differently": Wording(
        "{first} reads {first_reads}, {second} {second_reads}.", "Choose two that read the same."
    ),
    "negative_uncertainty": Wording("An uncertainty is not negative.", "Type 0 or more."),
    "never_read_together": Wording(
        "There is no run or log in which both {first} and {second} read.",
        "Log a few runs with both figures, or a log with both columns.",
    ),
    "no_log_read_by_both": Wording("No log has a reading of both.", "Compare them by {other}."),
    "no_pairs": Wording("There are no pairs of readings.", "Log runs in which both instruments read."),
    "no_ratio": Wording("{value:g} is not above zero, so no ratio exists.", "Type a value above zero."),
    "no_run_read_by_both": Wording("No run has a reading of both.", "Compare them by {other}."),
    "no_runs": Wording("There are no runs here.", "Log at least one completed run."),
    "no_such_instrument": Wording("The rig has no such instrument.", "Choose one of its own."),
    "no_such_other_instrument": Wording("The rig has no such instrument.", "Choose one of its others."),
    "not_a_number": Wording("This is not a number.", "Type a number or leave it empty."),
    "not_a_number_or_zero": Wording("This is not a number.", "Type a number; 0 for none."),
    "not_above_zero": Wording("{value:g} is not above zero.", "Correct it or leave it empty."),
    "nothing_to_average": Wording("There are none to average.", "Log runs of at least one workload."),
    "one_instrument": Wording("This is one instrument, not two.", "Choose another one."),
    "resolution_not_above_zero": Wording("A resolution is above zero.", "Correct it, or leave it empty."),
    "result_out_of_range": Wording(
        "{value:g} {unit} cannot be a {measure} ({low:g} to {high:g}).",
        "Check the number and where its decimal sign stands.",
    ),
    "unknown_quantity": Wording("“{quantity}” is no quantity.", "One of: {known}."),
    "value_not_finite": Wording("A value is not a finite number.", "Correct or set aside that run."),
    "value_without_ratio": Wording(
        "A value is zero or negative, so no ratio exists.", "Correct or set aside that run."
    ),
    "workload_without_result": Wording(
        "This workload has no result of its own.", "Leave it empty, or type it as a figure."
    ),
}
