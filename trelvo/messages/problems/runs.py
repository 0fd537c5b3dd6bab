"""What is wrong with runs."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "campaign_deleted": Wording("{campaign} was deleted.", "Restore it in the list of campaigns first."),
    "colder_than_room": Wording("The part cannot stay colder than its room.", "Check both temperatures."),
    "completed_without_result": Wording("A completed run has a result.", "Type it, or say how else it ended."),
    "correction_without_reason": Wording(
        "A run is not corrected without a reason.", "Say in a few words what was wrong."
    ),
    "duration_out_of_range": Wording(
        "{duration_s:g} s is no length for a run.", "Type more than 0 and at most 30 days, or leave it empty."
    ),
    "failure_set_aside_without_cause": Wording(
        "A failure is set aside only for another cause.", "Say what else was to blame."
    ),
    "figure_twice": Wording(
        "{figure} by one instrument stands twice.", "Remove one, or say which instruments read them."
    ),
    "figure_without_instrument": Wording(
        "No instrument of this rig reads {quantity} under that number.", "Choose one of the rig's, or leave it open."
    ),
    "figures_out_of_order": Wording(
        "The {lower} of {lower_fps:g} fps is above the {upper} of {upper_fps:g} fps.", "Check both numbers."
    ),
    "in_the_future": Wording("This time is in the future.", "Check date and time."),
    "no_such_figure": Wording("This run has no such figure (any more).", "Open the run again."),
    "not_started_has_value": Wording("A run that did not start has no value.", "Clear the value or the outcome."),
    "nothing_corrected": Wording("Nothing was changed.", "Correct what was written down wrongly."),
    "rig_without_build": Wording("The rig is not described yet.", "Describe its build first."),
    "run_not_ended": Wording("This run still goes on, or its bench fell silent.", "Say how it ended first."),
    "run_typed_before": Wording(
        "A run with this beginning and these values is in the log already.",
        "Correct it, or say that it is right as it is.",
    ),
    "run_uid_taken": Wording("Another run was logged under this uid.", "Send each run under a uid of its own."),
    "set_aside_without_reason": Wording("A run is not set aside without a reason.", "Say in a few words why."),
    "setting_of_other_campaign": Wording("This setting belongs to another campaign.", "Choose one of this one."),
    "unknown_order": Wording("“{sort}” is nothing to sort by.", "One of: {known}."),
    "workload_not_of_campaign": Wording("This campaign does not use that workload.", "Choose one of its workloads."),
}
