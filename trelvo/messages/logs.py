"""What the columns of a log were taken for, why, and what only the user can tell."""

from collections.abc import Callable, Mapping, Sequence

from trelvo.messages.wording import capital, count


def _which_unit(highest: float, named: str | None, build_units: Sequence[str]) -> str:
    fits = f"{' or '.join(build_units)} would fit" if build_units else "nothing usual fits"
    said = "names no unit" if named is None else f"names {named}"
    return f"Readings go up to {highest:g} and the file {said}; {fits}. Which unit is it?"


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # How the file was read
    "zero_bytes_left_out": "{count:,} zero bytes at the end, as a crash leaves them, are left out.",
    "read_as_utf16": "Read as UTF-16.",
    "read_as_windows_1252": "Not UTF-8; read as Windows-1252.",
    "last_separators_left_out": "Separators behind the last cell of a line are left out.",
    "lines_above_names": lambda lines: f"{count(lines, 'line')} above the column names passed over.",
    "line_names_units": "Line {line} names the units.",
    "below_readings": lambda words, more: f"Below the readings passed over: “{words}”{' and what follows' if more else ''}.",
    "names_repeated": "Column names repeated inside the file passed over ({times:times}).",
    "remarks_inside": lambda lines: f"Remarks inside the file passed over ({count(lines, 'line')}).",
    "laid_out_as_columns": "A line for each sensor and time: laid out as {columns} columns.",
    # Columns
    "column_reasons": "{reasons:; }",
    "unknown_among_many": "unknown name, and the file has many columns",
    "column_is_empty": "empty",
    "column_of_words": "text, not numbers",
    "reads_zero_throughout": "zero throughout: the sensor was not read",
    "only_frames_read": "only frame times are read from this file",
    "no_figure_of_the_run": "a limit, target, flag or unknown name: kept, but not used as a figure",
    "named_so": "named {quantity}",
    "its_unit_says": "its unit says {quantity}",
    "kind_and_unit": "{kind}, {unit}",
    "unit_behind_numbers": "{unit} behind each number",
    "unit_below_names": "{unit} below the names",
    "unit_in_name": "{unit} in its name",
    "not_read_otherwise": "otherwise the values would be impossible for {quantity}",
    "usual_in_unit": "no unit given; the values are typical of {unit}",
    "only_in_unit": "no unit given; only {unit} is possible",
    "of_another_part": "{why}, of the {part}",
    "kept_beside": "kept beside “{column}”",
    "kept_beside_others": "kept beside the others",
    "several_read_the_same": "several read the same, so none is the run's figure",
    "column_of_dates": "dates",
    "times_fill_the_log": "its times fill the time of the log",
    # Questions
    "which_decimal_sign": "“{cell}” may be {without}, or {sign} may be the decimal sign.",
    "percent_or_share": lambda quantity: f"{capital(quantity)} never rises above 1: is it in %, or from 0 to 1?",
    "which_unit": _which_unit,
    "which_part_is_tuned": "Which part is being tuned? The log has readings of both.",
    "which_counts": lambda columns, quantity, part: f"{columns} columns read the {quantity} of the {part or 'part'}: which counts?",
    "how_is_time_written": "The time format is ambiguous: {why}.",
    # Times
    "no_time_column": "no time column found",
    "times_disagree": "“{first}” covers {first_s:.0f} s, “{second}” {second_s:.0f} s",
    "day_or_month_first": "the dates could be day-first or month-first",
    "dates_with_times": "dates with times stand in it",
    "date_in_column": "with the date in “{column}”",
    "am_and_pm": "morning and afternoon are named",
    "clock_with_thousandths": "hours, minutes, seconds and thousandths",
    "minutes_with_thousandths": "minutes, seconds and thousandths",
    "hours_minutes_seconds": "hours, minutes and seconds",
    "last_has_fraction": "the last number has a fraction",
    "first_above_23": "its first number is above 23",
    "begins_at_zero": "it begins at zero and moves by seconds",
    "minutes_or_hours_first": "minutes and seconds, or hours and minutes: both could be",
    "times_do_not_rise": "its values do not increase",
    "since_1970": "it counts {unit} since 1970",
    "since_1970_whatever_named": "it counts {unit} since 1970, whatever its name says",
    "day_numbers": "it holds day numbers as spreadsheets do",
    "time_unit_named": "the header says {unit}",
    "time_unit_cannot_be": "{unit} are named, but readings would be {step_s:.3g} s apart over {span_s:.3g} s",
    "covers_the_run": "in {unit}, it matches the length of the run",
    "only_unit_possible": "only {unit} give a possible log",
    "too_close_in_thousandths": "readings would be too close together in thousandths",
    "seconds_or_thousandths": "seconds or thousandths: both could be",
    "no_unit_possible": "no unit gives a possible log",
    # What was said last time
    "left_out_last_time": "left out last time",
    "as_said_last_time": "as you said last time",
    "time_format_as_said": "{format}, as you said last time",
    "other_unit_last_time": "unit in this file: {now} ({why}); last time: {last}",
}  # fmt: skip
