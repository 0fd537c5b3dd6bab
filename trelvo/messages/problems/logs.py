"""What is wrong with log files."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "cell_unreadable": Wording(
        "A cell cannot be read: {reason} ({most} characters).",
        "Check the separator, and whether a quotation mark was left open.",
    ),
    "cells_empty": Wording("{count:,} of {rows:,} cells are empty.", "Leave this column out."),
    "channel_covers_no_time": Wording(
        "The log covers no time.", "Choose the column that holds the time of each reading."
    ),
    "empty_file": Wording("The file is empty (0 bytes).", "Check that the logging program had finished."),
    "frame_time_impossible": Wording(
        "{value:g} ms cannot be the time of one frame.",
        "Choose another column or unit: time per frame, not the running time.",
    ),
    "frame_time_not_above_zero": Wording(
        "A frame time is not above zero.", "Choose the column that holds time per frame."
    ),
    "impossible_reading": Wording(
        "{value:g} {unit} cannot be a {quantity} (possible: {low:g} to {high:g} {unit}; {count:,} such readings).",
        "Choose another unit, say that the column is something else, or leave such readings out.",
    ),
    "last_line_cut": Wording(
        "The last line holds {cells} of {columns} cells; it was cut off.",
        "Choose to drop the last line, or export the log again.",
    ),
    "log_cell_not_a_number": Wording(
        "“{cell}” is not a number.", "Leave this column out, or choose another separator or decimal sign."
    ),
    "log_cells_not_numbers": Wording(
        "“{cell}” is not a number ({others:,} more like it).",
        "Leave this column out, or choose another separator or decimal sign.",
    ),
    "log_clock_time_unreadable": Wording(
        "“{cell}” cannot be read as a clock time such as 14:05:09.250.", "Choose how the time is written: {known}."
    ),
    "log_covers_no_time": Wording("The log covers no time.", "Choose the column that holds each reading's time."),
    "log_covers_other_plan": Wording(
        "The log covers {covers_s:span}; the workload takes about {planned_s:span}.",
        "Say that the log is right, or read it otherwise.",
    ),
    "log_covers_other_time": Wording(
        "The log covers {covers_s:span}; you typed {typed_s:span} for the run.",
        "Say that the log is right, or read it otherwise.",
    ),
    "log_date_unreadable": Wording(
        "“{cell}” cannot be read as date and time such as 2031-05-01 14:05:09.250.",
        "Choose how the time is written: {known}.",
    ),
    "log_differs_from_typed": Wording(
        "{figure}: the log gives {logged:.4g} {unit}, you typed {typed:.4g} {unit}.",
        "Say that the log is right, or read it otherwise.",
    ),
    "log_has_a_gap": Wording(
        "There is a gap of {gap_s:span} between two readings; usual are {every_s:.3g} s.",
        "Say that the log is right, or read it otherwise.",
    ),
    "log_kept_already": Wording(
        "This log is already kept with this run, as {file}.", "Nothing needs to be done; or choose another file."
    ),
    "log_kept_elsewhere": Wording(
        "The same log is kept with run {run} of “{campaign}”, as {file}.",
        "Say that the log is right, or read it otherwise.",
    ),
    "log_lacks_figures": Wording("The log says nothing about {unknown}.", "Leave it out."),
    "log_minutes_unreadable": Wording(
        "“{cell}” cannot be read as minutes and seconds such as 05:09.250.", "Choose how the time is written: {known}."
    ),
    "log_time_missing": Wording("The time is missing.", "Choose how the time is written: {known}."),
    "log_time_not_a_number": Wording("“{cell}” is not a number.", "Choose how the time is written: {known}."),
    "log_too_long": Wording(
        "Read so, the log covers {days:.1f} days; {most_days:.0f} is the most for one run.",
        "Choose how the time is written, or split the log.",
    ),
    "lone_reading": Wording(
        "A single reading of {value:g} {unit} stands alone: all others stay below {high:g} {unit}.",
        "Say whether it is left out, or kept as the highest.",
    ),
    "mark_ambiguous": Wording(
        "“{cell}” may be {without}, or {sign} may be the decimal sign.", "Say what the mark in this column is."
    ),
    "missing_frame_time": Wording(
        "The cell is empty ({count:,} in this column).",
        "Choose to leave out frames without a time, or leave this column out.",
    ),
    "no_channel": Wording("No channel is chosen.", "Choose at least one column to keep."),
    "no_column_names": Wording("No line with column names was found.", "Add a first line that names the columns."),
    "no_frame_column": Wording("No column with the time per frame is chosen.", "Choose the column that holds it."),
    "no_frames": Wording("There are no frames.", "Choose a log with at least one frame."),
    "no_readings": Wording("There are no readings.", "Choose a column with numbers."),
    "no_readings_between": Wording(
        "From {from_s:g} to {to_s:g} s there are no readings; the log covers {end_s:.0f} s.",
        "Type the beginning first, both within the log.",
    ),
    "no_rows": Wording("There are column names but no rows.", "Check that the log had been written."),
    "no_such_log_column": Wording("The file has no such column.", "Choose one of the columns in the preview."),
    "no_time_column": Wording("No time column is chosen.", "Choose the column that holds the time."),
    "not_a_text_file": Wording("This is not a text file.", "Save or export the log as CSV, then drop that file here."),
    "one_cell_a_line": Wording(
        "With {separator} as separator every line is one single cell.",
        "Choose another separator, or check that this is a table.",
    ),
    "open_quote": Wording(
        "The table cannot be read; a quotation mark may be left open.", "Check the quotes in the file."
    ),
    "part_unknown": Wording("Which part it reads cannot be told from its name.", "Choose the part."),
    "ragged_row": Wording(
        "There are {cells} cells, but {columns} column names.",
        "Check the separator and the decimal sign; a decimal comma needs another separator or quotes.",
    ),
    "readings_do_not_match_times": Wording("Times and readings differ in number.", "Read the log again."),
    "same_figure": Wording(
        "It gives the same figure as “{rival}”.", "Let one of them count; the other is kept beside it."
    ),
    "several_columns": Wording(
        "Several columns read the {quantity} of this part.", "Say which one counts; the others are kept beside it."
    ),
    "time_format_unknown": Wording(
        "How the time in “{column}” is written cannot be told from the file.", "Choose one of: {known}."
    ),
    "time_runs_backwards_in_log": Wording(
        "Time runs backwards, from {before_s:.3f} s to {after_s:.3f} s.",
        "Split the log where it starts again, and drop only the part that belongs to this run.",
    ),
    "too_many_columns": Wording("There are {count} columns; {most} is the most.", "Log fewer channels at once."),
    "too_many_rows": Wording("There are {count:,} rows; {most:,} is the most.", "Split the log in parts."),
    "unit_unknown": Wording("Its unit cannot be told from the file.", "Choose the unit."),
    "unknown_separator": Wording("{separator!r} is no separator.", "Choose comma, semicolon, tab or bar."),
    "unknown_unit_of_column": Wording("“{unit}” is no unit for this.", "Choose one of: {known}."),
    "zeros": Wording(
        "It reads 0 in {zeros:,} of {rows:,} rows, which may mean that nothing was read.",
        "Say whether zeros are left out or are readings.",
    ),
}
