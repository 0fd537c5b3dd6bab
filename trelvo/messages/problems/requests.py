"""What is wrong with a request that is refused before its answer is computed."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "account_logs_one_rig": Wording(
        "This account may log runs of {rig} only.", "Ask an owner of this Trelvo to do it."
    ),
    "account_only_logs": Wording(
        "This account may log runs, not change or remove what is there.", "Ask an owner of this Trelvo to do it."
    ),
    "body_too_large": Wording(
        "This is {size}; the most that is taken here is {most}.",
        "Cut the log to the part that belongs to this run, or log less often. Nothing was stored.",
    ),
    "no_such_address": Wording("There is nothing at this address.", "See /api/openapi.json for what there is."),
    "no_such_method": Wording("This address is not asked in this way.", "See /api/openapi.json for how."),
    "not_allowed": Wording("This is not allowed.", "Open Trelvo at the address it printed when it started."),
    "not_signed_in": Wording("Nobody is signed in here.", "Sign in."),
    "nothing_large_taken_here": Wording(
        "Nothing this large is taken here.", "Send it to the address that its page names."
    ),
    "page_from_elsewhere": Wording(
        "The page at {origin} asked for a change, but only Trelvo's own pages may.",
        "Open Trelvo at the address it printed when it started.",
    ),
    "program_fault_logged": Wording(
        "Trelvo made a mistake; what happened is in its log.", "Try again; if it comes again, report it with the log."
    ),
    "unreadable_request": Wording("The request cannot be read.", "Send it again, corrected."),
    "upload_stopped": Wording("The upload stopped on its way.", "Send it again. Nothing was stored."),
}
