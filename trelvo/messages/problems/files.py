"""What is wrong with archives, campaign files and copies of the database."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "campaign_lacks": Wording("The campaign has no {missing}.", "Export the campaign again."),
    "campaign_there_already": Wording("{campaign} is in this logbook already.", "Import it as a copy instead."),
    "cannot_be_worked_with": Wording(
        "Something in {campaign} cannot be worked with ({error}).", "Nothing was stored. Export the campaign again."
    ),
    "cells_missing": Wording("Line {line} has {cells} cells; {wanted} are wanted.", "Correct the line."),
    "columns_differ": Wording("Columns missing: {missing}; not known: {unknown}.", "Export it again."),
    "copy_not_put_back": Wording(
        "{file} could not be put back ({reason}). The logbook is as it was.",
        "Make room on the disk, or stop what holds the database, and try again.",
    ),
    "copy_not_written": Wording(
        "The copy {file} could not be written ({reason}).",
        "Make room there, or choose another place. Nothing was changed.",
    ),
    "copy_of_earlier_version": Wording(
        "This copy was made by an earlier Trelvo.",
        "Stop Trelvo and put it back with ./run.py restore FILE, which brings it up to date.",
    ),
    "copy_under_way": Wording("Another copy is being made or put back.", "Wait until it is done."),
    "database_damaged": Wording("{file} is damaged ({reason}).", "Put back a copy: ./run.py restore FILE."),
    "file_empty": Wording("{file} is empty (0 bytes).", "Choose another copy."),
    "file_of_newer_version": Wording(
        "The file has version {found}; this Trelvo reads version {known} and earlier.",
        "Read it with the Trelvo that wrote it, or a newer one.",
    ),
    "file_unreadable": Wording("{file} cannot be read ({reason}).", "Check who may read it."),
    "foreign_file": Wording("“{file}” does not belong in an archive.", "Export it again."),
    "identity_taken": Wording(
        "Something in the file bears an identity that is taken already.", "Import it as a copy instead."
    ),
    "knobs_share_a_key": Wording("Two knobs have the same key.", "Correct it in the file."),
    "line_too_long": Wording("A line has more than {most} characters.", "Export it again."),
    "line_twice": Wording("Line {line}: {uid} is there twice.", "Remove one of the two lines."),
    "log_cannot_be_read": Wording("The log cannot be read.", "Export the campaign again."),
    "log_lacks_channel": Wording("The log lacks a channel.", "Export the campaign again."),
    "member_missing": Wording("{file} is missing.", "Export it again."),
    "member_not_json": Wording("It is not JSON: {reason}.", "Export it again."),
    "member_unpackable": Wording("{file} cannot be unpacked: {reason}.", "Export it again."),
    "no_room_for_copy": Wording(
        "The copy needs {needed}, and {free} are free in {folder}.", "Make room there, or choose another place."
    ),
    "no_such_column": Wording("“{column}” is no column.", "One of: {known}."),
    "no_such_copy": Wording("There is no such copy (any more).", "Choose one from the list."),
    "no_such_file": Wording("There is no file {file}.", "Give the copy's file."),
    "no_such_instrument_in_file": Wording("No such instrument in the file.", "Correct it in the file."),
    "no_such_knob_in_file": Wording("No such knob.", "Correct it in the file."),
    "no_such_thing_in_file": Wording("No such {thing} in the file.", "Correct it in the file."),
    "no_such_thing_to_export": Wording("No such {thing} in the file.", "Export the campaign again."),
    "no_such_workload_in_file": Wording("No such workload in the file.", "Correct it in the file."),
    "not_a_campaign_file": Wording(
        "Trelvo did not write this file.", "Choose an archive (zip) or a campaign file (JSON) that Trelvo wrote."
    ),
    "not_a_database": Wording("{file} is no database.", "Choose a copy that Trelvo has made."),
    "not_an_archive": Wording("Trelvo did not write this archive.", "Choose one that it wrote."),
    "not_a_rank": Wording("Line {line}: {found} is no rank.", "Correct the line."),
    "not_a_uid": Wording("Line {line}: “{found}” is not a uid.", "Export it again."),
    "not_a_zip_file": Wording(
        "This is neither a zip file nor a campaign file.", "Choose an archive that Trelvo wrote."
    ),
    "not_an_identity": Wording("{found} is no identity.", "Export it again."),
    "not_json": Wording("This is not JSON: {reason}.", "Choose a campaign file that Trelvo wrote."),
    "not_trelvos_database": Wording("{file} is a database, but not Trelvo's.", "Choose a copy that Trelvo has made."),
    "not_utf8": Wording("It is not UTF-8.", "Save it as UTF-8."),
    "archive_logs_too_large": Wording(
        "The archive has more than {most_mib} MiB of logs.", "Export one campaign at a time."
    ),
    "archive_member_too_large": Wording("{file} is larger than {most} bytes.", "Export one campaign at a time."),
    "archive_of_other_version": Wording(
        "The archive has version {found}; this Trelvo reads version {known}.",
        "Read it with the Trelvo that wrote it, or a newer one.",
    ),
    "archive_too_large": Wording("It is too large once unpacked.", "Export one campaign at a time."),
    "archive_too_many_cells": Wording(
        "The archive has more than {most} cells in all its tables.", "Export one campaign at a time."
    ),
    "archive_too_many_files": Wording("{count} files in it; at most {most}.", "Export fewer campaigns."),
    "rig_not_in_archive": Wording("{campaign}: its rig is not in the archive.", "Export it again."),
    "run_goes_on": Wording("A run goes on.", "End it first; its readings would be lost."),
    "settings_wrong_in_file": Wording("Stock is missing or a setting stands twice.", "Correct it in the file."),
    "table_unreadable": Wording(
        "It cannot be read: {reason}; a cell has at most {most} characters.", "Export it again."
    ),
    "target_is_a_folder": Wording("{file} is a folder.", "Give a file name."),
    "there_twice": Wording("{name} is there twice.", "Correct it in the file."),
    "unknown_suspect_in_file": Wording("{suspect} is no suspect.", "Export the campaign again."),
    "unknown_use_in_file": Wording("{use} is no use that Trelvo knows.", "Export the campaign again."),
    "workload_not_in_archive": Wording("A workload of it is not in the archive.", "Export it again."),
    "written_by_newer": Wording(
        "{file} was written by a newer Trelvo ({version}). It is as it was.",
        "Start that Trelvo, or a newer one; or choose another data folder with TRELVO_DATA.",
    ),
}
