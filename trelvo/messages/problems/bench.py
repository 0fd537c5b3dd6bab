"""What is wrong with benches, live runs and safety limits."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "above_ceiling": Wording("{above:ceilings}.", "If you mean it, type: {confirmation}"),
    "above_ceiling_in_queue": Wording(
        "{confirmation} stands above its ceiling.", "Line it up alone and type: {confirmation}"
    ),
    "batch_there_already": Wording(
        "Batch {sequence} is there already, with other readings.", "Give every batch its own number."
    ),
    "batch_too_long": Wording("{count} readings in one batch.", "Send at most {most} at once."),
    "bench_busy": Wording(
        "{bench} is busy with another run: {run}.", "Wait for it, stop it, or line this one up in the queue."
    ),
    "bench_without_name": Wording("The bench has no name.", "Say which machine will use this token."),
    "ceiling_without_knob": Wording("A voltage ceiling belongs to a knob.", "Choose one of: {known}."),
    "channel_name_taken": Wording("“{name}” is empty, taken, or reserved.", "Name it otherwise."),
    "frame_ms_impossible": Wording("A frame takes more than 0 ms and at most 60 s.", "Send milliseconds."),
    "hours_out_of_range": Wording("{hours:g} hours cannot be run.", "Type 0.1 to 10 000."),
    "limit_not_a_number": Wording("The limit is not a number.", "Type a number."),
    "limit_out_of_range": Wording(
        "{limit:g}{unit:behind} cannot serve as a limit of {kind}.", "Type {low:g} to {high:g}{unit:behind}."
    ),
    "limit_twice": Wording("Two limits of {kind} for one thing.", "Keep one."),
    "mark_without_text": Wording("There is nothing to note.", "Type a few words."),
    "no_instrument_reads_it": Wording(
        "{channel}: the rig has no instrument “{instrument}” that reads {quantity}.",
        "Describe it on the Prepare page first.",
    ),
    "no_such_channel": Wording("This run has no channel {channel}.", "It was opened with: {known}."),
    "no_such_workload_named": Wording("{campaign} has no workload “{workload}”.", "One of: {known}."),
    "no_such_workload_number": Wording("No such workload: {workload}.", "Choose the campaign's own."),
    "not_two_settings": Wording(
        "{count} settings cannot be run in the order A B B A.", "Choose the two that are to be compared closely."
    ),
    "nothing_to_line_up": Wording("There is nothing to line up.", "Choose at least one setting and one workload."),
    "other_instruments_there": Wording(
        "{channel}: the rig has no instrument “{instrument}” that reads {quantity}.",
        "One of: {known}; or describe it on the Prepare page.",
    ),
    "practice_budget_out_of_range": Wording(
        "{minutes:g} minutes is no time for a climb.", "Choose {low:g} to {high:g}."
    ),
    "practice_ended": Wording("This practice has ended.", "Begin another one; the same seed is the same chip."),
    "practice_minutes_above_left": Wording(
        "{minutes:g} minutes are more than the {left:.1f} that are left.", "Choose a shorter test, or keep a value."
    ),
    "practice_test_too_short": Wording("{minutes:g} minutes is no length for a test.", "Type 0.5 or more."),
    "practice_tests_used_up": Wording("{most} tests are enough.", "Keep a value."),
    "queue_too_long": Wording("{new} more runs would make {total}.", "At most {most} can wait at once."),
    "reading_impossible": Wording(
        "Reading {position} of {channel} is {reading:g} {unit}; that cannot be.",
        "Check the unit it was opened with; possible is {low:g} to {high:g} {unit}.",
    ),
    "readings_differ_in_number": Wording(
        "{count} readings for {times} times.", "Send one a time, null where one is missing."
    ),
    "real_machine_hours": Wording(
        "{bench} is a real machine; Trelvo drives only its own simulator.", "Use it, and log the hours."
    ),
    "real_machine_run": Wording(
        "{bench} is a real machine; Trelvo drives only its own simulator.",
        "Use the agent on that machine, or log the run by hand.",
    ),
    "repeats_out_of_range": Wording("{repeats} repeats.", "Choose 1 to {most}."),
    "run_has_ended": Wording(
        "This run has ended: {outcome}.", "Keep these readings; they can be added to the run as a log."
    ),
    "run_identity_taken": Wording("Another bench has opened a run under this identity.", "Choose a new one."),
    "run_minutes_out_of_range": Wording("{minutes:g} minutes is no length for a run.", "Type 0.1 to 1440."),
    "speed_out_of_range": Wording("{speed:g} times real time cannot be driven.", "Choose {low:g} to {high:g}."),
    "simulator_lacks_knob": Wording("The simulator has no knob {unknown}.", "Its knobs are: {known}."),
    "simulator_lacks_workload": Wording("The simulator does not know the workload {workload}.", "It knows: {known}."),
    "sweep_all_run": Wording("Every cell of this sweep was run already.", "Choose other values."),
    "times_out_of_order": Wording(
        "Times are seconds from the start of the run, none below the one before.", "Send them in order."
    ),
    "too_many_channels": Wording("{count} channels are more than the {most} that are taken.", "Send fewer."),
    "too_short_for_held_back": Wording(
        "The log is too short to say what held the part back.", "At least {least_s:.0f} s are needed."
    ),
    "unit_not_of_quantity": Wording("{channel}: {quantity} is not given in {unit}.", "One of: {known}."),
    "unknown_channel_part": Wording(
        "{channel}: “{part}” is no part of a machine.", "One of: {known}; or leave it out."
    ),
    "unknown_channel_quantity": Wording("“{quantity}” is no quantity.", "One of: {known}."),
    "unknown_point": Wording(
        "{channel}: “{point}” is no measuring point of power.", "One of: {known}; or leave it out."
    ),
}
