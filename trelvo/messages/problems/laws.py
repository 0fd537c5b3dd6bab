"""What is wrong with curves, power, heat and the lab."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "cap_beyond_curve": Wording(
        "{cap_mv:.0f} mV lie beyond the curve, which runs from {low_mv:.0f} to {high_mv:.0f} mV.",
        "Type a voltage on it.",
    ),
    "current_without_droop": Wording("A current of {amperes:g} A shows no droop.", "Type the current under load."),
    "curve_falls": Wording(
        "The curve falls from {from_mhz:g} to {to_mhz:g} MHz between {from_v:g} and {to_v:g} V.",
        "A higher voltage never has the lower clock: correct one.",
    ),
    "curve_too_short": Wording("A curve has at least two points.", "Type more, a voltage and a clock each."),
    "did_not_warm_up": Wording("The part did not warm up.", "It takes a run that begins cool and keeps the part busy."),
    "droop_needs_different_loads": Wording(
        "At no clock were there logs with currents that differ: droop and curve cannot be told apart.",
        "Log something light and something heavy at the same setting, both long enough at its full clock.",
    ),
    "efficiency_impossible": Wording("An efficiency of {efficiency:g} cannot be.", "Type 0.2 to 0.99: 90 % is 0.9."),
    "grid_not_above_zero": Wording("Step and largest offset are above zero.", "Type both in MHz."),
    "hours_a_day_out_of_range": Wording("{hours_a_day:g} hours a day cannot be.", "Type 0 to 24."),
    "knob_not_turned": Wording("This campaign turns no knob {knob}.", "It turns: {known}."),
    "limit_below_least_draw": Wording(
        "The power limit lies below what the part draws at any clock, as far as is known.", "Choose a higher one."
    ),
    "limit_not_seen_to_hold": Wording(
        "{knob} has not been seen to hold yet.", "One run at a lower value shows what it lets through."
    ),
    "load_share_impossible": Wording("A load of {share:g} cannot be.", "Half of the rated load is 0.5."),
    "no_knob_turned": Wording("This campaign turns no knob.", "Add one in Prepare."),
    "no_part_power_read": Wording(
        "No completed run has the watts of processor and graphics apart.",
        "The agent reads them where the system counts them; a log with a column for each tells them; or add “power, processor, mean” and “power, graphics, mean” to a run’s figures.",
    ),
    "no_power_read": Wording("No completed run has its power read yet.", "Log a run with its watts."),
    "no_such_caution": Wording(
        "There is no caution “{key}” to say yes to here.", "Choose one of the cautions of this campaign."
    ),
    "not_a_voltage_and_clock": Wording(
        "“{typed}” is not a voltage and a clock.", "Write both numbers, with a semicolon between them."
    ),
    "part_power_never_moves": Wording(
        "Neither part's watts have moved between the settings.",
        "Run it at a lower power limit, or with a limit on one of the parts.",
    ),
    "point_clock_impossible": Wording("{core_mhz:g} MHz cannot be a clock.", "Type MHz; 2.7 GHz are 2700 MHz."),
    "point_voltage_impossible": Wording(
        "{voltage_v:g} V cannot be a part's voltage ({low_v:g} to {high_v:g} V).", "Type volts; 870 mV are 0.870 V."
    ),
    "points_at_one_load": Wording("Two points stand at one load.", "Leave one of them out."),
    "points_at_one_voltage": Wording(
        "Two points stand at {voltage_v:g} V: {first_mhz:g} and {second_mhz:g} MHz.", "Leave one of them out."
    ),
    "power_law_does_not_fit": Wording(
        "The law of power does not fit the runs there are.",
        "Correct or set aside runs with a wrong power, clock or voltage.",
    ),
    "power_reads_zero": Wording("The power reads zero.", "Choose the channel that reads the part's power."),
    "price_impossible": Wording("A price of {price:g} cannot be.", "Type what a kWh costs, or leave it empty."),
    "run_without_part_power": Wording("A run reads no power for one of the parts.", "Set it aside, or correct it."),
    "run_without_power_voltage_clock": Wording(
        "A run reads no power, voltage or clock.", "Set it aside, or correct its figures."
    ),
    "slot_above_total": Wording("More through the slot than in all.", "Type the slot's share of the watts."),
    "spacing_not_above_zero": Wording("The distance between two values is above zero.", "Type a number above zero."),
    "supply_curve_too_short": Wording("A curve has at least two points.", "Type more."),
    "supply_size_impossible": Wording("A supply of {rated_w:g} W cannot be.", "Type what is printed on it."),
    "target_clock_impossible": Wording("{target_mhz:g} MHz cannot be a clock.", "Type a clock in MHz."),
    "temperatures_do_not_match_times": Wording("Times and temperatures differ in number.", "Read the log again."),
    "time_runs_backwards": Wording("Time runs backwards.", "Split the log where it starts again."),
    "told_by_the_budget": Wording("What {knob} leaves to each part is not worked out here.", "See the sheet Budget."),
    "too_few_settings_with_both": Wording(
        "Both parts' watts were read at fewer than {least} settings.",
        "Run it at other power limits, with the watts of both parts.",
    ),
    "too_few_settings_with_power": Wording(
        "Power, voltage and clock together were read at fewer than {least} settings.",
        "Log runs at other settings with all three figures.",
    ),
    "too_few_temperatures": Wording(
        "The log holds too few temperatures.", "Log the part's temperature, once a second."
    ),
    "too_many_points": Wording("{count} points are too many.", "Leave at most {most}."),
    "too_many_sweep_values": Wording(
        "{count:.0f} values are too many for one sweep.", "Leave at most {most}: take them further apart."
    ),
    "too_short_for_heat": Wording("{lasts_s:.0f} s are too short.", "At least {least_s:.0f} s of load are needed."),
    "unknown_connectors": Wording("{unknown} is not known.", "Choose: {known}."),
    "unlimited_not_seen": Wording(
        "What this setting reaches where the power limit does not hold was not seen yet.", "One run of it shows it."
    ),
    "voltage_not_a_number": Wording("A voltage is not a number.", "Type both voltages in V."),
    "wall_power_impossible": Wording("{wall_w:g} W at the wall cannot be.", "Type what the meter shows."),
    "workload_without_power": Wording(
        "No run of {workload} has power, core clock and voltage yet.", "Log one with all three."
    ),
}
