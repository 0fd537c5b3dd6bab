"""What is wrong with climbing and proving."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "accepted_rate_not_above_zero": Wording(
        "{accepted_per_h:g} failures an hour cannot be accepted.", "Type a rate above zero, such as 0.02."
    ),
    "evening_out_of_range": Wording(
        "{minutes:g} minutes is no evening at the bench.", "Type from {least:g} to {most:g} minutes."
    ),
    "largest_step_not_above_zero": Wording(
        "A largest step of {largest_step:g} reaches no other value.", "Type more than zero, or leave it out."
    ),
    "limit_leaves_no_range": Wording(
        "The limit of {limit} leaves nothing of {knob}'s range.", "Move the safety limit, or widen the knob's range."
    ),
    "negative_time_or_failures": Wording("Time and failures cannot be below zero.", "Check both."),
    "no_such_knob_here": Wording("This campaign has no such knob.", "Leave it out."),
    "run_did_not_fail": Wording("This run did not fail.", "Open one that did."),
    "step_not_above_zero": Wording("{step:g} is no step.", "Type more than zero."),
    "sureness_out_of_range": Wording("{sure:g} is no degree of sureness.", "Type 0.5 to 0.99."),
    "trial_minutes_out_of_range": Wording("{minutes:g} minutes is no length for a test.", "Type how long it ran."),
    "trial_of_no_time": Wording(
        "A test of 0 minutes that survived tells nothing.", "Type how long it ran, or leave it out."
    ),
    "trial_value_not_a_number": Wording("The value is not a number.", "Type a number."),
    "unknown_approach": Wording("{approach} is no approach of proof.", "Choose one of the list."),
    "unknown_strategy": Wording("{strategy} is no strategy.", "Choose one of the list."),
}
