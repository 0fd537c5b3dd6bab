"""What is wrong with campaigns, knobs, workloads and goals."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "campaign_has_a_run": Wording("A run of it is going on.", "Stop the run first."),
    "campaign_lost_a_run": Wording(
        "A bench lost contact during a run of it and may still send the rest.", "Say how that run ended, then delete."
    ),
    "campaign_name_missing": Wording("Name of the campaign: please fill this in.", "Type a name."),
    "day_to_come": Wording("That day is still to come.", "Type the day on which it happened."),
    "frame_cap_not_above_zero": Wording("A frame cap is above zero.", "Type the cap, or leave it empty for none."),
    "goal_frames_out_of_range": Wording("{value:g} cannot be.", "Type frames a second, from 1 to 10 000."),
    "goal_hours_out_of_range": Wording("{value:g} cannot be.", "Type hours, from 0.02 to 100 000."),
    "goal_least_speed_out_of_range": Wording("{value:g} cannot be.", "Type a share of stock's speed from 10 to 200 %."),
    "goal_low_frames_out_of_range": Wording("{value:g} cannot be.", "Type frames a second, or leave it empty."),
    "goal_most_power_w_out_of_range": Wording("{value:g} cannot be.", "Type watts above zero, or leave it empty."),
    "goal_most_temp_c_out_of_range": Wording("{value:g} cannot be.", "Type degrees from 1 to 200, or leave it empty."),
    "goal_shown_out_of_range": Wording("{value:g} cannot be.", "Type from 50 to 99.9 %."),
    "goal_sure_out_of_range": Wording("{value:g} cannot be.", "Type from 50 to 99 %."),
    "journal_text_missing": Wording("Text: please fill this in.", "A few words of what happened are enough."),
    "knob_field_not_a_number": Wording("{knob}: {field} is not a number.", "Type a number."),
    "knob_key_impossible": Wording("“{key}” cannot be a key.", "Use one short word: small letters and digits."),
    "knob_key_twice": Wording("Two knobs have the key {key}.", "Give each its own key."),
    "knob_range_empty": Wording(
        "{knob}: the range runs from {low:g} to {high:g}{unit}, which holds no two values.",
        "Type the lower end first, then the higher.",
    ),
    "knob_step_above_range": Wording(
        "{knob}: one step of {step:g}{unit} is larger than the whole range.", "Type a smaller step or widen the range."
    ),
    "knob_step_not_above_zero": Wording(
        "{knob}: a smallest step of {step:g}{unit} never reaches another value.",
        "Type the smallest change that takes effect, above zero.",
    ),
    "knob_stock_at_end": Wording(
        "{knob}: stock is already at the end of the range in the direction that leads away from it.",
        "Turn the direction round or widen the range.",
    ),
    "knob_stock_out_of_range": Wording(
        "{knob}: stock {stock:g}{unit} is outside the range {low:g} to {high:g}{unit}.",
        "Widen the range or correct the stock value.",
    ),
    "knob_too_many_steps": Wording(
        "{knob}: {steps:.0f} steps of {step:g}{unit} from end to end; at most {most} can be handled.",
        "Narrow the range to what you would really try, or type a larger step.",
    ),
    "knob_value_not_a_number": Wording("{knob}: the value is not a number.", "Type a number."),
    "knob_value_off_grid": Wording(
        "{knob}: {value:g}{unit} is off the grid; it moves in steps of {step:g}{unit}.",
        "The nearest values are {nearest}{unit}.",
    ),
    "knob_value_out_of_range": Wording(
        "{knob}: {value:g}{unit} is outside the range {low:g} to {high:g}{unit}.", "Type a value inside the range."
    ),
    "last_knob": Wording("It is the last knob that is turned.", "Add another one first."),
    "last_workload": Wording("It is the last workload that is measured.", "Add another one first."),
    "limit_not_above_zero": Wording("{limit:g} is not above zero.", "Correct it, or leave it empty."),
    "limit_percent_out_of_range": Wording("{value:g} % is no useful limit.", "Type more than 0 and less than 50 %."),
    "limit_too_high": Wording("{limit:g} is more than {most:,.0f}{unit}.", "Correct it, or leave it empty."),
    "longer_is_not_better": Wording("A longer time is not better.", "Say that lower is better, or choose score."),
    "lower_rate_is_not_better": Wording("A lower frame rate is not better.", "Say that higher is better."),
    "measure_fixed_by_runs": Wording(
        "It has runs; measured otherwise they would mean something else.",
        "Describe a new workload, and retire this one.",
    ),
    "name_does_not_match": Wording("This is not the campaign's name.", "Type it as it is: {campaign}"),
    "negative_weight": Wording("A weight is not negative.", "Type 0 to leave it out."),
    "no_frame_rate": Wording("There is no frame rate to hold.", "Type frames a second."),
    "no_knob": Wording("There is no knob to turn.", "Add at least one knob."),
    "no_rig_chosen": Wording("No rig is chosen.", "Choose a rig or describe a new one."),
    "no_such_knob": Wording("This campaign has no knob {knob}.", "Its knobs are: {known}."),
    "no_such_knob_of_campaign": Wording("This campaign has no knob {knob}.", "Choose one of its knobs."),
    "no_such_workload_here": Wording("This campaign has no such workload.", "Leave it out."),
    "no_workload": Wording("There is nothing to measure.", "Add at least one workload."),
    "not_asked_by_goal": Wording("This goal does not ask for it.", "Leave it out."),
    "nothing_redescribed": Wording("Nothing was changed.", "Correct what was described wrongly."),
    "number_needed": Wording("A number is needed here.", "Type one."),
    "option_without_name": Wording("An option has no name.", "Name it, such as “preset”."),
    "result_without_unit": Wording("The result has no unit.", "Type it, such as fps, points or s."),
    "rig_name_missing": Wording("Name of the rig: please fill this in.", "Type a name."),
    "rig_name_taken": Wording("There is a rig named {name} already.", "Type another name."),
    "rig_there_already": Wording("There is a rig named {name} already.", "Choose it, or type another name."),
    "room_out_of_range": Wording("{room_c:g} °C is no room.", "Type {low_c:g} to {high_c:g} °C."),
    "same_options": Wording(
        "It would be the same as another set of options of this workload.", "Use that one instead."
    ),
    "setting_outside_range": Wording(
        "A setting has {knob} at {value}, outside the new range.", "Keep the value of every setting in the range."
    ),
    "setting_there_already": Wording(
        "This setting is on the ladder already.", "Change a value, or log a run on the setting that is there."
    ),
    "stale_days_out_of_range": Wording("A baseline is fresh for some days.", "Type 1 to 3650 days."),
    "simulator_cannot_run": Wording("The simulator cannot run {workload}.", "Choose one of: {known}."),
    "simulator_fixes_name": Wording("The simulator runs it under this name.", "Leave the name as it is."),
    "stock_there_already": Wording(
        "These are the stock values; stock is there already.",
        "Change a value, or log a run on the setting that is there.",
    ),
    "target_price_impossible": Wording("{price:g} is no price.", "Correct it, or leave it empty."),
    "target_without_results": Wording("A target without results is none.", "Type at least one of its results."),
    "text_too_long": Wording("{count} characters are too many.", "At most {most}."),
    "unknown_journal_kind": Wording("{kind} is no kind of entry.", "Choose: {known}."),
    "unknown_part": Wording("Unknown part “{part}”.", "Choose one of the parts."),
    "unknown_quiet_measure": Wording("{measure} is no measure of quiet.", "Choose degrees or noise."),
    "unknown_role": Wording("Name and unit of {name} do not say what it turns.", "Choose one of: {known}."),
    "unknown_simulator": Wording("The simulator has no rig “{simulator}”.", "Choose one of: {known}."),
    "weights_all_zero": Wording("With every weight at 0 nothing is left to average.", "Give one some weight."),
    "workload_gone": Wording("A workload is not there (any more).", "Choose from the list again."),
    "workload_measured_already": Wording("{workload} is measured already.", "Choose another one."),
    "workload_name_exists": Wording(
        "There is another workload called {name}.", "Use that one, or choose another name."
    ),
    "workload_name_taken": Wording(
        "The campaign has a workload {workload} already, measured as {measure} in {unit}.",
        "Choose it from the list, or give another name.",
    ),
    "workload_not_measured": Wording("This campaign does not measure it.", "Choose one of its workloads."),
    "workload_twice": Wording("{workload} stands twice.", "Give each its own name, or other options."),
}
