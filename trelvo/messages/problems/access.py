"""What is wrong with signing in, and requests that cannot be answered."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "data_folder_read_only": Wording(
        "Nothing can be written to the logbook now: the data folder has become read-only.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "database_being_restored": Wording(
        "Nothing can be written to the logbook now: a backup is being restored.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "database_held": Wording(
        "Nothing can be written to the logbook now: another program holds the database.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "database_malformed": Wording(
        "Nothing can be written to the logbook now: the database is damaged. Stop Trelvo and put back a copy.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "database_refuses": Wording(
        "Nothing can be written to the logbook now: the database refuses.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "disk_full": Wording(
        "Nothing can be written to the logbook now: the disk is full. Make room.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "disk_unreadable": Wording(
        "Nothing can be written to the logbook now: the disk cannot be written or read.",
        "Nothing that was stored is lost. Try again afterwards.",
    ),
    "entry_changed": Wording(
        "The entry changed meanwhile, perhaps in another window: {changes:changes}.", "Look at it, and save again."
    ),
    "goal_changed": Wording(
        "The goal was changed meanwhile, perhaps in another window: {changes:changes}.", "Look at it, and save again."
    ),
    "instrument_changed": Wording(
        "The instrument {name} changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "kept_setting_changed": Wording(
        "“{name}” changed meanwhile, perhaps in another window: {changes:changes}.", "Look at it, and save again."
    ),
    "knob_changed": Wording(
        "The knob {name} changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "last_owner": Wording("Then nobody would be an owner any more.", "Make someone else an owner first."),
    "limits_changed": Wording(
        "What is watched was changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "no_such_rig": Wording("There is no rig {rig}.", "Choose one of the rigs."),
    "nobody_signed_in": Wording("Nobody is signed in here.", "This Trelvo is served to this machine alone."),
    "nothing_here": Wording("There is nothing here (any more).", "Go back to the list of campaigns."),
    "number_far_too_large": Wording("A number is far too large.", "Check the numbers."),
    "owner_logs_everywhere": Wording("An owner may log on every rig.", "Make the account a bench first."),
    "password_refused": Wording("{reasons}", "Choose another."),
    "program_fault": Wording(
        "Trelvo made a mistake; what happened is in its log. Nothing was half stored.",
        "Try again; if it comes again, report it with the log.",
    ),
    "request_refused": Wording("{reason}", "Send it again, corrected."),
    "rig_changed": Wording(
        "The rig changed meanwhile, perhaps in another window: {changes:changes}.", "Look at it, and save again."
    ),
    "seen_unknown_field": Wording(
        "There is no field {field} to compare with what was seen.", "Leave it out. Known are: {known}."
    ),
    "target_changed": Wording(
        "The target {name} changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "too_many_streams": Wording(
        "{most} screens follow runs already.", "Close one of them; this page tries again by itself."
    ),
    "too_many_wrong_passwords": Wording("Too many wrong passwords.", "Try again in {wait_s:.0f} seconds."),
    "unknown_token": Wording(
        "This token is not known, or was withdrawn.", "Make a new one on the Prepare page of the campaign."
    ),
    "unreadable_body": Wording("The body cannot be read.", "Send it again, as one form or as JSON."),
    "what_counts_changed": Wording(
        "What counts was changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "workload_changed": Wording(
        "The workload {name} changed meanwhile, perhaps in another window: {changes:changes}.",
        "Look at it, and save again.",
    ),
    "wrong_old_password": Wording("That is not the password as it is now.", "Type the one you sign in with."),
    "wrong_password": Wording("Name and password do not belong together.", "Check both."),
}
