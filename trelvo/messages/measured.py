"""What measured figures show: verdicts, baselines, instruments against each other, and runs that broke off."""

from collections.abc import Callable, Mapping, Sequence

from trelvo.core.compare.claims import Figure, Kind, Mistake
from trelvo.core.watch.headroom import Kind as Headroom
from trelvo.messages.wording import capital, count

UNITS: Mapping[Kind, str] = {"rate": "", "time": "s", "watts": "W", "degrees": "°C", "noise": "dB(A)"}
# What each mistake does wrong.
MISTAKES: Mapping[Mistake, str] = {
    "turned round": "The change went the other way: what was called a gain is a loss, or a loss a gain.",
    "percent of degrees": "0 °C is no zero of heat: 72 to 65 °C is 7 °C cooler. Only degrees above the room have a share.",
    "percent of decibels": "Decibels are a logarithm: 3 dB less is half the sound power, about 10 dB less sounds half as loud.",
    "cut off, not rounded": "The digits behind were dropped; the figure is rounded up.",
    "percent taken for the amount": "The share was told as the difference.",
    "gains added": "Each step starts from what the one before left: factors multiply.",
    "factors added": "Factors that follow each other multiply.",
    "percentages added": "Each step starts from what the one before left; the ratios multiply.",
    "percentages averaged": "The steps follow each other; their ratios multiply.",
    "only the last step": "The last step's gain was told for the whole.",
    "gain told as a factor": "1.2 times as fast is a gain of 0.2: the whole was left out.",
    "one too many": "Twice as fast is a factor of 2, not three times as fast.",
    "turned upside down": "Before was divided by after.",
    "time saved called speed": "So much less time is more than so much more speed: the speed ratio is time before over time after.",
    "speed called time saved": "The speed gained was called time saved; the time saved is smaller.",
    "percent difference": "The change was divided by the mean of both values; a gain is measured against the value before.",
    "divided by the wrong end": "The change was divided by the value after tuning; a gain is measured against the value before.",
    "ratio told as percent": "The whole was told: 1.08 of the old is a gain of 8 %.",
    "points taken for percent": "The plain difference of the two values was called percent.",
    "values added": "The values of all titles were added and the sums compared: the fastest title decides.",
    "arithmetic mean of ratios": "Ratios were averaged as they are; turned round, the same numbers would favour the other side.",
    "percent differences averaged": "Each change was divided by the mean of both values, and those were averaged.",
    "only the best title": "The largest gain of all titles was told for the whole.",
}


# Kinds of headroom at stock.
HEADROOM: Mapping[Headroom, str] = {
    "temperature": "Temperature to limit",
    "power": "Power to limit",
    "clock": "Clock steadiness",
}


def _unit(kind: Kind, figure: Figure) -> str:
    if figure == "amount":
        return f" {UNITS[kind]}" if UNITS[kind] else ""
    return " times" if figure == "factor" else " %"


def _changed_by(kind: Kind, change: float) -> str:
    unit = f" {UNITS[kind]}" if UNITS[kind] else ""
    less, more = {"degrees": ("cooler", "hotter"), "noise": ("quieter", "louder")}.get(kind, ("less", "more"))
    return f"{abs(change):.4g}{unit} {less if change < 0 else more}"


def _truth(kind: Kind, figure: Figure, truth: float, decimals: int) -> str:
    if figure == "amount":
        return _changed_by(kind, truth)
    if figure == "factor":
        return f"{truth:.{max(2, decimals)}f} times what it was".replace("-", "−")
    noun = (
        " speed"
        if kind == "rate" or (kind == "time" and figure != "saved")
        else " time"
        if kind == "time"
        else " power"
    )
    less = truth < 0 if figure == "percent" else truth >= 0
    return f"{abs(truth):.{decimals}f} % {'less' if less else 'more'}{noun}"


def _by_rounding(truth: str, kind: Kind, figure: Figure, low: float, high: float, decimals: int) -> str:
    digits = max(2, decimals) if figure == "factor" else decimals
    span = f"{low:.{digits}f} to {high:.{digits}f}{_unit(kind, figure)}".replace("-", "−")
    return f"{truth}, {span} by the rounding of the values"


def _percent(percent: float, half: float | None) -> str:
    written = f"{percent:+.1f} %".replace("-", "−")
    return written if half is None else f"{written} ± {half:.1f}"


def _verdict(verdict: str) -> str:
    return verdict if verdict == "too few runs" else f"a {verdict}"


def _result_on(
    speed: str, time_saved: float | None, workload: str, verdict: str, more_runs: int | None, runs: int, basis: str
) -> str:
    timed = ""
    if time_saved is not None:
        timed = f" in speed, {abs(time_saved):.1f} % {'less' if time_saved >= 0 else 'more'} time,"
    word = _verdict(verdict)
    if verdict == "too few runs" and more_runs:
        word = f"too few runs, {more_runs} more on each side would probably settle it"
    return f"{speed}{timed} on {workload}: {word}; {runs} runs, {basis}."


def _result_overall(speed: str, verdict: str, measured: int, workloads: int) -> str:
    part = "" if measured == workloads else f" ({measured} of {workloads} workloads measured)"
    mean = "from one ratio" if measured == 1 else f"geometric mean of {measured} ratios"
    return f"{speed} overall{part}: {_verdict(verdict)}; {mean}."


def _part_reading(
    part: str, statistic: str, quantity: str, value: float, unit: str, more: float | None, decimals: int
) -> str:
    of = "" if part == "tuned part" else f"{part} "
    by = "" if more is None else f" ({more:+.{decimals}f} {unit})".replace("-", "−")
    return f"{of}{statistic} {quantity} {value:.{decimals}f} {unit}{by}"


def _differ_at_once(aspects: Sequence[str]) -> str:
    names = " and ".join(aspect.lower() for aspect in aspects)
    return f"{capital(names)} differ at once: nothing tells which of them made the difference."


def _each(runs: int) -> str:
    return "one run each" if runs == 1 else f"{runs} runs each"


def _can_tell(runs: int, now: float, more_runs: int, more: float, single: float) -> str:
    return (
        f"This bench can tell {now:.1f} % apart with {_each(runs)}; {more_runs} more runs: {more:.1f} %; "
        f"one run each: {single:.1f} %."
    )


def _limits(low: float, high: float, unit: str) -> str:
    return f"between {low:+.3g} and {high:+.3g} {unit}".replace("-", "−")


def _reads_apart(first: str, second: str, difference: float, unit: str) -> str:
    side = "more" if difference >= 0 else "less"
    return f"{capital(first)} reads {abs(difference):.3g} {unit} {side} than {second}"


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # Reasons of verdicts
    "scatter_too_widely": "The runs vary too much to compare. Look for a wrong value.",
    "no_repeats": "Nothing was run twice, so the run-to-run variation is unknown.",
    "within_smallest_gain": "The whole interval is within {percent:g} % of the reference: no relevant difference.",
    "would_stand_by_the_rest": lambda fewest, wanted: (
        f"It would stand if both sides scatter as the rest do, which {count(fewest, 'run') if fewest > 1 else 'one run'} cannot "
        f"show: with {wanted} on each side it is told by their own scatter."
    ),
    "interval_above": "The whole interval is above the reference.",
    "interval_below": "The whole interval is below the reference.",
    "alone_it_would_stand": "Significant on its own, but not after correction for {comparisons} comparisons (Holm).",
    "seen_once_it_would_stand": "Significant for a single look, but this is look {look}. Repeated looks find differences by chance.",
    "interval_holds_both": "The interval includes both no difference and a relevant one.",
    # Results
    "percent_plus_minus": _percent,
    "not_measured_on_both": "{workload}: not measured on both sides.",
    "result_on": _result_on,
    "nothing_measured_on_both": "No workload was measured on both sides.",
    "result_overall": _result_overall,
    "condition_in_full": "{name}: {state}.",
    "overall_by_condition": "{speed} overall; {condition}",
    "workload_by_condition": "{speed} on {workload}; {condition}",
    "no_result_but": "{workload}: no result to compare; {readings}.",
    "part_reading": _part_reading,
    "at_the_cap": "at the cap of {cap_fps:g} fps",
    "slower_though_clock_rose": "slower although the clock rose",
    "faster_though_clock_fell": "faster although the clock fell",
    "more_than_clock_explains": "more than the clock explains: something else differs as well",
    "speed_rose_by_clock": "{scaling}: speed rose {elasticity:.2f} times as much as the clock",
    "speed_fell_by_clock": "{scaling}: speed fell {elasticity:.2f} times as much as the clock",
    # What time did to a comparison
    "runs_resemble": "Consecutive runs are correlated (r = {correlation:.2f}): ten runs carry the information of {as_many:.0f}.",
    "drift_taken_out": "A linear drift over the session is removed.",
    "day_shift_known": "measured on settings run on several days",
    "day_shift_usual": "a typical value; not measured here",
    "different_days": "The two sides were run on different days. This alone can shift results by {percent:.1f} % ({basis}), so the interval is wider. Run the reference again on the same day.",
    "several_days": "Runs from several days: a day-to-day shift of {percent:.1f} % is included ({basis}).",
    # Whether both sides are alike
    "aspect_options": "Workload and options",
    "aspect_parts": "Parts",
    "aspect_driver": "Driver",
    "aspect_firmware": "Firmware",
    "aspect_system": "Operating system",
    "aspect_power_point": "Power read by",
    "aspect_cooling": "Cooling",
    "aspect_enclosure": "Enclosure",
    "aspect_fan": "Fan",
    "aspect_room": "Room temperature",
    "aspect_warm_up": "Warm-up",
    "aspect_runs": "Runs",
    "not_noted": "not noted",
    "noted": "{found}",
    "room_at": "{room_c:.1f} °C",
    "warmed_up": "warmed up",
    "first_run_kept": "first run out of family kept",
    "too_few_to_tell": "too few runs to tell",
    "number_of_runs": "{runs:runs}",
    "differs": "{aspect}: {reference} against {candidate}.",
    "is_what_is_compared": "{aspect}: {reference} against {candidate}, which is what is compared.",
    "differ_at_once": _differ_at_once,
    "not_noted_on_both": "{aspect}: not noted on both sides.",
    "not_noted_on_one": "{aspect}: not noted on one side.",
    # Claims
    "claim_truth": _truth,
    "truth_by_rounding": _by_rounding,
    "claim_said": lambda kind, figure, value, decimals: f"{value:.{decimals}f}{_unit(kind, figure)}",
    "changed_by": _changed_by,
    "percentage_says_nothing": "Correct: {change}. A percentage is meaningless here.",
    "claim_is_right": "Right: {truth}.",
    "also_what_mistake_gives": "This mistake gives the same figure: {mistake}.",
    "no_usual_mistake": "Correct: {truth}. No common mistake gives {said}. Check the numbers.",
    "comes_from_mistake": "Correct: {truth}. {said} comes from this mistake: {mistake}.",
    # The baseline
    "nothing_told_apart": "These runs vary too much to detect any difference. Look for a wrong value and set it aside.",
    "can_tell_apart": _can_tell,
    "no_temperature_logged": "No temperature was logged.",
    "no_limit_set": "No limit is set. Enter one to see the headroom.",
    "over_limit_at_stock": "Over the limit at stock. Improve the cooling before you climb.",
    "close_to_heat_limit": "Close to the limit at stock. Lower the voltage or improve the cooling first.",
    "heat_does_not_hold": "Not limited by temperature at stock.",
    "no_power_logged": "No power was logged.",
    "starved_at_stock": "Power-limited at stock. Raise the power limit first.",
    "near_power_limit": "Near the power limit. A higher clock will soon reach it.",
    "power_does_not_hold": "Not limited by power at stock.",
    "needs_two_clocks": "Needs the clock reached in at least two runs.",
    "same_clock": "The same clock in every run.",
    "clock_moves": "The clock changes between runs. Check temperature and power as the cause.",
    # Two instruments
    "the_first": "the first",
    "the_second": "the second",
    "reads_apart": _reads_apart,
    "between_limits": _limits,
    "apart_in_few_pairs": "{apart} in {pairs} pairs. At least {fewest} pairs are needed to say more.",
    "difference_by_level": "{apart} on average, but the difference depends on the level, so no single offset corrects it.",
    "always_about_the_same": "{apart}, always by about the same amount ({limits}). Each is fine for comparing with itself.",
    "apart_on_average": "{apart} on average. Single pairs differ {limits}.",
    "no_steady_difference": "No consistent difference. Single readings differ {limits}.",
    # Runs that broke off, and safety limits
    "server_and_simulator_stopped": "Trelvo itself was stopped, and the simulator with it. Nothing is said about the setting.",
    "server_stopped": "Trelvo was stopped. The machine may still be running: check it first.",
    "not_one_reading": "No readings arrived: the connection was lost as the run began.",
    "planned_time_passed": "Readings cover almost all of the planned {planned_s:.0f} s. Only the end message is missing.",
    "broke_off_hot": "Readings stop at full load, {at_s:.0f} s into the run, at {hottest_c:.0f} °C. Overheating is likely.",
    "broke_off_at_load": "Readings stop at full load, {at_s:.0f} s into the run. This is typical of a machine that goes down.",
    "readings_went_on": "Readings continued, but {quantity} fell from {before:.0f} to {after:.0f}: the program had ended.",
    "run_lasted_too_long": "The run lasted longer than {hours:g} h ({at_s:.1f} s into the run).",
    "below_the_floor": "{channel:capital} read {reading:g} {unit}, below the floor of {limit:g} {unit}, {at_s:.1f} s into the run.",
    "above_the_limit": "{channel:capital} read {reading:g} {unit}, above the limit of {limit:g} {unit}, {at_s:.1f} s into the run.",
    "predicted_above_limit": "{predicted:.0f} {unit} are predicted, above the limit of {limit:g} {unit}.",
    "predicted_near_limit": "{predicted:.0f} {unit} are predicted, near the limit of {limit:g} {unit}.",
    # The laboratory
    "limit_without_knob": "A power limit that no knob here turns",
    "limit_not_seen_to_hold": "{knob} has not been seen to hold; below the lowest value tried, nothing is predicted.",
    "limit_held_at": lambda knob, settings: (
        f"{knob} held the part at {settings or 'none'} of {'the settings tried' if settings else 'them'}."
    ),
    "hold_part_to": "hold the {part} to {watts:g} W",
    "no_knob_limits_part": "No knob of this campaign limits the {part} by itself; Prepare adds one (a power limit in W, part: {part}).",
    "target_needs_more": lambda target_mhz, cap_mv, needed_mhz, most_mhz, highest_mhz, at_mv: (
        f"{target_mhz:.0f} MHz at {cap_mv:.0f} mV needs {needed_mhz:+.0f} MHz, and the tool allows +{most_mhz:.0f}. "
        f"The highest target there is {highest_mhz:.0f} MHz{'' if at_mv is None else f', or set it at {at_mv:.0f} mV'}."
    ),
    "target_too_far_below": "{target_mhz:.0f} MHz at {cap_mv:.0f} mV lies further below the curve than the tool's {most_mhz:.0f} MHz.",
    "target_needs_offset": "{target_mhz:.0f} MHz at {cap_mv:.0f} mV needs an offset of {needed_mhz:+.0f} MHz there.",
    "takes_effect_below": "It takes effect at {reaches_mhz:.0f} MHz, the step below.",
}  # fmt: skip
